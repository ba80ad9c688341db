"""Fifty times the server is killed in the midst of writing and of bringing a log in and out: each
write that it acknowledged is there when it comes back, the log is in whole or not at all, nobody is
left at work, and the database is whole.

A phone adds developers one after the other while a sensor sends its light. Everything stays on this
machine.
"""

import http.client
import http.cookiejar
import os
import random
import re
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
from contextlib import closing
from pathlib import Path
from socket import socket
from urllib.parse import urlencode

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
from scripts import many  # noqa: E402 - found only now

TIMES = int(os.environ.get("CHIMNEY_KILLS", "50"))
SHEETS = 300
TOKEN = """
import django; django.setup()
from chimney.exchange.feed.flows import let_in
print(let_in("killing")[1])
"""


class Phone(threading.Thread):
    """Adds one thing after the other until nobody answers; kept: what was acknowledged."""

    def __init__(self, home, number, token):
        super().__init__()
        self.home, self.number, self.token, self.kept = home, number, token, []
        jar = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.browser = urllib.request.build_opener(jar)

    def run(self):
        try:
            page = self.browser.open(f"{self.home}/kit/developer/new/", timeout=10).read().decode()
            csrf = re.search(r'csrfmiddlewaretoken" value="([^"]+)"', page)[1]
            for count in range(10_000):
                name = f"bath {self.number}-{count}"
                data = {"name": name, "parts": "9", "usual_s": "90", "csrfmiddlewaretoken": csrf}
                self.post("/kit/developer/new/", data)
                self.kept.append(name)
                self.post("/data/light/", {"lux": str(count + 1)}, self.token)
        except (OSError, urllib.error.URLError, http.client.HTTPException):
            return

    def post(self, path, data, token=""):
        request = urllib.request.Request(f"{self.home}{path}", urlencode(data).encode())
        if token:
            request.add_header("Authorization", f"Bearer {token}")
        try:
            self.browser.open(request, timeout=10).read()
        except urllib.error.HTTPError as error:
            if error.code != 429:
                raise


class Owner(threading.Thread):
    """Hands a log over, brings it in, takes it out, until the server is killed."""

    def __init__(self, home, database, log):
        super().__init__()
        self.home, self.database, self.log, self.asked = home, database, log, 0
        self.killed = False
        jar = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
        self.browser = urllib.request.build_opener(jar)

    def run(self):
        try:
            while not self.killed:
                self.act()
                time.sleep(0.1)
        except (OSError, urllib.error.URLError, http.client.HTTPException):
            return

    def act(self):
        """Do what comes next for the log as it stands."""
        pk, state = bringing_of(self.database)
        page = f"{self.home}/data/brought/{pk}/"
        if state == "looked":
            self.post(f"{page}bring/")
        elif state == "done":
            self.post(f"{page}take-out/")
        elif state in ("", "undone", "refused"):
            self.post(f"{self.home}/data/", self.log)

    def post(self, url, log=None):
        page = self.browser.open(f"{self.home}/data/", timeout=10).read().decode()
        csrf = re.search(r'csrfmiddlewaretoken" value="([^"]+)"', page)[1]
        request = urllib.request.Request(url, urlencode({"csrfmiddlewaretoken": csrf}).encode())
        if log:
            request.data, kind = many.form(csrf, log)
            request.add_header("Content-Type", kind)
        try:
            self.browser.open(request, timeout=10).read()
            self.asked += 1
        except urllib.error.HTTPError as error:
            if error.code not in (409, 503):
                raise


def bringing_of(database):
    """(pk, state) of the log that was handed over last."""
    with closing(sqlite3.connect(database, timeout=20)) as connection:
        rows = connection.execute(
            "SELECT id, state FROM exchange_bringing ORDER BY id DESC LIMIT 1"
        )
        return rows.fetchone() or (0, "")


def at_work(folder):
    """Number of workers at work in that folder."""
    count = 0
    for process in Path("/proc").iterdir():
        try:
            line = (process / "cmdline").read_bytes()
            count += (
                b"work\0--watch" in line and folder.encode() in (process / "environ").read_bytes()
            )
        except OSError:
            continue
    return count


def settled(env, home, place):
    """(state of the log, sheets of it that are here, files left over) when all work is done."""
    server = started(env, home)
    database = Path(place) / "chimney.sqlite3"
    for _ in range(600):
        _, state = bringing_of(database)
        if state not in ("handed", "coming", "leaving"):
            break
        time.sleep(0.2)
    os.killpg(server.pid, signal.SIGKILL)
    server.wait()
    for _ in range(100):
        if not at_work(place):
            break
        time.sleep(0.1)
    with closing(sqlite3.connect(database)) as connection:
        sheets = connection.execute("SELECT count(*) FROM logbook_sheet").fetchone()[0]
    left = [*Path(place).glob("brought/trial-*"), *Path(place).glob("*/begun-*")]
    return state, sheets, left


def started(env, home):
    """A server that answers."""
    command = [sys.executable, "-m", "gunicorn", "chimney.wsgi", "--log-level", "critical"]
    server = subprocess.Popen(command, cwd=ROOT, env=env, start_new_session=True)
    for _ in range(300):
        try:
            urllib.request.urlopen(f"{home}/keys/", timeout=5).read()
            return server
        except OSError:
            time.sleep(0.05)
    raise SystemExit("The server does not answer.")


def a_log(place):
    """The bytes of a log that takes longer than the server lives."""
    path = Path(place) / "many.zip"
    command = [sys.executable, "scripts/many.py", str(SHEETS), str(path)]
    subprocess.run(command, cwd=ROOT, check=True, capture_output=True)
    return path.read_bytes()


def rounds(env, home, place, token, log):
    """(what was acknowledged, how often something was asked of the log, the most workers that were
    at work at a time) of as many lives of the server.
    """
    chance, acknowledged, requests, most_workers = random.Random(5), [], 0, 0
    for number in range(TIMES):
        server = started(env, home)
        phone = Phone(home, number, token)
        owner = Owner(home, Path(place) / "chimney.sqlite3", log)
        phone.start()
        owner.start()
        # The worker is there two seconds after the server.
        time.sleep(2.0 + 4 * chance.random())
        most_workers = max(most_workers, at_work(place))
        os.killpg(server.pid, signal.SIGKILL)
        server.wait()
        owner.killed = True
        phone.join()
        owner.join()
        acknowledged, requests = acknowledged + phone.kept, requests + owner.asked
    return acknowledged, requests, most_workers


def main():
    with tempfile.TemporaryDirectory() as place, socket() as free:
        free.bind(("127.0.0.1", 0))
        home = f"http://127.0.0.1:{free.getsockname()[1]}"
        free.close()
        env = os.environ | {"CHIMNEY_DATA": place, "CHIMNEY_BIND": home[7:], "CHIMNEY_DEBUG": "1"}
        env |= {"DJANGO_SETTINGS_MODULE": "chimney.settings", "CHIMNEY_DAILY": "0"}
        log = a_log(place)
        subprocess.run([sys.executable, "manage.py", "prepare"], cwd=ROOT, env=env, check=True)
        output = subprocess.run(
            [sys.executable, "-c", TOKEN],
            cwd=ROOT,
            env=env,
            check=True,
            capture_output=True,
            text=True,
        )
        acknowledged, requests, most_workers = rounds(env, home, place, output.stdout.strip(), log)
        state, sheets, left = settled(env, home, place)
        orphans = at_work(place)
        with closing(sqlite3.connect(Path(place) / "chimney.sqlite3")) as database:
            sound = database.execute("PRAGMA integrity_check").fetchone()[0]
            names_there = {name for (name,) in database.execute("SELECT name FROM kit_developer")}
        lost = [name for name in acknowledged if name not in names_there]
    print(
        f"killed {TIMES} times: {len(acknowledged)} writes acknowledged, {len(lost)} lost, {sound}"
    )
    print(
        f"a log of {SHEETS} sheets, handed over, wanted or given back {requests} times: {state} at "
        f"last, {sheets} sheets, {len(left)} files left over, {most_workers} workers at a time, "
        f"{orphans} orphans"
    )
    is_whole = (
        sheets == (SHEETS if state == "done" else 0)
        and not left
        and not orphans
        and most_workers < 2
    )
    raise SystemExit(bool(lost) or sound != "ok" or not acknowledged or not is_whole)


if __name__ == "__main__":
    main()
