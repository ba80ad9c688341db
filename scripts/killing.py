"""Fifty times the server is killed in the midst of writing: each write that it acknowledged is
there when it comes back, and the database is whole.

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
TIMES = int(os.environ.get("CHIMNEY_KILLS", "50"))
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
        asked = urllib.request.Request(f"{self.home}{path}", urlencode(data).encode())
        if token:
            asked.add_header("Authorization", f"Bearer {token}")
        try:
            self.browser.open(asked, timeout=10).read()
        except urllib.error.HTTPError as error:
            if error.code != 429:
                raise


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


def main():
    chance, kept, lost = random.Random(5), [], []
    with tempfile.TemporaryDirectory() as place, socket() as free:
        free.bind(("127.0.0.1", 0))
        home = f"http://127.0.0.1:{free.getsockname()[1]}"
        free.close()
        env = os.environ | {"CHIMNEY_DATA": place, "CHIMNEY_BIND": home[7:], "CHIMNEY_DEBUG": "1"}
        env |= {"DJANGO_SETTINGS_MODULE": "chimney.settings", "CHIMNEY_WORK": "0"}
        env |= {"CHIMNEY_DAILY": "0"}
        subprocess.run([sys.executable, "manage.py", "prepare"], cwd=ROOT, env=env, check=True)
        told = subprocess.run(
            [sys.executable, "-c", TOKEN],
            cwd=ROOT,
            env=env,
            check=True,
            capture_output=True,
            text=True,
        )
        for number in range(TIMES):
            server = started(env, home)
            phone = Phone(home, number, told.stdout.strip())
            phone.start()
            time.sleep(1.0 + chance.random())
            os.killpg(server.pid, signal.SIGKILL)
            server.wait()
            phone.join()
            kept += phone.kept
        with closing(sqlite3.connect(Path(place) / "chimney.sqlite3")) as database:
            sound = database.execute("PRAGMA integrity_check").fetchone()[0]
            there = {name for (name,) in database.execute("SELECT name FROM kit_developer")}
        lost = [name for name in kept if name not in there]
    print(f"killed {TIMES} times: {len(kept)} writes acknowledged, {len(lost)} lost, {sound}")
    raise SystemExit(bool(lost) or sound != "ok" or not kept)


if __name__ == "__main__":
    main()
