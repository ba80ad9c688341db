"""What the log writes down is what was done: a rating stays one's own, a process brings its own,
and what was mis-tapped, mis-dated or sent from an old page can be put right.
"""

import json
import re
from datetime import UTC, datetime, timedelta
from urllib.parse import urlencode

from django.test import Client

from chimney.darkroom import flows as dark
from chimney.darkroom.models import Bath, Development, Run, Vessel
from chimney.darkroom.room import flows as room
from chimney.field.models import Outing, Shot
from chimney.field.pocket import craft as pocket
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.lessons.models import Evidence, Lesson
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.places.models import Place
from chimney.results import flows as results
from chimney.solar.models import Event, Solargraph
from pinhole import durations
from tests.chimney.kitchen import kit, opened, planned, pocket_event, typed
from tests.chimney.monkey import Page
from tests.chimney.pages import TestCase
from tests.chimney.test_model import CAN

NOON = datetime(2026, 6, 2, 10, tzinfo=UTC)
HTMX = {"HTTP_HX_REQUEST": "true"}


class Rating(TestCase):
    """Your EI stays yours."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.other = Paper.objects.create(name="direct positive", kind="positive", box_ei=3)

    def live(self, fields, **changed):
        """The next live answer after these fields changed, and what its form then holds."""
        answer = self.client.get("/plan/", fields | changed, **HTMX)
        page = answer.context["page"]
        hidden = {"rated": page.typed.get("rated", ""), "shown": page.shown}
        names = ("paper", "for_paper", "ei_from", "ei", "school", "developer")
        return page, fields | changed | hidden | {n: page.typed.get(n) or "" for n in names}

    def test_a_paper_changed_and_back_is_rated_as_it_was(self):
        fields = typed(self.camera, self.paper, ei_from="typed", ei="12", school="power")
        fields["developer"] = str(self.developer.pk)
        first, fields = self.live(fields)
        self.assertEqual(first.plan.proposal.ei, 12)
        away, fields = self.live(fields, paper=str(self.other.pk))
        self.assertEqual(away.plan.proposal.ei, 3)
        # Two stops by the rating, and it says so.
        self.assertIn("the paper is rated EI 3 now, +2 stops", away.moved_words)
        back, _ = self.live(fields, paper=str(self.paper.pk))
        self.assertEqual(back.plan.calculation, first.plan.calculation)

    def test_what_one_changes_oneself_is_not_told(self):
        _, fields = self.live(typed(self.camera, self.paper))
        for changed in ({"seconds": "30"}, {"filter_stops": "3"}, {"ei_from": "typed", "ei": "1"}):
            page, _ = self.live(fields, **changed)
            self.assertEqual(page.moved_words, "", changed)

    def test_an_ei_is_remembered_for_a_paper_in_its_developer(self):
        fields = typed(self.camera, self.paper, ei_from="typed", ei="12", meter_iso="12")
        fields |= {"developer": str(self.developer.pk), "side": f"{self.holder.pk}A", "open": ""}
        self.client.post("/plan/", fields)
        logbook.close_hole(Exposure.objects.get())
        page = self.client.get("/plan/?seconds=2").context["page"]
        self.assertEqual((page.plan.proposal.ei, page.typed["meter_iso"]), (12, "12"))
        # Another paper has its own.
        page = self.client.get(f"/plan/?seconds=2&paper={self.other.pk}").context["page"]
        self.assertEqual(page.plan.proposal.ei, 3)

    def test_an_untried_paper_is_unsure_by_a_stop(self):
        told = self.client.get("/plan/", typed(self.camera, self.paper)).context["page"]
        self.assertEqual(told.plan.calculation.specification.ei_sd_stops, 1)
        # A filter by its name is common practice, and its doubt stands in the range.
        asked = typed(self.camera, self.paper, filter_name="yellow", reckon="")
        page = self.client.get("/plan/", asked).context["page"]
        self.assertEqual(page.plan.calculation.factor("filter").sd_stops, 0.4)

    def test_a_lens_is_set_to_one_of_its_apertures(self):
        lens = {"name": "Lens box", "back": "lens", "focal_mm": 150, "size": "4x5 in"}
        data = lens | {"marked_f_number": "5.6", "apertures": "f/8, 11 5.6 16"}
        self.client.post("/kit/camera/new/", data)
        camera = Camera.objects.get(name="Lens box")
        self.assertEqual(camera.apertures, "5.6 8 11 16")
        wrong = self.client.post("/kit/camera/new/", data | {"name": "x", "apertures": "4 8"})
        self.assertContains(wrong, "no aperture is wider", status_code=422)
        asked = typed(camera, self.paper, kind="ev", ev="12", aperture="16")
        page = self.client.get("/plan/", asked).context["page"]
        self.assertContains(self.client.get("/plan/", asked), "Lens box is f/16")
        # By hand: 16^2 / 2^12 x 100 / 6 = 1.04 s, and a quarter of that at f/8.
        self.assertEqual(page.sheet.seconds, 1.0)
        wide = self.client.get("/plan/", asked | {"aperture": "8"}).context["page"]
        self.assertEqual((wide.sheet.seconds, wide.too_short), (0.25, ""))
        self.assertNotRegex(f"{wide.risk} {wide.before_words}", "flap|smaller hole")

    def test_short_times_are_counted_in_thirds_of_a_stop(self):
        for seconds in ("0.3", "0.6", "0.9", "1.4", "2.2", "3.4"):
            exact = durations.parse_s(seconds)
            off = abs(exact / durations.countable_s(exact) - 1)
            self.assertLess(off, 2 ** (1 / 6) - 1 + 0.01, seconds)


class Dark(TestCase):
    """Process, developer, bath, order and by eye are one choice."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.coffee = Developer.objects.create(name="a coffee", usual_s=300)

    def exposed(self, paper=None, count=1):
        sheets = []
        for _ in range(count):
            made = opened(self.camera, paper or self.paper, self.holder)
            with clock.at(made.made_at + timedelta(seconds=11)):
                logbook.close_hole(made)
            logbook.unload(made.loading)
            sheets.append(Sheet.objects.get(pk=made.sheet_id))
        return sheets

    def form(self, **changed):
        """The form of the page, as it stands after something in it changed."""
        page = self.client.get("/develop/")
        typed_in = {
            name: field.value() for name, field in
            ((name, page.context["form"][name]) for name in page.context["form"].fields)
        }  # fmt: skip
        typed_in["sheets"] = [getattr(sheet, "pk", sheet) for sheet in typed_in["sheets"] or ()]
        typed_in = {n: v for n, v in typed_in.items() if v not in (None, "", False)} | changed
        live = self.client.get(f"/develop/?{urlencode(typed_in, doseq=True)}", **HTMX)
        return live.context["form"], typed_in

    def test_another_process_brings_its_own(self):
        stop = room.mix(
            Bath(name="stop", purpose="stop", volume_ml=500, capacity_m2=1, lasts_days=9)
        )
        self.exposed()
        form, _ = self.form()
        self.assertEqual(form["developer"].value(), str(self.developer.pk))
        self.assertEqual(form["baths"].value(), [str(stop.pk)])
        coffee, asked = self.form(process="coffee-fix")
        self.assertEqual(coffee["developer"].value(), self.coffee.pk)
        self.assertTrue(coffee["by_eye"].value())
        self.assertEqual(coffee["baths"].value(), [], "no stop bath in that process")
        # Without script the old proposals are sent with the new process: they are not taken.
        answer = self.client.post("/develop/", asked | {"begin": "1"})
        self.assertContains(answer, "bring their own developer", status_code=422)
        self.assertEqual(Run.objects.count(), 0)

    def test_nobody_is_asked_twice_and_nothing_is_taken_by_alphabet(self):
        Developer.objects.create(name="another bought one", usual_s=60)
        (sheet,) = self.exposed()
        form, _ = self.form()
        self.assertEqual(form["developer"].value(), "")
        data = {"sheets": sheet.pk, "process": "rc-trays", "order": "one", "begin": "1"}
        self.assertContains(
            self.client.post("/develop/", data), "Which developer?", status_code=422
        )
        self.client.post("/develop/", data | {"developer": self.developer.pk})
        self.exposed()
        form, _ = self.form()
        self.assertEqual(form["developer"].value(), str(self.developer.pk))

    def test_a_tank_is_dark_until_its_lid_is_on_and_takes_all_at_once(self):
        tank = Vessel.objects.create(name="tank", kind="tank", diameter_mm=85, holds=2)
        sheets = self.exposed(count=2)
        data = {"sheets": [s.pk for s in sheets], "process": "rc-trays", "order": "together"}
        data |= {"developer": self.developer.pk, "vessel": tank.pk, "begin": "1"}
        answer = self.client.post("/develop/", data)
        bench = self.client.get(answer["Location"]).context["bench"]
        self.assertIn("Total darkness", bench.light)
        self.assertIn("lid on", bench.card.step.remark)
        run = Run.objects.get()
        dark.tap(run, 0, 0, "next")
        bench = self.client.get(answer["Location"]).context["bench"]
        self.assertIn("room light is allowed", bench.light)
        # One more than it holds goes in one after the other.
        self.exposed(count=3)
        form, _ = self.form(vessel=tank.pk)
        self.assertEqual(form["order"].value(), "one")

    def test_logging_afterwards_is_checked_and_kept_like_a_run(self):
        positive = Paper.objects.create(name="direct positive", kind="positive", box_ei=3)
        (sheet,) = self.exposed(positive)
        data = {"sheets": sheet.pk, "process": "rc-trays", "developer": self.developer.pk}
        data |= {"log": "1", "seconds": "2m", "by_eye": "on"}
        answer = self.client.post("/develop/", data)
        self.assertContains(answer, "is for other papers", status_code=422)
        self.client.post("/develop/", data | {"process": "positive-trays"})
        run = Run.objects.get()
        self.assertEqual((run.process_key, run.by_eye), ("positive-trays", True))

    def test_a_finished_development_is_corrected_and_its_lesson_follows(self):
        (sheet,) = self.exposed()
        dark.develop([sheet], self.coffee, parts=None, seconds=90)
        results.judge(sheet, stops_more=1)
        self.assertEqual(Lesson.objects.get(developer__isnull=False).developer, self.coffee)
        development = Development.objects.get()
        page = self.client.get(f"/develop/of/{sheet}/")
        url = f"/develop/{development.pk}/correct/"
        self.assertContains(page, url)
        self.assertContains(self.client.get(url), "What was really done")
        data = {"developer": self.developer.pk, "parts": "9", "seconds": "1m", "process": ""}
        self.client.post(url, data | {"by_eye": "on", "process": "rc-trays"})
        run = Run.objects.get()
        self.assertEqual((run.developer, run.parts, run.by_eye), (self.developer, 9, True))
        self.assertEqual((run.process_key, Development.objects.get().seconds), ("rc-trays", 60))
        self.assertEqual(Evidence.objects.get().developer, self.developer)
        self.assertEqual(Lesson.objects.get(developer__isnull=False).developer, self.developer)


class Slips(TestCase):
    """What was mis-tapped, doubled or sent from an old page."""

    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def test_taking_a_sheet_out_can_be_taken_back(self):
        loading = logbook.load(self.paper, self.holder, "A")
        self.client.post(f"/expose/unload/{loading.pk}/")
        self.assertEqual(Sheet.objects.get().stage, "boxed")
        page = self.client.get("/expose/")
        self.assertContains(page, f"/expose/unload/{loading.pk}/undo/")
        self.client.post(f"/expose/unload/{loading.pk}/undo/")
        loading.refresh_from_db()
        self.assertEqual((Sheet.objects.get().stage, loading.unloaded_at), ("loaded", None))
        self.assertEqual(self.client.post(f"/expose/unload/{loading.pk}/undo/").status_code, 409)
        # Another sheet lies there by now.
        self.client.post(f"/expose/unload/{loading.pk}/")
        logbook.load(self.paper, self.holder, "A")
        again = self.client.post(f"/expose/unload/{loading.pk}/undo/")
        self.assertContains(again, "Another sheet lies in", status_code=409)

    def test_an_old_page_says_what_it_would_undo(self):
        browser = Client(enforce_csrf_checks=True)
        made = opened(self.camera, self.paper, self.holder)
        logbook.close_hole(made)
        url = f"/expose/{made.pk}/"
        page = Page(browser.get(url).content.decode(), url)
        tap = next(one for one in page.offers if one.action.endswith("slide-back/"))
        tap.send(browser)
        with clock.at(NOON):
            page = Page(browser.get(url).content.decode(), url)
            next(one for one in page.offers if one.action.endswith("slide-out/")).send(browser)
        answer = tap.send(browser)
        self.assertContains(answer, "That page is old", status_code=409)
        self.assertContains(answer, "would undo that", status_code=409)
        self.assertIsNone(Exposure.objects.get().slide_back_at)
        more = Page(answer.content.decode(), url)
        next(one for one in more.offers if one.words == "Do it once more").send(browser)
        self.assertIsNotNone(Exposure.objects.get().slide_back_at)

    def test_a_second_exposure_that_the_phone_did_not_know_of_is_offered(self):
        place = Place.objects.create(
            name="home", latitude_deg=57, longitude_deg=19, zone="Europe/Stockholm"
        )
        outing = Outing.objects.create(name="day", place=place, day=NOON.date(), made_at=NOON)
        shot = Shot.objects.create(
            outing=outing, subject="kiln", camera=self.camera, paper=self.paper, kept_at=NOON
        )
        made = opened(self.camera, self.paper, self.holder)
        logbook.close_hole(made)
        event = pocket_event(shot, self.holder, NOON - timedelta(hours=3), 15)
        token = pocket.packed(outing)["token"]
        back = {"chimney": "pocket", "version": 3, "token": token, "events": [event]}
        text, url = json.dumps(back), f"/plan/outings/{outing.pk}/pocket/"
        self.assertContains(self.client.post(url, {"text": text}), "Both are on it")
        self.client.post(url, {"text": text, "take": "1"})
        self.assertEqual(Exposure.objects.count(), 1)
        self.client.post(url, {"text": text, "take": "1", "both": event["id"]})
        self.assertEqual(Exposure.objects.filter(sheet=made.sheet).count(), 2)

    def test_a_camera_without_a_slide_is_never_told_of_one(self):
        Holder.objects.create(name="own back", size="4x5 in", camera=self.camera)
        own = Holder.objects.get(name="own back")
        made = opened(self.camera, self.paper, own)
        logbook.close_hole(made)
        for url in (f"/expose/{made.pk}/", f"/plan/?side={own.pk}A&seconds=2"):
            words = re.sub(r"<[^>]+>", " ", self.client.get(url).content.decode())
            self.assertNotRegex(words.partition("Words here")[0], r"\b[Ss]lide\b", url)
        self.assertContains(self.client.get(f"/expose/{made.pk}/"), "Taped shut for the way home")
        # With a slide it stands before the button what is done first.
        page = self.client.get("/plan/", typed(self.camera, self.paper, side=f"{self.holder.pk}A"))
        html = page.content.decode()
        self.assertLess(html.index("slide out, held flat"), html.index('name="open"'))

    def test_each_sheet_of_a_bracket_teaches_the_same_speed(self):
        # The one that got a stop more is a stop too dark, the one that got a stop less too pale.
        for stops in (0, -1, 1):
            plan = planned(
                self.camera, self.paper, seconds=8.0, sheets="bracket", bracket_stops=1.0
            )
            told = next(s for s in plan.sheets if s.calculation.specification.trial_stops == stops)
            loading = logbook.load(self.paper, self.holder, "A")
            made = logbook.open_hole(loading, self.camera, told.calculation, planned_s=told.seconds)
            with clock.at(made.made_at + timedelta(seconds=told.seconds)):
                logbook.close_hole(made)
            logbook.unload(loading)
            dark.develop([made.sheet], self.developer, parts=9, seconds=60)
            results.judge(made.sheet, stops_more=-stops)
            evidence = Evidence.objects.get(sheet=made.sheet)
            self.assertAlmostEqual(evidence.ei, 6, delta=0.3)


class Cans(TestCase):
    """What befell a can, dated, checked and taken back, on its own clock."""

    def setUp(self):
        self.place = Place.objects.create(
            name="Hawaii station", latitude_deg=19.7, longitude_deg=-155.1, zone="Pacific/Honolulu"
        )
        camera = Camera.objects.create(name="Can 1", **CAN)
        Holder.objects.create(name="Can 1", size=camera.size, camera=camera)
        Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)
        self.can = Solargraph.objects.create(
            name="Can 1, Jun",
            camera=camera,
            place=self.place,
            azimuth_deg=180,
            first_day=NOON.date(),
            last_day=NOON.date() + timedelta(days=100),
            made_at=NOON,
        )
        self.url = f"/expose/cans/{self.can.pk}"

    def out(self, **more):
        ticked = [code for code, _ in self.checks()]
        data = {"spot": "post", "mounting": "labelled", "check_days": "30", "ticked": ticked}
        return self.client.post(f"{self.url}/out/", data | more)

    def checks(self):
        from chimney.solar.cans.wording import CHECKLIST

        return CHECKLIST

    def test_moments_are_told_on_the_clock_of_the_place_and_named(self):
        with clock.at(NOON):
            self.out()
            page = self.client.get(f"{self.url}/")
        # Ten in the morning at Greenwich is midnight there.
        self.assertContains(page, "Out since today 00:00 (Pacific/Honolulu)")

    def test_the_sun_straight_before_it_is_that_of_the_day_typed(self):
        with clock.at(NOON + timedelta(days=160)):
            self.out(opened="2026-06-02T08:00", sun_ahead="12:00")
        self.can.refresh_from_db()
        # In June the noon sun of 19.7 N stands in the north, in November in the south.
        facing = self.can.stood_azimuth_deg
        self.assertTrue(facing < 90 or facing > 270, facing)

    def test_an_event_is_dated_within_its_time_and_can_be_taken_back(self):
        with clock.at(NOON):
            self.out()
        with clock.at(NOON + timedelta(days=20)):
            for day, words in (("2026-07-30", "in the future"), ("2026-05-01", "that was before")):
                wrong = self.client.post(f"{self.url}/event/", {"kind": "wet", "day": day})
                self.assertContains(wrong, words, status_code=422)
            self.client.post(f"{self.url}/event/", {"kind": "missing", "day": "2026-06-10"})
            self.can = Solargraph.objects.get()
            self.assertEqual(self.can.stage, "lost")
            event = Event.objects.get()
            self.client.post(f"{self.url}/event/{event.pk}/undo/")
        self.can = Solargraph.objects.get()
        self.assertEqual((self.can.stage, Event.objects.count()), ("out", 0))

    def test_the_moment_of_closing_can_be_typed_and_corrected(self):
        with clock.at(NOON):
            self.out()
        with clock.at(NOON + timedelta(days=50)):
            for typed_then, words in (
                ("2026-09-01T10:00", "in the future"),
                ("2026-05-01T10:00", "that was before"),
            ):
                wrong = self.client.post(f"{self.url}/close/", {"shut": typed_then})
                self.assertContains(wrong, words, status_code=422)
            self.client.post(f"{self.url}/close/", {"shut": "2026-07-10T18:30"})
            can = Solargraph.objects.get()
            self.assertEqual((can.stage, f"{can.closed_at:%m-%d %H:%M}"), ("home", "07-11 04:30"))
            self.client.post(f"{self.url}/close/", {"shut": "2026-07-12T18:30"})
        self.assertEqual(f"{Solargraph.objects.get().closed_at:%m-%d}", "07-13")

    def test_a_turned_can_is_summed_over_all_its_stands(self):
        with clock.at(NOON):
            self.out()
        with clock.at(NOON + timedelta(days=40)):
            turned = {"kind": "turned", "day": "2026-06-22", "azimuth_deg": "0", "tilt_deg": "0"}
            self.client.post(f"{self.url}/event/", turned)
            page = self.client.get(f"{self.url}/")
        whole, later = page.context["whole"], page.context["later"]
        first = page.context["prediction"]
        days = first.survey.days + sum(one.survey.days for one in later)
        on = first.survey.days_on_paper + sum(one.survey.days_on_paper for one in later)
        self.assertEqual((whole.days, whole.days_on_paper), (days, on))
        self.assertIn(f"the sun on it on {on} of {days} days", page.context["paper"].words)
        self.assertContains(page, f"on {on} of {days} days")

    def test_one_box_hangs_in_one_place(self):
        from chimney.solar.planner import forms

        cleaned = {"camera": self.can.camera, "azimuth_deg": 180.0, "tilt_deg": 0.0}
        rows, wrong = forms.read("Can 1 S\nCan 1 E", cleaned)
        self.assertEqual(
            (rows, wrong), ([], "Can 1 stands there twice: it can hang in one place only.")
        )
