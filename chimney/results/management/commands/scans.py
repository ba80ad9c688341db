"""The worker that takes scans in: what the scanner's program saved in the inbox, and what was
uploaded and waits. One runs beside the server.
"""

import os

from django.core.management.base import BaseCommand, CommandError
from django.db import DatabaseError, close_old_connections

from chimney import beside, folder
from chimney.results.inbox import flows as inbox
from chimney.results.scans import files, flows

REST_S, REST_AFTER_TROUBLE_S = 2.0, 15.0
# Pages come first.
BEHIND = 10
AT_ONCE = 20
# A scan that takes its reader with it so often is let be.
MOST_DEATHS = 2
DEADLY = "The program that looks through scans ended over it twice: save it in another form."


class Command(BaseCommand):
    help = "Bring in what lies in the inbox and look through what waits, once or --watch."

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        # What the inbox was like at the last look, and what of it is remembered.
        self.sizes, self.known = {}, None
        self.fatal, self.deaths = "", 0

    def add_arguments(self, parser):
        parser.add_argument("--watch", action="store_true")

    def handle(self, *args, watch=False, **options):
        if watch:
            os.nice(BEHIND)
            self.watch()
        held = beside.alone("scans")
        if held is None:
            raise CommandError("Scans are looked through already, beside the server.")
        self.fatal, self.deaths = beside.left_behind()
        brought, looked = self.round(patient=False)
        self.stdout.write(f"{brought} brought in, {looked} looked through")
        held.close()

    def watch(self):
        """Round after round, until whoever started this is gone."""
        while (held := beside.alone("scans")) is None:
            beside.rest(REST_S)
        self.fatal, self.deaths = beside.left_behind()
        while not held.closed:
            try:
                brought, looked = self.round(patient=True)
                rest = 0.0 if looked or brought else REST_S
            except (DatabaseError, OSError) as error:
                # A locked database, a full disc: it goes on when they are well again.
                self.stderr.write(f"Not now: {error}. It is tried again.")
                self.known, rest = None, REST_AFTER_TROUBLE_S
            close_old_connections()
            beside.rest(rest)

    def round(self, *, patient):
        """(how many of the inbox were brought in, how many were looked through)."""
        beside.beat()
        folder.lay_reserve()
        brought = self.empty_inbox(patient=patient)
        return brought, self.work_off()

    def work_off(self):
        """Look through some that wait; how many those were."""
        waiting = flows.waiting(AT_ONCE)
        for scan in waiting:
            if self.is_deadly(scan.sha256):
                flows.not_read(scan, DEADLY)
                continue
            flows.look_through(scan)
            beside.beat()
        return len(waiting)

    def is_deadly(self, name):
        """Whether that ended the workers before this one; else it is under work from here on."""
        again = name == self.fatal
        if again and self.deaths >= MOST_DEATHS:
            return True
        beside.beat(name, self.deaths if again else 0)
        return False

    def empty_inbox(self, *, patient):
        """Take every file that is new, no longer growing and whole; it stays where it is."""
        if self.known is None:
            self.known = inbox.marks()
        seen, count = [], 0
        try:
            for path, mark in self.changed(patient=patient):
                told, fresh = self.take(path, mark)
                seen.append(told)
                count += fresh
        finally:
            inbox.remember(seen)
            self.known |= {told.name: told.mark for told in seen}
        return count

    def take(self, path, mark):
        if self.is_deadly(f"{path.name} {mark}"):
            return inbox.refused(path, mark, DEADLY), False
        told, fresh = inbox.take(path, mark)
        beside.beat()
        if told.trouble:
            self.stderr.write(f"{path.name}: {told.trouble}")
        return told, fresh

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
