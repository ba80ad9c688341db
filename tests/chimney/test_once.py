"""One form is answered once, two devices at the same moment leave nothing that contradicts itself,
and the folder, the database of an earlier version and a full disc are met with words.
"""

import gzip
import os
import sqlite3
import stat
import subprocess
import sys
import tempfile
from contextlib import closing, suppress
from datetime import UTC, datetime
from hashlib import sha256
from pathlib import Path
from unittest import mock

from django.apps import apps
from django.core.exceptions import ValidationError
from django.db import OperationalError, connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import Client, override_settings

from chimney import folder
from chimney.field.models import Outing, Shot
from chimney.field.outing import flows as trips
from chimney.hearth import flows as door
from chimney.hearth import invariants
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Holder, Paper, Person
from chimney.ledger import once
from chimney.ledger.migrations._landed import EVERY
from chimney.ledger.models import Device, Receipt
from chimney.logbook import flows
from chimney.logbook.flows import corrections, while_open
from chimney.logbook.models import Exposure, Sheet
from chimney.parts.refusal import Refused
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.solar.cans import flows as solar
from chimney.solar.models import Solargraph
from chimney.solar.planner import flows as plans
from tests import years
from tests.chimney import addresses
from tests.chimney.kitchen import kit, opened, planned, typed
from tests.chimney.monkey import Page
from tests.chimney.pages import TestCase
from tests.chimney.test_model import CAN
from tests.chimney.test_two_devices import Together

ROOT = Path(__file__).resolve().parent.parent.parent
KEPT = ROOT / "tests" / "kept"
NOON = datetime(2026, 6, 1, 10, tzinfo=UTC)


class OneForm(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.browser = Client(enforce_csrf_checks=True)

    def offer(self, url, words):
        page = Page(self.browser.get(url).content.decode(), url)
        return next(offer for offer in page.offers if offer.words.startswith(words))

    def test_the_same_form_twice_does_it_once_and_says_so(self):
        loading = self.offer("/expose/", "Load")
        self.assertEqual(loading.send(self.browser).status_code, 302)
        again = loading.send(self.browser)
        self.assertRedirects(again, "/expose/", fetch_redirect_response=False)
        self.assertContains(self.browser.get("/expose/"), "nothing was done twice")
        self.assertEqual((Sheet.objects.count(), Receipt.objects.count()), (1, 1))
        # The same thing from a page shown anew is meant.
        self.assertEqual(self.offer("/expose/", "Load").send(self.browser).status_code, 302)
        self.assertEqual(Sheet.objects.count(), 2)

    def test_what_is_dragged_there_and_back_and_there_again_is_moved_each_time(self):
        place = place_flows.keep(
            Place(name="home", latitude_deg=57, longitude_deg=19, zone="Europe/Stockholm")
        )
        outing = Outing.objects.create(name="day", place=place, day=NOON.date(), made_at=NOON)
        more = {"camera": self.camera, "paper": self.paper, "starts_at": NOON, "kept_at": NOON}
        shot = Shot.objects.create(outing=outing, subject="kiln", **more)
        page, hours = Page(self.browser.get(f"/plan/outings/{outing.pk}/").content.decode()), []
        token = page.offers[0].data["csrfmiddlewaretoken"]
        for x in (300, 500, 300):
            dragged = {"dragged": f"{shot.pk} {x} 10", "csrfmiddlewaretoken": token}
            live = self.browser.post(
                f"/plan/outings/{outing.pk}/move/", dragged, headers={"HX-Request": "true"}
            )
            self.assertEqual(live.status_code, 200)
            hours.append(Shot.objects.get().starts_at)
        self.assertTrue(hours[0] == hours[2] != hours[1], hours)

    def test_what_was_refused_can_be_sent_again(self):
        data = typed(self.camera, self.paper, side=f"{self.holder.pk}A", open="")
        busy = opened(self.camera, self.paper, self.holder, "B")
        token = self.offer("/plan/", "Work").data["csrfmiddlewaretoken"]
        form = {**data, "csrfmiddlewaretoken": token}
        self.assertEqual(self.browser.post("/plan/", form).status_code, 409)
        flows.close_hole(busy)
        self.assertEqual(self.browser.post("/plan/", form).status_code, 302)
        self.assertEqual(Exposure.objects.count(), 2)

    def test_a_tap_that_arrives_twice_counts_once_and_is_acknowledged(self):
        exposure = opened(self.camera, self.paper, self.holder)
        sent = {"HTTP_X_REQUESTED_WITH": "tap"}
        url = f"/expose/{exposure.pk}"
        for word, tap, answer in (
            ("cover", "a1", {"done": True}),
            ("cover", "a1", {"done": True}),
            ("uncover", "a2", {"done": True}),
            ("close", "a3", {"done": True}),
            ("close", "a3", {"done": True}),
            ("close", "a4", {"refused": "The hole of Plank is shut on S-001."}),
        ):
            found = self.client.post(f"{url}/{word}/", {"tap": tap, "ago_ms": "10"}, **sent)
            self.assertEqual(found.json(), answer, (word, tap))
        self.assertEqual(exposure.opening.covers.count(), 1)
        # An answer that is no acknowledgement is told from one: a stale token gets a page, and a
        # fresh one can be had.
        stale = self.browser.post(f"{url}/reopen/", {"tap": "b"}, **sent)
        self.assertEqual((stale.status_code, "json" in stale["Content-Type"]), (403, False))
        self.browser.get("/")
        fresh = {"tap": "b", "csrfmiddlewaretoken": self.browser.get("/token/").json()["token"]}
        self.assertEqual(self.browser.post(f"{url}/reopen/", fresh, **sent).json(), {"done": True})


class PutOff(TestCase):
    """What follows a verb is done once for all that was written, and never of what was not."""

    def setUp(self):
        self.followed = []

    @once.setting
    def write(self, about, *, breaks=False):
        once.afterwards(self.follow, about)
        once.afterwards(self.follow, about)
        if breaks:
            raise KeyError(about)

    def follow(self, about):
        self.followed.append(about)

    @once.setting
    def write_two(self):
        self.write("one")
        with suppress(KeyError):
            self.write("torn", breaks=True)
        self.write("two")
        self.write("one")
        self.assertEqual(self.followed, [])

    def test_it_follows_when_all_is_written(self):
        self.write_two()
        self.assertEqual(self.followed, ["one", "two"])
        with self.assertRaises(KeyError):
            self.write("torn", breaks=True)
        self.assertEqual(self.followed, ["one", "two"])

    def test_a_batch_that_breaks_off_leaves_nothing_behind_of_what_was_written(self):
        with self.assertRaises(OSError), once.together():
            self.write_two()
            self.write("three")
            raise OSError
        self.assertEqual(self.followed, ["one", "two", "three"])


class AtOnce(Together):
    """Pairs of verbs on the same rows, tapped at the same moment, a few times each."""

    TIMES = 3

    def world(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.place = place_flows.keep(
            Place(name="home", latitude_deg=57, longitude_deg=19, zone="Europe/Stockholm")
        )
        self.outing = Outing.objects.create(
            name="day", place=self.place, day=NOON.date(), made_at=NOON
        )
        self.shot = Shot.objects.create(
            outing=self.outing,
            subject="kiln",
            camera=self.camera,
            paper=self.paper,
            starts_at=NOON,
            kept_at=NOON,
        )
        self.exposure = opened(self.camera, self.paper, self.holder)
        Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)
        self.box = kit_flows.keep_camera(Camera(name="Can", **CAN), loads_directly=True)
        more = {
            "place": self.place,
            "azimuth_deg": 180,
            "first_day": NOON.date(),
            "last_day": NOON.date(),
        }
        self.can = Solargraph.objects.create(name="Can, Jun", camera=self.box, made_at=NOON, **more)

    def shut(self):
        flows.close_hole(self.exposure)

    def open_kept(self):
        from chimney.field.plan import flows as field
        from chimney.logbook import queries

        plan = planned(self.camera, self.paper)
        given = {
            "camera": self.camera,
            "paper": self.paper,
            "subject": "",
            "note": "",
            "developer": None,
            "made": 0,
        }
        side = next(
            side for side in queries.sides() if side.state == "empty" and side.letter == "B"
        )
        return lambda: field.open_shot(given | {"again": False}, plan, side, self.shot)

    def thing(self, name):
        fresh = Holder(name=name, size="4x5 in")
        return lambda: kit_flows.keep(fresh)

    def pairs(self):
        """name, what happens before, the two verbs."""
        yield (
            "reopen, unload",
            self.shut,
            lambda: corrections.reopen(self.exposure),
            lambda: flows.unload(self.exposure.loading),
        )
        yield (
            "reopen, slide back",
            self.shut,
            lambda: corrections.reopen(self.exposure),
            lambda: corrections.slide_back(self.exposure),
        )
        yield "close, take back", None, self.shut, lambda: corrections.take_back(self.exposure)
        yield (
            "close, slip",
            None,
            self.shut,
            lambda: corrections.log_slip(self.exposure, "slide_out"),
        )
        yield "cover, cover", None, *[lambda: while_open.cover(self.exposure)] * 2
        yield "put out, drop", None, lambda: solar.put_out(self.can), lambda: plans.drop(self.can)
        yield "put out twice", None, *[lambda: solar.put_out(Solargraph.objects.get())] * 2
        yield (
            "add, drop the day",
            None,
            lambda: trips.again(self.shot),
            lambda: trips.drop_outing(self.outing),
        )
        yield "move, drop", None, lambda: trips.move(self.shot, NOON), lambda: trips.drop(self.shot)
        yield "one name twice", None, self.thing("7"), self.thing("7")
        self.shut()
        yield "a kept plan twice", None, self.open_kept(), self.open_kept()
        yield "open, drop", None, self.open_kept(), lambda: trips.drop(self.shot)

    def test_whatever_comes_first_the_world_agrees(self):
        names = [name for name, *_ in self.fresh_pairs()]
        for name in names:
            for _ in range(self.TIMES):
                with self.subTest(name):
                    _, before, *verbs = next(pair for pair in self.fresh_pairs() if pair[0] == name)
                    if before:
                        before()
                    told = self.at_once(*verbs)
                    self.assertIn("done", told)
                    self.assertEqual(list(invariants.broken()), [], told)
                    self.assertLessEqual(Exposure.objects.filter(taken__shot=self.shot).count(), 1)
                    self.assertLessEqual(Holder.objects.filter(name="7").count(), 1)

    def fresh_pairs(self):
        self._fixture_teardown()
        self.world()
        yield from self.pairs()


class Folder(TestCase):
    def setUp(self):
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        data = self.data = Path(place.name) / "own"
        names = {
            "DATA": data,
            "DATABASE": data / "chimney.sqlite3",
            "SECRET": data / "secret",
            "KNOWN": data / "known.json",
        }
        patch = mock.patch.multiple(folder, **names)
        patch.start()
        self.addCleanup(patch.stop)

    def test_it_is_its_owners_alone_and_half_a_secret_is_none(self):
        folder.make()
        first = folder.secret()
        self.assertEqual(stat.S_IMODE(self.data.stat().st_mode), 0o700)
        self.assertEqual(stat.S_IMODE((self.data / "secret").stat().st_mode), 0o600)
        folder.make()
        self.assertEqual(folder.secret(), first)
        # A first start on a full disc once left an empty one, and every page broke until it was
        # deleted by hand.
        (self.data / "secret").write_text("")
        self.assertGreater(len(folder.secret()), 40)
        folder.make()
        self.assertGreater((self.data / "secret").stat().st_size, 40)

    def test_an_emptied_or_damaged_database_is_noticed(self):
        folder.make()
        self.assertFalse(folder.is_emptied())
        with closing(sqlite3.connect(folder.DATABASE)) as database:
            database.execute("create table sheet (code)")
        self.assertTrue(folder.remember(3))
        self.assertTrue(folder.is_sound() and not folder.is_emptied())
        # A sound one without a sheet, where there were three; and the right one put back in its
        # place.
        self.assertFalse(folder.remember(0))
        self.assertTrue(folder.is_emptied())
        self.assertTrue(folder.remember(3))
        self.assertFalse(folder.is_emptied())
        folder.DATABASE.write_bytes(folder.DATABASE.read_bytes()[:50] + os.urandom(4000))
        self.assertFalse(folder.is_sound())
        for gone in (lambda: folder.DATABASE.write_bytes(b""), folder.DATABASE.unlink):
            gone()
            self.assertEqual(folder.trouble(), folder.EMPTIED_TROUBLE)
        folder.KNOWN.unlink()
        self.assertFalse(folder.is_emptied())
        # A log that knew more than the empty database beside it.
        (self.data / "chimney.sqlite3-wal").write_bytes(b"x" * 5000)
        self.assertTrue(folder.is_emptied())

    def test_each_trouble_has_its_page(self):
        folder.make()
        browser = Client(raise_request_exception=False)
        for said, told in (
            ("database or disk is full", folder.FULL_TROUBLE),
            ("attempt to write a readonly database", folder.READ_ONLY),
            ("database disk image is malformed", folder.DAMAGED),
            ("database is locked", folder.BUSY),
            ("no such table: kit_camera", folder.UNREADY),
        ):
            with mock.patch("chimney.logbook.queries.bag", side_effect=OperationalError(said)):
                page = browser.get("/expose/")
            self.assertEqual(page.status_code, 503)
            for words in (told.wrong, told.safe, told.todo):
                self.assertContains(page, words.replace("'", "&#x27;"), status_code=503)
        with mock.patch("chimney.logbook.queries.bag", side_effect=KeyError("x")):
            self.assertContains(
                browser.get("/expose/"), "Chimney broke on this page", status_code=500
            )
        with (
            mock.patch.object(folder, "is_emptied", return_value=True),
            override_settings(TESTING=False),
        ):
            self.assertContains(
                browser.get("/", HTTP_HOST="localhost"),
                "no new one was begun".capitalize(),
                status_code=503,
            )


class Served(TestCase):
    def test_what_django_counsels_is_met_in_both_served_modes(self):
        # What this run of the tests was given is not what a house that serves has.
        own = ("DJANGO_", "CHIMNEY_")
        env = {name: value for name, value in os.environ.items() if not name.startswith(own)}
        with tempfile.TemporaryDirectory() as place:
            env |= {"CHIMNEY_SERVE": "1", "CHIMNEY_DATA": place}
            years.begin_in(place)
            subprocess.run([sys.executable, "manage.py", "prepare"], cwd=ROOT, env=env, check=True)
            for more in ({}, {"CHIMNEY_TLS_HOST": "club.test"}):
                command = [sys.executable, "manage.py", "check", "--deploy"]
                command += ["--fail-level", "WARNING"]
                done = subprocess.run(
                    command, cwd=ROOT, env=env | more, capture_output=True, text=True, check=False
                )
                self.assertEqual(done.returncode, 0, done.stderr)

    @override_settings(ALLOWED_HOSTS=["club.test"], SERVE=True, TLS_HOST="club.test")
    def test_behind_a_proxy_nobody_is_at_home_whatever_they_say(self):
        proxied = {"REMOTE_ADDR": "127.0.0.1", "HTTP_HOST": "club.test"}
        for forwarded, host in (
            ("203.0.113.9", "club.test"),
            # Said by the browser; the last is the proxy's own word.
            ("127.0.0.1, 203.0.113.9", "club.test"),
            ("127.0.0.1", "club.test"),
            ("nonsense", "club.test"),
        ):
            asked = proxied | {"HTTP_X_FORWARDED_FOR": forwarded, "HTTP_HOST": host}
            self.assertEqual(self.client.get("/", **asked).status_code, 302, forwarded)
        for _ in range(5):
            asked = proxied | {"HTTP_X_FORWARDED_FOR": "127.0.0.1, 203.0.113.9"}
            self.client.post("/door/", {"passphrase": "wrong"}, **asked)
        locked = self.client.post("/door/", {"passphrase": "x"}, **asked)
        self.assertContains(locked, "quarter", status_code=429)
        other = proxied | {"HTTP_X_FORWARDED_FOR": "203.0.113.10"}
        self.assertEqual(self.client.get("/door/", **other).status_code, 200)


class Strangers(TestCase):
    PHONE = {
        "REMOTE_ADDR": "192.168.1.20",
        "HTTP_HOST": "phone.test",
        "HTTP_USER_AGENT": "Something Mobile",
    }

    @override_settings(ALLOWED_HOSTS=["*"], SERVE=True)
    def test_they_see_nothing_and_store_nothing_until_they_are_let_in_and_can_be_put_out(self):
        kit()
        for url in ("/nowhere/", "/expose/", "/token/", "/kit/camera/99/"):
            answer = self.client.get(url, **self.PHONE)
            self.assertEqual((answer.status_code, b"loaded" in answer.content), (302, False), url)
        csrf = Client(enforce_csrf_checks=True).post("/door/", {"passphrase": "x"}, **self.PHONE)
        self.assertNotContains(csrf, "Expose", status_code=403)
        # A body is judged by the length it announces, before anything of it is read.
        for length, status in ((9_000, 413), (120_000_000, 413), (20, 422)):
            body = {
                "CONTENT_LENGTH": str(length),
                "content_type": "application/x-www-form-urlencoded",
            }
            told = self.client.generic(
                "POST", "/door/", b"passphrase=x" + b" " * 8, **self.PHONE, **body
            )
            self.assertEqual(told.status_code, status, length)
        here = {"CONTENT_LENGTH": "3000000", "content_type": "application/x-www-form-urlencoded"}
        self.assertEqual(self.client.generic("POST", "/expose/", b"x", **here).status_code, 413)
        door.set_passphrase("kiln mouth in the rain")
        self.client.post("/door/", {"passphrase": "kiln mouth in the rain"}, **self.PHONE)
        self.assertContains(
            self.client.get("/door/devices/", **self.PHONE), "A phone at 192.168.1.20"
        )
        # Whose phone it is can be said; the machine that serves leads there itself.
        self.client.post(
            f"/door/devices/{Device.objects.get().pk}/name/", {"name": "Ines's  phone"}
        )
        self.client.post(f"/door/devices/{Device.objects.get().pk}/name/", {"name": " \0 "})
        self.assertEqual(Device.objects.get().name, "Ines's phone")
        self.assertContains(self.client.get("/kit/"), "/door/devices/")
        self.client.post(f"/door/devices/{Device.objects.get().pk}/out/")
        self.assertEqual(self.client.get("/", **self.PHONE).status_code, 302)
        self.client.post("/door/", {"passphrase": "kiln mouth in the rain"}, **self.PHONE)
        self.client.post("/door/leave/", **self.PHONE)
        self.assertEqual(
            (self.client.get("/", **self.PHONE).status_code, Device.objects.count()), (302, 0)
        )

    @override_settings(ALLOWED_HOSTS=["*"], SERVE=True)
    def test_a_guest_makes_pictures_and_changes_nothing_that_is_not_its_own(self):
        camera, paper, _, holder = kit()
        ines, jonas = (Person.objects.create(name=name) for name in ("Ines", "Jonas"))
        door.set_passphrase("kiln mouth in the rain")
        words, phone = "slipway under the snow", Client()
        for bad in ("short", "kiln mouth in the rain"):
            told = self.client.post("/door/guests/", {"guests_word": bad})
            self.assertEqual(told.status_code, 422, bad)
        self.client.post("/door/guests/", {"guests_word": words})
        phone.post("/door/", {"passphrase": words}, **self.PHONE)
        # Nothing before it is said who it is.
        self.assertRedirects(
            phone.get("/expose/", **self.PHONE),
            "/door/who/",
            fetch_redirect_response=False,
        )
        phone.post("/door/who/", {"person": ines.pk}, **self.PHONE)
        self.assertEqual(Device.objects.get().name, "Ines, guest")
        for owner, side, status in ((jonas, "A", 403), (None, "B", 302)):
            exposure = opened(camera, paper, holder, side)
            Sheet.objects.filter(pk=exposure.sheet_id).update(person=owner)
            closed = phone.post(f"/expose/{exposure.pk}/close/", **self.PHONE)
            self.assertEqual(closed.status_code, status, owner)
            self.client.post(f"/expose/{exposure.pk}/close/")
            given_up = phone.post(f"/sheets/{exposure.sheet.code}/give-up/", **self.PHONE)
            self.assertEqual(given_up.status_code, status, owner)
        for name, url in addresses.every((1,)):
            answer = phone.get(url, **self.PHONE)
            closed = url.startswith(("/kit/", "/data/", "/begin/", "/made/"))
            if name.startswith(("lessons:", "places:", "solar:", "exchange:")):
                self.assertEqual(phone.post(url, **self.PHONE).status_code, 403, url)
            # What only takes in forms says so first, and a key in the address opens by itself.
            if closed and answer.status_code not in (404, 405) and "feed" not in name:
                self.assertEqual(answer.status_code, 403, url)
            self.assertLess(answer.status_code, 500, url)
        page = phone.get("/", **self.PHONE)
        self.assertNotContains(page, 'data-key="1"')
        self.client.post("/door/guests/", {"close": "1"})
        self.assertEqual(phone.get("/", **self.PHONE).status_code, 302)
        self.assertEqual(Device.objects.count(), 0)


# Opens every address of a database that was brought up to date, as this machine would.
READ = """
import django; django.setup()
from django.core.management import call_command
from django.test import Client
from tests.chimney import addresses
from chimney.logbook.models import Sheet
call_command("audit")
browser = Client(raise_request_exception=False, HTTP_HOST="127.0.0.1")
broken = [url for _, url in addresses.every((1, 2, 3)) if browser.get(url).status_code >= 500]
print(Sheet.objects.count(), broken)
"""


def built(database):
    """{table: (its columns with kind and null, columns of its indices and which are unique)}."""
    asked = database.cursor()
    asked.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
    tables = {}
    for (table,) in asked.fetchall():
        asked.execute(f"PRAGMA table_info({table})")
        columns = {(name, kind, null, key > 0) for _, name, kind, null, _, key in asked.fetchall()}
        asked.execute(f"PRAGMA index_list({table})")
        indices = set()
        for _, name, unique, _, partial in asked.fetchall():
            asked.execute(f"PRAGMA index_info({name})")
            indices.add((unique, partial, tuple(row[2] for row in asked.fetchall())))
        tables[table] = columns, indices
    return tables


class Upgrade(TestCase):
    """The database of an earlier version, kept as it was, is brought up to date and can be read."""

    def test_a_database_of_the_version_before_this_one(self):
        self.upgraded("landed.sql.gz", "A copy from before the upgrade", "68")

    def test_a_database_of_the_version_that_began_to_exchange(self):
        self.upgraded("exchange.sql.gz", "", "70")

    def upgraded(self, kept, said, sheets):
        with tempfile.TemporaryDirectory() as place:
            with closing(sqlite3.connect(Path(place) / "chimney.sqlite3")) as old:
                old.executescript(gzip.decompress((KEPT / kept).read_bytes()).decode())
            env = os.environ | {"CHIMNEY_DATA": place, "CHIMNEY_ZONE": "Europe/Stockholm"}
            env |= {
                "CHIMNEY_FROZEN_NOW": "2026-11-20T10:00:00+00:00",
                "DJANGO_SETTINGS_MODULE": "chimney.settings",
            }

            def run(*command):
                done = subprocess.run(
                    [sys.executable, *command],
                    cwd=ROOT,
                    env=env,
                    capture_output=True,
                    text=True,
                    check=False,
                )
                self.assertEqual(done.returncode, 0, done.stderr)
                return done.stdout

            self.assertIn(said, run("manage.py", "prepare"))
            self.assertEqual(run("-c", READ), f"Everything agrees.\n{sheets} []\n")
            with closing(sqlite3.connect(Path(place) / "chimney.sqlite3")) as upgraded:
                self.assertEqual(built(upgraded), built(connection))

    def test_a_database_goes_its_old_way_to_the_end_wherever_it_stands(self):
        """Made anew it takes one block; half-way it never meets that block."""
        others = {
            key
            for key in MigrationLoader(None).disk_migrations
            if not apps.get_app_config(key[0]).name.startswith("chimney.")
        }
        blocks = self.planned(others)
        first = ("kit", "0001_initial")
        way = [first, *self.planned(others | {first})]
        self.assertEqual([key for key in sorted(way) if key in EVERY], EVERY)
        # What landed since stands at the end of both ways.
        since = set(way) - set(EVERY)
        blocks = {name.split("_")[1] for app, name in blocks if (app, name) not in since}
        self.assertEqual(blocks, {"squashed"})
        self.assertLessEqual(since, set(self.planned(others | set(EVERY))))
        for done in (2, 7, 13, 24, 34, 45, 55, 65, len(way)):
            with self.subTest(done=done):
                self.assertEqual(self.planned(others | set(way[:done])), way[done:])

    def planned(self, applied):
        """Keys that would still be migrated where those are applied, in order."""
        done = dict.fromkeys(applied)
        with mock.patch.object(MigrationRecorder, "applied_migrations", lambda _: done):
            executor = MigrationExecutor(connection)
            executor.loader.check_consistent_history(connection)
            plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
        return [(migration.app_label, migration.name) for migration, _ in plan]

    def test_landed_migrations_stay_as_they_landed(self):
        landed = dict(line.split() for line in (KEPT / "migrations.txt").read_text().splitlines())
        files = sorted(ROOT.glob("chimney/*/migrations/0*.py"))
        now = {
            str(file.relative_to(ROOT)): sha256(file.read_bytes()).hexdigest()[:16]
            for file in files
        }
        # A new migration is added to the list with it; one that is in the list never changes.
        self.assertEqual(now, landed)


class Names(TestCase):
    def test_a_name_taken_meanwhile_is_told_beside_its_field(self):
        fresh = Holder(name="7", size="4x5 in")
        kit_flows.keep(Holder(name="7", size="4x5 in"))
        with self.assertRaises(ValidationError):
            kit_flows.keep(fresh)
        # The other device's came between the look at this form and its keeping.
        between = ValidationError("This name is already taken.")
        with mock.patch("chimney.kit.flows.keep", side_effect=between):
            page = self.client.post("/kit/holder/new/", {"name": "8", "size": "4x5 in"})
        self.assertContains(page, "already taken", status_code=422)

    def test_what_is_gone_meanwhile_is_told_with_a_way_out(self):
        camera, paper, _, _ = kit()
        shot = Shot.objects.create(subject="kiln", camera=camera, paper=paper, kept_at=NOON)
        trips.drop(shot)
        for verb in (
            lambda: trips.drop(shot),
            lambda: trips.move(shot, NOON),
            lambda: trips.again(shot),
        ):
            with self.assertRaisesRegex(Refused, "dropped or taken back meanwhile"):
                verb()
