"""Killing the server in the middle of an exposure loses nothing."""

import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from contextlib import suppress
from pathlib import Path
from unittest import TestCase

from tests import years

PATIENCE_S = 120.0
# Two holes that stay open for long.
OPEN = """
import django
django.setup()
from django.core.management import call_command
from tests.chimney import kitchen
call_command("migrate", verbosity=0)
camera, paper, _, holder = kitchen.kit()
kitchen.opened(camera, paper, holder, seconds=900.0)
camera.pk, camera.name = None, "Crate"
camera.save()
kitchen.opened(camera, paper, holder, "B", seconds=900.0)
"""
ROOT = Path(__file__).resolve().parent.parent.parent


def left(connection):
    """Whether the other side has closed it."""
    connection.setblocking(False)
    try:
        return connection.recv(4096) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True


def at_home_in(folder):
    """Environment of an installation in that folder."""
    own = {"CHIMNEY_DATA": folder, "CHIMNEY_DEBUG": "1"}
    return os.environ | own | {"DJANGO_SETTINGS_MODULE": "chimney.settings"}


class Killed(TestCase):
    @classmethod
    def setUpClass(cls):
        """A small house with two open holes, laid out once and copied for each test."""
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.house = folder.name
        years.begin_in(cls.house)
        subprocess.run(
            [sys.executable, "-c", OPEN],
            cwd=ROOT,
            env=at_home_in(cls.house),
            check=True,
            stdout=subprocess.DEVNULL,
        )

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        shutil.copytree(self.house, folder.name, dirs_exist_ok=True)
        self.env = at_home_in(folder.name)
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.home = f"http://127.0.0.1:{free.getsockname()[1]}"

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
        self.comes_to_be(self.answers)
        return server

    def answers(self):
        try:
            return urllib.request.urlopen(self.home, timeout=60).status == 200
        except OSError:
            return False

    def comes_to_be(self, told):
        """What is told, as soon as it is so: a slow machine is no defect."""
        until = time.monotonic() + PATIENCE_S
        while not (found := told()):
            self.assertLess(time.monotonic(), until, told)
            time.sleep(0.05)
        return found

    def at_work(self, command=""):
        """The processes of this folder that run that command, or any."""
        mine, found = f"CHIMNEY_DATA={self.env['CHIMNEY_DATA']}".encode(), []
        for process in Path("/proc").glob("[0-9]*"):
            with suppress(OSError):
                words = (process / "cmdline").read_bytes().split(b"\0")
                mine_too = mine in (process / "environ").read_bytes().split(b"\0")
                if mine_too and (not command or command.encode() in words):
                    found.append(int(process.name))
        return found

    def kill(self, server):
        os.killpg(server.pid, signal.SIGKILL)
        server.wait()
        # What ran beside it may still write into the folder for a moment.
        self.comes_to_be(lambda: not self.at_work())

    def fires(self):
        """(seconds open, asked at) of every running timer on the Hearth."""
        html = urllib.request.urlopen(self.home, timeout=20).read().decode()
        return [
            float(found) for found in re.findall(r'data-open-s="([\d.]+)"', html)
        ], time.monotonic()

    def test_what_runs_beside_it_is_started_again_and_ends_with_it_however_it_ends(self):
        server = self.serve()
        for command in ("work", "backup"):
            first = self.comes_to_be(lambda command=command: self.at_work(command))[0]
            os.kill(first, signal.SIGKILL)
            second = self.comes_to_be(
                lambda command=command, first=first: [
                    pid for pid in self.at_work(command) if pid != first
                ]
            )
            self.assertEqual(len(second), 1)
            # It gives way to whoever answers taps.
            self.assertGreater(os.getpriority(os.PRIO_PROCESS, second[0]), 0)
        # A terminal that is closed, and a server that is killed without a word.
        for end in (signal.SIGHUP, signal.SIGKILL):
            with self.subTest(end):
                os.kill(server.pid, end)
                server.wait(PATIENCE_S)
                self.comes_to_be(lambda: not self.at_work())
                self.assertFalse(self.answers())
            server = self.serve()
            self.comes_to_be(lambda: self.at_work("work"))

    def test_whoever_says_nothing_holds_nobody_up_and_is_left(self):
        self.serve()
        host, port = self.home[7:].split(":")
        silent = [socket.create_connection((host, int(port)), timeout=20) for _ in range(400)]
        self.addCleanup(lambda: [one.close() for one in silent])
        for number, one in enumerate(silent):
            # Some say nothing at all, some half a header, some promise a body that never comes.
            said = (b"", b"GET / HTTP/1.1\r\nHost: ", b"GET / HTTP/1.1\r\nHost: x\r\nX: ")
            with suppress(OSError):
                one.sendall(said[number % 3])
        self.comes_to_be(self.answers)
        self.comes_to_be(lambda: all(map(left, silent)))

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
