"""A whole day out on a phone: planned, loaded, a pair read again, the connection cut, a shot added
on the spot.
"""

import json
import math
import random
import re
import tempfile
from datetime import UTC, date, datetime, timedelta
from itertools import pairwise
from pathlib import Path

import numpy as np
from django.test import override_settings
from playwright.sync_api import expect
from scipy import integrate

from chimney.field.models import Outing, Shot
from chimney.field.outing import craft as outing_craft
from chimney.field.outing import figures
from chimney.field.pocket import craft as pocket
from chimney.hearth import flows as door
from chimney.kit.models import Camera, Holder, Meter, Paper
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.places import flows as place_flows
from chimney.places import queries as place_queries
from chimney.places.models import Place
from tests.browser.chromium import launch
from tests.browser.stage import PHONE, Stage
from tests.chimney.kitchen import kit, planned
from tests.runner import going

# What the console says when the network is cut on purpose.
CUT = ("htmx:sendError", "Failed to load resource: net::ERR_INTERNET_DISCONNECTED")

PERMILLE = 1e-3
SCHOOLS = (
    ("none", "single", "effect"),
    ("power", "bracket", "effect"),
    ("table", "bracket", "clock"),
)


def some_event(chance, shot):
    """A running exposure of a shot, read again up to twice, covered up to twice; and a moment."""
    step, kind = chance.randrange(len(shot["steps"])), chance.choice(["s0", "ev"])
    rows = shot["tables"][kind]
    near = [
        n for n, row in enumerate(rows) if row[2] and row[2][step] and 8 < row[2][step][0] < 400
    ]
    first = chance.choice(near)
    seconds = rows[first][2][step][0]
    opened = 1_780_000_000_000
    edges = sorted(chance.sample(range(1, 900), 4))
    moments = [opened + int(1000 * seconds * edge / 1000) for edge in edges]
    covers = [moments[:2], moments[2:]][: chance.randrange(3)]
    last = len(rows) - 1
    again = [min(last, max(0, first + chance.randrange(-4, 5))) for _ in range(chance.randrange(3))]
    places = sorted(chance.sample(range(50, 900), len(again)))
    rereads = [
        [opened + int(seconds * at), kind, index] for at, index in zip(places, again, strict=True)
    ]
    event = {"shot": shot["pk"], "kind": kind, "index": first, "step": step, "opened": opened}
    now = opened + int(950 * seconds)
    return event | {"covers": covers, "rereads": rereads, "rows": rows}, now


def filled(event, now, school):
    """(share, seconds left) by quadrature, from the readings alone."""

    def metered_s(index):
        """By hand: f/300 and EI 6, at EV 100 or at f/128 and ISO 6."""
        if event["kind"] == "ev":
            return 300**2 / 2 ** pocket.EVS[index] * 100 / 6
        return pocket.SECONDS[index] * (300 / 128) ** 2

    planned, exact, effect, _ = event["rows"][event["index"]][2][event["step"]]
    readings = [(event["opened"], event["index"]), *((at, n) for at, _, n in event["rereads"])]
    times = [at / 1000 for at, _ in readings]
    stops = [math.log2(metered_s(index)) + effect for _, index in readings]

    def rate(at):
        return exact / planned / school.adjusted_s(2 ** float(np.interp(at, times, stops)))

    edges = [event["opened"], *(at for cover in event["covers"] for at in cover), now]
    share = 0.0
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        inside = [start / 1000, *(t for t in times if start < 1000 * t < end), end / 1000]
        share += sum(integrate.quad(rate, a, b, limit=200)[0] for a, b in pairwise(inside))
    return share, (1 - share) / rate(now / 1000)


# What the console says of a poll while the network is cut on purpose.
CUT = ("htmx:sendError", "Failed to load resource")


class DayOut(Stage):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.positive = Paper.objects.create(
            name="direct positive fibre", kind="positive", box_ei=3
        )
        sizes = {
            "cut_width_mm": 125,
            "cut_height_mm": 99.6,
            "visible_width_mm": 119,
            "visible_height_mm": 93.6,
        }
        Camera.objects.create(name="Wedge", focal_mm=68, diameter_mm=0.33, size="4x5 in", **sizes)
        Holder.objects.create(name="2", size="4x5 in")
        Meter.objects.create(name="meter")
        place_flows.keep(
            Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        )

    def test_a_whole_day_at_360_pixels(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            self.plan(page)
            self.load(page)
            self.first_of_the_pair(page)
            self.without_network(page)
            self.added_on_the_spot(page)

    def plan(self, page):
        page.goto("/plan/outings/")
        page.get_by_role("link", name="Plan a day").tap()
        page.get_by_label("Name").fill("Kilns")
        page.get_by_label("Day").fill("2026-06-02")
        page.get_by_role("button", name="Keep it").tap()
        page.get_by_label("Subject", exact=True).fill("kiln mouth")
        page.get_by_label("From").fill("11:00")
        page.get_by_label("Camera looks").fill("NNW")
        page.get_by_label("Camera and setting").select_option(label="Plank")
        page.locator("#id_paper").select_option(label="grade-2 RC")
        page.get_by_text("a pair beside it").tap()
        page.get_by_label("Beside it, camera").select_option(label="Wedge")
        page.get_by_label("Beside it, paper or film").select_option(label="direct positive fibre")
        page.get_by_role("button", name="Add it").tap()
        expect(page.locator("#day-finding")).to_contain_text("2 shots fit")
        expect(page.locator(".slot").first).to_contain_text("The sun is behind")
        handle = page.locator(".handle").first
        handle.focus()
        for _ in range(4):
            handle.press("ArrowRight")
        expect(page.locator(".slot").first).not_to_contain_text("11:05 to")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 360)

    def load(self, page):
        page.goto("/expose/")
        for paper in ("grade-2 RC", "direct positive fibre"):
            page.get_by_label("Paper", exact=True).select_option(label=paper)
            page.get_by_role("button", name="Load", exact=True).tap()
            expect(page.get_by_role("status")).to_contain_text("Pencil on the backs")

    def first_of_the_pair(self, page):
        page.goto(f"/plan/outings/{Outing.objects.get().pk}/")
        page.get_by_role("link", name="Meter and open").first.tap()
        page.get_by_label("reads").fill("20")
        expect(page.locator(".tile-answer strong")).to_have_text("1:50")
        page.get_by_role("button", name="Open the hole").tap()
        expect(page.locator("[data-digits]")).to_be_visible()
        expect(page.locator(".next-shot").first).to_contain_text("its pair")
        page.get_by_role("link", name="New reading").tap()
        page.get_by_label("reads").fill("40")
        page.get_by_role("button", name="Take this reading").tap()
        expect(page.locator("[data-when]")).to_contain_text(re.compile("of 3:3|of 3:4"))
        expect(page.locator("#timer")).to_contain_text("1 stop less light")

    def without_network(self, page):
        # The network dies before the page has fetched what belongs to it.
        page.route("**/beside/**", lambda route: route.abort())
        page.reload()
        self.wait_until_quiet(page)
        page.context.set_offline(True)
        page.unroute("**/beside/**")
        page.get_by_role("button", name="Close the hole").tap()
        expect(page.locator("[data-waits]")).to_be_visible()
        page.wait_for_timeout(1500)
        self.assertIsNone(Exposure.objects.get().given_s)
        page.context.set_offline(False)
        expect(page.locator(".digits")).to_contain_text("free for", timeout=15_000)
        # The tap counted from when it was made, not from when it arrived.
        opening = Exposure.objects.get().opening
        self.assertGreater(opening.opened_at.timestamp() + 30, opening.closed_at.timestamp())
        page.get_by_role("button", name="Slide is in, turned").tap()
        expect(page.locator(".done-note")).to_contain_text("is safe")
        page.locator(".next-shot", has_text="its pair").tap()
        page.get_by_label("reads").fill("2")
        page.get_by_role("button", name="Open the hole").tap()
        page.get_by_role("button", name="Close the hole").tap()
        page.get_by_role("button", name="Slide is in, turned").tap()
        self.assertEqual(
            {exposure.sheet.paper.name for exposure in Exposure.objects.all()},
            {"grade-2 RC", "direct positive fibre"},
        )

    def added_on_the_spot(self, page):
        page.goto(f"/plan/outings/{Outing.objects.get().pk}/")
        page.get_by_label("Subject", exact=True).fill("snow fence")
        page.get_by_label("From", exact=True).fill("14:00")
        page.get_by_role("button", name="Add it").tap()
        expect(page.get_by_role("status")).to_contain_text("snow fence is added to the day")
        slot = page.locator(".slot", has_text="snow fence")
        slot.get_by_role("button", name="Drop").tap()
        expect(page.locator(".slot", has_text="snow fence")).to_have_count(0)
        page.goto(f"/sheets/{Exposure.objects.first().sheet.code}/")
        expect(page.get_by_label("Its shot")).to_contain_text("Beside it")

    def test_the_pocket_sheet_works_from_a_file_and_comes_home(self):
        outing = Outing.objects.create(
            name="Kilns",
            place=place_queries.home(),
            day="2026-06-02",
            made_at="2026-06-01T10:00:00+00:00",
        )
        Shot.objects.create(
            outing=outing,
            subject="kiln",
            camera=self.camera,
            paper=self.paper,
            kept_at="2026-06-01T10:00:00+00:00",
        )
        with self.page(has_touch=True) as page, tempfile.TemporaryDirectory() as folder:
            self.load(page)
            page.goto(f"/plan/outings/{outing.pk}/")
            with page.expect_download() as saved:
                page.get_by_role("link", name="Pocket sheet").click()
            sheet = Path(folder) / "pocket.html"
            saved.value.save_as(sheet)
            with self.page(PHONE, has_touch=True, fresh=True) as phone:
                back = self.use(phone, sheet, Path(folder))
            page.get_by_text("Back home").click()
            page.get_by_label("The file it gave back").set_input_files(back)
            page.get_by_role("button", name="Look at it").click()
            expect(page.locator(".thing")).to_contain_text("S-001 becomes exposed")
            page.get_by_role("button", name="Write them down").click()
            expect(page.get_by_role("status")).to_contain_text("1 exposure is written down")
        exposure = Exposure.objects.get()
        self.assertEqual(exposure.note, "fog from the sea")
        self.assertGreater(exposure.given_s, 1)

    def use(self, phone, sheet, folder):
        # A phone on the same morning as the site.
        phone.clock.install(time=going())
        phone.goto(f"file://{sheet}")
        phone.get_by_label("It reads").select_option(label="2 s")
        phone.get_by_role("button", name="Open for 0:11").tap()
        # A browser makes a click of a tap when it comes to it.
        expect(phone.locator(".digits")).to_have_text(re.compile(r"0:\d\d"))
        phone.wait_for_timeout(1200)
        phone.reload()
        expect(phone.locator(".digits")).to_have_text(re.compile(r"\d:\d\d"))
        phone.get_by_role("button", name="Cover for a moment").tap()
        phone.get_by_role("button", name="Uncover").tap()
        phone.get_by_role("button", name="Close the hole").tap()
        phone.get_by_role("button", name="Slide in, turned").tap()
        # The slide comes first after closing; then the card folds away.
        phone.get_by_text("S-001: kiln").tap()
        phone.get_by_label("Note").fill("fog from the sea")
        phone.get_by_label("Note").blur()
        self.assertLessEqual(phone.evaluate("document.documentElement.scrollWidth"), 360)
        with phone.expect_download() as saved:
            phone.get_by_role("button", name="Save the file").tap()
        saved.value.save_as(folder / "back.json")
        self.assertEqual(len(json.loads((folder / "back.json").read_text())["events"]), 1)
        return folder / "back.json"

    def test_the_pocket_sheet_fills_a_sheet_as_integration_says(self):
        """Against scipy's quadrature of light that goes straight in stops from reading to reading,
        covers left out; shots of three schools, single and in brackets of both kinds.
        """
        outing = Outing.objects.create(
            name="Kilns",
            place=place_queries.home(),
            day="2026-06-02",
            made_at="2026-06-01T10:00:00+00:00",
        )
        more = {"outing": outing, "camera": self.camera, "kept_at": "2026-06-01T10:00:00+00:00"}
        self.paper.table = [[1, 2], [4, 20], [20, 180]]
        self.paper.save()
        for school, sheets, by in SCHOOLS:
            Shot.objects.create(
                paper=self.paper,
                subject=school,
                school=school,
                sheets=sheets,
                bracket_by=by,
                **more,
            )
        page = self.client.get(f"/plan/outings/{outing.pk}/pocket.html").content
        packed = pocket.packed(Outing.objects.get(pk=outing.pk))
        shots = {one["subject"]: one for one in packed["shots"]}
        chance = random.Random(1851)
        with tempfile.TemporaryDirectory() as folder, self.page(PHONE, fresh=True) as phone:
            sheet = Path(folder) / "pocket.html"
            sheet.write_bytes(page)
            phone.goto(f"file://{sheet}")
            for school, *_ in SCHOOLS:
                for _ in range(12):
                    event, now = some_event(chance, shots[school])
                    told = phone.evaluate("([e, now]) => progress(e, now)", [event, now])
                    share, left_s = filled(event, now, self.paper.schools[school])
                    words = f"{event | {'rows': ''}}"
                    self.assertAlmostEqual(told["share"] / share, 1, delta=PERMILLE, msg=words)
                    # What is left is a difference: its error is one of the whole.
                    whole_s = left_s / (1 - share)
                    self.assertAlmostEqual(
                        told["left"], left_s, delta=PERMILLE * whole_s, msg=words
                    )

    def test_the_pocket_sheet_counts_on_and_gives_back_what_happened(self):
        outing = Outing.objects.create(
            name="Kilns",
            place=place_queries.home(),
            day="2026-06-02",
            made_at="2026-06-01T10:00:00+00:00",
        )
        shot = Shot(
            outing=outing, subject="kiln", camera=self.camera, paper=self.paper, sheets="bracket"
        )
        shot.kept_at = "2026-06-01T10:00:00+00:00"
        shot.save()
        logbook.load(self.paper, self.holder, "A")
        with tempfile.TemporaryDirectory() as folder, self.page(PHONE, fresh=True) as phone:
            sheet = Path(folder) / "pocket.html"
            sheet.write_bytes(self.client.get(f"/plan/outings/{outing.pk}/pocket.html").content)
            phone.clock.install(time="2026-06-02T09:00:00Z")
            phone.goto(f"file://{sheet}")
            phone.clock.pause_at("2026-06-02T10:00:00Z")
            # Nothing was metered yet: there is no time to open for.
            expect(phone.get_by_role("button", name="Open for")).to_have_count(0)
            phone.get_by_label("It reads").select_option(label="2 s")
            phone.get_by_role("button", name="Open for 0:11").click()
            phone.clock.run_for(5000)
            phone.get_by_text("New reading").click()
            phone.locator(".running").get_by_label("It reads").select_option(label="4 s")
            phone.get_by_role("button", name="Take it").click()
            # By hand: 2 s ask for 10.986 s, counted as 11, and 4 s for twice that. Meanwhile the
            # light fell straight in stops: 5 s of the mean rate of 1/11 and 1/22 there, which is
            # 1/22 over ln 2, are 0.328; (1 - 0.328) x 22 = 14.78 s are left.
            expect(phone.locator(".digits")).to_have_text("0:15")
            phone.get_by_role("button", name="Cover for a moment").click()
            phone.clock.run_for(60_000)
            expect(phone.locator(".digits")).to_have_text("0:15")
            phone.get_by_role("button", name="Uncover").click()
            phone.clock.run_for(16_000)
            expect(phone.locator(".digits")).to_have_text("+0:01")
            phone.get_by_role("button", name="Close the hole").click()
            phone.get_by_role("button", name="Not closed after all: undo").click()
            expect(phone.locator(".digits")).to_have_text("+0:01")
            phone.get_by_role("button", name="Close the hole").click()
            # 81 s by the clock, a minute of them covered.
            expect(phone.locator(".card.done").last).to_contain_text("free for 0:21")
            back = json.loads(phone.locator("#text").input_value())
        (event,) = back["events"]
        self.assertEqual((event["value"], event["rereads"][0]["value"], event["step"]), (2, 4, 0))
        self.assertEqual(event["closed"] - event["opened"], 81_000)
        self.assertEqual(len(event["covers"]), 1)

    def test_a_strip_and_a_shot_added_on_the_spot_come_home_from_the_pocket(self):
        outing = Outing.objects.create(
            name="Kilns",
            place=place_queries.home(),
            day="2026-06-02",
            made_at="2026-06-01T10:00:00+00:00",
        )
        shot = Shot(
            outing=outing,
            subject="kiln",
            camera=self.camera,
            paper=self.paper,
            sheets="strip",
            bands=3,
            kept_at="2026-06-01T10:00:00+00:00",
        )
        shot.save()
        logbook.load(self.paper, self.holder, "A")
        logbook.load(self.paper, self.holder, "B")
        strip = planned(self.camera, self.paper, seconds=8.0, sheets="strip", bands=3).sheets[0]
        first_s, last_s = strip.bands[0].pull_s, strip.bands[-1].pull_s
        with tempfile.TemporaryDirectory() as folder, self.page(PHONE, fresh=True) as phone:
            sheet = Path(folder) / "pocket.html"
            sheet.write_bytes(self.client.get(f"/plan/outings/{outing.pk}/pocket.html").content)
            phone.clock.install(time="2026-06-02T09:00:00Z")
            phone.goto(f"file://{sheet}")
            phone.clock.pause_at("2026-06-02T10:00:00Z")
            phone.get_by_text("Another shot").click()
            phone.get_by_label("Subject").fill("net loft")
            phone.get_by_role("button", name="Add it").click()
            for card in ("kiln", "net loft"):
                here = phone.locator("section", has=phone.get_by_role("heading", name=card))
                here.get_by_label("It reads").select_option(label="8 s")
                here.get_by_role("button", name="Open for").click()
                running = phone.locator(".running")
                phone.clock.run_for(1000 * (first_s - 1))
                expect(running.locator(".pull")).to_contain_text("Band 1 of 3 in 0:01")
                phone.clock.run_for(2000)
                expect(running.locator(".pull")).to_contain_text("Band 2 of 3")
                phone.clock.run_for(1000 * (last_s - first_s))
                expect(running.locator(".pull")).to_contain_text("The last band")
                phone.get_by_role("button", name="Close the hole").click()
            text = phone.locator("#text").input_value()
        with clock.at(datetime(2026, 6, 2, 12, tzinfo=UTC)):
            home = {"text": text, "take": "1"}
            for _ in range(2):
                self.client.post(f"/plan/outings/{outing.pk}/pocket/", home)
        first, second = Exposure.objects.order_by("pk")
        self.assertTrue(first.is_strip and second.is_strip)
        self.assertEqual((first.subject, second.subject), ("kiln", "net loft"))
        added = Shot.objects.exclude(pk=shot.pk).get()
        self.assertEqual((added.subject, added.done, added.taken.count()), ("net loft", True, 1))
        pulls = [band["pull_s"] for band in added.taken.get().bands]
        self.assertEqual(pulls, [band.pull_s for band in strip.bands])

    def test_a_hand_before_the_hole_is_counted_first(self):
        with self.page(PHONE, expected=CUT) as page:
            page.goto("/plan/?seconds=2&hand_s=3&kind=seconds")
            page.get_by_role("button", name="Load and open").click()
            hand, opened = (page.locator(f"[data-in={state}]") for state in ("hand", "open"))
            expect(hand).to_be_visible()
            expect(page.locator("[data-digits]")).to_have_text(re.compile("0:0[123]"))
            self.assertEqual(page.locator(".order-now").inner_text()[:7], "hand or")
            # At zero the time itself begins and the words say so, without a word from the server.
            page.context.set_offline(True)
            expect(page.locator("[data-digits]")).to_have_text(re.compile("0:10|0:09"))
            expect(hand).to_be_hidden()
            expect(opened).to_be_visible()
            self.assertEqual(page.locator(".order-now").inner_text()[:7], "at zero")
            page.context.set_offline(False)
            page.get_by_role("button", name="Close the hole").click()
            expect(page.locator(".digits")).to_contain_text("free for")
        exposure = Exposure.objects.get()
        opening = exposure.opening
        waited = (opening.closed_at - opening.opened_at).total_seconds() - exposure.given_s
        self.assertAlmostEqual(waited, 3, places=3)

    def test_a_shot_is_dragged_along_the_day(self):
        outing = Outing.objects.create(
            name="Kilns",
            place=place_queries.home(),
            day=date(2026, 6, 3),
            made_at="2026-06-01T10:00:00+00:00",
        )
        Shot.objects.create(
            outing=outing,
            subject="kiln",
            camera=self.camera,
            paper=self.paper,
            kept_at="2026-06-01T10:00:00+00:00",
            starts_at="2026-06-03T08:00:00+00:00",
        )
        with self.page() as page:
            page.goto(f"/plan/outings/{outing.pk}/")
            expect(page.locator(".slot")).to_contain_text("10:05 to")
            with self.dragged(page, page.locator(".handle"), 120, 0, steps=10):
                held = float(page.locator(".handle").get_attribute("data-x"))
            # Where the drawing's own scale puts that place, and five minutes of setting up after
            # it.
            seen = outing_craft.light_of(outing)[1]
            opens = seen.start + timedelta(seconds=figures.seconds_of(seen, held) + 300)
            expect(page.locator(".slot strong")).to_contain_text(f"{opens:%H:%M} to")
            expect(page.locator("#day-bar")).to_have_attribute(
                "aria-label", re.compile(f"opens {opens:%H:%M}")
            )
            page.reload()
            # What was dragged is kept.
            expect(page.locator(".slot strong")).to_contain_text(f"{opens:%H:%M} to")

    def test_a_phone_comes_in_by_the_passphrase_and_is_told_what_its_browser_refuses(self):
        door.set_passphrase("kiln mouth in the rain")
        browser = launch(self.playwright, mapped="phone.test")
        self.addCleanup(browser.close)
        port = self.live_server_url.rpartition(":")[2]
        with override_settings(ALLOWED_HOSTS=["*"], SERVE=True):
            context = browser.new_context(viewport=PHONE, base_url=f"http://phone.test:{port}")
            page = context.new_page()
            page.goto("/plan/?seconds=2m")
            self.assertFalse(page.evaluate("isSecureContext"))
            expect(page.locator("h1")).to_have_text("Chimney")
            self.assert_accessible(page, "door")
            page.get_by_label("Passphrase").fill("kiln mouth in the rain")
            page.get_by_role("button", name="Come in").click()
            page.goto("/plan/?seconds=2m")
            page.get_by_role("button", name="Load and open").click()
            expect(page.locator("[data-missing]")).to_contain_text(
                "keeps the screen on only over https"
            )
            expect(page.locator("[data-digits]")).to_be_visible()
            context.close()
