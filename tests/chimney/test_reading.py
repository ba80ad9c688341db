"""Sheets side by side, the eye in training, and how a can stood, on their pages."""

from dataclasses import replace
from datetime import date, timedelta
from urllib.parse import urlencode

import cv2
import numpy as np

from chimney.darkroom import flows as darkroom
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Paper
from chimney.lessons.models import Lesson
from chimney.logbook import flows as logbook
from chimney.parts import clock
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.results import flows as results
from chimney.results.models import Trial
from chimney.results.scans import flows as scans
from chimney.results.training import craft, queries
from chimney.solar.marks import craft as marks
from chimney.solar.marks.forms import PictureMark, read_marks
from chimney.solar.models import Solargraph
from pinhole import sheet as papers
from pinhole.projection import Pointing
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase
from tests.chimney.test_model import CAN
from tests.chimney.test_scans import saved


class Reading(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def developed(self, **kept):
        exposure = opened(self.camera, self.paper, self.holder)
        with clock.at(clock.now() + timedelta(seconds=exposure.planned_s)):
            logbook.close_hole(exposure)
        darkroom.develop([exposure.sheet], self.developer, parts=9, seconds=60, **kept)
        return exposure.sheet

    def test_side_by_side_tells_what_differed_and_nothing_else(self):
        one, other = self.developed(), self.developed(temperature_c=24.0)
        codes = papers.scanned(np.full((60, 80), 0.9))
        scans.bring(f"{one}.png", [saved(codes)])
        scans.work_off()
        page = self.client.get("/read/compare/", {"s": [one.code, other.code]})
        told = dict(page.context["rows"])
        self.assertEqual(told["at"], ["", "24 °C"])
        self.assertNotIn("paper", told)
        self.assertNotIn("developer", told)
        self.assertContains(page, "No picture of it yet")
        # The same density is the same grey, whatever the levels of its positive.
        grey = self.client.get(f"/read/scans/{one.scans.get().pk}/scale.jpg")
        self.assertEqual(grey.status_code, 200)
        for asked in ({}, {"s": ["Q-1"]}, {"s": [one.code]}, {"s": ["\0"] * 9}):
            self.assertContains(self.client.get("/read/compare/", asked), "Choose two to six")
        contact = self.client.get("/sheets/?view=pictures&stage=developed")
        self.assertContains(contact, f'value="{one}"')
        self.assertNotContains(contact, f'value="{other}"')

    def test_the_trainer_knows_the_truth_and_learn_takes_the_eye_from_it(self):
        results.judge(self.developed(), stops_more=0.5)
        untrained = Lesson.objects.get(developer=None).ei
        page = self.client.get("/read/trainer/")
        self.assertContains(page, "How near do you judge?")
        self.assertEqual(self.client.get("/read/trainer/1.jpg").status_code, 200)
        # The ladder climbs from dense to thin, or down for a positive, and its own rung is it.
        for seed in (2, 3):
            medium = craft.puzzle(seed).medium
            greys = [craft.picture(seed, stops).mean() for stops in craft.LADDER]
            self.assertEqual(greys, sorted(greys, reverse=medium == "positive"), medium)
            same = craft.picture(seed, craft.puzzle(seed).true_stops)
            self.assertEqual(same.tobytes(), craft.picture(seed).tobytes())
        self.assertEqual(self.client.get("/read/trainer/1/rung-4.jpg").status_code, 200)
        self.assertEqual(self.client.get("/read/trainer/1/rung-9.jpg").status_code, 404)
        self.assertContains(
            self.client.post("/read/trainer/", {"seed": "1"}), "required", status_code=422
        )
        # An eye that asks for half a stop too much, and sees every fault.
        looks = {-2.0: "far_dark", -1.0: "dark", -0.5: "bit_dark", 0.0: "right", 0.5: "bit_pale"}
        looks |= {1.0: "pale", 2.0: "far_pale"}
        mirrored = {"pale": "dark", "dark": "pale"}
        seed = said = 0
        while said < 24:
            seed += 1
            puzzle = craft.puzzle(seed)
            asked = puzzle.true_stops + 0.5
            if asked not in looks or puzzle.fault in ("fog", "double"):
                continue
            look = looks[asked]
            if puzzle.medium == "positive" and look != "right":
                head, _, tail = look.rpartition("_")
                look = "_".join(filter(None, (head, mirrored[tail])))
            answer = {"seed": seed, "look": look, "fault": puzzle.fault}
            self.assertEqual(self.client.post("/read/trainer/", answer).status_code, 302)
            said += 1
        eye = queries.eye()
        self.assertEqual((eye.trials, eye.bias_stops), (24, 0.5))
        self.assertContains(self.client.get("/read/trainer/"), "asks for half a stop too much")
        # A verdict of half a stop too little is now one of right, also where it was given before.
        self.assertAlmostEqual(Lesson.objects.get(developer=None).ei, self.paper.box_ei, delta=0.05)
        self.client.post("/read/trainer/forget/")
        self.assertEqual(Trial.objects.count(), 0)
        self.assertAlmostEqual(Lesson.objects.get(developer=None).ei, untrained, places=6)

    def test_every_fault_has_its_example_its_check_and_its_remedy(self):
        page = self.client.get("/read/faults/")
        for fault in page.context["faults"]:
            self.assertTrue(fault.check and fault.remedy and fault.cause, fault.code)
            self.assertEqual(self.client.get(f"/read/faults/{fault.code}.jpg").status_code, 200)


def replace_row(row, **columns):
    """Another row like it, but for those columns."""
    row = type(row).objects.get(pk=row.pk)
    row.pk = None
    for name, value in columns.items():
        setattr(row, name, value)
    row.save()
    return row


class Stood(TestCase):
    def setUp(self):
        place = place_flows.keep(
            Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        )
        camera = kit_flows.keep_camera(Camera(name="Can 1", **CAN), loads_directly=True)
        paper = Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)
        holder = camera.own_back
        first = clock.now() - timedelta(days=180)
        with clock.at(first):
            sheet = logbook.load(paper, holder, "A").sheet
        for stage in ("out", "home", "scanned"):
            if stage == "scanned":
                sheet.loadings.update(unloaded_at=clock.now())
            logbook.move(sheet, stage)
        self.can = Solargraph.objects.create(
            name="Can 1",
            camera=camera,
            place=place,
            sheet=sheet,
            azimuth_deg=180,
            tilt_deg=10,
            first_day=first.date(),
            last_day=clock.now().date(),
            opened_at=first,
            closed_at=clock.now(),
            made_at=first,
        )
        self.url = f"/expose/cans/{self.can.pk}/stood/"

    def clicks(self, true):
        """Both ends of the horizon and of each trail, as shares of the positive."""
        back, places = self.can.camera.geometry, []
        level = back.land(true, np.arange(0, 360, 1.0), 0.0)
        order = np.argsort(level.x_mm[level.on_paper])
        for at in (2, -3):
            x, y = level.x_mm[level.on_paper][order][at], level.y_mm[level.on_paper][order][at]
            places.append((x, y, None))
        fit = type("Stand", (), {"pointing": true})
        drawn = marks.predicted(self.can, fit)
        for day in marks.days_to_mark(self.can):
            n = int((np.datetime64(day) - drawn.track.days[0]).astype(int))
            there = drawn.trails.on_paper[n]
            for at in (3, -4) if there.sum() > 9 else ():
                x, y = drawn.trails.x_mm[n][there][at], drawn.trails.y_mm[n][there][at]
                places.append((x, y, day))
        half_across, half_high = back.half_mm
        return [
            PictureMark((x / half_across + 1) / 2, (y / half_high + 1) / 2, day)
            for x, y, day in places
        ]

    def test_it_is_told_how_it_stood_and_every_address_is_answered(self):
        self.assertContains(self.client.get(self.url), "has no scan yet", status_code=409)
        scans.bring(f"{self.can.sheet}.png", [saved(np.full((120, 178), 90, np.uint8))])
        scans.work_off()
        self.assertContains(self.client.get(self.url), "How did Can 1")
        # Without script: a click on the picture is a mark.
        click = self.client.get(self.url, {"at.x": "320", "at.y": "108", "on": "horizon"})
        self.assertRegex(click["Location"], r"m=0\.5000%2C0\.25\d\d%2Chorizon")
        made = self.clicks(Pointing(173, 14, 1.5))
        query = urlencode([("m", mark.written) for mark in made])
        page = self.client.get(f"{self.url}?{query}")
        self.assertContains(page, "stood 7° to the left of what was meant, leaned 4° further back")
        # Two corners of the skyline in the place of the horizon.
        back, true = self.can.camera.geometry, Pointing(173, 14, 1.5)
        half_across, half_high = back.half_mm
        corners = []
        for azimuth in (150.0, 200.0):
            seen = back.land(true, azimuth, 6.0)
            across, down = (seen.x_mm / half_across + 1) / 2, (seen.y_mm / half_high + 1) / 2
            corners.append(PictureMark(across, down, (azimuth, 6.0)))
        click = {"at.x": "320", "at.y": "108", "azimuth_deg": "150", "height_deg": "6"}
        there = self.client.get(self.url, click)["Location"]
        self.assertIn("150_6", there)
        self.assertNotIn("azimuth_deg", there)
        query = urlencode([("m", mark.written) for mark in [*corners, *made[2:]]])
        page = self.client.get(f"{self.url}?{query}")
        self.assertContains(page, "skyline at 150°, 6° high")
        self.assertContains(page, "stood 7° to the left of what was meant, leaned 4° further back")
        wrong = self.client.get(self.url, click | {"height_deg": "900"})
        self.assertContains(wrong, "The height")
        for wild in (
            "m=.5,.5,nan_5",
            "m=.5,.5,1_2_3",
            "m=.5,.5,_",
            "m=1,2",
            "m=a,b,c",
            "m=0.5,0.5,2026-99-99",
            "at.x=9&at.y=x",
            "on=soup",
        ):
            self.assertEqual(self.client.get(f"{self.url}?{wild}").status_code, 200)
        one = urlencode([("m", made[0].written)] * 5)
        self.assertContains(self.client.get(f"{self.url}?{one}"), "fix nothing")
        left = self.client.get(f"{self.url}?{query}&drop=1")["Location"]
        self.assertEqual(left.count("m="), len(made) - 1)
        self.assertNotIn("200_6", left)
        self.assertEqual(len(read_marks(["0.1,0.2,horizon"] * 99)), 24)

    def laid_askew(self):
        """(positive of a scan in which the paper lies askew with a margin, its three corners from
        the upper left on as shares of it, how it is scanned).
        """
        high, wide = 600, 860
        turn = np.array([[np.cos(0.03), np.sin(0.03)], [-np.sin(0.03), np.cos(0.03)]])
        corners = np.array([[70, 90], [790, 90], [790, 510], [70, 510]]) - [430, 300]
        corners = corners @ turn + [430, 300]
        positive = np.full((high, wide), 8, np.uint8)
        grain = np.random.default_rng(5).normal(120, 12, (high, wide)).clip(60, 200)
        inside = cv2.fillConvexPoly(np.zeros((high, wide), np.uint8), np.int32(corners), 1)
        positive[inside > 0] = grain[inside > 0]
        return corners[[0, 1, 3]] / [wide - 1, high - 1], positive[:, ::-1]

    def test_marks_lie_on_the_paper_wherever_that_lies_on_its_scan_and_are_kept(self):
        (corner, right, below), codes = self.laid_askew()
        scans.bring(f"{self.can.sheet}.png", [saved(codes)])
        scans.work_off()
        made = [
            PictureMark(*(corner + (right - corner) * m.across + (below - corner) * m.down), m.on)
            for m in self.clicks(Pointing(173, 14, 1.5))
        ]
        typed = {"m": [mark.written for mark in made]}
        answer = self.client.get(self.url, typed).context["answer"]
        self.assertAlmostEqual(answer.fit.azimuth_deg, 173, delta=0.6)
        self.assertAlmostEqual(answer.fit.tilt_deg, 14, delta=0.4)
        self.assertAlmostEqual(answer.fit.roll_deg, 1.5, delta=0.5)
        self.client.post(f"{self.url}keep/", typed)
        can = Solargraph.objects.get()
        self.assertAlmostEqual(can.stood.azimuth_deg, answer.fit.azimuth_deg)
        page = self.client.get(f"/expose/cans/{can.pk}/")
        self.assertContains(page, "read off its picture")
        # Once more: from how it stood, on the same days when they come again.
        sent = self.client.get(f"/plan/sun/{can.pk}/again/", follow=True)
        self.assertEqual(sent.context["page"].form.errors, {})
        planned = sent.context["page"].prediction
        self.assertAlmostEqual(planned.pointing.azimuth_deg, can.stood.azimuth_deg, delta=0.06)
        self.assertAlmostEqual(planned.pointing.roll_deg, can.stood.roll_deg, delta=0.06)
        self.assertEqual(planned.first_day, date(2026, 12, 4))
        turned = self.client.get(f"/plan/sun/{can.pk}/again/?azimuth_deg=99.5", follow=True)
        self.assertEqual(turned.context["page"].prediction.pointing.azimuth_deg, 99.5)
        self.assertEqual(self.client.get(self.url).context["marks"], read_marks(typed["m"]))
        self.client.post(f"{self.url}keep/", {"forget": "1"})
        self.assertEqual(Solargraph.objects.get().stood.azimuth_deg, 180)
        self.assertEqual(self.client.get(self.url).context["marks"], [])

    def test_ends_of_its_paper_that_no_sun_reached_are_no_bed(self):
        grain = np.random.default_rng(5).normal(120, 12, (432, 640)).clip(60, 200)
        wide, _ = self.can.camera.geometry.half_mm
        across = np.abs(np.linspace(-wide, wide, 640))
        # Cut to its paper of 178 x 120 mm, dark beyond the field; then with a bed about it.
        grain[:, across > 0.93 * wide] = 8
        for margin in (0, 40):
            laid = np.pad(grain, margin, constant_values=8)
            scans.bring(f"{self.can.sheet}.png", [saved(laid.astype(np.uint8))])
            scans.work_off()
            corners = marks.Laid.of(self.can.sheet.scans.first()).corners
            share = margin / (640 + 2 * margin), margin / (432 + 2 * margin)
            # Beside a bed of the same tone its ends cannot be told from it.
            reach = [0.04 if margin else 0.005, 0.005]
            self.assertTrue((np.abs(corners[0] - share) < reach).all(), corners)

    def test_two_cans_side_by_side_tell_what_differed(self):
        kept = Solargraph.objects.get()
        with clock.at(kept.closed_at):
            loaded = logbook.load(kept.sheet.paper, kept.camera.own_back, "A").sheet
        other = replace_row(
            kept, sheet=loaded, spot="bread oven", azimuth_deg=190.0, horizon=[[90.0, 12.0]]
        )
        other.read_azimuth_deg, other.read_tilt_deg, other.read_roll_deg = 193.0, 9.0, 1.5
        other.read_azimuth_sd, other.read_tilt_sd = 0.42, 0.31
        other.first_day = kept.first_day + timedelta(days=9)
        other.opened_at = kept.opened_at + timedelta(days=9)
        other.save()
        page = self.client.get("/read/compare/", {"s": [kept.sheet.code, loaded.code]})
        rows = dict(page.context["rows"])
        self.assertEqual(rows["spot"], ["Rauholm", "bread oven, Rauholm"])
        self.assertEqual(rows["direction"], ["180°", "193°"])
        self.assertEqual(rows["roll"], ["0°", "1.5°"])
        self.assertEqual(rows["skyline"], ["", "90 12"])
        self.assertIn("172 in all", rows["days"][1])
        known = ["as planned", "by its picture, give or take 0.42° and 0.31°"]
        self.assertEqual(rows["stand known"], known)
        for same in ("can", "open", "paper", "fixed"):
            self.assertNotIn(same, rows)

    def test_what_the_marks_do_not_tell_is_not_told(self):
        scans.bring(f"{self.can.sheet}.png", [saved(np.full((120, 178), 90, np.uint8))])
        scans.work_off()
        back, true = self.can.camera.geometry, Pointing(173, 14, 1.5)
        made, corners = self.clicks(true), []
        for azimuth in (150.0, 200.0):
            seen = back.land(true, azimuth, 6.0)
            place = (seen.x_mm / back.half_mm[0] + 1) / 2, (seen.y_mm / back.half_mm[1] + 1) / 2
            corners.append(PictureMark(*place, (azimuth, 6.0)))
        swapped = [replace(corners[0], on=(200.0, 6.0)), replace(corners[1], on=(150.0, 6.0))]
        good = [*corners, *made[2:]]
        mirrored = [replace(mark, across=1 - mark.across) for mark in good]
        strays = [*good[:-1], replace(good[-1], down=good[-1].down - 0.2)]
        # It was not out on that day.
        late = [*good[:3], replace(good[3], on=date(2030, 6, 1))]
        for marks_made, words in (
            (made[2:], "Trails alone|fix nothing"),
            ([*swapped, *made[2:]], "from where the others would have it|are swapped"),
            (mirrored, "a picture that is mirrored"),
            (strays, f"Mark {len(good)} "),
            (late, "How did Can 1 really stand"),
        ):
            typed = {"m": [mark.written for mark in marks_made]}
            page = self.client.get(self.url, typed)
            self.assertIsNone(page.context["answer"], words)
            self.assertRegex(page.content.decode(), words)
            refused = self.client.post(f"{self.url}keep/", typed)
            self.assertEqual(refused.status_code, 409)
            self.assertIsNone(Solargraph.objects.get().read_azimuth_deg)
        asked = {"at.x": "320", "at.y": "108", "day": "2030-06-01"}
        self.assertContains(self.client.get(self.url, asked), "It was out from")
