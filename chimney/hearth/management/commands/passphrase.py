import getpass
import os
import sys

from django.core.exceptions import ValidationError
from django.core.management.base import CommandError

from chimney.hearth import flows as door
from chimney.parts.commands import PagelessCommand


class Command(PagelessCommand):
    help = (
        "Sets the passphrase that lets phones on the home network in (from "
        "CHIMNEY_PASSPHRASE, or asked for)."
    )

    def add_arguments(self, parser):
        parser.add_argument("--if-none", action="store_true", help="only where there is none yet")

    def handle(self, *args, if_none, **options):
        if if_none and door.is_set():
            return
        passphrase = os.environ.get("CHIMNEY_PASSPHRASE") or self.ask()
        try:
            door.set_passphrase(passphrase)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        self.stdout.write("The passphrase is set; python manage.py passphrase sets another.")

    def ask(self):
        if not sys.stdin.isatty():
            raise CommandError(
                "Set a passphrase first: run this at a terminal, or give CHIMNEY_PASSPHRASE."
            )
        first = getpass.getpass("A passphrase for phones on your network (ten letters or more): ")
        if first != getpass.getpass("Once more: "):
            raise CommandError("The two were not the same; nothing is set.")
        return first
