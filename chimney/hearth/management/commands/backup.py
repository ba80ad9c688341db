from django.core.management.base import CommandError

from chimney import copies
from chimney.parts.commands import PagelessCommand


class Command(PagelessCommand):
    help = "Makes a checked copy of everything, also while Chimney runs; old ones are turned over."

    def add_arguments(self, parser):
        parser.add_argument("place", nargs="?", help="a folder, best on another disc")
        parser.add_argument("--watch", action="store_true", help="one a day, until stopped")

    def handle(self, *, place=None, watch=False, **options):
        if watch:
            copies.watch()
        try:
            copy = copies.make(place)
            removed = copies.turn_over(place)
        except (copies.CopyError, OSError) as error:
            raise CommandError(str(error)) from error
        self.stdout.write(f"{copy}{f'; {len(removed)} old ones are gone' if removed else ''}")
