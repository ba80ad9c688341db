from django.core.management.base import BaseCommand, CommandError

from chimney.kit.models import Camera
from demo import year as demo


class Command(BaseCommand):
    help = "Fill an empty database with an invented year on the island of Rauholm."

    def add_arguments(self, parser):
        parser.add_argument(
            "--if-empty", action="store_true", help="leave a database that holds anything as it is"
        )

    def handle(self, *, if_empty, **options):
        if Camera.objects.exists():
            if if_empty:
                return
            raise CommandError(
                "This database is not empty, and a year is not mixed into somebody's own work."
            )
        sheets = demo.a_year()
        self.stdout.write(f"An invented year: {sheets} sheets.")
