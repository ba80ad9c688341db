from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connections

from chimney import copies
from chimney.parts.commands import PagelessCommand


class Command(PagelessCommand):
    help = "Goes back to a copy made by backup, the newest if none is named; Chimney is stopped."

    def add_arguments(self, parser):
        parser.add_argument("copy", nargs="?", help="the folder of a copy")

    def handle(self, *, copy=None, **options):
        copies_there = copies.known()
        if copy is None and not copies_there:
            raise CommandError(f"There is no copy in {copies.PLACE}.")
        connections.close_all()
        try:
            aside = copies.go_back(copy or copies_there[0][1])
        except copies.CopyError as error:
            raise CommandError(str(error)) from error
        call_command("prepare", stdout=self.stdout, stderr=self.stderr)
        self.stdout.write(f"In place. What was there before: {aside or 'nothing'}.")
