"""Copies: whole or none, put in place whole or not at all, and what the doctor says."""

import errno
import fcntl
import os
import re
import shutil
import socket
import sqlite3
import subprocess
import sys
import tempfile
import time
from contextlib import closing, nullcontext
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from unittest import TestCase, mock

from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.test import TestCase as DatabaseTest

from chimney import beside, copies, folder
from chimney.hearth.management.commands import work
from chimney.logbook import flows as logbook
from chimney.parts import clock, waiting
from chimney.results.models import Scan
from chimney.results.scans import files as scans
from chimney.results.scans import flows
from tests import years
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

    def test_the_newest_of_a_folder_is_gone_back_to_and_nothing_is_left_beside_a_copy(self):
        self.write("PRAGMA journal_mode=WAL; INSERT INTO sheet VALUES ('S-001');")
        copies.make(self.home / "disc", now=NOON - timedelta(days=1))
        self.write("INSERT INTO sheet VALUES ('S-002');")
        newest = copies.make(self.home / "disc", now=NOON)
        self.write("INSERT INTO sheet VALUES ('S-003');")
        copies.go_back(self.home / "disc")
        self.assertEqual(self.sheets(), ["S-001", "S-002"])
        beside = {path.name for path in newest.iterdir()}
        self.assertEqual(beside, {"chimney.sqlite3", "secret"})

    def test_a_log_of_writes_that_cannot_be_emptied_is_set_aside_with_its_database(self):
        self.write("INSERT INTO sheet VALUES ('S-001');")
        copy = copies.make(now=NOON)
        log = folder.DATABASE.with_name("chimney.sqlite3-wal")
        folder.DATABASE.write_bytes(b"torn")
        log.write_bytes(b"the last work there is")
        aside = copies.go_back(copy)
        self.assertEqual(aside.read_bytes(), b"torn")
        kept = aside.with_name(f"{aside.name}-wal")
        self.assertEqual(kept.read_bytes(), b"the last work there is")
        self.assertEqual((self.sheets(), log.exists()), (["S-001"], False))

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
            (self.place / (NOON - timedelta(days=days)).strftime(copies.COPY_NAME)).mkdir(
                parents=True
            )
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
        fresh = datetime.now(UTC).strftime(copies.COPY_NAME)
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
            path.rename(self.home / "copies" / NOON.strftime(copies.COPY_NAME))
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


class Starting(TestCase):
    """Whatever stands in the way is told in a sentence before a byte is touched."""

    def setUp(self):
        self.home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.home)
        self.data = self.home / "data"

    def told(self, command=("manage.py", "prepare"), **env):
        before = sorted((p, p.stat().st_mtime_ns) for p in self.home.rglob("*"))
        env = os.environ | {"CHIMNEY_DATA": str(self.data)} | env
        done = subprocess.run(
            [sys.executable, *command],
            cwd=ROOT,
            env=env,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertNotIn("Traceback", done.stderr)
        if done.returncode:
            self.assertIn("Chimney does not start.", done.stderr)
            after = sorted((p, p.stat().st_mtime_ns) for p in self.home.rglob("*"))
            self.assertEqual(after, before)
        return done.stderr

    def test_what_is_set_wrongly(self):
        served = ("-m", "gunicorn", "chimney.wsgi")
        with closing(socket.create_server(("127.0.0.1", 0))) as taken:
            port = taken.getsockname()[1]
            for command, env, words in (
                (served, {"CHIMNEY_BIND": f"127.0.0.1:{port}"}, f"make run PORT={port + 1}"),
                (served, {"CHIMNEY_BIND": "everywhere"}, "write it like 127.0.0.1:8000"),
                (served, {"CHIMNEY_WORKERS": "0"}, "a whole number from 1 to 64"),
                (served, {"CHIMNEY_WORKERS": "many"}, "a whole number from 1 to 64"),
                (("manage.py", "prepare"), {"CHIMNEY_ZONE": "Rauholm"}, "like Europe/Stockholm"),
                (("manage.py", "prepare"), {"CHIMNEY_ZONE": "../x"}, "like Europe/Stockholm"),
            ):
                with self.subTest(env):
                    self.assertIn(words, self.told(command, **env))

    def test_what_lies_where_the_folder_should_be(self):
        self.data.write_text("a letter")
        self.assertIn("is a file: name a folder", self.told())
        self.data.unlink()
        self.data.mkdir()
        with closing(sqlite3.connect(self.data / "chimney.sqlite3")) as other:
            other.executescript("CREATE TABLE recipes (name); CREATE TABLE django_migrations (app)")
        self.assertIn("is a database of another program", self.told())
        (self.data / "chimney.sqlite3").unlink()
        (self.data / "secret").write_bytes(b"\xff\xfe\xff")
        self.assertIn("cannot be read. Give it back", self.told())
        (self.data / "secret").unlink()
        if os.geteuid() == 0:
            os.chown(self.data, 1, 1)
            self.assertIn("start Chimney as that user", self.told())
            os.chown(self.data, 0, 0)
        self.assertEqual(self.told(), "")
        # Once it is ours it starts again.
        self.assertEqual(self.told(), "")


class Begun(TestCase):
    def test_half_an_upload_goes_when_a_server_starts_alone_and_not_beside_another(self):
        with tempfile.TemporaryDirectory() as place, mock.patch.object(folder, "DATA", Path(place)):
            names = ("brought/begun-ab", "scans/begun-7-cd", "scans/whole.png", "copies/begun-8/x")
            for name in names:
                (Path(place) / name).parent.mkdir(parents=True, exist_ok=True)

            def left(held):
                with held():
                    for name in names:
                        (Path(place) / name).write_bytes(b"x")
                    with copies.hold_running():
                        return [name for name in names if (Path(place) / name).exists()]

            self.assertEqual(left(nullcontext), list(names[2:]))
            self.assertEqual(left(copies.hold_running), list(names))
            self.assertFalse(copies.is_running())


class Reserve(TestCase):
    def test_room_is_kept_and_given_up_when_not_a_byte_is_free(self):
        reserve = Path(tempfile.mkdtemp()) / "reserve"
        self.addCleanup(shutil.rmtree, reserve.parent)
        mine = mock.patch.object(folder, "RESERVE", reserve)
        mine.start()
        self.addCleanup(mine.stop)
        for free, there in ((8e6, False), (1e12, True), (2e6, True), (0, False), (8e6, False)):
            with self.subTest(free), mock.patch.object(folder, "_free_bytes", return_value=free):
                folder.lay_reserve()
                folder.give_reserve()
                self.assertEqual(folder.RESERVE.exists(), there)
                if there:
                    self.assertEqual(folder.RESERVE.stat().st_blocks * 512, folder.RESERVE_BYTES)


class Worker(DatabaseTest):
    def setUp(self):
        home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, home)
        mine = mock.patch.object(beside, "BEAT", home / "work.beat")
        mine.start()
        self.addCleanup(mine.stop)

    def test_a_worker_that_is_silent_is_told_and_a_scan_that_ends_it_is_let_be(self):
        words = "Nobody has been at work beside the server for"
        beside.beat()
        self.assertNotContains(self.client.get("/read/scans/"), words)
        late = time.time() - 2 * beside.LATE_S
        os.utime(beside.BEAT, (late, late))
        self.assertContains(self.client.get("/read/scans/"), f"{words} 10 min")
        camera, paper, _, holder = kit()
        opened(camera, paper, holder)
        self.assertContains(self.client.get("/"), f"{words} 10 min")
        # It died over the same scan again and again: the third goes on without it.
        scan = Scan.objects.create(
            name="a.png", sha256="0" * 64, suffix="png", size_bytes=1, came_at=clock.now()
        )
        for _ in range(work.MOST_DEATHS):
            dies = mock.patch.object(flows, "look_through", side_effect=SystemExit)
            with dies, self.assertRaises(SystemExit):
                self.newly_started().work_off()
        self.assertEqual(self.newly_started().work_off(), 1)
        scan.refresh_from_db()
        self.assertEqual((scan.state, scan.trouble), ("broken", work.DEADLY))

    def newly_started(self):
        worker = work.Command()
        worker.fatal, worker.deaths = beside.left_behind()
        return worker

    def test_a_scan_over_which_the_server_was_stopped_is_no_deadly_one(self):
        beside.beat("a large scan", 1)
        self.assertEqual(beside.left_behind(), ("a large scan", 2))
        ended, pipe = os.pipe()
        os.close(pipe)
        with (
            open(ended) as closed,
            mock.patch.object(beside.sys, "stdin", closed),
            mock.patch.object(beside, "TASKS", {}),
            mock.patch.object(beside.signal, "signal"),
        ):
            beside.keep_going()
        self.assertEqual(beside.left_behind()[0], "")

    def test_nobody_is_missed_before_they_can_have_begun(self):
        beside.beat("a large scan", 1)
        os.utime(beside.BEAT, (0, 0))
        self.assertNotEqual(waiting.overdue(), "")
        seen = []

        def keep(_):
            seen.append((waiting.overdue(), beside.left_behind()))

        with (
            mock.patch.object(beside.select, "select", side_effect=[([],), ([0],)]),
            mock.patch.object(beside, "TASKS", {"CHIMNEY_ANY": "work"}),
            mock.patch.object(beside.signal, "signal"),
            mock.patch.object(beside.Task, "keep", keep),
        ):
            beside.keep_going()
        self.assertEqual(seen, [("", ("a large scan", 2))])

    def test_a_locked_database_or_a_full_disc_is_waited_for(self):
        worker, rests, told = work.Command(stderr=StringIO()), [], []

        def round_of(**_):
            told.append(1)
            if len(told) < 3:
                raise (OperationalError("database is locked"), FULL)[len(told) - 1]
            raise SystemExit

        with (
            mock.patch.object(beside, "alone", return_value=StringIO()),
            mock.patch.object(beside, "rest", rests.append),
            mock.patch.object(worker, "round", round_of),
            mock.patch.object(work, "close_old_connections"),
            self.assertRaises(SystemExit),
        ):
            worker.watch()
        self.assertEqual(rests, [work.REST_AFTER_TROUBLE_S] * 2)


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

            years.begin_in(place)
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
