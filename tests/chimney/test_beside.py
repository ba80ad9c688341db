"""What is done beside the server: whole or not at all, wherever it is killed, and nobody waits."""

import io
import json
import os
import shutil
import sqlite3
import statistics
import subprocess
import sys
import tempfile
import threading
import zipfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import SimpleTestCase, override_settings

from chimney import beside, folder
from chimney.exchange.models import Arrivals, Bringing, Installation
from chimney.exchange.whole import files, flows, queries
from chimney.hearth import invariants
from chimney.hearth.management.commands import work
from chimney.kit.models import Box, Developer, Paper
from chimney.ledger import makings, once, pace
from chimney.ledger.models import Making
from chimney.lessons import flows as lessons
from chimney.lessons.models import Lesson, WholeLog
from chimney.parts import clock
from chimney.results.models import Scan
from chimney.results.scans import files as scan_files
from chimney.results.scans import flows as scans
from demo import pictures
from tests import years
from tests.chimney.pages import TransactionTestCase

ELSEWHERE = "f" * 32
# A stroke may hold others up for so long; on a busy machine a few are held up longer.
MOST_HELD_S = 0.05


class Killed(BaseException):
    """The worker is gone, in the midst of it."""


def home_of_its_own(test):
    """The folder of a Chimney of which nothing else knows."""
    home = Path(tempfile.mkdtemp())
    test.addCleanup(shutil.rmtree, home)
    for mine in (
        override_settings(DATA=home),
        mock.patch.object(beside, "BEAT", home / "work.beat"),
    ):
        mine.__enter__()
        test.addCleanup(mine.__exit__, None, None, None)
    return home


class Busy(TransactionTestCase):
    """Somebody else holds the write lock for longer than anybody waits."""

    FORM = {"name": "mine", "parts": "9", "usual_s": "90"}

    def setUp(self):
        connection.ensure_connection()
        address = connection.settings_dict["NAME"]
        self.other = sqlite3.connect(address, isolation_level=None, check_same_thread=False)
        self.addCleanup(self.other.close)
        connection.cursor().execute("PRAGMA busy_timeout = 0")
        self.addCleanup(connection.close)

    def test_nothing_typed_is_lost_and_a_tap_is_asked_to_come_again(self):
        self.other.execute("BEGIN IMMEDIATE")
        with mock.patch.object(once, "PATIENCE_S", 0.05):
            page = self.client.post("/kit/developer/new/", self.FORM)
            self.assertContains(page, "Somebody else is writing just now", status_code=503)
            for name, value in self.FORM.items():
                typed = f'name="{name}" value="{value}"'
                self.assertContains(page, typed, status_code=503)
            tap = {"tap": "a" * 32}
            word = self.client.post("/expose/1/close/", tap, headers={"X-Requested-With": "tap"})
            self.assertIn(word.status_code, (404, 503))
            self.assertEqual(self.client.get("/").status_code, 200)
        self.other.execute("ROLLBACK")
        self.assertEqual(self.client.post("/kit/developer/new/", self.FORM).status_code, 302)
        self.assertEqual(Developer.objects.count(), 1)

    def test_a_verb_that_meets_a_stroke_waits_for_its_end(self):
        self.other.execute("BEGIN IMMEDIATE")
        ends = threading.Timer(0.3, lambda: self.other.execute("ROLLBACK"))
        ends.start()
        self.addCleanup(ends.join)
        self.assertEqual(self.client.post("/kit/developer/new/", self.FORM).status_code, 302)


class Meek(SimpleTestCase):
    def test_what_works_beside_the_server_leaves_the_cores_to_it(self):
        """Among the processes of its own session, and as a session among others."""
        code = "from chimney.beside import *; give_way(); print(os.nice(0)); "
        code += "print(SHARE_OF_SESSION.exists() and SHARE_OF_SESSION.read_text())"
        command = [sys.executable, "-c", code]
        told = subprocess.check_output(command, cwd=folder.ROOT, start_new_session=True, text=True)
        nice, session = told.splitlines()[:2]
        self.assertEqual(int(nice), min(19, os.nice(0) + beside.MEEKNESS))
        if session != "False":
            self.assertTrue(session.endswith(f"nice {beside.MEEKNESS}"), session)


class Log(TransactionTestCase):
    """The log of a year, one sheet of it scanned, and an installation without any."""

    package = log = None

    def setUp(self):
        self.home = home_of_its_own(self)
        if Log.package is None:
            Installation.objects.get_or_create()
            years.a_year()
            pictures.scan_all(1)
            files.write(package := io.BytesIO())
            Log.package = package.getvalue()
            Log.log = json.loads(zipfile.ZipFile(package).read("log.json"))
        self.elsewhere()

    def elsewhere(self):
        call_command("flush", interactive=False, verbosity=0)
        Installation.objects.create(key=ELSEWHERE)
        shutil.rmtree(self.home / "scans", ignore_errors=True)

    def handed_over(self):
        upload = SimpleUploadedFile("log.zip", self.package)
        self.client.post("/data/", {"log": upload})
        flows.work(flows.waiting(), lambda: None)
        bringing = Bringing.objects.first()
        self.client.post(f"/data/brought/{bringing.pk}/bring/")
        return bringing

    def killed_after(self, strokes, *, written):
        """How many strokes there were until it was killed, before or after the last was written."""
        real, left = pace._held, [strokes]

        def held(act, rows):
            left[0] -= 1
            if not left[0] and not written:
                raise Killed
            given = real(act, min(rows, 40))
            if not left[0]:
                raise Killed
            return given

        with mock.patch.object(pace, "_held", held), mock.patch.object(pace.time, "sleep"):
            try:
                while waits := flows.waiting():
                    flows.work(waits, lambda: None)
            except Killed:
                pass
        return strokes - left[0]

    def is_in(self):
        rows = queries.whole()[0]["rows"]
        mine = {kind: [row for row in rows[kind] if row["id"] in self.uids(kind)] for kind in rows}
        self.assertEqual(mine, self.log["rows"])
        self.assertTrue(all(scan_files.path_of(scan).exists() for scan in Scan.objects.all()))

    def uids(self, kind):
        return {row["id"] for row in self.log["rows"][kind]}

    def left_over(self):
        lie = [*self.home.glob("brought/trial-*"), *self.home.glob("brought/going-out*")]
        return lie + list(self.home.glob("*/begun-*"))

    def test_killed_anywhere_a_log_comes_in_whole_and_goes_whole(self):
        bringing = self.handed_over()
        whole = self.killed_after(10_000, written=True)
        self.is_in()
        self.assertGreater(whole, 60)
        for number, strokes in enumerate((1, 2, 7, whole // 2, whole - 2)):
            self.elsewhere()
            bringing = self.handed_over()
            self.killed_after(strokes, written=bool(number % 2))
            # Somebody writes something meanwhile, and that stays whatever becomes of the log.
            paper = Paper.objects.create(name=f"mine {number}", box_ei=6)
            with self.subTest(strokes):
                self.assertEqual(self.client.get("/").status_code, 200)
                self.killed_after(3, written=not number % 2)
                self.killed_after(10_000, written=True)
                bringing.refresh_from_db()
                self.assertEqual((bringing.state, bringing.trouble), ("done", ""))
                self.is_in()
                self.assertEqual(list(invariants.broken()), [])
                self.client.post(f"/data/brought/{bringing.pk}/take-out/")
                self.killed_after(strokes // 3 + 1, written=bool(number % 2))
                self.killed_after(10_000, written=True)
                rows = queries.whole()[0]["rows"]
                self.assertEqual({kind for kind in rows if rows[kind]}, {"kit.paper"})
                self.assertEqual(list(Paper.objects.all()), [paper])
                self.assertFalse(Arrivals.objects.exists() or list(self.home.glob("scans/*")))
                self.assertEqual(self.left_over(), [])

    def test_what_stands_in_its_way_meanwhile_is_told_and_nothing_of_it_stays(self):
        """A name that is taken between the trial and the stroke that needs it."""
        bringing = self.handed_over()
        self.killed_after(2, written=True)
        taken = self.log["rows"]["kit.developer"][0]["name"]
        Developer.objects.create(name=taken, parts=9, usual_s=60)
        self.killed_after(10_000, written=True)
        bringing.refresh_from_db()
        self.assertEqual(bringing.state, "refused")
        page = self.client.get(f"/data/brought/{bringing.pk}/")
        self.assertContains(page, "written here that stands in its way")
        rows = queries.whole()[0]["rows"]
        self.assertEqual({kind for kind in rows if rows[kind]}, {"kit.developer"})
        self.assertEqual(self.left_over() + list(self.home.glob("scans/*")), [])

    def test_a_trial_that_is_gone_begins_anew(self):
        bringing = self.handed_over()
        self.killed_after(20, written=True)
        for path in self.home.glob("brought/trial-*"):
            path.unlink()
        self.killed_after(10_000, written=True)
        self.is_in()
        bringing.refresh_from_db()
        self.assertEqual(bringing.state, "done")

    def test_what_hangs_on_rows_whose_trial_is_gone_keeps_them_and_that_is_told(self):
        bringing = self.handed_over()
        self.killed_after(60, written=True)
        for path in self.home.glob("brought/trial-*"):
            path.unlink()
        paper = Paper.objects.first()
        box = Box.objects.create(paper=paper, size="4x5 in", sheets=9, opened_on=clock.now())
        self.killed_after(10_000, written=True)
        bringing.refresh_from_db()
        self.assertEqual(bringing.state, "done")
        self.assertIn("Not all of it came in. Other boxes of paper", bringing.trouble)
        self.assertTrue(Box.objects.filter(pk=box.pk, paper=paper).exists())

    def test_others_write_while_it_comes_in_and_hardly_wait(self):
        self.handed_over()
        waited, done = [], threading.Event()
        address = connection.settings_dict["NAME"]

        def writes():
            with closing(sqlite3.connect(address, timeout=20, isolation_level=None)) as mine:
                while not done.is_set():
                    began = pace.time.monotonic()
                    mine.execute("BEGIN IMMEDIATE")
                    waited.append(pace.time.monotonic() - began)
                    mine.execute("ROLLBACK")
                    done.wait(0.002)

        other = threading.Thread(target=writes)
        other.start()
        try:
            flows.work(flows.waiting(), lambda: None)
        finally:
            done.set()
            other.join()
        self.assertGreater(len(waited), 100)
        self.assertLess(statistics.median(waited), MOST_HELD_S)

    def test_the_whole_log_is_written_beside_the_server_and_fetched(self):
        self.handed_over()
        self.killed_after(10_000, written=True)
        page = self.client.post("/data/log/", follow=True)
        self.assertContains(page, "is being made")
        self.assertContains(page, "Nothing is at work beside the server")
        # Asked for twice it is made once; and a worker that died over it begins anew.
        self.client.post("/data/log/")
        making = Making.objects.get()
        dies = mock.patch.object(files, "write", side_effect=Killed)
        with dies, self.assertRaises(Killed):
            call_command("work", stdout=io.StringIO())
        self.assertEqual(self.left_over(), [])
        self.assertEqual(self.client.get(f"/made/{making.pk}/file/").status_code, 404)
        call_command("work", stdout=io.StringIO())
        live = {"headers": {"hx-request": "true"}}
        answer = self.client.get(f"/made/{making.pk}/", **live)
        self.assertEqual(answer["HX-Refresh"], "true")
        self.assertContains(self.client.get(f"/made/{making.pk}/"), "is ready")
        fetched = self.client.get(f"/made/{making.pk}/file/")
        rows = json.loads(zipfile.ZipFile(io.BytesIO(fetched.getvalue())).read("log.json"))["rows"]
        self.assertEqual(rows, self.log["rows"])
        self.assertContains(self.client.get("/data/"), f"/made/{making.pk}/")
        # The next one takes its place; a file that somebody took away is told.
        self.client.post("/data/log/")
        call_command("work", stdout=io.StringIO())
        self.assertEqual([path.name for path in makings.folder().iterdir()], ["2"])
        (makings.folder() / "2").unlink()
        gone = self.client.get("/made/2/file/")
        self.assertContains(gone, "That file is gone", status_code=409)

    def test_a_large_positive_is_made_beside_the_server_as_it_is_toned(self):
        self.handed_over()
        self.killed_after(10_000, written=True)
        while scans.work_off():
            pass
        scan = Scan.objects.get()
        address = f"/read/scans/{scan.pk}/export.tif"
        at_once = self.client.get(address).getvalue()
        with mock.patch("chimney.results.models.AT_ONCE_PX", 100):
            asked = self.client.get(address)
            self.assertEqual(self.client.get(address)["Location"], asked["Location"])
            call_command("work", stdout=io.StringIO())
            made = self.client.get(f"{asked['Location']}file/")
            self.assertEqual(made.getvalue(), at_once)
            Scan.objects.update(gamma=1.7)
            other = self.client.get(address)
            self.assertNotEqual(other["Location"], asked["Location"])
            scan_files.path_of(scan).unlink()
            call_command("work", stdout=io.StringIO())
            self.assertContains(self.client.get(other["Location"]), "cannot be read any more")

    def test_what_ends_the_worker_twice_is_let_be(self):
        bringing = self.handed_over()
        self.client.post("/data/log/")
        dies = mock.patch.object(work.whole, "work", side_effect=Killed)
        for _ in range(work.MOST_DEATHS):
            with dies, self.assertRaises(Killed):
                call_command("work", stdout=io.StringIO())
        call_command("work", stdout=io.StringIO())
        bringing.refresh_from_db()
        self.assertEqual((bringing.state, bringing.trouble), ("refused", work.DEADLY_WORK))
        self.assertEqual(Making.objects.get().state, "made")

    def test_a_long_log_is_learned_from_beside_the_server(self):
        self.handed_over()
        self.killed_after(10_000, written=True)
        lesson = Lesson.objects.exclude(developer=None).first()
        evidence = lesson.evidence.first()
        beside.beat()
        with mock.patch.object(lessons, "QUICK_SHEETS", 2), clock.at(clock.now() + timedelta(1)):
            data = {"stops_more": "2", "left_out": "on"}
            self.client.post(f"/read/{evidence.sheet.code}/", data)
            lessons.learn_from(evidence.sheet)
            lessons.ask_to_learn()
            self.assertTrue(WholeLog.objects.get().is_behind)
            call_command("work", stdout=io.StringIO())
        log = WholeLog.objects.get()
        self.assertFalse(log.is_behind)
        self.assertEqual(log.learned_at.date(), (clock.now() + timedelta(1)).date())
