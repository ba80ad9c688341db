"""Copies: whole or none, put in place whole or not at all, and what the doctor says."""

import errno
import fcntl
import os
import re
import shutil
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from unittest import TestCase, mock

from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase as DatabaseTest

from chimney import copies, folder
from chimney.logbook import flows as logbook
from chimney.results.models import Scan
from chimney.results.scans import files as scans
from tests.chimney.kitchen import kit, opened

ROOT = Path(__file__).resolve().parent.parent.parent
NOON = datetime(2026, 6, 2, 12, tzinfo=UTC)
FULL = OSError(errno.ENOSPC, "No space left on device")


def in_folder(test, place):
    """The folder of one photographer, somewhere else for one test."""
    paths = {"DATA": place, "DATABASE": place / "chimney.sqlite3"}
    paths |= {"SECRET": place / "secret", "KNOWN": place / "known.json"}
    patch = mock.patch.multiple(folder, **paths)
    patch.start()
    test.addCleanup(patch.stop)


class Copies(TestCase):
    def setUp(self):
        self.home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.home)
        self.place = self.home / "copies"
        in_folder(self, self.home)
        patch = mock.patch.object(copies, "PLACE", self.place)
        patch.start()
        self.addCleanup(patch.stop)
        folder.make()
        self.write("CREATE TABLE django_migrations (id); CREATE TABLE sheet (code TEXT);")
        (self.home / "scans").mkdir()
        (self.home / "scans" / "a.tif").write_bytes(b"original")

    def write(self, script):
        with closing(sqlite3.connect(folder.DATABASE)) as database:
            database.execute("PRAGMA journal_mode=WAL")
            database.executescript(script)

    def sheets(self, database=None):
        with closing(sqlite3.connect(database or folder.DATABASE)) as read:
            return [code for (code,) in read.execute("SELECT code FROM sheet")]

    def litter(self):
        return list(self.home.rglob("begun-*"))

    def test_a_copy_is_what_was_done_and_one_goes_back_to_it(self):
        self.write("INSERT INTO sheet VALUES ('S-001');")
        with closing(sqlite3.connect(folder.DATABASE)) as busy:
            # Somebody is in the middle of something.
            busy.execute("BEGIN IMMEDIATE")
            busy.execute("INSERT INTO sheet VALUES ('S-002')")
            copy = copies.make(now=NOON)
            busy.commit()
        self.assertEqual(self.sheets(copy / "chimney.sqlite3"), ["S-001"])
        self.assertEqual((self.place / "scans" / "a.tif").read_bytes(), b"original")
        (self.home / "scans" / "a.tif").unlink()
        aside = copies.go_back(copy)
        self.assertEqual((self.sheets(), self.sheets(aside)), (["S-001"], ["S-001", "S-002"]))
        self.assertEqual((self.home / "scans" / "a.tif").read_bytes(), b"original")
        self.assertEqual(self.litter(), [])
        for path in (folder.DATABASE, copy / "secret", copy / "chimney.sqlite3"):
            self.assertEqual(path.stat().st_mode & 0o077, 0, path)

    def test_what_is_no_copy_changes_nothing(self):
        self.write("INSERT INTO sheet VALUES ('S-001');")
        copy = copies.make(now=NOON)
        self.write("INSERT INTO sheet VALUES ('S-002');")
        database = copy / "chimney.sqlite3"
        sound = database.read_bytes()
        other = self.home / "other.sqlite3"
        with closing(sqlite3.connect(other)) as foreign:
            foreign.execute("CREATE TABLE x (y)")
        database.write_bytes(sound[: len(sound) // 2])
        for bad in (copy, other, self.home / "nowhere", self.home / "secret", self.home):
            if bad == self.home:
                continue
            with self.subTest(bad.name), self.assertRaises(copies.CopyError):
                copies.go_back(bad)
        database.write_bytes(sound)
        with copies.hold_running(), self.assertRaisesRegex(copies.CopyError, "is running"):
            copies.go_back(copy)
        with (
            mock.patch.object(copies, "_replace", side_effect=FULL),
            self.assertRaisesRegex(copies.CopyError, "Nothing is changed"),
        ):
            copies.go_back(copy)
        self.assertEqual(self.sheets(), ["S-001", "S-002"])
        self.assertEqual(self.litter(), [])

    def test_a_place_that_is_full_or_gone_leaves_no_half_copy_and_is_told(self):
        for step in ("shutil.copy2", "shutil.copyfile"):
            with (
                mock.patch(step, side_effect=FULL),
                self.assertRaisesRegex(copies.CopyError, "No space"),
            ):
                copies.make(now=NOON)
        self.place.rename(self.home / "elsewhere")
        self.place.write_text("no folder")
        with self.assertRaises(copies.CopyError):
            copies.daily(NOON)
        self.assertIn("No copy could be made", copies.state()["failed"])
        self.place.unlink()
        self.assertTrue(copies.daily(NOON))
        self.assertEqual((copies.state()["failed"], self.litter()), ("", []))
        self.assertEqual(copies.state()["made"], NOON)
        self.assertFalse(copies.daily(NOON + timedelta(hours=19)))
        self.assertTrue(copies.daily(NOON + timedelta(hours=21)))

    def test_days_weeks_and_months_stay_and_the_rest_goes(self):
        for days in range(800):
            (self.place / (NOON - timedelta(days=days)).strftime(copies.NAME)).mkdir(parents=True)
        gone = copies.turn_over()
        left = [moment for moment, _ in copies.known()]
        ages = [(NOON - moment).days for moment in left]
        self.assertEqual((len(gone) + len(left), ages[:7]), (800, [*range(7)]))
        # The newest of each of the last 12 months, and of the last 5 weeks, Monday to Sunday.
        months = {(moment.year, moment.month) for moment in left}
        self.assertEqual(len(months), 12)
        self.assertGreaterEqual(ages[-1], 300)
        self.assertLessEqual(len(left), 7 + 5 + 12)
        self.assertEqual(copies.turn_over(), [])


class Doctor(DatabaseTest):
    def setUp(self):
        self.home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.home)
        in_folder(self, self.home)
        real = Path(connection.settings_dict["NAME"])
        for where, name, value in (
            (folder, "DATABASE", real),
            (copies, "PLACE", self.home / "copies"),
            (scans, "folder", lambda: self.home / "scans"),
        ):
            patch = mock.patch.object(where, name, value)
            patch.start()
            self.addCleanup(patch.stop)
        fresh = datetime.now(UTC).strftime(copies.NAME)
        (self.home / "copies" / fresh).mkdir(parents=True)

    def said(self):
        told = StringIO()
        try:
            call_command("doctor", stdout=told, stderr=told, no_color=True)
        except CommandError as error:
            told.write(str(error))
        return told.getvalue()

    def test_what_is_well_is_said_and_what_is_not_with_what_to_do(self):
        self.assertIn("Well: every original", self.said())
        self.assertNotIn("to put right", self.said())
        camera, paper, _, holder = kit()
        exposure = opened(camera, paper, holder)
        logbook.close_hole(exposure)
        (self.home / "scans").mkdir()
        digest = "0" * 64
        Scan.objects.create(
            name="a.tif", sha256=digest, suffix="tif", size_bytes=1, came_at=exposure.made_at
        )
        self.assertIn("The original of a.tif is gone", self.said())
        (self.home / "scans" / f"{digest}.tif").write_bytes(b"x")
        self.assertIn("is not what it was", self.said())
        Scan.objects.all().delete()
        self.assertIn(f"{digest}.tif belongs to no scan", self.said())
        (self.home / "scans" / f"{digest}.tif").unlink()
        type(exposure).objects.update(given_s=None)
        self.assertIn("put it right on its page", self.said())
        type(exposure).objects.all().delete()
        for path in (self.home / "copies").iterdir():
            path.rename(self.home / "copies" / NOON.strftime(copies.NAME))
        with mock.patch.object(copies, "datetime", mock.Mock(wraps=datetime)):
            self.assertIn("The newest copy is of 02 June 2026", self.said())
        with mock.patch("shutil.disk_usage", return_value=mock.Mock(free=90_000_000)):
            self.assertIn("Only 90 MB are free", self.said())
        os.rmdir(next((self.home / "copies").iterdir()))
        self.assertIn("There is no copy", self.said())
        with mock.patch.object(folder, "trouble", return_value=folder.READ_ONLY):
            told = self.said()
        self.assertIn("may not write", told)
        self.assertIn("1 to put right", told)


class Restored(TestCase):
    """The commands as they are typed, each a process of its own."""

    def test_work_comes_back_and_a_running_server_is_left_alone(self):
        with tempfile.TemporaryDirectory() as place:
            database, env = Path(place) / "chimney.sqlite3", os.environ | {"CHIMNEY_DATA": place}

            def manage(*words):
                done = subprocess.run(
                    [sys.executable, "manage.py", *words],
                    cwd=ROOT,
                    env=env,
                    capture_output=True,
                    text=True,
                    check=False,
                )
                return done.returncode, done.stdout + done.stderr

            def people(script=""):
                with closing(sqlite3.connect(database)) as here:
                    here.executescript(script)
                    return [name for (name,) in here.execute("SELECT name FROM kit_person")]

            manage("prepare")
            self.assertIn("There is no copy", manage("restore")[1])
            people("INSERT INTO kit_person (name, note, period) VALUES ('Ann', '', '')")
            status, said = manage("backup")
            self.assertEqual((status, Path(said.strip()).parent), (0, Path(place) / "copies"))
            people("DELETE FROM kit_person")
            with open(Path(place) / "running", "w") as server:
                fcntl.flock(server, fcntl.LOCK_SH)
                status, said = manage("restore")
            self.assertEqual((status, people()), (1, []))
            self.assertIn("Chimney is running: stop it first", said)
            status, said = manage("restore", str(Path(place) / "copies" / "none"))
            self.assertEqual((status, people()), (1, []))
            status, said = manage("restore")
            self.assertEqual((status, people()), (0, ["Ann"]))
            # What was there before lies beside it, and is named.
            before = Path(re.search(r"before: (.*)\.", said)[1])
            with closing(sqlite3.connect(before)) as old:
                self.assertEqual(old.execute("SELECT count(*) FROM kit_person").fetchone(), (0,))
            self.assertEqual(manage("check")[0], 0)
