"""The worker that takes scans in: what the scanner's program saved in the inbox, and what was
uploaded and waits. One runs beside the server.
"""

import os
import time

from django.core.management.base import BaseCommand
from django.db import close_old_connections

from chimney.results.scans import files, flows

REST_S = 2.0
# Pages come first.
BEHIND = 10


class Command(BaseCommand):
    help = "Bring in what lies in the inbox and look through what waits, once or --watch."

    def add_arguments(self, parser):
        parser.add_argument("--watch", action="store_true")

    def handle(self, *args, watch=False, **options):
        seen, sizes = {}, {}
        if watch:
            os.nice(BEHIND)
        while True:
            brought = self.empty_inbox(seen, sizes, patient=watch)
            looked = flows.work_off(20)
            if not watch:
                self.stdout.write(f"{brought} brought in, {looked} looked through")
                return
            close_old_connections()
            if not looked:
                time.sleep(REST_S)

    def empty_inbox(self, seen, sizes, *, patient):
        """Every file that is new and no longer growing; it stays where it is."""
        count = 0
        try:
            found = sorted(files.inbox().iterdir()) if files.inbox().is_dir() else []
        except OSError:
            return 0
        for path in found:
            try:
                stands = path.stat()
            except OSError:
                continue
            mark = stands.st_size, stands.st_mtime_ns
            grows = patient and sizes.get(path) != mark
            sizes[path] = mark
            if seen.get(path) == mark or grows or not path.is_file() or not stands.st_size:
                continue
            seen[path] = mark
            count += self.bring(path)
        return count

    def bring(self, path):
        try:
            with path.open("rb") as file:
                _, fresh = flows.bring(path.name, iter(lambda: file.read(1 << 20), b""))
            return int(fresh)
        except (files.UnreadableError, OSError) as error:
            self.stderr.write(f"{path.name}: {error}")
            return 0
