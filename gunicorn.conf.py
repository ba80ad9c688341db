"""How the site is served: worker processes that wait for slow clients without waiting
themselves.
"""

import gc
import os
import subprocess
import sys
from contextlib import suppress

from chimney import copies

# Each process computes one answer at a time, on one core: threads of the arithmetic would only take
# the other from its neighbour.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
bind = os.environ.get("CHIMNEY_BIND", "127.0.0.1:8000")
# A process computes one answer at a time: as many as there are cores, and two at least, so that one
# steps in for one that computes for long. More of them only take the cores from each other
# (scripts/soak.py).
workers = int(os.environ.get("CHIMNEY_WORKERS", max(2, min(4, os.cpu_count() or 1))))
# Half a header or a trickling body holds a greenlet, not a thread; hundreds of them are cheap.
worker_class = "gevent"
worker_connections = 500
# Requests that are under way when the server is stopped are finished.
graceful_timeout = 20
timeout = 120
# A connection that stays goes back to the same process, busy or not; a new one goes to whichever is
# free.
keepalive = 0
limit_request_line = 8190
umask = 0o077
control_socket_disable = True
accesslog = None


def on_starting(server):
    """While this runs nobody puts another database in its place."""
    with suppress(OSError):
        server.running = copies.hold_running()


def when_ready(server):
    """What takes scans in, and what makes a copy each day, run beside the server and end with
    it.
    """
    beside = {"CHIMNEY_SCANS": "scans", "CHIMNEY_DAILY": "backup"}
    server.beside = [
        subprocess.Popen([sys.executable, "manage.py", command, "--watch"])
        for setting, command in beside.items()
        if os.environ.get(setting, "1") == "1"
    ]


def on_exit(server):
    for process in getattr(server, "beside", ()):
        process.terminate()


def post_worker_init(worker):
    """What was loaded at the start stays: the collector need not look at it again and again."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 50)
