"""The year of light: its openings against one exposure after the other, its page at odd places."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import numpy as np

from chimney.field.hours.craft import opening as opens
from chimney.field.hours.craft.outlook import outlook
from chimney.field.light.craft import Lit, colour_in
from chimney.field.year.figures import chart
from chimney.field.year.figures.frame import Stretches, YearFrame
from chimney.kit.models import Camera, Paper
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.places import craft as places
from chimney.places.models import Place
from pinhole import exposure, light
from pinhole.light import dusk
from pinhole.reciprocity import PowerLaw
from tests.chimney.kitchen import kit
from tests.chimney.pages import TestCase

SUN = light.SKY_BY_NAME["sun"]
HEAVY = light.SKY_BY_NAME["heavy"]
SPEC = exposure.Specification(f_number=305.0, ei=5.0, school=PowerLaw(1.26))
FIRST = date(2026, 11, 24)
TWENTIETH_STOP, FIFTH_STOP = 0.05, 0.2
# Polar day and night, the line, the south with summer time in January, none at all.
WORLD = (
    ("Rauholm", 57.1, 19.6, "Europe/Stockholm"),
    ("Far north", 78.2, 15.6, "Europe/Oslo"),
    ("Line", -0.2, -78.5, "America/Guayaquil"),
    ("Corrie Flat", -43.95, 171.6, "Pacific/Auckland"),
    ("Half hour", 27.7, 85.3, "Asia/Kathmandu"),
)


def place_of(name, latitude_deg, longitude_deg, zone):
    return Place(name=name, latitude_deg=latitude_deg, longitude_deg=longitude_deg, zone=zone)


def specify(colour=(0.0, 0.0), reading=None):
    return replace(SPEC, colour_stops=colour[0], colour_sd_stops=colour[1])


def year_of(place, sky, looks=None, sees="pan", **more):
    """The Hours of a year of a paper that sees so; by default one that no colour changes."""
    look = outlook(place, FIRST, 365, sky, looks, **more)
    return opens.hours(place, look, specify, Paper(sees=sees), by_season=True)


class Years(TestCase):
    def alone(self, place, moment, looks, sky):
        """(seconds, short_stops) of one exposure that is opened at a moment."""
        end = moment + timedelta(hours=30)
        daylight = places.daylight(place, moment, end, sky.stops_less)
        course = light.course(daylight.times_s, SPEC.metered_s(daylight.before(looks)), SPEC.school)
        dark_s = dusk.dark_from_s(daylight.times_s, daylight.altitude_deg)
        if np.isnan(dark_s):
            return np.nan, np.nan
        told = dusk.prospect(course, 0.0, dark_s)
        return (told.closes_s if told.full else np.inf), told.short_stops

    def test_what_is_read_off_is_what_one_exposure_is(self):
        chance = np.random.default_rng(6)
        for row in WORLD:
            place = place_of(*row)
            for sky, looks in ((SUN, 320.0), (HEAVY, None)):
                year = year_of(place, sky, looks)
                for n in [*chance.integers(0, 365, 12), 171]:
                    day = year.days[n]
                    # In summer half past midnight is the evening before on the standard clock.
                    minute = 30.0 if n == 171 else float(chance.integers(0, 1440))
                    with self.subTest(row[0], day=day, minute=minute):
                        self.is_alone(year, place, day, minute, looks, sky)

    def is_alone(self, year, place, day, minute, looks, sky):
        seen = year.opening(day, minute)
        offset = timedelta(hours=places.standard_offset_h(place, FIRST))
        ahead = timedelta(minutes=minute - year.ahead_min[year.days.index(day)])
        moment = datetime(day.year, day.month, day.day, tzinfo=UTC) - offset + ahead
        self.assertEqual(seen.moment, moment)
        seconds, short = self.alone(place, moment, looks, sky)
        self.assertEqual(np.isnan(seconds), np.isnan(seen.seconds))
        self.assertEqual(np.isinf(seconds), np.isinf(seen.seconds))
        if np.isfinite(seconds) and seconds < 20 * 3600:
            # Light between two looks is straight in stops.
            self.assertAlmostEqual(np.log2(seen.seconds / seconds), 0, delta=TWENTIETH_STOP)
        elif np.isinf(seconds):
            self.assertAlmostEqual(min(seen.short_stops, 15), min(short, 15), delta=FIFTH_STOP)

    def test_the_chart_is_drawn_of_what_is_read_off(self):
        chance = np.random.default_rng(7)
        year = year_of(place_of(*WORLD[0]), SUN, 320.0)
        for n, k in zip(chance.integers(0, 365, 60), chance.integers(0, 96, 60), strict=True):
            seen = year.opening(year.days[n], year.minutes[k])
            drawn = year.open_s[n, k]
            self.assertEqual(np.isfinite(seen.seconds), np.isfinite(drawn))
            if np.isfinite(drawn):
                self.assertAlmostEqual(np.log2(seen.seconds / drawn), 0, delta=0.01)
        # A paper that is blind to red asks for more under a low sun, as its plan does.
        blue = year_of(place_of(*WORLD[0]), SUN, sees="blue")
        year = year_of(place_of(*WORLD[0]), SUN)
        day = date(2027, 4, 13)
        full = [m for m in range(1000, 1200, 10) if blue.opening(day, m).is_full]
        seen, plain = blue.opening(day, full[-4]), year.opening(day, full[-4])
        lit = Lit(seen.altitude_deg)
        stops, _ = colour_in(Paper(sees="blue"), lit)
        self.assertGreater(stops, 0.3)
        more = np.log2(SPEC.school.metered_s(seen.seconds) / SPEC.school.metered_s(plain.seconds))
        self.assertAlmostEqual(more, stops, delta=0.3)

    def test_a_skyline_takes_the_sun_and_cloud_by_the_hour_its_light(self):
        place = place_of(*WORLD[0])
        day = date(2027, 6, 21)
        open_sky = year_of(place, SUN, 100.0).opening(day, 9 * 60.0)
        place.horizon = [[0, 80], [180, 80]]
        shaded = year_of(place, SUN, 100.0).opening(day, 9 * 60.0)
        self.assertTrue(shaded.hidden and not open_sky.hidden)
        in_shade = light.scene_ev100(
            open_sky.altitude_deg, places.off_deg(open_sky.azimuth_deg, 100.0), shade=True
        )
        self.assertAlmostEqual(shaded.ev100, in_shade, delta=TWENTIETH_STOP)
        place.horizon = []
        noon = datetime(2026, 11, 25, 11, tzinfo=UTC).timestamp()
        clouds = [(noon - 7200, 0.0), (noon, 100.0), (noon + 7200, 100.0)]
        covered = year_of(place, SUN, clouds=clouds)
        free = year_of(place, SUN)
        # Kasten and Czeplak: a quarter of the light is left under a closed sky; before and after
        # the forecast the word holds.
        for minute, stops in ((12 * 60.0, 2.0), (10 * 60.0, 0.0), (9 * 60.0, 0.0)):
            at = date(2026, 11, 25), minute
            more = light.clear_lux(free.opening(*at).altitude_deg)
            under = light.scene_ev100(free.opening(*at).altitude_deg, 0.0, stops_less=stops)
            self.assertGreater(more, 0)
            self.assertAlmostEqual(covered.opening(*at).ev100, under, delta=TWENTIETH_STOP)

    def test_nights_go_on_by_the_moon_and_a_lamp_gives_one_time(self):
        place = place_of(*WORLD[0])
        lamp = year_of(place, SUN, lamp_ev=10.0)
        midnight = lamp.opening(date(2027, 12, 20), 1.0)
        self.assertFalse(midnight.is_dark)
        alone = SPEC.school.adjusted_s(SPEC.metered_s(10.0))
        self.assertAlmostEqual(np.log2(midnight.seconds / alone), 0, delta=TWENTIETH_STOP)
        moonlit = year_of(place, SUN, moon=True)
        nights = moonlit.by_day(moonlit.light.moon.altitude_deg)
        high = (nights > 40) & (moonlit.by_day(moonlit.light.moon.phase_deg) < 10)
        dark = moonlit.altitude_deg < -18
        self.assertTrue((high & dark).any())
        ev = moonlit.by_day(moonlit.light.ev100)
        self.assertTrue((ev[high & dark] > -3.5).all() and (ev[high & dark] < -2).all())

    def test_every_day_of_it_comes_next_and_stands_where_it_belongs(self):
        for row in WORLD:
            place = place_of(*row)
            year = year_of(place, SUN)
            self.assertEqual(sorted(year.days)[0], FIRST)
            self.assertEqual(len(set(year.days)), 365)
            order = [(day.month, day.day) for day in year.days]
            self.assertEqual(order, sorted(order))
            for n, day in enumerate(year.days):
                noon = datetime(day.year, day.month, day.day, 12, tzinfo=place.tz)
                standard = timedelta(hours=places.standard_offset_h(place, FIRST))
                ahead = timedelta(minutes=float(year.ahead_min[n]))
                self.assertEqual(noon.utcoffset(), standard + ahead, day)
            self.assertEqual(year.nearest(date(2028, 2, 29)), year.nearest(date(2027, 2, 28)))
            for in_hand in (False, True):
                frame = YearFrame(Stretches(year), in_hand)
                drawn = chart.chart(frame, year.opening(FIRST, 720.0), None)
                self.assertGreater(len(drawn.shapes), 30)
                day, minute = frame.moment(*frame.place(year.opening(date(2027, 5, 9), 655.0)))
                self.assertEqual(day, date(2027, 5, 9))
                self.assertAlmostEqual(minute, 655.0, delta=1)
        # In the far north no sheet gets full on the shortest day, and any hour will do in June.
        far = year_of(place_of(*WORLD[1]), SUN)
        self.assertIsNone(far.sensible(date(2026, 12, 21)))
        self.assertEqual(far.sensible(date(2027, 6, 21))[0], 0)


class Page(TestCase):
    def setUp(self):
        self.camera, self.paper, *_ = kit()
        self.place = place_of(*WORLD[0])
        self.place.home = True
        self.place.save()
        self.typed = {"camera": self.camera.pk, "paper": self.paper.pk, "place": self.place.pk}
        self.typed |= {"azimuth_deg": "NW", "sky": "sun", "day": "2027-03-13", "hour": "14:30"}

    def test_it_answers_first_and_is_read_by_a_drag_and_as_a_table(self):
        page = self.client.get("/plan/year/", self.typed)
        seen = page.context["page"]
        self.assertContains(page, "13 March, 14:30: ")
        self.assertContains(page, "Nine times in ten from")
        for hour, cells in seen.table:
            opened = seen.year.opening(date(2027, 3, 15), 60.0 * int(hour.split(":")[0]))
            self.assertEqual(bool(cells[2]), not opened.is_dark)
        # The plan of that light takes as long, but for what changes while the hole is open.
        planned = self.client.get(f"/plan/?{seen.plan}").context["page"].plan.calculation
        still = seen.calculation
        self.assertAlmostEqual(planned.metered_s, still.metered_s, delta=0.02 * still.metered_s)
        x, y = YearFrame(Stretches(seen.year)).place(seen.year.opening(date(2027, 6, 1), 480.0))
        pull = self.typed | {"dragged": f"read {x:.1f} {y:.1f}"}
        dragged = self.client.get("/plan/year/", pull, headers={"HX-Request": "true"})
        self.assertContains(dragged, "1 June, ")
        self.assertIn("day=2027-06-01", dragged["HX-Replace-Url"])
        self.assertContains(dragged, 'value="2027-06-01"')
        night = self.client.get("/plan/year/", self.typed | {"hour": "02:00"})
        self.assertContains(night, "13 March, 02:00: it is dark")
        late = self.client.get("/plan/year/", self.typed | {"hour": "17:55", "sky": "heavy"})
        self.assertContains(late, "not full before dark")
        self.assertNotContains(late, ">Plan it<")

    def test_it_begins_with_what_is_usual_and_says_what_is_wrong(self):
        with clock.at(datetime(2028, 2, 29, 10, tzinfo=UTC)):
            page = self.client.get(
                "/plan/year/", {"camera": self.camera.pk, "paper": self.paper.pk}
            )
            self.assertContains(page, "29 February, 11:00: ")
        for wrong in ({"day": "soon"}, {"hour": "25:00"}, {"camera": "x"}, {"azimuth_deg": "up"}):
            answer = self.client.get("/plan/year/", self.typed | wrong)
            self.assertEqual(answer.status_code, 422)
            self.assertContains(answer, "field-error", status_code=422)
        for wild in ("read 9 9 9", "read x y", "read 99999 -99999", "soup 1 1", "read nan 1"):
            self.client.get("/plan/year/", self.typed | {"dragged": wild})
        # A lens is not offered: what was exposed last in one is no beginning.
        lens = Camera.objects.get(pk=self.camera.pk)
        lens.pk, lens.name, lens.back = None, "Glass", "lens"
        lens.save()
        now = clock.now()
        sheet = Sheet.objects.create(code="X-1", paper=self.paper, size="4x5 in", cut_at=now)
        made = {"calculation_data": {}, "ei_from": "box", "planned_s": 1, "made_at": now}
        Exposure.objects.create(sheet=sheet, camera=lens, **made)
        self.assertEqual(self.client.get("/plan/year/").status_code, 200)
        self.camera.retired_at = clock.now()
        self.camera.save()
        self.assertEqual(self.client.get("/plan/year/").status_code, 422)
