"""Killing the server in the middle of an exposure loses nothing."""

import os
import re
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).resolve().parent.parent.parent


class Killed(TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.env = os.environ | {
            "CHIMNEY_DATA": folder.name,
            "CHIMNEY_DEBUG": "1",
            "DJANGO_SETTINGS_MODULE": "chimney.settings",
        }
        self.manage("migrate", "-v0")
        self.manage("demo")
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.home = f"http://127.0.0.1:{free.getsockname()[1]}"

    def manage(self, *command):
        subprocess.run(
            [sys.executable, "manage.py", *command],
            cwd=ROOT,
            env=self.env,
            check=True,
            stdout=subprocess.DEVNULL,
        )

    def serve(self):
        command = [
            sys.executable,
            "-m",
            "gunicorn",
            "chimney.wsgi",
            "-b",
            self.home[7:],
            "--log-level",
            "critical",
        ]
        server = subprocess.Popen(command, cwd=ROOT, env=self.env, start_new_session=True)
        self.addCleanup(lambda: server.poll() is None and self.kill(server))
        for _ in range(200):
            try:
                urllib.request.urlopen(self.home, timeout=20)
                return server
            except OSError:
                time.sleep(0.05)
        self.fail("The server does not answer.")

    def kill(self, server):
        os.killpg(server.pid, signal.SIGKILL)
        server.wait()

    def fires(self):
        """(seconds open, asked at) of every running timer on the Hearth."""
        html = urllib.request.urlopen(self.home, timeout=20).read().decode()
        return [
            float(found) for found in re.findall(r'data-open-s="([\d.]+)"', html)
        ], time.monotonic()

    def test_a_killed_server_comes_back_with_the_same_time(self):
        server = self.serve()
        before, asked = self.fires()
        self.assertEqual(len(before), 2)
        self.kill(server)
        with self.assertRaises(OSError):
            self.fires()
        self.serve()
        after, asked_again = self.fires()
        for was, now in zip(before, after, strict=True):
            self.assertAlmostEqual(now - was, asked_again - asked, delta=0.5)
