import os
import sqlite3
from contextlib import closing, contextmanager

from django.core.management import call_command
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

from chimney import folder
from chimney.lessons import flows as lessons
from chimney.logbook.models import Sheet
from chimney.parts.commands import PagelessCommand


@contextmanager
def in_a_hurry():
    """Only at its end all is waited for until it lies on the disc: for a database that holds
    nothing of anybody's yet.
    """
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA synchronous=OFF")
    try:
        yield
    finally:
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA synchronous=FULL")
        for path in folder.DATA.glob(f"{folder.DATABASE.name}*"):
            with path.open("rb") as file:
                os.fsync(file.fileno())


class Command(PagelessCommand):
    help = (
        "Makes the folder, keeps a copy before an upgrade, brings the database up to date. "
        "Says what is wrong."
    )

    def handle(self, **options):
        try:
            self.prepare()
        except (OSError, DatabaseError) as error:
            self.say(
                folder.trouble(error)
                or folder.Trouble(str(error), "Nothing was changed.", "See above.")
            )

    def prepare(self):
        folder.make()
        if folder.is_emptied() and not folder.DATABASE.exists():
            self.say(folder.EMPTIED_TROUBLE)
            return
        if not folder.is_sound():
            self.say(folder.DAMAGED)
            return
        self.bring_up_to_date()
        # Kept in the file itself: readers do not wait for a writer.
        with connection.cursor() as cursor:
            cursor.execute("PRAGMA journal_mode=WAL")
        folder.make()
        folder.lay_reserve()
        if not folder.remember(Sheet.objects.count()):
            self.say(folder.EMPTIED_TROUBLE)

    def bring_up_to_date(self):
        """Migrate, with a copy of what was there before if there was anything."""
        executor = MigrationExecutor(connection)
        if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
            return
        if not executor.loader.applied_migrations:
            with in_a_hurry():
                call_command("migrate", verbosity=0)
        else:
            copy = folder.DATA / f"before-{timezone.now():%Y%m%d-%H%M%S}.sqlite3"
            with (
                closing(sqlite3.connect(folder.DATABASE)) as old,
                closing(sqlite3.connect(copy)) as target,
            ):
                old.backup(target)
            self.stdout.write(f"A copy from before the upgrade: {copy}")
            call_command("migrate", verbosity=0)
        lessons.complete()

    def say(self, trouble):
        """On the window too what every page will say; the server starts all the same, so that the
        page can be read.
        """
        message = f"{trouble.wrong}\nSafe: {trouble.safe}\nTo do: {trouble.todo}"
        self.stderr.write(self.style.ERROR(message))
