from django.core.management.base import BaseCommand, CommandError

from chimney.kit.models import Camera
from demo import pictures
from demo import year as demo


class Command(BaseCommand):
    help = "Fill an empty database with an invented year on the island of Rauholm."

    def add_arguments(self, parser):
        parser.add_argument(
            "--if-empty", action="store_true", help="leave a database that holds anything as it is"
        )

        parser.add_argument("--no-pictures", action="store_true", help="scan none of the sheets")

    def handle(self, *, if_empty, no_pictures=False, **options):
        if Camera.objects.exists():
            if if_empty:
                return
            raise CommandError(
                "This database is not empty, and a year is not mixed into somebody's own work."
            )
        sheets = demo.a_year()
        scanned = 0 if no_pictures else pictures.scan_all() + pictures.scan_cans()
        self.stdout.write(f"An invented year: {sheets} sheets, {scanned} of them scanned.")
