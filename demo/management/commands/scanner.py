from chimney.logbook.models import Sheet
from chimney.parts import previews
from chimney.parts.commands import PagelessCommand
from chimney.results.scans import files
from demo import pictures


class Command(PagelessCommand):
    help = "A simulated scanner: it saves scans of sheets that are dry into the inbox."

    def add_arguments(self, parser):
        parser.add_argument("sheets", type=int, nargs="?", default=3)

    def handle(self, *, sheets, **options):
        files.inbox().mkdir(mode=0o700, parents=True, exist_ok=True)
        dry = Sheet.objects.filter(stage__in=pictures.SCANNED, scans=None)
        for sheet in dry.select_related("paper", "verdict")[:sheets]:
            path = files.inbox() / f"{sheet.code}.png"
            path.write_bytes(previews.png(pictures.picture_of(sheet)))
            self.stdout.write(f"{path.name} lies in the inbox")
