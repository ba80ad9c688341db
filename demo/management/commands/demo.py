from django.core.management import call_command
from django.core.management.base import CommandError

from chimney.hearth.management.commands.prepare import in_a_hurry
from chimney.kit.models import Camera
from chimney.parts.commands import PagelessCommand
from demo import pictures
from demo import year as demo


class Command(PagelessCommand):
    help = "Fill an empty database with an invented year on the island of Rauholm."

    def add_arguments(self, parser):
        parser.add_argument(
            "--if-empty", action="store_true", help="leave a database that holds anything as it is"
        )
        parser.add_argument("--no-pictures", action="store_true", help="scan none of the sheets")
        parser.add_argument(
            "--from-nothing", action="store_true", help="make the database and gather files first"
        )

    def handle(self, *, if_empty, no_pictures=False, from_nothing=False, **options):
        if not from_nothing:
            return self.live(if_empty=if_empty, no_pictures=no_pictures)
        call_command("prepare")
        call_command("collectstatic", interactive=False, verbosity=0)
        with in_a_hurry():
            return self.live(if_empty=if_empty, no_pictures=no_pictures)

    def live(self, *, if_empty, no_pictures):
        if Camera.objects.exists():
            if if_empty:
                return
            raise CommandError(
                "This database is not empty, and a year is not mixed into somebody's own work."
            )
        sheets = demo.a_year()
        scanned = 0 if no_pictures else pictures.scan_all() + pictures.scan_cans()
        self.stdout.write(f"An invented year: {sheets} sheets, {scanned} of them scanned.")
