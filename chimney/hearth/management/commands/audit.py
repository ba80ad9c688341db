from django.core.management.base import CommandError

from chimney.hearth import invariants
from chimney.parts.commands import PagelessCommand


class Command(PagelessCommand):
    help = "Looks through the database for anything that contradicts itself; changes nothing."

    def handle(self, **options):
        faults = list(invariants.broken())
        for sentence in faults:
            self.stderr.write(sentence)
        if faults:
            raise CommandError(f"{len(faults)} things contradict each other.")
        self.stdout.write("Everything agrees.")
