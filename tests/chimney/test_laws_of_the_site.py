"""Laws that hold for every drawing, flow, page and stage, rather than examples."""

import ast
import itertools
import math
import re
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.forms import ValidationError
from django.test import SimpleTestCase
from hypothesis import given, reject, settings
from hypothesis import strategies as some
from scipy import integrate

from chimney.field.pocket import craft as pocket
from chimney.kit import figures as kit_figures
from chimney.kit.page import study
from chimney.logbook.stages import GIVEN_UP, RULES, Stage, which
from chimney.parts import uploads
from chimney.places.models import Place
from chimney.results import figures as results_figures
from chimney.solar import craft as solar
from chimney.solar import figures as solar_figures
from pinhole import reciprocity
from pinhole.projection import Pointing
from pinhole.solargraph.skyline import Skyline
from tests.chimney.test_parts import plank

ROOT = Path(__file__).resolve().parent.parent.parent
PERMILLE, MORNING = 1e-3, datetime(2026, 11, 25, 14, tzinfo=UTC)
# Shapes may reach so far over the edge of their drawing: half of a thick line, a label's last
# letter.
MARGIN = 40.0
PLACES = (("x", "y"), ("x1", "y1"), ("x2", "y2"), ("cx", "cy"))


def coordinates(drawing):
    """Every point that a shape of a drawing names."""
    for shape in drawing.shapes:
        for pair in PLACES:
            if pair[0] in shape.attributes:
                yield shape, *(float(shape.attributes[name]) for name in pair)
        for pair in shape.attributes.get("points", "").split():
            yield shape, *map(float, pair.split(","))


CAMERAS = some.builds(
    plank,
    back=some.sampled_from(["flat", "can", "arc"]),
    focal_mm=some.floats(15, 900),
    diameter_mm=some.floats(0.05, 3),
    visible_width_mm=some.floats(10, 60),
    visible_height_mm=some.floats(10, 300),
    body_mm=some.none() | some.floats(20, 900),
)


class Drawings(SimpleTestCase):
    def assert_inside(self, drawing):
        self.assertGreater(len(drawing.shapes), 1, drawing.name)
        for shape, x, y in coordinates(drawing):
            words = (drawing.name, shape)
            self.assertTrue(math.isfinite(x) and math.isfinite(y), words)
            self.assertTrue(-MARGIN <= x <= drawing.width + MARGIN, words)
            self.assertTrue(-MARGIN <= y <= drawing.height + MARGIN, words)

    @settings(max_examples=25)
    @given(CAMERAS)
    def test_a_camera_lies_inside_its_drawings(self, camera):
        camera.cut_width_mm, camera.cut_height_mm = (
            camera.visible_width_mm,
            camera.visible_height_mm,
        )
        try:
            camera.geometry  # noqa: B018
        except ValueError:
            reject()
        found = study(camera)
        for drawing in (found.above, found.side, found.fall_off, found.blur):
            self.assert_inside(drawing)
        self.assertEqual(len(kit_figures.fall_off(camera).shapes), kit_figures.CURVE_STEPS + 2)

    @settings(max_examples=25)
    @given(
        some.floats(-70, 70),
        some.floats(0, 359),
        some.floats(-30, 60),
        some.floats(-20, 20),
        some.sampled_from(["flat", "can", "arc"]),
        some.sampled_from([date(2026, 3, 1), date(2026, 6, 1), date(2026, 12, 1)]),
    )
    def test_a_can_lies_inside_its_drawings(self, latitude, azimuth, tilt, roll, back, first):
        place = Place(name="x", latitude_deg=latitude, longitude_deg=19.6, zone="Europe/Stockholm")
        camera = plank(back=back, focal_mm=80, cut_width_mm=100, visible_width_mm=100)
        prediction = solar.predict(
            place,
            camera,
            Pointing(azimuth, tilt, roll),
            first,
            date(first.year, first.month, 20),
            skyline=Skyline(((0, 5), (90, 20), (200, 0))),
        )
        drawings = [solar_figures.sky(prediction), solar_figures.calendar(prediction)]
        drawings += [solar_figures.paper(prediction, view) for view in ("positive", "negative")]
        for drawing in drawings:
            self.assert_inside(drawing)

    def test_the_scale_of_every_medium_goes_one_way(self):
        for kind in ("negative", "film", "positive", "reversal"):
            stops = [look.stops_more for look, *_ in results_figures.scale(kind)]
            self.assertIn(stops, (sorted(stops), sorted(stops, reverse=True)), kind)
            self.assertIn(0, stops)


class Curves(SimpleTestCase):
    """What the pocket sheet looks up, against scipy's quadrature."""

    def test_what_changing_light_gives(self):
        for school in (
            reciprocity.NoCorrection(),
            reciprocity.PowerLaw(1.2, 5),
            reciprocity.Table(((1, 2), (4, 20), (20, 180))),
        ):
            curve = pocket._curve(school, -3.0, 12.0)
            at = curve["from"] + curve["step"] * np.arange(len(curve["asks"]))
            self.assertLessEqual(at[0], -3.0 - pocket.BEYOND_STOPS)
            self.assertGreater(at[-1], 12.0 + pocket.BEYOND_STOPS - 1)
            for low, high in ((-3, 0.5), (0, 5), (4, 11.9)):
                a, b = (round((stop - at[0]) / curve["step"]) for stop in (low, high))
                found = curve["gives"][a] - curve["gives"][b]

                def rate(stop, school=school):
                    return 1 / school.adjusted_s(2.0**stop)

                expected, _ = integrate.quad(rate, at[a], at[b], limit=300)
                self.assertAlmostEqual(found / expected, 1, delta=PERMILLE)
                self.assertAlmostEqual(2 ** curve["asks"][a] * rate(at[a]), 1, places=4)


class Stages(SimpleTestCase):
    def reached(self, start):
        found, fresh = {start}, {start}
        while fresh:
            fresh = {stage for stage in Stage if RULES[stage].comes_from & fresh} - found
            found |= fresh
        return found

    def test_every_stage_has_a_rule_can_be_reached_and_left(self):
        self.assertEqual(set(RULES), set(Stage))
        self.assertEqual(self.reached(Stage.BOXED), set(Stage))
        for stage in Stage:
            leads_to = [other for other in Stage if stage in RULES[other].comes_from]
            self.assertTrue(leads_to, stage)

    def test_no_way_leads_from_the_sun_into_a_developer(self):
        cans = set(which("in_a_can"))
        timed = {Stage.EXPOSING, Stage.EXPOSED, Stage.DEVELOPED, Stage.READ}
        for stage in timed:
            self.assertFalse(RULES[stage].comes_from & cans, stage)
        for stage in cans:
            self.assertFalse(RULES[stage].comes_from & timed, stage)

    def test_an_open_hole_is_never_given_up_and_what_is_given_up_comes_back(self):
        for gone in GIVEN_UP:
            self.assertNotIn(Stage.EXPOSING, RULES[gone].comes_from)
            for stage in RULES[gone].comes_from:
                self.assertIn(gone, RULES[stage].comes_from, stage)

    def test_what_lies_in_a_side_has_a_word_for_it(self):
        self.assertEqual(
            {rule.side for rule in RULES.values()}, {"exposed", "loaded", "exposing", "out"}
        )
        for stage, rule in RULES.items():
            self.assertFalse(rule.lies is False and rule.side == "loaded", stage)


class Flows(SimpleTestCase):
    """A verb that writes is one transaction; what is not one is asked by a verb alone."""

    WRITES = re.compile(r"\.(save|create|bulk_create|update|update_or_create|delete|drop|undrop)\(")

    def functions(self):
        for path in ROOT.glob("chimney/**/flows*"):
            for file in path.rglob("*.py") if path.is_dir() else [path]:
                for node in ast.parse(file.read_text()).body:
                    if isinstance(node, ast.FunctionDef):
                        yield file, node

    def test_what_writes_is_a_verb_or_private_to_one(self):
        known = list(self.functions())
        self.assertGreater(len(known), 60)
        verbs, called = set(), {}
        for _, node in known:
            names = {getattr(decorator, "id", "") for decorator in node.decorator_list}
            if names & {"verb", "setting"}:
                verbs.add(node.name)
            calls = [call for call in ast.walk(node) if isinstance(call, ast.Call)]
            for call in calls:
                name = getattr(call.func, "id", getattr(call.func, "attr", ""))
                called.setdefault(name, set()).add(node.name)
                # What a stroke is handed is one transaction, as a verb is.
                verbs |= {n.id for n in ast.walk(call) if name == "stroke" and hasattr(n, "id")}
        for file, node in known:
            if node.name in verbs or not self.WRITES.search(ast.unparse(node)):
                continue
            callers = self.callers(node.name, called)
            self.assertTrue(callers & verbs or node.name in OUTSIDE, f"{file}: {node.name}")

    def callers(self, name, called):
        found, fresh = set(), {name}
        while fresh:
            fresh = set(itertools.chain(*(called.get(one, ()) for one in fresh))) - found
            found |= fresh
        return found


# Asked by signals and commands that stand inside a transaction of their own.
OUTSIDE = {"untake", "count", "count_slip", "estimate_all_of"}


class Uploads(SimpleTestCase):
    LIMITS = uploads.Limits("picture", ("PNG", "WEBP"), 1, 1, ": crop it")

    def refusal(self, content):
        with self.assertRaises(ValidationError) as caught:
            picture = uploads.open_picture(SimpleUploadedFile("a.png", content), self.LIMITS)
            with uploads.decoding(self.LIMITS):
                picture.write_to_memory()
        return caught.exception.messages[0]

    def test_whatever_comes_is_told_in_words(self):
        from tests.chimney.test_fuzz import picture

        for content, words in (
            (b"x" * (1024 * 1024 + 1), "larger than 1 MB: crop it"),
            (b"\x7fELF", "That is no picture: a PNG or WebP is needed."),
            (picture("JPEG"), "That is no picture"),
            (picture("PNG", "1", size=(1001, 1000)), "more than 1 megapixels: crop it"),
            (picture("PNG", size=(300, 300), cut=300), "broken or ends too early"),
        ):
            with self.subTest(words):
                self.assertIn(words, self.refusal(content))
