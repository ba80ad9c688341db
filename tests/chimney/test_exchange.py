"""A log goes out whole and comes in whole, once, or not at all; tables, maps and sensors."""

import csv
import io
import json
import math
import os
import random
import shutil
import tempfile
import threading
import time
import zipfile
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from io import StringIO
from itertools import product
from pathlib import Path
from unittest import mock
from urllib.parse import parse_qsl, urlencode

from django.apps import apps
from django.core.exceptions import ValidationError
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import models
from django.test import override_settings
from icalendar import Calendar
from jsonschema import Draft202012Validator

from chimney.darkroom.catalogue.processes import BY_KEY
from chimney.darkroom.models import Bath, OwnProcess, Run
from chimney.exchange.management.commands import fields
from chimney.exchange.models import Arrivals, Bringing, FeedToken, Installation
from chimney.exchange.tables import queries as tables
from chimney.exchange.whole import catalogue, craft, files, flows, forms, queries, wording
from chimney.field.models import Taken
from chimney.field.plan import flows as shots
from chimney.hearth import invariants
from chimney.kit.models import Camera, Paper
from chimney.lessons import flows as lessons
from chimney.lessons.models import Finding, KeptSearch
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock, plain_json, previews
from chimney.parts.fields import NumberField
from chimney.places.models import Place, View
from chimney.results.models import Scan
from chimney.results.scans import files as scan_files
from chimney.results.scans import flows as scans
from chimney.solar.models import Record, Solargraph
from demo import pictures
from demo.management.commands import weather_service
from pinhole import developing
from tests import years
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase, TransactionTestCase
from tests.chimney.test_model import world

ELSEWHERE = "f" * 32
# What may stand in a field of a log that somebody else wrote.
ODD = (None, True, 0, -1, 0.5, 1e9, 1e300, 2**60, "", "x", "x" * 400, "<b>&\u202e", [], [1], {})
ODD += ("2026-06-01", "9999-12-31T23:59:59+00:00", "0001-01-01T00:00:00+00:00", {"a": None})


def packed():
    """A whole log as the bytes of its ZIP."""
    out = io.BytesIO()
    files.write(out)
    return out.getvalue()


def log_of(package):
    return json.loads(zipfile.ZipFile(io.BytesIO(package)).read("log.json"))


def emptied():
    """Another installation, on which nothing was ever done."""
    call_command("flush", interactive=False, verbosity=0)
    Installation.objects.all().delete()
    Installation.objects.create(key=ELSEWHERE)


# What a row of a kind must hold beside plain ones and zeros.
HOLDS = {
    "darkroom.ownprocess": {"steps_data": developing.to_data(BY_KEY["rc-trays"].steps)},
    "darkroom.print": {"times_s": [3.0], "distance_mm": 300.0},
    "darkroom.lanetap": {"word": "next"},
    "results.tonesetting": {"high_percent": 99.5, "low_percent": 0.5},
    "results.scannedwedge": {"steps": [[10, 1.9], [200, 0.1]]},
    "logbook.cover": {"uncovered_at": datetime(2026, 6, 2, tzinfo=UTC)},
    "field.taken": {"step": 7},
    "field.skychange": {"sky": "grey"},
}
PLAIN = {models.FloatField: 1.0, models.IntegerField: 1, models.BooleanField: False}
PLAIN |= {models.JSONField: [], models.BinaryField: b"\xff\xd8\xff jpeg", models.CharField: "own-1"}


def filled_up():
    """A row of every kind that travels and of which there is none yet."""
    for kind in catalogue.ROW_KINDS:
        model = catalogue.model_of(kind)
        if model._default_manager.exists():
            continue
        values = dict(HOLDS.get(kind, {}))
        for field in model._meta.concrete_fields:
            given = field.attname in values or field.has_default() or field.null or field.blank
            if field.primary_key or given:
                continue
            if field.is_relation:
                # The first hole that was opened was shut again.
                oldest_first = kind == "logbook.cover"
                rows = field.related_model._base_manager.order_by("pk" if oldest_first else "-pk")
                if field.unique:
                    rows = rows.exclude(pk__in=model._base_manager.values(field.attname))
                values[field.attname] = rows.values_list("pk", flat=True).first()
            elif isinstance(field, models.DateTimeField):
                values[field.attname] = datetime(2026, 6, 2, tzinfo=UTC)
            else:
                values[field.attname] = next(
                    plain for of, plain in PLAIN.items() if isinstance(field, of)
                )
        model._base_manager.create(**values)
    shots.count(Taken.objects.get().shot)


class Whole(TransactionTestCase):
    def setUp(self):
        # What is made anew by an installation is there, as after its first start.
        Installation.objects.get_or_create()
        home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, home)
        elsewhere = override_settings(DATA=home)
        elsewhere.enable()
        self.addCleanup(elsewhere.disable)

    def worked_off(self):
        """All that waits is done, as the worker beside the server does it."""
        while waits := flows.waiting():
            flows.work(waits, lambda: None)

    def handed_over(self, package, name="log.zip"):
        """The answer to a log that is handed over on the page, wanted and brought in, as far as it
        comes.
        """
        handed = self.client.post("/data/", {"log": SimpleUploadedFile(name, package)})
        if handed.status_code == 422:
            return handed
        self.worked_off()
        if Bringing.objects.first().state == "looked":
            wanted = self.client.post(f"{handed['Location']}bring/")
            self.assertEqual(wanted.status_code, 302)
            self.assertContains(self.client.get(handed["Location"]), "coming in")
            self.worked_off()
        return self.client.get(handed["Location"])

    def bring(self, package, name="log.zip"):
        """The Bringing of what is handed over on the page and then brought in."""
        answer = self.handed_over(package, name)
        self.assertEqual(answer.status_code, 200, answer.content.decode()[-3000:])
        done = Bringing.objects.first()
        self.assertEqual(done.state, "done", done.trouble)
        return done

    def take_out(self, done):
        """The page when all of it was taken out again, or stayed."""
        self.client.post(f"/data/brought/{done.pk}/take-out/")
        self.worked_off()
        self.assertEqual(list(files.folder().glob("trial-*")), [])
        return self.client.get(f"/data/brought/{done.pk}/")

    def refused(self, package, words, name="log.zip"):
        """Refused when it is looked through, or when it is brought in; nothing of it is kept."""
        before = world()
        answer = self.handed_over(package, name)
        self.assertContains(answer, words, status_code=answer.status_code)
        if answer.status_code == 200:
            self.assertEqual(Bringing.objects.first().state, "refused")
        self.assertEqual(world(), before)
        self.assertEqual([path.name for path in files.folder().iterdir()], [])

    def test_every_kind_of_row_travels_or_says_why_not(self):
        here = {m._meta.label_lower for m in apps.get_models() if m.__module__[:7] == "chimney"}
        self.assertEqual(here, set(catalogue.ROW_KINDS) | set(catalogue.LEFT_OUT))
        self.assertFalse(set(catalogue.ROW_KINDS) & set(catalogue.LEFT_OUT))
        Draft202012Validator.check_schema(catalogue.schema())

    def test_every_field_of_a_log_is_told_as_it_is(self):
        page = Path("docs/fields.md").read_text()
        self.assertEqual(page, fields.told(), "write it anew: manage.py fields > docs/fields.md")
        shapes = {(kind, name) for kind, name in wording.DATA_FIELDS}
        data = {
            (kind, field.name)
            for kind in catalogue.ROW_KINDS
            for field in catalogue.fields_of(kind)
            if isinstance(field, models.JSONField)
        }
        self.assertEqual(shapes, data)
        # What the page does not name is not there: from a log of a year, each name that it holds.
        years.a_year()
        told = wording.CALCULATION[0]["properties"]
        for exposure in Exposure.objects.all():
            self.assertEqual(set(exposure.calculation_data), set(told))
            for factor in exposure.calculation_data["factors"]:
                self.assertEqual(set(factor), set(wording.FACTOR))
        for run in Run.objects.all():
            for step in run.steps_data["steps"]:
                self.assertEqual(set(step), set(wording.STEP_SHAPE))
        Draft202012Validator(catalogue.schema()).validate(
            json.loads(json.dumps(queries.whole()[0]))
        )

    def test_a_year_goes_out_and_comes_in_on_another_installation_and_out_again_the_same(self):
        years.a_year()
        pictures.scan_all(2)
        filled_up()
        finding = next(f for f in Finding.objects.all() if f.is_clear and f.standing == "new")
        lessons.answer_finding(finding, "kept")
        package = packed()
        log = log_of(package)
        self.assertEqual([kind for kind in catalogue.ROW_KINDS if not log["rows"][kind]], [])
        Draft202012Validator(catalogue.schema()).validate(log)
        answers = len(log["answers"])
        self.assertGreater(answers, 3)
        pages = ("/", "/learn/", "/expose/", "/develop/", "/read/", "/plan/", "/kit/", "/data/")
        emptied()
        done = self.bring(package)
        self.assertEqual((done.state, done.renamed), ("done", []))
        again = log_of(packed())
        for kind in catalogue.ROW_KINDS:
            self.assertEqual(again["rows"][kind], log["rows"][kind], kind)
        # How lessons were answered is learned with them.
        self.assertEqual(len(again["answers"]), answers)
        self.assertEqual(files.text_of(again | {"stamp": {}}), files.text_of(log | {"stamp": {}}))
        self.assertEqual(list(invariants.broken()), [])
        for url in pages:
            self.assertEqual(self.client.get(url).status_code, 200, url)
        # Brought in once more nothing comes twice; and all of it goes as it came.
        twice = self.bring(package)
        self.assertEqual(twice.new, 0)
        self.assertEqual(log_of(packed())["rows"], log["rows"])
        self.take_out(done)
        self.assertFalse(any(queries.whole()[0]["rows"].values()))
        self.assertEqual(Arrivals.objects.count(), 0)
        self.assertEqual(self.client.get("/").status_code, 200)

    def worked(self):
        """A log with one sheet that was exposed and read."""
        self.camera, self.paper, self.developer, self.holder = kit()
        exposure = opened(self.camera, self.paper, self.holder)
        with clock.at(clock.now() + timedelta(seconds=20)):
            logbook.close_hole(exposure)
        Bath.objects.create(
            name="fix",
            purpose="fix",
            volume_ml=500,
            capacity_m2=1,
            lasts_days=9,
            mixed_at=clock.now(),
        )
        return packed()

    def test_what_points_by_a_word_follows_what_it_points_to(self):
        """A run to its process, whose key is taken here; a kept search to its paper."""
        steps = self.make_process("mine")
        _, paper, developer, _ = kit()
        process = {"process_key": "own-1", "process_name": "mine", "parts": 1, "timed": False}
        process["developer"] = developer
        Run.objects.create(steps_data=steps, began_at=clock.now(), **process)
        query = urlencode({"paper": paper.pk, "camera": 999, "words": "kiln & Schärfe"})
        KeptSearch.objects.create(name="kilns", query=query)
        package = packed()
        searches = log_of(package)["rows"]["lessons.keptsearch"]
        self.assertIn(log_of(package)["rows"]["kit.paper"][0]["id"], searches[0]["query"])
        emptied()
        kit()
        self.make_process("theirs")
        KeptSearch.objects.create(name="kilns", query="fault=leak")
        self.bring(package)
        run, kept = Run.objects.get(), KeptSearch.objects.get(name="kilns 2")
        self.assertEqual(OwnProcess.objects.get(key=run.process_key).name, "mine")
        found = dict(parse_qsl(kept.query))
        self.assertEqual(Paper.objects.get(pk=found.pop("paper")).name, "grade-2 RC 2")
        self.assertEqual(found, {"words": "kiln & Schärfe"})
        self.assertEqual(self.client.get(f"/learn/search/?{kept.query}").status_code, 200)
        # What was known before is not read again: neither a key that is none.
        log = log_of(package)
        log["rows"]["darkroom.ownprocess"][0]["key"] = ["own-1"]
        self.assertEqual(self.bring(json.dumps(log).encode(), "log.json").new, 0)

    def make_process(self, name):
        steps = developing.to_data(BY_KEY["rc-trays"].steps)
        OwnProcess.objects.create(key="own-1", name=name, kinds=["negative"], steps_data=steps)
        return steps

    def test_two_logs_become_one_and_part_again(self):
        package = self.worked()
        emptied()
        self.worked()
        before = queries.whole()[0]["rows"]
        done = self.bring(package)
        self.assertEqual((Sheet.objects.count(), Camera.objects.count()), (2, 2))
        self.assertIn("S-001 is S-001b here", done.renamed)
        self.assertEqual(list(invariants.broken()), [])
        self.assertEqual(self.client.get("/expose/").status_code, 200)
        # What hangs on it by now keeps it here, also where it points to many.
        self.developer.refresh_from_db()
        own = Run.objects.create(
            process_name="own",
            developer=self.developer,
            parts=1,
            steps_data=[],
            began_at=clock.now(),
            timed=False,
        )
        own.baths.add(Bath.objects.order_by("pk").last())
        self.assertContains(
            self.take_out(done), "Other runs in the dark room than came with it hang on it"
        )
        own.delete()
        newer = Camera.objects.order_by("pk").last()
        exposure = opened(newer, self.paper, self.holder, side="B")
        self.assertContains(self.take_out(done), "hang on it by now")
        Exposure.objects.filter(pk=exposure.pk).delete()
        Sheet.objects.filter(pk=exposure.sheet_id).delete()
        self.take_out(done)
        after = queries.whole()[0]["rows"]
        self.assertEqual(after["kit.camera"], before["kit.camera"])
        self.assertEqual(after["logbook.exposure"], before["logbook.exposure"])
        # What was changed elsewhere meanwhile does not change it here.
        log = log_of(package)
        self.assertEqual(self.bring(package).state, "done")
        log["rows"]["kit.camera"][0]["note"] = "changed elsewhere"
        self.client.post("/data/", {"log": SimpleUploadedFile("x", json.dumps(log).encode())})
        self.worked_off()
        changed = Bringing.objects.first()
        self.assertEqual([row[1:] for row in changed.told if row[0] == "cameras"], [[0, 0, 1]])

    def test_what_is_no_log_is_told_and_nothing_is_half_done(self):
        package = self.worked()
        log, text = log_of(package), json.dumps(log_of(package))
        emptied()
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as packing:
            packing.writestr("log.json", b" " * 3_000_000)
        for bad, words in (
            (b"nonsense", "That is no log"),
            (text[: len(text) // 2].encode(), "cut short"),
            (package[: len(package) // 2], "cut short"),
            (b'{"format": "other"}', "no log of Chimney"),
            (b"[" * 100_000, "That is no log"),
            (json.dumps(log | {"version": 7}).encode(), "of version 7"),
            (json.dumps(log | {"rows": {}}).encode(), "Rows are missing"),
            (text.replace('"planned_s": ', '"planned_s": NaN, "x": ').encode(), "That is no log"),
        ):
            self.refused(bad, words)
        with mock.patch.object(files.package, "MOST_LOG_BYTES", 1_000_000):
            self.refused(bomb.getvalue(), "larger than any log")
        with mock.patch.object(files.rows, "MOST_ROWS", 3):
            self.refused(package, "more than a life")
        self.assertContains(self.client.post("/data/", {}), "Choose the file", status_code=422)

    def test_a_row_that_no_form_would_let_in_comes_in_by_no_log(self):
        package = self.worked()
        text = json.dumps(log_of(package))
        emptied()
        # kind, field, what it is made, what is said.
        for kind, field, value, words in (
            ("kit.camera", "focal_mm", "long", "focal_mm is"),
            ("kit.camera", "focal_mm", 0, "focal_mm is 0; it lies between 5 and 20000"),
            ("kit.camera", "places", True, "places is"),
            ("kit.holder", "name", "", "name is empty"),
            ("logbook.sheet", "code", "a/b", "under which no sheet is found"),
            ("logbook.sheet", "size", "a page", "A size is written like"),
            ("logbook.opening", "opened_at", "2199-01-01T00:00:00+00:00", "still to come"),
            ("kit.camera", "back", "sphere", "which is no choice"),
            ("kit.camera", "name", "x" * 300, "longer than"),
            ("kit.camera", "id", "short", "has no id"),
            ("kit.camera", "measured_on", "2026-02-31", "measured_on is"),
            ("kit.paper", "box_ei", None, "box_ei is empty"),
            ("kit.paper", "table", [[1, 1], [1, 2]], "cannot be computed"),
            ("logbook.exposure", "calculation_data", {}, "cannot be computed"),
            ("logbook.exposure", "sheet", "0" * 32, "not there"),
            ("logbook.exposure", "sheet", ["a"], "not there"),
            ("logbook.opening", "closed_at", "2020-01-01T00:00:00+00:00", "contradicts"),
            ("logbook.sheet", "stage", "boxed", "contradicts"),
        ):
            log = json.loads(text)
            log["rows"][kind][0][field] = value
            with self.subTest(f"{kind} {field} {value}"):
                self.refused(json.dumps(log).encode(), words)
        for kind in catalogue.ROW_KINDS:
            log = json.loads(text)
            log["rows"][kind] = [7]
            with self.subTest(kind):
                self.refused(json.dumps(log).encode(), "has no id")

    def test_a_log_takes_in_nothing_that_a_form_refuses(self):
        years.a_year()
        log, uids = json.loads(json.dumps(queries.whole()[0])), queries.Uids()
        here = {kind: uids.of_all(kind) for kind in catalogue.ROW_KINDS}
        typed = ("-7", "-0.5", "0", "0.0004", "0.7", "19", "91", "400", "7000", "30000", "2e6")
        asked = refused = 0
        whole = models.IntegerField
        for kind, typed_in in forms.TYPED_IN.items():
            row = next(iter(log["rows"][kind]), None)
            for name in row or ():
                fields = [form.base_fields.get(name) for form in typed_in]
                field = next((one for one in fields if isinstance(one, NumberField)), None)
                for text in typed if field else ():
                    try:
                        field.clean(text)
                        continue
                    except ValidationError:
                        refused += 1
                    with self.subTest(f"{kind} {name} {text}"):
                        of = catalogue.model_of(kind)._meta.get_field(name)
                        value = math.floor(float(text)) if isinstance(of, whole) else float(text)
                        with self.assertRaisesRegex(craft.WrongRowError, name):
                            craft.row_of(kind, row | {name: value}, here)
                    asked += 1
        self.assertGreater(asked, 250)
        self.assertEqual(asked, refused)

    def test_any_value_in_any_field_comes_in_and_can_be_used_or_is_refused_in_words(self):
        years.a_year()
        text = json.dumps(queries.whole()[0])
        emptied()
        chance = random.Random((os.environ.get("CHIMNEY_FUZZ") and time.time()) or 11)
        pages = (
            "/",
            "/kit/",
            "/plan/",
            "/expose/",
            "/expose/cans/",
            "/develop/",
            "/read/",
            "/learn/",
        )
        for _ in range(150 if os.environ.get("CHIMNEY_FUZZ") else 12):
            log = json.loads(text)
            for _ in range(chance.choice((1, 1, 3))):
                kind = chance.choice([kind for kind in catalogue.ROW_KINDS if log["rows"][kind]])
                row = chance.choice(log["rows"][kind])
                field = chance.choice(list(row))
                other = chance.choice(log["rows"][kind])[field]
                row[field] = chance.choice((*ODD, other))
            said = f"{kind} {field} {str(row[field])[:60]}"
            self.handed_over(json.dumps(log).encode())
            done = Bringing.objects.first()
            if done.state == "refused":
                self.assertFalse(Sheet.objects.exists(), said)
                continue
            self.assertEqual(done.state, "done", said)
            self.assertEqual(list(invariants.broken()), [], said)
            for url in pages:
                self.assertEqual(self.client.get(url).status_code, 200, f"{url} {said}")
            self.take_out(done)
            self.assertFalse(Sheet.objects.exists(), said)

    def test_a_scan_without_its_original_stays_outside(self):
        self.worked()
        exposure = Exposure.objects.get()
        sheet = exposure.sheet
        scans.bring(f"{sheet.code}.png", [previews.png(pictures.picture_of(sheet))])
        package = packed()
        scan = Scan.objects.get()
        original = scan_files.path_of(scan)
        emptied()
        original.unlink()
        self.refused(json.dumps(log_of(package)).encode(), "is not in that ZIP")
        # No name in a log leads to a file of ours.
        log = log_of(package)
        for sha256, suffix in (("../known", "json"), ("../secret", "x"), ("0" * 64, "tif")):
            log["rows"]["results.scan"][0] |= {"sha256": sha256, "suffix": suffix}
            self.refused(json.dumps(log).encode(), "is not in that ZIP")
        # A log that is refused after its original was laid down takes it away again.
        log = log_of(package)
        log["rows"]["results.verdict"] = [{"id": "f" * 32}]
        broken = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(package)) as whole, zipfile.ZipFile(broken, "w") as out:
            for name in whole.namelist():
                out.writestr(name, whole.read(name) if name != "log.json" else json.dumps(log))
        self.refused(broken.getvalue(), "Row 1 of verdicts lacks")
        self.assertFalse(original.exists())
        done = self.bring(package)
        self.assertTrue(original.exists())
        self.take_out(done)
        self.assertFalse(Scan.objects.exists() or original.exists())

    def test_a_zip_that_unpacks_to_a_thousand_times_its_size_is_not_unpacked(self):
        endless = b'{"format": "chimney-log", "rows": [' + b"[]," * 10_000_000 + b"[]]}"
        few = b'{"format": "chimney-log"}'
        for name, text, way in (
            ("deflated", endless, zipfile.ZIP_DEFLATED),
            ("in a way that cannot be measured", few, zipfile.ZIP_BZIP2),
        ):
            packed = io.BytesIO()
            with zipfile.ZipFile(packed, "w", way) as package:
                package.writestr("log.json", text)
            with self.subTest(name), mock.patch.object(plain_json, "loads") as held:
                self.assertLess(len(packed.getvalue()), 100_000)
                self.refused(packed.getvalue(), "nothing was unpacked")
                held.assert_not_called()

    def test_a_damaged_zip_is_told_wherever_it_is_damaged(self):
        self.worked()
        exposure = Exposure.objects.get()
        scans.bring("S-001.png", [previews.png(pictures.picture_of(exposure.sheet))])
        package, chance = packed(), random.Random(3)
        original = scan_files.path_of(Scan.objects.get())
        emptied()
        for number in range(60):
            original.unlink(missing_ok=True)
            bad = bytearray(package)
            # Its end holds what says how it is packed.
            reach = len(bad) if number % 2 else 400
            for _ in range(chance.choice((1, 4))):
                bad[-1 - chance.randrange(reach)] ^= 1 << chance.randrange(8)
            answer = self.handed_over(bytes(bad))
            self.assertIn(answer.status_code, (200, 422), number)
            done = Bringing.objects.first()
            if done and done.state == "done":
                self.take_out(done)
                self.assertFalse(Sheet.objects.exists(), number)


class Tables(TestCase):
    def test_tables_are_read_back_and_no_cell_is_a_formula(self):
        camera, paper, _, holder = kit()
        exposure = opened(camera, paper, holder)
        Exposure.objects.update(subject='=cmd|"x"')
        logbook.close_hole(exposure)
        for table in ("sheets", "exposures", "runs", "cans"):
            answer = self.client.get(f"/data/table/{table}.csv")
            # A mark, by which spreadsheets read letters right, and then the table.
            self.assertEqual(answer.content[:3], b"\xef\xbb\xbf")
            head, *rows = csv.reader(io.StringIO(answer.content.decode("utf-8-sig")))
            self.assertTrue(all(len(row) == len(head) for row in rows))
            self.assertEqual(len(rows), {"sheets": 1, "exposures": 1}.get(table, 0))
            if table == "exposures":
                told = dict(zip(head, rows[0], strict=True))
                self.assertEqual(told["subject"], "'" + Exposure.objects.get().subject)
                self.assertEqual((told["school"], told["camera"]), ("none", camera.name))
                opening = Exposure.objects.get().opening
                self.assertEqual(told["opened_at"], f"{opening.opened_at:%Y-%m-%dT%H:%M:%S}+00:00")
                self.assertAlmostEqual(float(told["f_number"]), camera.f_number)
        self.assertEqual(self.client.get("/data/table/other.csv").status_code, 404)

    def test_a_cell_that_a_spreadsheet_would_compute_is_quoted(self):
        # As spreadsheets begin a formula (common practice); numbers of ours stay numbers.
        for words in ("=1+1", "+1", "-1", "@x", "\t=1", "\r=1"):
            self.assertEqual(tables.cell(words), "'" + words)
        for value, text in (("a=b", "a=b"), ("", ""), (None, ""), (-1.5, "-1.5"), (0, "0")):
            self.assertEqual(tables.cell(value), text)

    def test_places_go_out_as_geojson_and_come_in_once(self):
        Place.objects.create(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6)
        out = self.client.get("/data/places.geojson").content
        point = json.loads(out)["features"][0]["geometry"]
        # RFC 7946, 3.1.1: longitude first.
        self.assertEqual(point, {"type": "Point", "coordinates": [19.6, 57.1]})

        def bring(text):
            upload = SimpleUploadedFile("p.geojson", text)
            return self.client.post("/data/places/bring/", {"places": upload}, follow=True)

        self.assertContains(bring(out), "No places, views and cans came in")
        Place.objects.all().delete()
        self.assertContains(bring(out), "1 place, view or can came in")
        self.assertEqual(Place.objects.get().longitude_deg, 19.6)
        feature = {"type": "Feature", "properties": {"name": "far"}, "geometry": None}
        ring = [[[0, 0], [0, 1], [1, 1], [0, 0]]]
        for geometry, words in (
            (None, "its shape is empty"),
            ({"type": "Point", "coordinates": []}, "its shape is empty"),
            ({"type": "Polygon", "coordinates": ring}, "drawn as a Polygon"),
            ({"type": "LineString", "coordinates": ring[0]}, "drawn as a LineString"),
            ({"type": ["Point"], "coordinates": [0, 1]}, "its shape is empty"),
            ({"coordinates": [1]}, "in numbers"),
            ({"coordinates": ["a", 3]}, "in numbers"),
            ({"coordinates": [0, 99]}, "must be between"),
        ):
            text = json.dumps({"features": [feature | {"geometry": geometry}]}).encode()
            said = bring(text)
            self.assertContains(said, "far: ")
            self.assertContains(said, words)
        for bad in (b"", b"{", b"[]", b'{"features": [3]}'):
            self.assertEqual(bring(bad).status_code, 422)
        self.assertEqual(Place.objects.count(), 1)

    def test_views_and_cans_go_out_on_a_map_and_come_in_once(self):
        years.a_year()
        out = self.client.get("/data/places.geojson").content

        def bring(text):
            upload = SimpleUploadedFile("p.geojson", text)
            return self.client.post("/data/places/bring/", {"places": upload}, follow=True)

        def here():
            told = json.loads(self.client.get("/data/places.geojson").content)["features"]
            return sorted(json.dumps(one["properties"] | one["geometry"]) for one in told)

        def without(*kinds):
            told = json.loads(out)
            told["features"] = [f for f in told["features"] if f["properties"]["kind"] not in kinds]
            return json.dumps(told).encode()

        before = here()
        self.assertContains(bring(out), "No places, views and cans came in")
        self.assertEqual(here(), before)
        Sheet.objects.exclude(solargraph=None).delete()
        Solargraph.everything.all().delete()
        View.everything.all().delete()
        many = sum(f["properties"]["kind"] != "place" for f in json.loads(out)["features"])
        self.assertContains(bring(out), f"{many} places, views and cans came in")
        self.assertEqual(here(), before)
        self.assertEqual(self.client.get("/expose/cans/").status_code, 200)
        self.assertEqual(list(invariants.broken()), [])
        # Whatever is odd in one of them is told, and nothing of it is kept.
        for kind in ("view", "can"):
            feature = next(
                f for f in json.loads(out)["features"] if f["properties"]["kind"] == kind
            )
            known = feature["properties"] | {"name": "odd one"}
            for name, value in product(known, (*ODD, 1e400, "nan")):
                told = feature | {"properties": known | {name: value}}
                count = Solargraph.objects.count(), View.objects.count()
                text = json.dumps({"features": [told]}).encode()
                with self.subTest(kind=kind, name=name, value=value):
                    page = bring(text)
                    # No end is no number in JSON, and then it is none.
                    self.assertEqual(page.status_code, 422 if value == math.inf else 200)
                    came = (Solargraph.objects.count(), View.objects.count()) != count
                    self.assertEqual(came, "1 place, view or can came in" in page.content.decode())
                    if came:
                        self.assertEqual(self.client.get("/data/places.geojson").status_code, 200)
                        Solargraph.objects.filter(name__startswith="odd").delete()
                        View.objects.filter(subject__startswith="odd").delete()
        gone = bring(without("place").replace(b"Rauholm", b"Elsewhere"))
        self.assertContains(gone, "Its place is not here")

    def test_the_calendar_is_read_back(self):
        calendar = Calendar.from_ical(self.client.get("/expose/cans/cans.ics").content)
        self.assertEqual(calendar.name, "VCALENDAR")


class Subscribed(TestCase):
    @override_settings(SERVE=True, ALLOWED_HOSTS=["*"])
    def test_a_calendar_reads_along_by_its_address_alone_until_it_is_put_out(self):
        years.a_year()
        page = self.client.post("/data/light/let-in/", {"name": "kitchen", "to": "calendar"})
        token, secret = page.context["fresh"]
        url = f"/data/calendar/{secret}.ics"
        self.assertContains(page, url)
        self.assertNotContains(self.client.get("/data/"), secret)
        away = {"REMOTE_ADDR": "192.168.1.9", "HTTP_HOST": "192.168.1.2"}
        events = Calendar.from_ical(self.client.get(url, **away).content).walk("VEVENT")
        told = {str(event["uid"]).partition("-")[0] for event in events}
        self.assertLessEqual({"check", "home", "shot"}, told)
        self.assertLessEqual(told, {"check", "home", "shot", "hang"})
        self.assertTrue(all(event.walk("VALARM") for event in events))
        # Another installation's can of the same number is another event.
        with override_settings(SECRET_KEY="of somebody else"):
            others = Calendar.from_ical(self.client.get("/expose/cans/cans.ics").content)
        ours = Calendar.from_ical(self.client.get("/expose/cans/cans.ics").content)
        theirs = {str(event["uid"]) for event in others.walk("VEVENT")}
        self.assertFalse(theirs & {str(event["uid"]) for event in ours.walk("VEVENT")})
        self.assertEqual(len({str(event["uid"]) for event in events}), len(events))
        # It opens nothing else, and no other secret opens it.
        head = {"Authorization": f"Bearer {secret}"}
        sent = self.client.post("/data/light/", {"lux": "5"}, **away, headers=head)
        self.assertEqual(sent.status_code, 401)
        _, sensor = self.client.post("/data/light/let-in/", {"name": "sill"}).context["fresh"]
        self.client.post(f"/data/light/{token.pk}/put-out/")
        with clock.at(clock.now() + timedelta(seconds=9)):
            for wrong in (secret, sensor, "x"):
                gone = self.client.get(f"/data/calendar/{wrong}.ics", **away)
                self.assertEqual(gone.status_code, 404)
        nameless = self.client.post("/data/light/let-in/", {"name": " ", "to": "calendar"})
        self.assertContains(nameless, "id_calendar_name_error", status_code=422)


class Feed(TestCase):
    def setUp(self):
        page = self.client.post("/data/light/let-in/", {"name": " window  sill "})
        self.token, self.secret = page.context["fresh"]
        self.assertContains(page, self.secret)
        self.assertNotContains(self.client.get("/data/"), self.secret)

    def send(self, secret=None, **data):
        head = {"Authorization": f"Bearer {secret or self.secret}"}
        return self.client.post("/data/light/", data, headers=head)

    def test_light_that_a_sensor_sends_stands_on_the_plan_page_for_a_minute(self):
        # ISO 2720: 2500 lx on a flat receptor at C = 250 are EV 2^E * 2.5 lx, so EV 9.97.
        self.assertAlmostEqual(self.send(lux="2500").json()["ev100"], 9.97, places=2)
        self.assertContains(self.client.get("/data/light/now/"), "Window sill says EV 10.0")
        self.assertContains(self.client.get("/data/light/now/"), "kind=ev&amp;ev=10.0")
        self.assertEqual(self.send(ev="12", iso="6").status_code, 200)
        self.assertAlmostEqual(FeedToken.objects.get().ev100, 12 + 4.06, places=2)
        with clock.at(clock.now() + timedelta(minutes=2)):
            self.assertNotContains(self.client.get("/data/light/now/"), "says EV")
        self.client.post(f"/data/light/{self.token.pk}/put-out/")
        self.assertEqual(self.send(lux="2500").status_code, 401)
        self.assertNotContains(self.client.get("/data/light/now/"), "says EV")

    def test_nonsense_and_strangers_are_told_and_a_flood_waits(self):
        moment = clock.now()
        for number, (secret, data, status) in enumerate(
            (
                ("wrong", {"lux": "5"}, 401),
                ("", {"lux": "5"}, 200),
                (None, {}, 422),
                (None, {"lux": "5", "ev": "5"}, 422),
                (None, {"lux": "nan"}, 422),
                (None, {"lux": "-1"}, 422),
                (None, {"ev": "99"}, 422),
                (None, {"ev": "5", "iso": "0"}, 422),
            )
        ):
            with clock.at(moment + timedelta(seconds=number)):
                self.assertEqual(self.send(secret, **data).status_code, status, data)
        head = {"Authorization": f"Bearer {self.secret}"}
        for body in (b"{", b"[]", b'{"lux": {"a": 1}}', b"\xff", b"[" * 9999):
            moment += timedelta(seconds=20)
            with clock.at(moment):
                answer = self.client.post(
                    "/data/light/", body, content_type="application/json", headers=head
                )
            self.assertEqual(answer.status_code, 422, body)
        with clock.at(moment + timedelta(minutes=9)):
            told = [self.send(lux="5").status_code for _ in range(9)]
        self.assertEqual(told, [200] * 5 + [429] * 4)
        self.assertEqual(self.client.post("/data/light/let-in/", {"name": " "}).status_code, 422)

    @override_settings(SERVE=True)
    def test_a_sensor_comes_in_by_its_token_alone_and_to_nothing_else(self):
        away = {"REMOTE_ADDR": "192.168.1.9", "HTTP_HOST": "192.168.1.2"}
        head = {"headers": {"Authorization": f"Bearer {self.secret}"}}
        with override_settings(ALLOWED_HOSTS=["*"]):
            answer = self.client.post("/data/light/", {"lux": "5"}, **away, **head)
            self.assertEqual(answer.status_code, 200)
            for url in ("/data/", "/data/light/now/", "/"):
                self.assertEqual(self.client.get(url, **away, **head).status_code, 302, url)


class Weather(TestCase):
    def setUp(self):
        self.place = Place.objects.create(
            name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm"
        )

    def served(self, handler):
        """The address of a service that answers so, on this machine."""
        service = ThreadingHTTPServer(("127.0.0.1", 0), handler)
        threading.Thread(target=service.serve_forever, daemon=True).start()
        self.addCleanup(service.server_close)
        self.addCleanup(service.shutdown)
        return f"http://127.0.0.1:{service.server_port}/days.csv"

    def test_days_of_sunshine_are_read_from_a_service_and_used(self):
        url = self.served(weather_service.Handler)
        said = StringIO()
        call_command("weather", "rauholm", url=url, since="2026-01-01", stdout=said)
        record = Record.objects.get()
        self.assertEqual((record.place, record.rows[0]), (self.place, ["date", "hours"]))
        self.assertEqual(record.rows[1][0], "2026-01-01")
        self.assertIn(f"{len(record.rows) - 1} days", said.getvalue())
        # The real thing may stand in its place, and a second reading takes that of the first.
        call_command("weather", "Rauholm", url=url, since="2026-03-01", stdout=said)
        self.assertEqual(Record.objects.get().rows[1][0], "2026-03-01")

    def test_a_service_that_is_gone_or_says_something_else_changes_nothing(self):
        class Odd(BaseHTTPRequestHandler):
            told = b""

            def do_GET(self):
                self.wfile.write(self.told)

            log_message = weather_service.Handler.log_message

        head = b"HTTP/1.0 200 OK\r\n\r\n"
        url = self.served(Odd)
        for told in (
            b"",
            b"\xff" * 99,
            b"HTTP/1.0 500 no\r\n\r\n",
            head,
            head + b"<html>",
            head + b"date,hours\n2026-01-01,99\n",
            head + b"\xff\xfe",
            head + b"x" * 500_000,
        ):
            Odd.told = told
            with self.subTest(told[:40]), self.assertRaises(CommandError):
                call_command("weather", "Rauholm", url=url)
        for place, more in (
            ("Nowhere", {}),
            ("Rauholm", {"url": "file:///etc/hostname"}),
            ("Rauholm", {"url": "http://127.0.0.1:9/days.csv"}),
            ("Rauholm", {"url": url, "since": "spring"}),
            ("Rauholm", {"url": url, "since": "2999-01-01"}),
        ):
            with self.subTest(more), self.assertRaises(CommandError):
                call_command("weather", place, **more)
        self.assertFalse(Record.objects.exists())
