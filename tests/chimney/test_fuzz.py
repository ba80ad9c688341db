"""Every address with every field: nothing that is typed breaks a page, and what is refused writes
nothing.

Addresses come from the URL configuration, fields from the forms that pages show, and limits from
the form classes themselves, so that a new page or field cannot be forgotten.
"""

import importlib
import io
import json
import pkgutil
import random
from copy import deepcopy
from datetime import UTC, datetime, timedelta

from django import forms
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import HttpResponse
from django.test import TestCase
from PIL import Image

import chimney
from chimney.field.models import Shot
from chimney.field.pocket import craft as pocket
from chimney.hearth import invariants
from chimney.kit.models import Holder
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.parts.fields import DurationField, NumberField, StopsField
from chimney.solar.models import Solargraph
from tests import LARGE, years
from tests.chimney import addresses
from tests.chimney.kitchen import pocket_event
from tests.chimney.monkey import Page
from tests.chimney.test_model import world

NOW = datetime(2026, 11, 25, 14, tzinfo=UTC)
NASTY = (
    "", " ", "0", "-1", "1", "2.5", "1e999", "-1e999", "nan", "inf", "9" * 30, "-" + "9" * 30, "²", "١", "𝟙", "1_0",
    "0x10", "\0", "a\0b", "<b>", "'\"", "%", "🔥" * 40, "x" * 5000, "ß", "1/0", "1/3", "0/5", "99:99", "25:00", "2:30",
    "1h 5m", "100h", "24h", "0.0001", "f/1", "iso 6", "EV 12", "2026-02-30", "0001-01-01", "9999-12-31", "2011-12-30",
    "2026-03-29", "2026-11-25T02:30", "24:00", "02:30", "N", "nne", "NEE", "SSS", "360", "361", "-90", "90",
    "Can 9 SSS 10", "Can 9 180 99", "Can 9 400 5", "can 9 nne -85", "90 5; 120 8", "0 90; 359 -90", "1e9 1", "1s 1s",
    "4s 20s\n8s 90s", "4x5 in", "1x1", "2000x2000", "round 10", "on", "Mars/Base", "Pacific/Apia", "none", "slide_in",
    "aim 100 100", "sky0 5 5", "1 5 5", "[]", "{}",
)  # fmt: skip


def picture(form, mode="RGB", size=(40, 30), cut=None):
    out = io.BytesIO()
    Image.new(mode, size, 90 if mode in ("L", "P") else None).save(out, form)
    return out.getvalue()[:cut]


FILES = (
    b"", b"\0" * 50, b"\xff\xd8\xff", b"GIF89a", b"90,5\r120,8\r", b"x" * 200_000, b'"never closed',
    b"90;5\n120;8\n" * 400, b"2026-01-01,4\n2026-01-02,9\n", b"[" * 5000,
    json.dumps({"chimney": "pocket", "events": [1]}).encode(),
    picture("PNG"), picture("JPEG", cut=300), picture("TIFF", "CMYK"), picture("TIFF", "CMYK", cut=3000),
    picture("TIFF", "L"), picture("PNG", "P"), picture("PNG", "1"), picture("PNG", size=(1, 1)), picture("WEBP"),
)  # fmt: skip


def limits():
    """{name of a field: what lies at and just beyond its ends, as text}, of every form there is."""
    for found in pkgutil.walk_packages(chimney.__path__, "chimney."):
        if "forms" in found.name.rpartition(".")[2] or found.name.endswith(
            (".room", ".needs", ".readings")
        ):
            importlib.import_module(found.name)
    ends, kinds = {}, [forms.BaseForm]
    while kinds:
        kind = kinds.pop()
        kinds += kind.__subclasses__()
        for name, field in getattr(kind, "base_fields", {}).items():
            if isinstance(field, NumberField | StopsField):
                spread = (field.most - field.least) * 1e-6
                values = (field.least, field.most, field.least - spread, field.most + spread)
                ends.setdefault(name, set()).update(
                    f"{value:.12f}".rstrip("0").rstrip(".") for value in values
                )
            elif isinstance(field, DurationField):
                ends.setdefault(name, set()).update(
                    f"{value:g}s" for value in (field.least_s, field.most_s)
                )
            elif isinstance(field, forms.ChoiceField) and not isinstance(
                field, forms.ModelChoiceField
            ):
                ends.setdefault(name, set()).update(str(value) for value, _ in field.choices)
    return {name: sorted(values) for name, values in ends.items() if values}


class Fuzz(TestCase):
    @classmethod
    def setUpTestData(cls):
        with clock.at(NOW):
            years.a_year()

    def setUp(self):
        self.chance, self.ends = random.Random(None if LARGE else 1851), limits()
        self.stack = clock.at(NOW)
        self.stack.__enter__()
        self.addCleanup(self.stack.__exit__, None, None, None)

    def pages(self):
        """Addresses with numbers that lead to something, and some that cannot."""
        pks = [1, 3, self.chance.choice([0, 77, 2**63 - 1, 2**63, 10**18 - 1, 10**30])]
        pks += list(Exposure.objects.order_by("?").values_list("pk", flat=True)[:2])
        pks += list(Solargraph.objects.order_by("?").values_list("pk", flat=True)[:2])
        return [url for _, url in addresses.every(pks)]

    def nasty(self, name, now):
        """Something for a field: at its ends, anything at all, or what stands there already."""
        if name in self.ends and self.chance.random() < 0.6:
            return self.chance.choice(self.ends[name])
        return now if self.chance.random() < 0.3 else self.chance.choice(NASTY)

    def spoil(self, data):
        """The data of a form with some fields changed, some doubled or left out."""
        found = {name: value for name, value in data.items() if name != "csrfmiddlewaretoken"}
        for name in self.chance.sample(
            sorted(found), min(len(found), self.chance.choice([1, 1, 2, 4, 30]))
        ):
            found[name] = self.nasty(name, found[name])
        for name in self.chance.sample(sorted(self.ends), self.chance.choice([0, 0, 1, 3])):
            found.setdefault(name, self.nasty(name, ""))
        if found and self.chance.random() < 0.1:
            del found[self.chance.choice(sorted(found))]
        if self.chance.random() < 0.25:
            upload = SimpleUploadedFile(
                self.chance.choice(["a.png", "b.csv", "ü.json"]), self.chance.choice(FILES)
            )
            found[self.chance.choice(["file", "picture", "photo_file"])] = upload
        return found

    def send(self, method, url, data):
        live = {"HX-Request": "true"} if self.chance.random() < 0.3 else {}
        before = None if method == "get" else world()
        answer = (
            getattr(self.client, method)(url, data, headers=live)
            if method != "get"
            else self.client.get(
                url,
                {name: value for name, value in data.items() if isinstance(value, str)},
                headers=live,
            )
        )
        shown = {name: str(value)[:60] for name, value in data.items()}
        self.assertLess(answer.status_code, 500, f"{method} {url} {shown}")
        if before is not None and answer.status_code >= 400:
            self.assertEqual(world(), before, f"refused and written: {url} {shown}")
        return answer

    def test_every_address_and_field(self):
        """Forms that pages show, spoilt; what was taken in has to be readable by every page that
        shows it.
        """
        count, most = 0, 10_000 if LARGE else 240
        while count < most:
            urls = self.pages()
            for url in self.chance.sample(urls, min(len(urls), 40)):
                page = self.send("get", url, self.spoil({}) if self.chance.random() < 0.3 else {})
                count += 1
                if page.status_code != 200 or "text/html" not in page["Content-Type"]:
                    self.send("post", url, self.spoil({"x": "1"}))
                    continue
                offers = Page(page.content.decode(), url).offers
                for offer in self.chance.sample(offers, min(len(offers), 3)):
                    answer = self.send(offer.method, offer.action, self.spoil(offer.data))
                    count += 2
                    if answer.status_code == 302 and answer["Location"].startswith("/"):
                        self.assertLess(
                            self.client.get(answer["Location"]).status_code, 500, answer["Location"]
                        )
                    if count % 11 == 0:
                        self.readable()
            if LARGE:
                print(f"{count} of {most} spoilt requests, none broke a page", flush=True)
        self.readable()
        self.assertEqual(list(invariants.broken()), [])

    def readable(self):
        """The pages that read what was kept."""
        urls = [
            "/",
            "/kit/",
            "/expose/",
            "/develop/",
            "/read/",
            "/learn/",
            "/plan/",
            "/plan/outings/",
            "/expose/cans/",
        ]
        urls += [
            f"/sheets/{code}/"
            for code in Sheet.objects.order_by("-pk").values_list("code", flat=True)[:2]
        ]
        urls += [
            f"/expose/cans/{pk}/"
            for pk in Solargraph.objects.order_by("-pk").values_list("pk", flat=True)[:2]
        ]
        for url in urls:
            self.assertEqual(self.client.get(url).status_code, 200, url)


# What may stand anywhere in a file that somebody else wrote, or changed by hand.
ODD = (None, True, 0, -1, 0.5, 1e300, -1e300, 2**70, "", "x", "x" * 3000, "\0", "\ud800", "<b>", [])
ODD += ([1], {}, [[[]]], {"a": None}, "9999-12-31T23:59:59Z", "nan", 1e18, -(2**63))


class Files(TestCase):
    """Pocket sheets and maps as they come home, changed anywhere: taken in or told, never broken."""

    @classmethod
    def setUpTestData(cls):
        with clock.at(NOW):
            years.a_year()

    def setUp(self):
        self.chance = random.Random(None if LARGE else 77)
        self.enterContext(clock.at(NOW))

    def changed(self, told, changes):
        """The same with so many values changed, left out or doubled, wherever they lie."""
        told = json.loads(json.dumps(told))
        for _ in range(changes):
            within = told
            while True:
                keys = list(within) if isinstance(within, dict) else list(range(len(within)))
                if not keys:
                    break
                key = self.chance.choice(keys)
                if isinstance(within[key], dict | list) and self.chance.random() < 0.8:
                    within = within[key]
                    continue
                act = self.chance.random()
                if act < 0.15:
                    del within[key]
                elif act < 0.25 and isinstance(within, list):
                    within.append(deepcopy(within[key]))
                else:
                    within[key] = deepcopy(self.chance.choice(ODD))
                break
        return told

    def texts(self, told, count):
        """Its text, changed in what it says or in how it is written."""
        for _ in range(count):
            text = json.dumps(self.changed(told, self.chance.choice((1, 1, 2, 5)))).encode()
            if self.chance.random() < 0.2:
                text = text[: self.chance.randrange(len(text))]
            if self.chance.random() < 0.2:
                spoilt = bytearray(text or b"x")
                spoilt[self.chance.randrange(len(spoilt))] = self.chance.randrange(256)
                text = bytes(spoilt)
            yield text

    def sent(self, url, data, said):
        before = world()
        answer = self.client.post(url, data)
        self.assertLess(answer.status_code, 500, said[:2000])
        if answer.status_code >= 400:
            self.assertEqual(world(), before, f"refused and written: {said[:2000]}")

    def test_a_pocket_sheet_that_was_changed_on_its_way(self):
        shot = next(s for s in Shot.objects.filter(done=False) if pocket.packed(s.outing)["shots"])
        token, holder = pocket.packed(shot.outing)["token"], Holder.objects.first()
        events = [pocket_event(shot, holder, NOW - timedelta(hours=hours), 60) for hours in (3, 2)]
        events[0] |= {"covers": [[events[0]["opened"] + 9, events[0]["opened"] + 99]], "step": 0}
        told = {"chimney": "pocket", "version": 3, "token": token, "events": events}
        for text in self.texts(told, 600 if LARGE else 60):
            data = {"text": text.decode("utf-8", "replace")}
            data |= {"take": "1"} if self.chance.random() < 0.6 else {}
            self.sent(f"/plan/outings/{shot.outing_id}/pocket/", data, data["text"])
        self.assertEqual(list(invariants.broken()), [])
        self.assertEqual(self.client.get("/expose/").status_code, 200)

    def test_a_map_that_somebody_else_drew(self):
        told = json.loads(self.client.get("/data/places.geojson").content)
        told["features"] = told["features"][:6]
        for text in self.texts(told, 600 if LARGE else 40):
            upload = SimpleUploadedFile("places.geojson", text)
            said = text.decode("utf-8", "replace")
            self.sent("/data/places/bring/", {"places": upload}, said)
        for url in ("/kit/", "/plan/", "/expose/cans/", "/plan/sun/"):
            self.assertEqual(self.client.get(url).status_code, 200, url)


class NotAPage(TestCase):
    def test_what_no_browser_sends(self):
        for method in ("put", "delete", "patch", "options", "head"):
            for url in ("/", "/plan/", "/expose/1/close/", "/kit/camera/new/"):
                self.assertIsInstance(getattr(self.client, method)(url), HttpResponse)
        for url in (
            "/%00/",
            "/sheets/%2e%2e/",
            "/" + "a" * 3000,
            "/plan/?" + "&".join(f"f{n}=1" for n in range(1500)),
        ):
            self.assertLess(self.client.get(url).status_code, 500, url[:60])
        many = self.client.post("/plan/", {f"f{n}": "1" for n in range(1500)})
        self.assertEqual(many.status_code, 400)
