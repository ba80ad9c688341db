"""SQLite as Django speaks to it; a process that serves keeps its connections open from one answer
to the next, as each new one would read the names of all tables and columns again.
"""

import os

from django.db.backends.sqlite3 import base

# An answer at a time is reckoned; downloads under way hold theirs beside it.
MOST_IDLE = 4


class DatabaseWrapper(base.DatabaseWrapper):
    """Lends open connections; idle: [(connection, the file it opened)] of those that nobody uses,
    None where each is closed after use.
    """

    idle, file = None, None

    def get_new_connection(self, conn_params):
        self.file = _file(conn_params["database"])
        while self.idle:
            connection, file = self.idle.pop()
            # Where somebody put another file in its place, nothing more is written to the old one.
            if file == self.file:
                return connection
            connection.close()
        return super().get_new_connection(conn_params)

    def _close(self):
        if self.connection is None or not self._is_kept():
            return super()._close()
        with self.wrap_database_errors:
            # What an answer that was broken off has not written is not the next one's.
            self.connection.rollback()
            self.idle.append((self.connection, self.file))
        return None

    def _is_kept(self):
        """True for one of a process that serves, with which nothing is amiss or under way."""
        if self.idle is None or len(self.idle) >= MOST_IDLE:
            return False
        return not (self.errors_occurred or self.in_atomic_block)


def keep_open():
    """From now on connections of this process stay open."""
    DatabaseWrapper.idle = []


def close_all():
    """Close those that nobody uses: the last to close tidies the files beside the database up."""
    while DatabaseWrapper.idle:
        DatabaseWrapper.idle.pop()[0].close()


def _file(path):
    """(device, number) of the file that lies there, None for none."""
    try:
        stat = os.stat(path)
    except OSError:
        return None
    return stat.st_dev, stat.st_ino
