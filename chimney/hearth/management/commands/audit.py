from django.core.management.base import BaseCommand, CommandError

from chimney.hearth import invariants


class Command(BaseCommand):
    help = "Looks through the database for anything that contradicts itself; changes nothing."

    def handle(self, **options):
        found = list(invariants.broken())
        for sentence in found:
            self.stderr.write(sentence)
        if found:
            raise CommandError(f"{len(found)} things contradict each other.")
        self.stdout.write("Everything agrees.")
