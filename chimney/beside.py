"""Programs that run beside the server: started again when it ends, one of each at a time, and ended
with the server however that ends. No Django here.
"""

import fcntl
import json
import os
import select
import signal
import subprocess
import sys
import time
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from chimney import folder

# What may be set to "0", and the command that is run otherwise.
TASKS = {"CHIMNEY_WORK": "work", "CHIMNEY_DAILY": "backup"}
LOOK_AGAIN_S, STEADY_S, LONGEST_RESTART_WAIT_S, GRACE_S = 1.0, 60.0, 60.0, 10.0
# What is long gives way to taps: a process that answers one gets its core at once, and while it
# waits for a stroke to end the stroke has that core.
MEEKNESS, SHARE_OF_SESSION = 15, Path("/proc/self/autogroup")
# Longer than the longest scan takes; after that nobody is at work.
LATE_S = 300.0
# Written over in place, so that a full disc takes it too.
BEAT, BEAT_BYTES = folder.DATA / "work.beat", 512


def start():
    """The process that keeps them going. It ends when its pipe does: when the server closes it, or
    is gone.
    """
    return subprocess.Popen(
        [sys.executable, "-m", "chimney.beside"],
        stdin=subprocess.PIPE,
        cwd=folder.ROOT,
        start_new_session=True,
    )


def end(keeper):
    """Let go of what start gave, and wait until all of it has ended."""
    keeper.stdin.close()
    try:
        keeper.wait(GRACE_S + LOOK_AGAIN_S)
    except subprocess.TimeoutExpired:
        keeper.kill()


@dataclass
class Task:
    """A command that is to be running; wait_s: how long it is left alone after it ended."""

    command: str
    process: subprocess.Popen | None = None
    begun_at: float = 0.0
    wait_s: float = LOOK_AGAIN_S

    def keep(self):
        """Start it where it does not run; one that ends at once is started less and less often."""
        now = time.monotonic()
        if self.process and self.process.poll() is None:
            if now - self.begun_at > STEADY_S:
                self.wait_s = LOOK_AGAIN_S
            return
        if self.process and now - self.begun_at < self.wait_s:
            return
        if self.process:
            self.wait_s = min(2 * self.wait_s, LONGEST_RESTART_WAIT_S)
        self.begun_at = now
        self.process = subprocess.Popen(
            [sys.executable, "manage.py", self.command, "--watch"], cwd=folder.ROOT
        )

    def end(self):
        """Ask it to end, and end it where it does not."""
        if not self.process:
            return
        self.process.terminate()
        try:
            self.process.wait(GRACE_S / 2)
        except subprocess.TimeoutExpired:
            self.process.kill()


def keep_going():
    """Keep every task running until the other end of standard input is closed."""
    tasks = [Task(command) for name, command in TASKS.items() if os.environ.get(name, "1") == "1"]
    for stop in (signal.SIGTERM, signal.SIGHUP):
        signal.signal(stop, lambda *_: sys.exit(0))
    with suppress(OSError):
        # It has a while to begin, however long nothing ran before.
        os.utime(BEAT)
    try:
        while not select.select([sys.stdin], [], [], LOOK_AGAIN_S)[0]:
            for task in tasks:
                with suppress(OSError):
                    task.keep()
    finally:
        for task in tasks:
            task.end()
        # Ended on purpose, it died of nothing that it was at.
        if BEAT.exists():
            beat()


def alone(name):
    """The open file that shows that one of that name is at work here; None if another is."""
    # Held as long as the process lives.
    held = open(folder.DATA / f"{name}.lock", "w")  # noqa: SIM115
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        held.close()
        return None
    return held


PARENT = os.getppid()


def rest(seconds):
    """Sleep so long, and end with whoever started this process."""
    until = time.monotonic() + seconds
    while (left := until - time.monotonic()) > 0:
        time.sleep(min(left, LOOK_AGAIN_S))
        if os.getppid() != PARENT:
            sys.exit(0)


def beat(busy="", deaths=0):
    """Show that the worker lives, and what it is at; deaths: how often it died of that."""
    state = json.dumps({"busy": busy[:300], "deaths": deaths}).encode().ljust(BEAT_BYTES)
    with suppress(OSError):
        held = os.open(BEAT, os.O_CREAT | os.O_WRONLY, folder.OWNERS_FILE)
        with open(held, "wb") as file:
            file.write(state)


def left_behind():
    """(what the worker before was at when it died, how often that happened)."""
    try:
        state = json.loads(BEAT.read_bytes())
        return str(state["busy"]), int(state["deaths"]) + 1
    except (OSError, ValueError, KeyError, TypeError):
        return "", 0


def is_alive():
    """True if a worker is there to do what is left to it."""
    silent = silent_s()
    return silent is not None and silent < LATE_S


def silent_s():
    """Seconds since the worker showed that it lives; None if it never did."""
    try:
        return max(0.0, time.time() - BEAT.stat().st_mtime)
    except OSError:
        return None


def give_way():
    """Let whoever answers taps have the cores first."""
    os.nice(MEEKNESS)
    # Where the kernel shares them out by sessions, one of its own has as much as the whole server.
    with suppress(OSError):
        SHARE_OF_SESSION.write_text(str(MEEKNESS))


if __name__ == "__main__":
    give_way()
    keep_going()
