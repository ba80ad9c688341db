"""The worker beside the server: it takes in what the scanner's program saved in the inbox, looks
through what was uploaded, brings logs in and out, makes files that take long, and learns anew. One
runs at a time.
"""

import os
import time
from functools import partial

from django.core.management.base import CommandError
from django.db import DatabaseError, close_old_connections

from chimney import beside, folder
from chimney.exchange.whole import flows as whole
from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.lessons import flows as lessons
from chimney.parts.commands import PagelessCommand
from chimney.parts.refusal import Refused
from chimney.results.inbox import flows as inbox
from chimney.results.pictures import flows as pictures
from chimney.results.scans import files, flows

# Between two looks at the inbox, in which a file that is being written grows.
WATCH_REST_S, REST_AFTER_TROUBLE_S = 2.0, 15.0
# Somebody looks at a page and waits.
REST_AWAITED_S = 0.5
# Pages come first.
NICENESS = 10
SCANS_AT_ONCE = 5
# What takes its worker with it so often is let be.
MOST_DEATHS = 2
DEADLY = "The program that looks through scans ended over it twice: save it in another form."
MAKERS = {
    Making.What.LOG: lambda _, file: whole.write(file),
    Making.What.POSITIVE: pictures.write,
}
DEADLY_WORK = "The program beside the server ended over it twice."


class Command(PagelessCommand):
    help = "Do what waits to be done beside the server, once or --watch."

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        # What the inbox was like at the last look, and what of it is remembered.
        self.sizes, self.known = {}, None
        self.fatal, self.deaths = "", 0
        self.looked_at = 0.0

    def add_arguments(self, parser):
        parser.add_argument("--watch", action="store_true")

    def handle(self, *args, watch=False, **options):
        if watch:
            os.nice(NICENESS)
            self.watch()
        held = beside.alone("work")
        if held is None:
            raise CommandError("Somebody is at work already, beside the server.")
        self.fatal, self.deaths = beside.left_behind()
        brought, looked, learned = self.round(patient=False)
        while learned:
            learned = self.work_at_what_was_asked()
        beside.beat()
        self.stdout.write(f"{brought} brought in, {looked} looked through")
        held.close()

    def watch(self):
        """Round after round, until whoever started this is gone."""
        while (held := beside.alone("work")) is None:
            beside.rest(WATCH_REST_S)
        self.fatal, self.deaths = beside.left_behind()
        while not held.closed:
            try:
                rest = 0.0 if any(self.round(patient=True)) else REST_AWAITED_S
            except (DatabaseError, OSError) as error:
                # A locked database, a full disc: it goes on when they are well again.
                self.stderr.write(f"Not now: {error}. It is tried again.")
                self.known, rest = None, REST_AFTER_TROUBLE_S
            close_old_connections()
            beside.rest(rest)

    def round(self, *, patient):
        """(how many of the inbox were brought in, how many scans were looked through, whether
        something else was done).
        """
        beside.beat()
        brought, now = 0, time.monotonic()
        if not patient or now - self.looked_at >= WATCH_REST_S:
            folder.lay_reserve()
            self.looked_at = now
            brought = self.empty_inbox(patient=patient)
        return brought, self.work_off(), self.work_at_what_was_asked()

    def work_at_what_was_asked(self):
        """Work off what somebody asked for, or what is to be learned; True if there was any."""
        bringing = whole.waiting()
        if bringing and self.is_deadly(f"log {bringing.pk} {bringing.state}"):
            whole.give_up(bringing, DEADLY_WORK)
        elif bringing:
            whole.work(bringing, self.go_on)
        making = makings.waiting()
        if making:
            self.make(making)
        learned = lessons.learn_what_is_behind()
        beside.beat()
        return bool(bringing or making or learned)

    def make(self, making):
        """The file that was asked for, or why there is none."""
        if self.is_deadly(f"file {making.pk}"):
            makings.failed(making, DEADLY_WORK)
            return
        write = MAKERS[making.what]
        try:
            makings.make(making, partial(write, making))
        except Refused as error:
            makings.failed(making, error.sentence)

    def go_on(self):
        """Show that it lives, and is still at the same."""
        beside.beat(*self.at_work)

    def work_off(self):
        """Look through some that wait; how many those were."""
        waiting = flows.waiting(SCANS_AT_ONCE)
        for scan in waiting:
            if self.is_deadly(scan.sha256):
                flows.not_read(scan, DEADLY)
                continue
            flows.look_through(scan)
            beside.beat()
        return len(waiting)

    def is_deadly(self, name):
        """True if that ended the workers before this one; else it is marked as under work."""
        again = name == self.fatal
        if again and self.deaths >= MOST_DEATHS:
            return True
        self.at_work = name, self.deaths if again else 0
        beside.beat(*self.at_work)
        return False

    def empty_inbox(self, *, patient):
        """Take every file that is new, no longer growing and whole; it stays where it is."""
        if self.known is None:
            self.known = inbox.marks()
        looked_at, count = [], 0
        try:
            for path, mark in self.changed(patient=patient):
                inbox_file, fresh = self.take(path, mark)
                looked_at.append(inbox_file)
                count += fresh
        finally:
            inbox.remember(looked_at)
            self.known |= {inbox_file.name: inbox_file.mark for inbox_file in looked_at}
        return count

    def take(self, path, mark):
        if self.is_deadly(f"{path.name} {mark}"):
            return inbox.refused(path, mark, DEADLY), False
        inbox_file, fresh = inbox.take(path, mark)
        beside.beat()
        if inbox_file.trouble:
            self.stderr.write(f"{path.name}: {inbox_file.trouble}")
        return inbox_file, fresh

    def changed(self, *, patient):
        """(path, mark) of the files that are not as they were when they were looked at last."""
        if not files.inbox().is_dir():
            return
        for path in sorted(files.inbox().iterdir()):
            try:
                stands = path.stat()
            except OSError:
                continue
            mark = stands.st_size, stands.st_mtime_ns
            grows = patient and self.sizes.get(path) != mark
            self.sizes[path] = mark
            if self.known.get(path.name) == mark or grows or not path.is_file():
                continue
            if stands.st_size:
                yield path, mark
