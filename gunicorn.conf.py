"""Settings of the server: worker processes that wait for slow clients without waiting
themselves.
"""

from gevent import monkey

monkey.patch_all()

import gc
import os
from contextlib import suppress

from chimney import beside, copies, starting, turns

# Each process computes one answer at a time, on one core: threads of the arithmetic would only take
# the other from its neighbour.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
bind = os.environ.get("CHIMNEY_BIND", starting.BIND)
starting.refuse([*starting.in_settings(), *starting.in_folder(), *starting.at_the_port(bind)])
# A process computes one answer at a time: as many as there are cores, and two at least, so that one
# steps in for one that computes for long. More of them only take the cores from each other
# (scripts/soak.py).
workers = int(os.environ.get("CHIMNEY_WORKERS") or max(2, min(4, os.cpu_count() or 1)))
# Half a header or a trickling body holds a greenlet, not a thread; hundreds of them are cheap.
worker_class = "chimney.serving.Worker"
worker_connections = 500
# What all processes read is loaded once; what is patched has to be so before that.
preload_app = True
# Requests that are under way when the server is stopped are finished.
graceful_timeout = 20
timeout = 120
# Within so many seconds a header has to come, the first or the next. A connection that stays goes
# back to the same process, busy or not, so it does not stay for long.
keepalive = 5
limit_request_line = 8190
umask = 0o077
control_socket_disable = True
accesslog = None


def on_starting(server):
    """While this runs nobody puts another database in its place."""
    with suppress(OSError):
        server.running = copies.hold_running()


def when_ready(server):
    """Start what takes scans in and what makes a copy each day, beside the server; they end with
    it.
    """
    server.keeper = beside.start()
    host, _, port = bind.rpartition(":")
    address = "127.0.0.1" if host == "0.0.0.0" else host
    print(f"Chimney burns at http://{address}:{port} (stop it with Ctrl-C)", flush=True)
    # A terminal that is closed ends the server whole; it does not load it anew.
    server.handle_hup = server.handle_term


def post_fork(server, worker):
    """The pipe is held by the server alone: what runs beside it ends when it is closed."""
    if hasattr(server, "keeper"):
        server.keeper.stdin.close()


def on_exit(server):
    if hasattr(server, "keeper"):
        beside.end(server.keeper)


def pre_fork(server, worker):
    """Freeze what was loaded at the start: the collector need not look at it again and again, and
    so does not write into what all processes share.
    """
    gc.collect()
    gc.freeze()


def post_worker_init(worker):
    """An answer is collected when it is given, and seldom before that; the database stays open."""
    from chimney.parts.sqlite import base

    gc.set_threshold(*turns.SELDOM)
    base.keep_open()


def worker_exit(server, worker):
    """The last connection that is closed tidies the files beside the database up."""
    from chimney.parts.sqlite import base

    base.close_all()
