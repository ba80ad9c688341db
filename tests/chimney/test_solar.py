"""A can is planned, put out, looked after, brought home and scanned once; whatever is typed is told
in words.
"""

import json
import re
from datetime import UTC, date, datetime, timedelta
from io import BytesIO

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.http import QueryDict
from icalendar import Calendar
from PIL import Image
from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth

from chimney.hearth import invariants
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Developer, Paper
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.solar import craft, figures
from chimney.solar.advising import wording
from chimney.solar.cans import craft as can_craft
from chimney.solar.cans.wording import CHECKLIST
from chimney.solar.models import Event, Record, Solargraph
from chimney.solar.planner import page as pages
from demo.cans import CAN
from tests.chimney.monkey import Page
from tests.chimney.pages import TestCase
from tests.chimney.test_prints import read
from tests.pinhole.test_sun_against_astropy import astropy_position

NOON = datetime(2026, 11, 24, 11, tzinfo=UTC)
LIVE = {"HX-Request": "true"}

# 11:30 on the clock of Rauholm on that day.
SHADOW_UTC = np.datetime64("2026-11-24T10:30", "s")


def printed(page):
    """[(words, from, to)] of a page, in mm from its left edge."""
    found = []

    def take(words, _, place, font, size):
        if words.strip():
            name = "bold" if "Bold" in str(font and font.get("/BaseFont")) else "regular"
            left = place[4] / 72 * 25.4
            found.append((words, left, left + stringWidth(words.strip(), name, size) / 72 * 25.4))

    page.extract_text(visitor_text=take)
    return found


class Solar(TestCase):
    def setUp(self):
        self.place = place_flows.keep(
            Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        )
        self.camera = kit_flows.keep_camera(Camera(name="Can 3", **CAN), loads_directly=True)
        self.paper = Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)

    def typed(self, **more):
        data = {
            "place": self.place.pk,
            "camera": self.camera.pk,
            "azimuth_deg": "S",
            "tilt_deg": "0",
        }
        data |= {
            "first_day": "2025-12-21",
            "last_day": "2026-06-21",
            "kind": "span",
            "climate": "clear",
        }
        return data | {"view": "positive", "horizon": "90 3; 270 4"} | more


class Planner(Solar):
    def test_the_verdict_names_the_days_and_the_remedy(self):
        page = self.client.get("/plan/sun/", self.typed())
        self.assertContains(page, "noons over the top")
        # Closed form: tan 16.5 x 66 mm, of the lean that is advised, is a wedge of 20 mm; the dates
        # are those of a declination of 9.4 degrees.
        self.assertContains(
            page,
            "to 21 June noon passes over the top: lean it back 14.5° to 51.5°; 16.5° (a wedge of "
            "20 mm under a 66 mm can) still works if it hangs 2° off. All 183 noons then, and",
        )
        leaned = self.client.get("/plan/sun/", self.typed(tilt_deg="14.5"))
        self.assertContains(leaned, "Can 3 will keep the whole climb of the sun")
        self.assertContains(leaned, "hung 2° off the can may lose some; 16.5° is safer")
        safe = self.client.get("/plan/sun/", self.typed(tilt_deg="16.5"))
        self.assertContains(safe, "Leans from 14.5° to 51.5° keep them.")
        for more, words in (
            ({"azimuth_deg": "N", "last_day": "2026-01-21"}, "looks past the sun"),
            (
                {"azimuth_deg": "N", "last_day": "2026-01-21", "tilt_deg": "-60"},
                "looks at the ground",
            ),
            ({"horizon": "0 89"}, "The skyline hides it all"),
            ({"last_day": "2027-06-21", "tilt_deg": "14.5"}, "Emulsion rots"),
            ({"last_day": "2025-12-21"}, "will keep the day"),
            ({"azimuth_deg": "70", "last_day": "2026-02-01"}, "keeps no noon"),
            ({"azimuth_deg": "E"}, "keeps no noon"),
            ({"tilt_deg": "85"}, "noons below its picture"),
            ({"tilt_deg": "85"}, "lean it back no more than 51.5°"),
            ({"roll_deg": "180"}, "noons over the top"),
            ({"azimuth_deg": "E", "kind": "guess"}, "is a guess on purpose"),
        ):
            self.assertContains(self.client.get("/plan/sun/", self.typed(**more)), words)

    def test_noons_behind_the_skyline_are_no_part_of_a_promise(self):
        """Below a wall of 15 degrees stand the noons of 57.1 N with a declination below -17.9: from
        21 December to 28 January (Astronomical Almanac, from memory).
        """
        wall = {"horizon": "0 15"}
        over = self.client.get("/plan/sun/", self.typed(**wall))
        words = over.context["page"].advice.sentence
        kept, hidden = map(
            int,
            re.search(
                r"All (\d+) noons that the skyline lets in \(it hides (\d+)\)", words
            ).groups(),
        )
        self.assertEqual(kept + hidden, 183)
        self.assertAlmostEqual(hidden, 39, delta=2)
        leaned = self.client.get("/plan/sun/", self.typed(tilt_deg="16.5", **wall))
        self.assertContains(leaned, f"All {kept} noons lie on the paper")
        self.assertContains(leaned, f"The skyline hides {hidden} more.")
        chimney = {"horizon": "0 0; 170 0; 175 15; 185 15; 190 0", "last_day": "2026-01-10"}
        walled = self.client.get("/plan/sun/", self.typed(**chimney))
        self.assertContains(walled, "The sun stands below the skyline at noon all these days")

    def test_eaves_and_a_window_hide_what_they_hide(self):
        open_sky = self.client.get("/plan/sun/", self.typed()).context["page"].prediction
        high = open_sky.track.altitude_deg[open_sky.trails.counted]
        asked = self.typed(upper="0 40")
        eaves = self.client.get("/plan/sun/", asked).context["page"].prediction
        counted = eaves.trails.counted.sum()
        self.assertEqual(counted, (high < 40).sum())
        self.assertLess(eaves.survey.share_on_paper * counted, open_sky.trails.on_paper.sum() + 1)
        # A window of 80 x 120 cm in 40 cm of wall, the hole 20 cm behind it, its sill 30 cm below:
        # the sun shines in by rays through both rims, followed one by one.
        frame = {"facing_deg": "S", "wide_cm": "80", "high_cm": "120", "sill_cm": "30"}
        frame |= {"wall_cm": "40", "behind_cm": "20"}
        page = self.client.post("/plan/sun/window/", self.typed() | frame, follow=True)
        seen = page.context["page"].prediction
        azimuth, altitude = (
            np.radians(angle[seen.track.up])
            for angle in (seen.track.azimuth_deg - 180, seen.track.altitude_deg)
        )
        passes = np.abs(azimuth) < np.pi / 2
        for depth in (20, 60):
            with np.errstate(divide="ignore"):
                aside = depth * np.tan(azimuth)
                up = depth / np.cos(azimuth) * np.tan(altitude)
            passes &= (np.abs(aside) < 40) & (up > -30) & (up < 90)
        differs = passes != seen.trails.counted[seen.track.up]
        self.assertGreater(passes.sum(), 1000)
        self.assertLess(differs.mean(), 0.004)
        # A tenth of a degree at the rim.
        wrong = self.client.post("/plan/sun/window/", self.typed() | frame | {"wide_cm": "wide"})
        self.assertEqual(wrong.status_code, 422)
        self.assertContains(wrong, "must be a number", status_code=422)
        self.assertContains(wrong, 'value="120"', status_code=422)
        roof = {"upper": "0 40", "wall_deg": "30", "tilt_deg": "44"}
        self.client.post("/plan/sun/keep/", self.typed(**roof))
        can = Solargraph.objects.latest("pk")
        self.assertEqual((can.upper, can.wall_deg), ([[0.0, 40.0]], 30))
        # Closed form: tan 14 x 66 mm.
        hung = self.client.get(f"/expose/cans/{can.pk}/")
        self.assertContains(hung, "16 mm")
        self.assertContains(hung, "on what leans back 30° itself")
        self.assertContains(self.client.get(f"/plan/sun/{can.pk}/"), "0 40")

    def test_a_figure_of_eight_that_is_cut_off_is_said_to_be_and_cured(self):
        eight = {"kind": "eight", "from_time": "12:00", "last_day": "2026-12-20"}
        cut = self.client.get("/plan/sun/", self.typed(**eight))
        self.assertContains(cut, "Can 3 will cut its figure of eight off")
        page = cut.context["page"]
        counted = page.prediction.trails.counted.any(axis=1)
        lost = counted & ~page.prediction.trails.on_paper.any(axis=1)
        self.assertContains(cut, f"On {lost.sum()} of 365 days, ")
        # Coloured by its own hour: a cell is lost where the sun is not on the paper then.
        cells = page.calendar.shapes[1:366]
        self.assertEqual(["cell-over" in cell for cell in map(str, cells)], lost.tolist())
        self.assertContains(cut, "the sun is not on the paper then")
        stands = self.client.get("/plan/sun/best/", self.typed(goal="cure", **eight), follow=True)
        self.assertContains(stands, "Can 3 will draw a figure of eight")
        self.assertContains(stands, f"On {counted.sum()} of 365 days the sun at that clock time")

    def test_what_is_advised_is_applied_by_one_tap_and_cures_it(self):
        equator = Place.objects.create(
            name="On the line", latitude_deg=0, longitude_deg=19.6, zone="Europe/Stockholm"
        )
        for more in (
            {},
            {"azimuth_deg": "E"},
            {"azimuth_deg": "N"},
            {"tilt_deg": "85"},
            {"tilt_deg": "-60"},
            {"place": equator.pk},
            {"place": equator.pk, "azimuth_deg": "E"},
            {"place": equator.pk, "roll_deg": "90"},
        ):
            with self.subTest(**more):
                page = self.client.get("/plan/sun/", self.typed(**more))
                self.assertContains(page, "Stand it so")
                typed = self.typed(**more) | {"goal": "cure"}
                cured = self.client.post("/plan/sun/best/", typed, follow=True)
                self.assertContains(cured, "will keep the whole climb of the sun")
                self.assertNotContains(cured, "Stand it so")

    def test_a_thick_plate_is_said_to_keep_the_sun_out_and_what_lets_it_in(self):
        asked = self.typed(tilt_deg="16.5")
        Camera.objects.update(wall_mm=None)
        thin = self.client.get("/plan/sun/", asked)
        self.assertNotContains(thin, "thinner plate")
        Camera.objects.update(wall_mm=0.3, diameter_mm=0.3)
        thick = self.client.get("/plan/sun/", asked)
        shares = [page.context["page"].prediction.survey.share_on_paper for page in (thin, thick)]
        lost = round(100 * (shares[0] - shares[1]))
        self.assertGreater(lost, 20)
        words = f"plate keeps {lost} % of the sun's time off its paper: a thinner plate lets it in"
        self.assertContains(thick, words.replace("'", "&#x27;"))

    def test_an_eclipse_among_its_days_is_told_and_the_next_ones_are_listed(self):
        asked = self.typed(first_day="2026-07-01", last_day="2026-09-01")
        page = self.client.get("/plan/sun/", asked)
        self.assertContains(page, "Eclipse 12 Aug 2026")
        self.assertNotIn("bitten", page.context["page"].paper.svg)
        # To the west that evening lies on the paper: its trail is as narrow as what is left.
        west = self.client.get("/plan/sun/", asked | {"azimuth_deg": "W"}).context["page"]
        (n, shares), *more = craft.bites(west.prediction)
        self.assertEqual((str(west.prediction.track.days[n]), more), ("2026-08-12", []))
        (eclipse,) = craft.eclipses_at(self.place, date(2026, 8, 1), date(2026, 8, 31))
        self.assertAlmostEqual(shares.max(), eclipse.share, delta=0.02)
        at = west.prediction.track.minutes[shares.argmax()] - 60
        self.assertAlmostEqual(at, eclipse.greatest.hour * 60 + eclipse.greatest.minute, delta=3)
        widths = re.findall(r'class="bitten"[^>]*stroke-width="([\d.]+)"', west.paper.svg)
        self.assertLess(min(map(float, widths)), 0.35 * max(map(float, widths)))
        self.assertNotContains(self.client.get("/plan/sun/", self.typed()), "Eclipse 1")
        with clock.at(NOON):
            page = self.client.get(f"/plan/sun/eclipses/{self.place.pk}/")
        words = "2 August 2027: the moon covers 18 % of the sun, 10:34 to 12:07, most at 11:20"
        self.assertContains(page, words)
        asked = (
            "first_day=2027-08-02&amp;last_day=2027-08-02&amp;from_time=10%3A34&amp;to_time=12%3A07"
        )
        self.assertContains(page, f"kind=eclipse&amp;{asked}")
        self.assertContains(page, "Never look into the sun")
        self.assertEqual(self.client.get("/plan/sun/eclipses/999/").status_code, 404)

    def test_a_kept_plan_is_changed_and_not_doubled(self):
        self.client.post("/plan/sun/keep/", self.typed(climate="rainy", water="on"))
        can = Solargraph.objects.get()
        self.assertEqual((can.climate, can.water), ("rainy", True))
        page = self.client.get(f"/plan/sun/{can.pk}/")
        self.assertEqual(page.context["page"].typed["climate"], "rainy")
        typed = self.typed(can=can.pk, goal="cure", azimuth_deg="E")
        cured = self.client.post("/plan/sun/best/", typed)
        self.assertTrue(cured["Location"].startswith(f"/plan/sun/{can.pk}/?"), cured["Location"])
        wrong = self.client.post(f"/plan/sun/{can.pk}/change/", self.typed(tilt_deg="far"))
        self.assertContains(wrong, "must be a number", status_code=422)
        self.client.post(f"/plan/sun/{can.pk}/change/", self.typed(tilt_deg="9", water=""))
        can = Solargraph.objects.get()
        self.assertEqual((can.tilt_deg, can.water), (9, False))

    def test_a_skyline_belongs_to_its_place(self):
        other = Place.objects.create(
            name="Bare hill", latitude_deg=50, longitude_deg=10, zone="Europe/Stockholm"
        )
        Place.objects.filter(pk=self.place.pk).update(horizon=[[90, 3]])
        self.assertEqual(pages.read({"place": f"{self.place.pk}"}).typed["horizon"], "90 3")
        # Cleared by hand it stays cleared, also in the address.
        cleared = pages.read(self.typed(horizon="", line_of=f"{self.place.pk}"))
        self.assertEqual(cleared.typed["horizon"], "")
        self.assertEqual(pages.read(QueryDict(cleared.address())).typed["horizon"], "")
        # Another place brings its own.
        typed = self.typed(place=f"{other.pk}", line_of=f"{self.place.pk}", horizon="90 3; 270 4")
        moved = self.client.post("/plan/sun/", typed, headers=LIVE)
        self.assertEqual(moved.context["page"].typed["horizon"], "")
        self.assertContains(moved, 'id="id_horizon"')

    def test_clocks_of_odd_zones_and_sunsets_past_midnight(self):
        # Ireland's law calls its summer clock standard; noon of its winter clock is noon.
        dublin = Place.objects.create(
            name="West", latitude_deg=53, longitude_deg=-7, zone="Europe/Dublin"
        )
        day = {"first_day": "2026-12-21", "last_day": "2027-01-21", "place": dublin.pk}
        eight = self.client.get("/plan/sun/", self.typed(kind="eight", from_time="12:01", **day))
        self.assertContains(eight, "from 21 Dec 2026 at 12:01")
        north = Place.objects.create(
            name="North", latitude_deg=64.5, longitude_deg=-20, zone="Atlantic/Reykjavik"
        )
        late = {"first_day": "2026-06-21", "last_day": "2026-06-21", "place": north.pk}
        late |= {"kind": "set", "from_time": "22:30", "to_time": "00:30", "azimuth_deg": "340"}
        page = self.client.get("/plan/sun/", self.typed(**late))
        self.assertContains(page, "has the sun in the frame")

    def test_without_a_can_the_way_leads_to_making_one(self):
        Camera.objects.update(back="lens")
        refused = self.client.get("/plan/sun/")
        self.assertContains(refused, "/kit/camera/new/", status_code=409)

    def test_there_is_no_sunrise_in_polar_day(self):
        north = Place.objects.create(
            name="Far north", latitude_deg=78, longitude_deg=15, zone="Europe/Stockholm"
        )
        day = {"place": north.pk, "first_day": "2026-06-01", "last_day": "2026-06-02"}
        page = self.client.post(
            "/plan/sun/best/", self.typed(**day) | {"goal": "rise"}, follow=True
        )
        self.assertContains(page, "Nothing to aim at: the sun stays up all that day.")

    def test_drawings_and_numbers_are_the_cores(self):
        desk = pages.read(self.typed(tilt_deg="14.5"))
        survey = desk.prediction.survey
        words = f"the sun on it on {survey.days_on_paper} of {survey.days} days"
        self.assertIn(words, desk.paper.words)
        self.assertIn("178 mm along the wall, 120 mm high", desk.paper.words)
        self.assertIn(f"{survey.days_on_paper} of {survey.days} days", desk.calendar.words)
        # The drawing's own way back from a place to a direction.
        frame = figures.Frame(desk.prediction.track)
        self.assertEqual(
            (frame.middle, frame.direction(*(float(part) for part in (frame.x(150), frame.y(30))))),
            (180, (150, 30)),
        )
        with clock.at(datetime(2025, 12, 21, 11, tzinfo=UTC)):
            noon = desk.noon
        compass, off = desk.compass
        self.assertEqual((compass, off), ("172°", "7.6° east"))
        # Solar noon on Rauholm's clock: 12 h - 19.6 / 15 h + 1 h less an equation of time of 2 min
        # on 21 December.
        self.assertEqual(f"{noon:%H:%M}", "11:39")

    def test_what_is_dragged_stands_in_the_fields_too(self):
        desk = pages.read(self.typed())
        frame = figures.Frame(desk.prediction.track)
        aim = f"aim {frame.x(200):.1f} {frame.y(12):.1f}"
        live = self.client.get("/plan/sun/", self.typed(dragged=aim), headers=LIVE)
        self.assertContains(live, 'value="200"')
        self.assertContains(live, 'value="12"')
        self.assertIn("azimuth_deg=200", live["HX-Replace-Url"])
        self.assertNotIn("dragged", live["HX-Replace-Url"])
        dot = f"sky0 {frame.x(100):.1f} {frame.y(20):.1f}"
        moved = pages.read(self.typed(dragged=dot))
        self.assertEqual(moved.prediction.skyline.points[0], (100, 20))
        fresh = pages.read(
            self.typed(horizon="", dragged=f"sky3 {frame.x(90):.1f} {frame.y(7):.1f}")
        )
        self.assertEqual(
            (len(fresh.prediction.skyline.points), fresh.prediction.skyline.points[3]),
            (12, (90, 7)),
        )
        for bad in ("aim x y", "sky99 10 10", "aim 99999999 1", "nothing"):
            self.assertEqual(
                self.client.get("/plan/sun/", self.typed(dragged=bad), headers=LIVE).status_code,
                200,
            )

    def test_the_best_way_is_taken_over(self):
        answer = self.client.get("/plan/sun/best/", self.typed(goal="span"))
        self.assertEqual(answer.status_code, 302)
        page = self.client.get(answer["Location"])
        self.assertContains(page, "of that sun lies on the paper")
        # Its plate of 0.1 mm keeps out some more than a twentieth.
        self.assertGreater(page.context["page"].prediction.survey.share_on_paper, 0.75)
        rise = pages.read(
            dict(
                pair.split("=")
                for pair in self.client.get("/plan/sun/best/", self.typed(goal="rise"))["Location"]
                .split("?")[1]
                .split("&")
            )
        )
        self.assertTrue(90 < float(rise.typed["azimuth_deg"]) < 180)
        self.assertEqual(
            self.client.get("/plan/sun/best/", self.typed(goal="moon")).status_code, 302
        )
        with clock.at(NOON):
            proposed = self.client.get("/plan/sun/best/", self.typed(goal="solstices"))["Location"]
        self.assertIn("first_day=2026-12-21&last_day=2027-06-21", proposed)
        hidden = self.client.get(
            "/plan/sun/best/", self.typed(goal="span", horizon="0 89"), follow=True
        )
        self.assertContains(hidden, "Nothing to aim at")

    def test_hours_and_figures_of_eight_are_on_the_right_clock(self):
        eight = self.client.get(
            "/plan/sun/",
            self.typed(
                kind="eight", from_time="12:00", first_day="2026-03-01", last_day="2026-11-30"
            ),
        )
        # Standard time all year: in summer the clock shows an hour more. Clocks change on 29 March
        # and 25 October 2026.
        self.assertContains(
            eight, "from 1 Mar 2026 at 12:00, from 29 Mar 2026 at 13:00, from 25 Oct 2026 at 12:00"
        )
        self.assertContains(eight, "figure of eight")
        evening = {
            "kind": "set",
            "from_time": "19:00",
            "to_time": "22:00",
            "first_day": "2026-06-21",
            "last_day": "2026-06-21",
        }
        self.assertContains(
            self.client.get("/plan/sun/", self.typed(azimuth_deg="NW", **evening)),
            "has the sun in the frame",
        )
        # Typed as the clock shows it in summer: 19:00 is 18:00 standard.
        self.assertEqual(pages.read(self.typed(**evening)).prediction.minutes, (1080, 1260))
        missed = self.client.get("/plan/sun/", self.typed(azimuth_deg="S", **evening))
        self.assertContains(missed, "looks past the sun")

    def test_hours_stay_those_of_the_place(self):
        # Corrie Flat is 12 hours ahead and in summer time: noon at 12 h + 1 h + (180 - 171.6) / 15
        # h less 13 min.
        flat = Place.objects.create(
            name="Corrie Flat", latitude_deg=-43.95, longitude_deg=171.6, zone="Pacific/Auckland"
        )
        page = self.client.get(
            "/plan/sun/", self.typed(place=flat.pk, first_day="2025-11-24", last_day="2025-11-24")
        )
        self.assertContains(page, "Solar noon 24 Nov at 13:20")

    def test_the_preview_is_a_picture(self):
        found = self.client.get("/plan/sun/picture.png", self.typed(water="on", climate="coast"))
        picture = Image.open(BytesIO(found.content))
        self.assertEqual((found["Content-Type"], picture.format), ("image/png", "PNG"))
        self.assertGreater(min(picture.size), 400)
        self.assertEqual(
            self.client.get("/plan/sun/picture.png", self.typed(azimuth_deg="x")).status_code, 422
        )
        shown = self.client.get("/plan/sun/preview/", self.typed(water="on"), headers=LIVE)
        self.assertContains(shown, "A simulation of what may come out")
        self.assertContains(
            self.client.get("/plan/sun/preview/", self.typed(tilt_deg="x")), "missing or wrong"
        )

    def test_bad_input_is_told_beside_its_field_and_nothing_is_lost(self):
        for field, bad, words in (
            ("last_day", "2025-12-01", "lies before the first"),
            ("last_day", "2036-12-01", "the limit is 3660"),
            ("last_day", "2100-12-01", "the limit is 3660"),
            ("first_day", "1800-01-01", "from 1950 to 2099"),
            ("first_day", "soon", "valid date"),
            ("azimuth_deg", "up", "must be a number"),
            ("tilt_deg", "95", "between -85 and 85"),
            ("roll_deg", "1e9", "between -180 and 180"),
            ("horizon", "90 high", "is not a direction and a height"),
            ("horizon", "90 91", "heights between -90 and 90"),
            ("kind", "moon", "valid choice"),
            ("place", "999", "valid choice"),
            ("camera", "x", "valid choice"),
        ):
            with self.subTest(field, typed=bad):
                page = self.client.get("/plan/sun/", self.typed(tilt_deg="7") | {field: bad})
                self.assertContains(page, words)
                kept = self.client.post("/plan/sun/keep/", self.typed() | {field: bad})
                self.assertContains(kept, words, status_code=422)
        self.assertFalse(Solargraph.objects.exists())
        self.assertContains(
            self.client.post("/plan/sun/keep/", self.typed(kind="rise")),
            "Type the time",
            status_code=422,
        )
        wide = Camera.objects.create(**{**CAN, "name": "wide", "visible_width_mm": 400})
        self.assertContains(
            self.client.get("/plan/sun/", self.typed(camera=wide.pk)), "paper cannot lie in it"
        )

    def test_poles_and_polar_nights_have_words(self):
        for latitude, zone, words in (
            (-90.0, "Antarctica/McMurdo", "days out"),
            (78.2, "Arctic/Longyearbyen", "will see no sun"),
        ):
            pole = Place.objects.create(
                name=zone, latitude_deg=latitude, longitude_deg=0, zone=zone
            )
            page = self.client.get(
                "/plan/sun/",
                self.typed(place=pole.pk, first_day="2025-12-01", last_day="2025-12-10"),
            )
            self.assertContains(page, words)

    def test_tables_come_in_as_files(self):
        def send(what, content):
            data = self.typed() | {"file": SimpleUploadedFile("t.csv", content)}
            return self.client.post(f"/plan/sun/{what}.csv", data, follow=True)

        self.assertContains(
            send("skyline", b"direction;height\n90;4\n180;8\n"), "A skyline of 2 points was read"
        )
        self.assertContains(send("skyline", b"direction;height\n90;4\n180;8\n"), "90 4; 180 8")
        self.assertContains(
            send("sunshine", b"date,hours\n2025-12-22,5\n2026-05-01,12\n"),
            "days of sunshine are kept",
        )
        self.assertEqual(Record.objects.count(), 1)
        measured = self.client.get("/plan/sun/", self.typed(climate="measured"))
        self.assertEqual(measured.context["page"].prediction.sunshine[1:3].tolist()[1], 0)
        for what, content, words in (
            ("skyline", b"a,b,c\nd,e,f\n", "Not read: row"),
            ("skyline", b"", "empty"),
            ("skyline", b"1,2\n" * 800, "more than 720 points"),
            ("skyline", b"x\0y", "no CSV file"),
            ("sunshine", b"1999-08-01,4\n", "none of its days"),
            ("sunshine", b"2026-01-01,4\n" * 40_000, "larger than 400 kB"),
        ):
            self.assertContains(send(what, content), words)
        self.client.post("/plan/sun/place/", self.typed())
        self.assertEqual(Place.objects.get().horizon, [[90, 3], [270, 4]])
        self.assertContains(self.client.get("/plan/sun/"), "90 3; 270 4")

    def test_several_cans_at_once(self):
        kit_flows.keep_camera(Camera(name="Can 4", **CAN), loads_directly=True)
        self.client.post("/plan/sun/keep/", self.typed(series="Can 3 E 10\ncan 4 270"))
        found = [
            (str(can.camera), can.azimuth_deg, can.tilt_deg)
            for can in Solargraph.objects.order_by("pk")
        ]
        self.assertEqual(found, [("Can 3", 90, 10), ("Can 4", 270, 0)])
        # Each line is held against the planner's own bounds, and nothing of the rest is kept beside
        # a wrong one.
        for line, words in (
            ("Can 77 E", "A camera of yours and its direction"),
            ("Can 4 SSS 10", "must be a number"),
            ("Can 4 NEE", "must be a number"),
            ("Can 4 400 5", "between 0 and 360"),
            ("Can 4 361", "between 0 and 360"),
            ("Can 4 180 99", "between -85 and 85"),
        ):
            wrong = self.client.post("/plan/sun/keep/", self.typed(series=f"Can 3 E\n{line}"))
            self.assertContains(wrong, words, status_code=422)
        self.assertEqual(Solargraph.objects.count(), 2)
        self.client.post("/plan/sun/keep/", self.typed(series="Can 4 nne -85"))
        self.assertEqual(Solargraph.objects.latest("pk").azimuth_deg, 22.5)

    def test_a_long_skyline_stays_out_of_the_address_and_comes_back_from_it(self):
        rows = "\n".join(f"{n / 2},{3 + n % 9}" for n in range(700))
        data = self.typed() | {"file": SimpleUploadedFile("t.csv", rows.encode())}
        address = self.client.post("/plan/sun/skyline.csv", data)["Location"]
        self.assertLess(len(address), 250)
        for url in (address, address):
            self.assertEqual(
                len(self.client.get(url).context["page"].form.cleaned_data["horizon"]), 700
            )
        live = self.client.post(
            "/plan/sun/", self.typed(horizon=rows.replace(",", " ")), headers={"HX-Request": "true"}
        )
        self.assertLess(len(live["HX-Replace-Url"]), 250)
        self.assertIn("%40", live["HX-Replace-Url"])
        self.assertEqual(self.client.get("/plan/sun/?horizon=@nothing").status_code, 200)

    def test_a_plan_that_cannot_be_drawn_any_more_can_be_dropped_and_that_undone(self):
        self.client.post("/plan/sun/keep/", self.typed())
        can = Solargraph.objects.get()
        Camera.objects.filter(pk=can.camera_id).update(visible_width_mm=400)
        self.assertContains(
            self.client.get(f"/expose/cans/{can.pk}/"), "It cannot be drawn any more"
        )
        dropped = self.client.post(f"/expose/cans/{can.pk}/drop/", follow=True)
        self.assertContains(dropped, f"/expose/cans/{can.pk}/undrop/")
        self.assertFalse(Solargraph.objects.exists())
        self.client.post(f"/expose/cans/{can.pk}/undrop/")
        self.assertEqual(Solargraph.objects.get(), can)


class OutThere(Solar):
    def planned(self, **more):
        days = {"first_day": "2026-11-24", "last_day": "2027-06-21"}
        self.client.post("/plan/sun/keep/", self.typed(**(days | more)))
        return Solargraph.objects.latest("pk")

    def put_out(self, can, **more):
        data = {
            "ticked": [code for code, _ in CHECKLIST],
            "spot": "beech hedge",
            "mounting": "labelled",
            "check_days": "60",
        }
        return self.client.post(f"/expose/cans/{can.pk}/out/", data | more)

    def can(self):
        can = self.planned()
        with clock.at(NOON):
            self.put_out(can)
        return Solargraph.objects.get(pk=can.pk)

    def test_how_it_was_left_is_kept_beside_the_plan(self):
        for more, azimuth_deg, tilt_deg in (
            # The needle points 7.8 degrees east of north there (World Magnetic Model 2025).
            ({"compass_deg": "176", "plumb_deg": "12"}, 183.8, 12),
            ({"compass_deg": "N"}, 7.8, 0),
            ({"sun_ahead": "11:30"}, astropy_position(SHADOW_UTC, 57.1, 19.6)[0][0], 0),
            ({}, 180, 0),
        ):
            can = self.planned()
            with clock.at(NOON), self.subTest(**more):
                self.put_out(can, **more)
                can = Solargraph.objects.get(pk=can.pk)
                self.assertAlmostEqual(can.stood.azimuth_deg, azimuth_deg, delta=0.15)
                self.assertEqual((can.stood.tilt_deg, can.azimuth_deg), (tilt_deg, 180))
                page = self.client.get(f"/expose/cans/{can.pk}/")
                (self.assertContains if more else self.assertNotContains)(page, "Found to face")
                self.client.post(f"/expose/cans/{can.pk}/undo/")
                can.refresh_from_db()
                self.assertFalse(can.was_measured)
                self.client.post(f"/expose/cans/{can.pk}/drop/")

    def test_a_can_that_was_turned_is_drawn_in_both_halves(self):
        can = self.can()
        with clock.at(NOON + timedelta(days=100)):
            turned = {"kind": "turned", "day": "2027-01-23", "azimuth_deg": "W", "tilt_deg": "5"}
            self.client.post(f"/expose/cans/{can.pk}/event/", turned)
            page = self.client.get(f"/expose/cans/{can.pk}/")
            first, since = page.context["prediction"], page.context["later"][0]
            self.assertEqual((first.survey.days, since.first_day), (60, date(2027, 1, 23)))
            self.assertEqual((since.pointing.azimuth_deg, since.pointing.tilt_deg), (270, 5))
            whole = can_craft.predictions_of(Solargraph.objects.get(pk=can.pk))
            self.assertEqual(sum(half.survey.days for half in whole), 210)
            self.assertContains(page, "trail-since")
            self.assertContains(page, "Since 23 Jan 2027 it faces 270°")
            # It is advised by how it hangs now: from the west it is turned, not leaned.
            self.assertEqual(page.context["advice"], wording.advice(since, str(can)))
            self.assertNotEqual(page.context["advice"], wording.advice(first, str(can)))
            # What is no turning says nothing of how it stands.
            self.client.post(f"/expose/cans/{can.pk}/event/", turned | {"kind": "check"})
            self.assertEqual(len(can_craft.predictions_of(Solargraph.objects.get(pk=can.pk))), 2)

    def test_cans_are_set_to_their_spots_on_the_plan_and_printed_as_a_round(self):
        can = self.can()
        self.assertContains(self.client.get("/expose/cans/"), "no spot yet")
        url = f"/expose/cans/at/{self.place.pk}/"
        self.client.post(url, {"dragged": f"can{can.pk} 20 20 moving"})
        self.assertContains(self.client.get("/expose/cans/"), "no spot yet")
        # Without spots the plan reaches 150 m, drawn as 130: 86.7 to the right and 43.3 up.
        self.client.post(url, {"dragged": f"can{can.pk} 236.7 106.7"})
        can = Solargraph.objects.get(pk=can.pk)
        east, north = 111_195 * np.cos(np.radians(57.1)), 111_195
        self.assertAlmostEqual((can.longitude_deg - 19.6) * east, 100, delta=1)
        self.assertAlmostEqual((can.latitude_deg - 57.1) * north, 50, delta=1)
        self.assertContains(self.client.get("/expose/cans/"), f"{can} 110 m ENE, looks S")
        for nonsense in ("", "can0 1 1", f"can{can.pk} far out", "aim 3 3"):
            self.assertEqual(self.client.post(url, {"dragged": nonsense}).status_code, 302)
        Solargraph.objects.update(
            spot="W" * 200, permission="W" * 120, contact="W" * 120, name="W" * 60
        )
        for address, wide_mm in (
            (f"/expose/cans/{can.pk}/label.pdf", (120, 180)),
            ("/expose/cans/round.pdf", (186,)),
        ):
            content = self.client.get(address).content
            for page, frame_mm in zip(PdfReader(BytesIO(content)).pages, wide_mm, strict=True):
                for words, from_mm, to_mm in printed(page):
                    self.assertGreaterEqual(from_mm, (210 - frame_mm) / 2 - 0.1, words)
                    self.assertLessEqual(to_mm, (210 + frame_mm) / 2 + 0.1, words)

    def test_what_happened_counts_and_what_is_gone_is_not_advised(self):
        can = self.can()
        with clock.at(NOON + timedelta(days=40)):
            back = {"kind": "check", "words": "hole free", "day": "2026-12-10"}
            self.client.post(f"/expose/cans/{can.pk}/event/", back)
            self.assertEqual(f"{can.events.get().at:%Y-%m-%d}", "2026-12-10")
            wrong = self.client.post(f"/expose/cans/{can.pk}/event/", back | {"day": "0001-01-01"})
            self.assertContains(wrong, "between 1950", status_code=422)
            self.client.post(f"/expose/cans/{can.pk}/close/")
            page = self.client.get(f"/expose/cans/{can.pk}/")
            # Out for 40 days and not for the 209 that were planned; upright, it would be told to
            # lean back.
            self.assertEqual(page.context["prediction"].survey.days, 41)
            self.assertContains(page, "will have drawn")
            self.assertNotContains(page, "lean it back")
        look = {"minutes": "2", "lux": "20"}
        for word, data, stage in (
            ("look", look, "scanned"),
            ("look", look, "scanned"),
            ("fix", {}, "scanned"),
            ("unfix", {}, "scanned"),
            ("unlook", {}, "scanned"),
            ("unlook", {}, "home"),
            ("look", look, "scanned"),
        ):
            self.client.post(f"/expose/cans/{can.pk}/{word}/", data)
            can.sheet.refresh_from_db()
            self.assertEqual(can.sheet.stage, stage, word)
            self.assertEqual(list(invariants.broken()), [])
        can.refresh_from_db()
        self.assertIsNone(can.fixed_at)

    def test_the_way_out_and_home_is_one_way_and_never_into_a_developer(self):
        can = self.planned()
        with clock.at(NOON):
            self.assertContains(
                self.put_out(can, opened="2027-01-01T10:00"), "in the future", status_code=422
            )
            # Typed on the place's own clock, an hour ahead of UTC in November.
            self.put_out(can, opened="2026-11-24T11:30")
        can.refresh_from_db()
        self.assertEqual((can.stage, can.opened_at), ("out", NOON - timedelta(minutes=30)))
        twin = self.planned()
        self.assertContains(self.put_out(twin), "is out already as", status_code=409)
        with clock.at(NOON + timedelta(days=30)):
            self.client.post(
                f"/expose/cans/{can.pk}/event/", {"kind": "turned", "words": "by a gull"}
            )
            self.assertContains(self.client.get(f"/expose/cans/{can.pk}/"), "by a gull")
            self.assertContains(self.client.get("/expose/cans/"), "30 days out")
        early = self.client.post(f"/expose/cans/{can.pk}/look/", {"minutes": "1", "lux": "9"})
        self.assertContains(early, "is not in the archive box", status_code=409)
        with clock.at(NOON + timedelta(days=210)):
            self.assertContains(self.client.get("/expose/cans/"), "1 can is due home")
            self.assertContains(self.client.get("/"), "One can is due home")
            self.assertNotContains(self.client.get(f"/sheets/{can.sheet.code}/"), "Not exposed yet")
            self.client.post(f"/expose/cans/{can.pk}/close/")
            self.assertContains(self.client.get(f"/expose/cans/{can.pk}/"), "Do not develop it")
            self.assertContains(self.client.get("/expose/cans/to-scan/"), "Never developed")
            loading = can.sheet.open_loading
            early = self.client.post(f"/expose/unload/{loading.pk}/")
            self.assertContains(early, "is to scan: its can is the place", status_code=409)
            self.assertNotContains(self.client.get("/expose/"), "Can 3&#x27;s back</h2>")
            self.client.post(f"/expose/cans/{can.pk}/light/")
        with clock.at(NOON + timedelta(days=210, minutes=3)):
            self.assertEqual(
                self.client.get(f"/expose/cans/{can.pk}/").context["scan_form"]["minutes"].value(),
                "3.5",
            )
        sheet = Solargraph.objects.get(pk=can.pk).sheet
        developer = Developer.objects.create(name="coffee", usual_s=300)
        run = {"sheets": sheet.pk, "developer": developer.pk, "seconds": "1m"}
        self.assertEqual(self.client.post("/develop/", run).status_code, 422)
        with self.assertRaises(Refused):
            logbook.move(sheet, Sheet.Stage.DEVELOPED)
        self.client.post(f"/expose/cans/{can.pk}/look/", {"minutes": "3", "lux": "40"})
        self.client.post(
            f"/expose/cans/{can.pk}/look/", {"minutes": "1", "lux": "10", "words": "shown"}
        )
        page = self.client.get(f"/expose/cans/{can.pk}/")
        self.assertContains(page, "130 lux minutes of light in all")
        self.assertContains(page, "The default")
        self.client.post(f"/expose/cans/{can.pk}/fix/")
        self.assertIsNotNone(Solargraph.objects.get(pk=can.pk).fixed_at)

    def test_mistaps_and_losses(self):
        can = self.can()
        for word in ("close", "reopen", "undo"):
            self.client.post(f"/expose/cans/{can.pk}/{word}/")
        can.refresh_from_db()
        # The sheet that was cut for it is in its box again.
        self.assertEqual((can.stage, can.opened_at, Sheet.objects.count()), ("planned", None, 0))
        for word in ("close", "reopen", "undo", "fix"):
            self.assertEqual(self.client.post(f"/expose/cans/{can.pk}/{word}/").status_code, 409)
        self.put_out(can)
        for kind, stage in (("missing", "lost"), ("found", "out")):
            self.client.post(f"/expose/cans/{can.pk}/event/", {"kind": kind})
            self.assertEqual(Solargraph.objects.get(pk=can.pk).stage, stage)
        self.assertContains(
            self.client.post(f"/expose/cans/{can.pk}/event/", {"kind": "eaten"}),
            "valid choice",
            status_code=422,
        )
        loading = Sheet.objects.get().open_loading
        self.assertContains(
            self.client.post(f"/expose/unload/{loading.pk}/"), "out in the sun", status_code=409
        )
        self.assertContains(
            self.client.get(f"/expose/cans/of/{Sheet.objects.get().code}/"), "never developed"
        )
        other = self.planned()
        self.client.post(f"/expose/cans/{other.pk}/drop/")
        self.assertFalse(Solargraph.objects.filter(pk=other.pk).exists())

    def test_a_sheet_that_left_for_one_never_put_out_lies_there_again_unless_it_went_on(self):
        for went_on in (False, True):
            with self.subTest(went_on=went_on):
                first, again = self.planned(), self.planned()
                self.put_out(first)
                self.client.post(f"/expose/cans/{first.pk}/close/")
                lay = Solargraph.objects.get(pk=first.pk).sheet.open_loading
                self.put_out(again)
                if went_on:
                    scan = {"minutes": "2", "lux": "20"}
                    self.client.post(f"/expose/cans/{first.pk}/look/", scan)
                    self.assertEqual(Solargraph.objects.get(pk=first.pk).stage, "scanned")
                self.client.post(f"/expose/cans/{again.pk}/undo/")
                self.assertEqual(
                    Solargraph.objects.get(pk=first.pk).sheet.open_loading, None if went_on else lay
                )
                self.assertEqual(list(invariants.broken()), [])

    def test_what_befell_a_can_is_taken_back_from_the_last_on(self):
        can = self.planned()
        self.put_out(can)
        # The clock was wrong when it was found: the last one said is not the last in time.
        for kind, hours in (("missing", 0), ("found", -6), ("wet", 0)):
            with clock.at(clock.now() + timedelta(hours=hours)):
                self.client.post(f"/expose/cans/{can.pk}/event/", {"kind": kind})
        for offered, stage in (({"wet", "found"}, "out"), ({"wet", "missing"}, "lost")):
            page = Page(self.client.get(f"/expose/cans/{can.pk}/").content.decode())
            events = {f"/expose/cans/{can.pk}/event/{e.pk}/undo/": e for e in Event.objects.all()}
            undo = {o.action: o for o in page.offers if o.action in events}
            self.assertEqual({events[action].kind for action in undo}, offered)
            self.assertEqual(Solargraph.objects.get(pk=can.pk).stage, stage)
            moved = next(action for action in undo if events[action].kind != "wet")
            self.assertEqual(undo[moved].send(self.client).status_code, 302)
        self.assertEqual(Solargraph.objects.get(pk=can.pk).stage, "out")

    def test_a_can_is_used_again_whatever_became_of_its_sheet(self):
        for fate in ("missing", "home"):
            with self.subTest(fate):
                first = self.planned()
                self.put_out(first)
                if fate == "missing":
                    self.client.post(f"/expose/cans/{first.pk}/event/", {"kind": "missing"})
                else:
                    self.client.post(f"/expose/cans/{first.pk}/close/")
                again = self.planned()
                self.assertEqual(self.put_out(again).status_code, 302)
                fresh = Solargraph.objects.get(pk=again.pk).sheet
                self.assertNotEqual(fresh, Solargraph.objects.get(pk=first.pk).sheet)
                # Found while its box is out again: it is home, and the other one stays out.
                self.client.post(f"/expose/cans/{first.pk}/event/", {"kind": "found"})
                self.assertEqual(Solargraph.objects.get(pk=first.pk).stage, "home")
                self.assertEqual(list(invariants.broken()), [])
                self.client.post(f"/expose/cans/{again.pk}/close/")
        key = f"{self.camera.own_back.pk}A"
        self.assertEqual(self.client.get(f"/plan/?side={key}").status_code, 200)

    def test_what_stands_in_the_way_of_putting_out_is_told(self):
        can = self.planned()
        plain = Camera.objects.create(**{**CAN, "name": "bare"})
        Solargraph.objects.filter(pk=can.pk).update(camera=plain)
        self.assertContains(self.put_out(can), "no back of its own", status_code=409)

    def test_a_photo_is_made_small_and_a_wrong_one_told(self):
        can, out = self.planned(), BytesIO()
        Image.new("RGB", (3000, 2000), (90, 60, 40)).save(out, "PNG")
        for content, words in ((b"\x7fELF", "That is no photo"),):
            wrong = self.put_out(can, photo_file=SimpleUploadedFile("spot.png", content))
            self.assertContains(wrong, words, status_code=422)
        self.put_out(can, photo_file=SimpleUploadedFile("spot.png", out.getvalue()))
        photo = Image.open(BytesIO(self.client.get(f"/expose/cans/{can.pk}/photo.jpg").content))
        self.assertEqual((photo.format, photo.size), ("JPEG", (1000, 667)))

    def test_weather_on_the_paper_is_told_before_and_while_it_hangs(self):
        """From December to June at 57 N by the sea: dew and frost (common practice)."""
        planned = self.planned(climate="coast")
        page = self.client.get(f"/expose/cans/{planned.pk}/")
        self.assertContains(page, "210 days are 57 % of the year that emulsion lasted")
        self.assertContains(page, "of them dew inside")
        self.assertContains(page, "of them frost")
        self.assertNotContains(page, "Found wet, or rusted")
        hung = self.client.get(f"/expose/cans/{self.can().pk}/")
        self.assertContains(hung, "tip the water out by the seam")

    def test_papers_and_calendar(self):
        can = self.can()
        pages = list(read(self.client.get(f"/expose/cans/{can.pk}/label.pdf").content))
        self.assertIn("It draws the path of the sun", pages[0][2])
        self.assertIn("Shut the hole first", pages[1][2])
        with clock.at(NOON):
            book = Calendar.from_ical(self.client.get("/expose/cans/cans.ics").content)
        found = {str(event["summary"]): event.decoded("dtstart") for event in book.walk("VEVENT")}
        self.assertEqual(found[f"Bring {can} home: shut the hole first"], date(2027, 6, 21))
        self.assertEqual(sum(words.startswith("Look after") for words in found), 1)
        checks = [
            event.decoded("dtstart")
            for event in book.walk("VEVENT")
            if "Look after" in event["summary"]
        ]
        self.assertEqual(checks, [date(2027, 1, 23), date(2027, 3, 24), date(2027, 5, 23)])

    def test_a_can_that_opens_by_the_clock_is_told_when(self):
        """Sunset hours typed as 20:00 to 22:30 in June: 18:00 UTC, each evening, with an alarm."""
        evenings = {"first_day": "2027-06-14", "last_day": "2027-06-21", "azimuth_deg": "NW"}
        self.planned(kind="set", from_time="20:00", to_time="22:30", **evenings)
        with clock.at(NOON):
            book = Calendar.from_ical(self.client.get("/expose/cans/cans.ics").content)
        (opens,) = (e for e in book.walk("VEVENT") if e["summary"].startswith("Open "))
        self.assertEqual(opens.decoded("dtstart"), datetime(2027, 6, 14, 18, tzinfo=UTC))
        self.assertEqual(opens.decoded("dtend"), datetime(2027, 6, 14, 20, 30, tzinfo=UTC))
        self.assertEqual(opens["rrule"]["count"], [8])
        for event in book.walk("VEVENT"):
            self.assertEqual(len(event.walk("VALARM")), 1, event["summary"])

    def test_the_round_goes_on_the_phone_and_comes_home_once(self):
        can = self.can()
        (page,) = read(self.client.get("/expose/cans/round.pdf").content)
        self.assertIn("The round of the cans: Rauholm", page[2])
        carried = self.client.get("/expose/cans/round.html")
        self.assertContains(carried, "beech hedge")
        self.assertNotRegex(carried.content.decode(), r'(src|href)="(http|/)')
        at = int(NOON.timestamp() * 1000) + 3_600_000
        row = {"can": can.pk, "name": str(can), "kind": "wet", "words": "a puddle", "at_ms": at}
        early, strange = row | {"at_ms": at - 10**9}, row | {"can": 99, "name": "x"}
        given = {"text": json.dumps({"chimney": "round", "seen": [row, early, strange]})}
        with clock.at(NOON + timedelta(hours=2)):
            page = self.client.post("/expose/cans/round/", given)
            for words in ("3 things were seen", "a puddle", "did not hang yet", "no such can"):
                self.assertContains(page, words)
            self.assertEqual(can.events.count(), 0)
            for _ in range(2):
                self.client.post("/expose/cans/round/", given | {"take": "1"})
        (event,) = can.events.all()
        self.assertEqual(
            (event.kind, event.words, event.at), ("wet", "a puddle", NOON + timedelta(hours=1))
        )
        for wrong in ("", "[]", "{}", '{"chimney":"round","seen":[1]}', '{"chimney":"round"}'):
            self.assertEqual(
                self.client.post("/expose/cans/round/", {"text": wrong}).status_code, 422
            )
        for kind, at_ms in (("x", at), ("wet", "soon"), ("wet", 1e300), ("wet", None)):
            bad = {"chimney": "round", "seen": [row | {"kind": kind, "at_ms": at_ms}]}
            answer = self.client.post("/expose/cans/round/", {"text": json.dumps(bad)})
            self.assertEqual(answer.status_code, 422, bad)

    def test_a_kept_can_is_seen_as_it_was_planned(self):
        can = self.planned(kind="set", from_time="14:00", to_time="15:00")
        (seen,) = can_craft.predictions_of(can)
        self.assertEqual(seen.minutes, (840, 900))
        self.assertIn("first", wording.advice(seen, "can").sentence)
        self.assertContains(self.client.get(f"/plan/sun/{can.pk}/"), 'value="14:00"')
