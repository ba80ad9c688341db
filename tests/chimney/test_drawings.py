"""Drawings by their coordinates: what is right, left, above and below is where it belongs.

Expected places come from the meaning of the drawing, in words beside each, not from its formulas.
"""

import math
import random
from datetime import date
from itertools import product
from types import SimpleNamespace

from django.test import SimpleTestCase

from chimney.kit import figures as kit_figures
from chimney.kit import prints
from chimney.parts import calculation as tiles
from chimney.places.models import Place
from chimney.solar import craft, figures
from chimney.solar.advising.craft import _share_on_paper, cure
from chimney.solar.figures.sky import _before, _behind, _named_days
from pinhole import exposure, reciprocity
from pinhole.projection import Pointing
from pinhole.solargraph import can
from pinhole.solargraph.noons import _all_round, _turned_stand
from pinhole.solargraph.skyline import Skyline
from tests.chimney.pages import TestCase
from tests.chimney.test_parts import plank

DAYS = date(2026, 3, 20), date(2026, 6, 21)
MARCH = date(2026, 3, 1), date(2026, 3, 20)
# What is remembered from one aim of a can to the next.
MEMORIES = (_behind, _before, _named_days, _share_on_paper, _all_round, _turned_stand)
# A tree to the west of a can that faces south: at the photographer's right.
TREE = ((180, 0), (235, 0), (240, 40), (250, 40), (255, 0), (270, 0))


def points(shape):
    return [tuple(map(float, pair.split(","))) for pair in shape.attributes["points"].split()]


def of_class(drawing, css):
    return [shape for shape in drawing.shapes if shape.attributes.get("class") == css]


class Sky(SimpleTestCase):
    """Rauholm, a can that faces south from the spring equinox to midsummer, a tree in the west."""

    def prediction(
        self, tilt_deg=20.0, skyline=((0, 0),), minutes=None, latitude_deg=57.1, days=DAYS, aim=180
    ):
        zone = "Europe/Stockholm"
        place = Place(name="Rauholm", latitude_deg=latitude_deg, longitude_deg=19.6, zone=zone)
        camera = plank(
            back="can",
            focal_mm=66,
            cut_width_mm=178,
            cut_height_mm=120,
            visible_width_mm=178,
            visible_height_mm=120,
            diameter_mm=0.3,
        )
        return craft.predict(
            place, camera, Pointing(aim, tilt_deg), *days, skyline=Skyline(skyline), minutes=minutes
        )

    def test_what_is_kept_while_cans_are_dragged_is_what_is_made_anew(self):
        """Several cans at once, in any order, each turned and leaned meanwhile."""
        cans = product((57.1, -43.95, 5.0), (((0, 0),), TREE), (DAYS, MARCH))
        names = ("latitude_deg", "skyline", "days")
        aims = ((180, 20.0), (140, 0.0), (0, 35.0), (181, 20.0))
        asked = [
            dict(zip(names, can, strict=True)) | {"aim": aim, "tilt_deg": tilt_deg}
            for can, (aim, tilt_deg) in product(cans, aims)
        ]
        random.Random(5).shuffle(asked)
        told = [self.told_of(self.prediction(**case)) for case in asked]
        self.assertGreater(len({words for words, _ in told}), 40)
        for case, before in zip(asked, told, strict=True):
            for memory in MEMORIES:
                memory.cache_clear()
            self.assertEqual(self.told_of(self.prediction(**case)), before, case)

    def told_of(self, prediction):
        return figures.sky(prediction).svg, cure(prediction)

    def test_a_finished_picture_is_the_right_way_round(self):
        """An afternoon sun stands at the photographer's right, and high suns above low ones."""
        evening = figures.paper(self.prediction(minutes=(900, 1000)), "positive")
        xs = [x for shape in of_class(evening, "trail") for x, _ in points(shape)]
        self.assertGreater(min(xs), evening.width / 2)
        noon = self.prediction(tilt_deg=30.0, minutes=(690, 750))
        trails = [points(shape) for shape in of_class(figures.paper(noon, "positive"), "trail")]
        # The sun climbs from March to June, and y of a drawing grows downwards.
        self.assertLess(trails[-1][0][1], trails[0][0][1] - 10)

    def test_a_negative_stands_on_its_head_beside_its_positive(self):
        prediction = self.prediction(tilt_deg=30.0, minutes=(690, 750))
        trails = [
            points(shape) for shape in of_class(figures.paper(prediction, "negative"), "trail-dark")
        ]
        self.assertGreater(trails[-1][0][1], trails[0][0][1] + 10)

    def test_the_ground_lies_below_in_a_positive_and_a_tree_stands_up_from_it(self):
        prediction = self.prediction(skyline=TREE)
        drawing = figures.paper(prediction, "positive")
        (ground,) = of_class(drawing, "paper-ground")
        edge, bottom = points(ground)[:-2], points(ground)[-2:]
        floor = max(y for _, y in bottom)
        self.assertTrue(all(y <= floor for _, y in edge))
        self.assertGreater(floor, drawing.height / 2)
        # The tree is the highest stretch of the edge, at the right.
        self.assertGreater(min(edge, key=lambda point: point[1])[0], drawing.width / 2)

    def test_the_sky_has_east_left_and_high_suns_above(self):
        frame = figures.Frame(self.prediction().track)
        self.assertLess(frame.x(90), frame.x(180))
        self.assertLess(frame.x(180), frame.x(270))
        self.assertLess(frame.y(50), frame.y(10))

    def test_no_label_of_the_sky_lies_over_another_or_is_cut_off(self):
        """From the line to beyond the polar circle, over a season and over a year; letters are half
        as wide as high.
        """
        year = date(2026, 1, 1), date(2026, 12, 31)
        for latitude in (-60, -34, -21, -0.2, 8, 21, 46.9, 57.1, 70, 78):
            for days in (DAYS, year, (date(2026, 6, 21), date(2026, 12, 21))):
                for tilt in (0.0, 20.0, 45.0):
                    drawn = figures.sky(
                        self.prediction(tilt_deg=tilt, latitude_deg=latitude, days=days)
                    )
                    boxes = []
                    for label in of_class(drawn, "label on-sky"):
                        half = 3.5 * len(label.text)
                        x, y = label.attributes["x"], label.attributes["y"]
                        boxes.append((x - half, y - 12, x + half, y + 3))
                    for n, (left, top, right, foot) in enumerate(boxes):
                        self.assertTrue(0 <= left < right <= drawn.width, (latitude, days))
                        self.assertTrue(0 <= top < foot <= drawn.height, (latitude, days))
                        for a, b, c, d in boxes[:n]:
                            apart = right <= a or c <= left or foot <= b or d <= top
                            self.assertTrue(apart, (latitude, days, tilt))


class Cameras(SimpleTestCase):
    def test_the_hole_looks_left_and_the_side_view_has_the_sky_above(self):
        """A paper above the hole sees more ground than sky: its image stands on its head."""
        camera = plank(back="can", focal_mm=66, size="5x7 in", offset_mm=30)
        camera.visible_width_mm = camera.cut_width_mm = 120
        drawing = kit_figures.side(camera)
        (cone,) = of_class(drawing, "cone")
        (hole_x, hole_y), *paper = points(cone)
        self.assertTrue(all(x > hole_x for x, _ in paper))
        middle = sum(y for _, y in paper) / len(paper)
        self.assertLess(middle, hole_y)
        up, down = (float(words.split("°")[0]) for words in _labels(drawing))
        self.assertLess(up, down)

    def test_the_wall_of_a_can_is_rolled_out_in_proportion(self):
        """A sheet of 120 x 90 mm on the floor of a can 200 mm around and 100 mm high, its middle
        opposite the hole, which is drawn at both ends.
        """
        given = {"diameter_mm": 200 / math.pi, "can_height_mm": 100, "hole_up_mm": 60}
        (way, *_) = can.fits(200 / math.pi, 100, (120, 90), hole_up_mm=60)
        drawing = kit_figures.unrolled(given, way)
        wall, sheet = (_box(*of_class(drawing, css)) for css in ("frame", "sheet-in"))
        self.assertAlmostEqual(sheet["width"] / wall["width"], way.length_mm / 200)
        self.assertAlmostEqual(sheet["height"] / wall["height"], way.height_mm / 100)
        self.assertAlmostEqual(wall["width"] / wall["height"], 2)
        self.assertAlmostEqual(_middle(sheet), _middle(wall))
        self.assertAlmostEqual(_floor(sheet), _floor(wall))
        left, right = (shape.attributes for shape in of_class(drawing, "here"))
        self.assertAlmostEqual(left["cx"], wall["x"])
        self.assertAlmostEqual(right["cx"], wall["x"] + wall["width"])
        self.assertAlmostEqual((_floor(wall) - left["cy"]) / wall["height"], 0.6)

    def test_a_round_camera_is_drawn_round_about_its_paper(self):
        camera = plank(back="can", focal_mm=66, cut_width_mm=170, visible_width_mm=170)
        drawing = kit_figures.section(camera)
        (wall,), (paper,) = of_class(drawing, "wall"), of_class(drawing, "paper-edge")
        middle_x = sum(x for x, _ in points(wall)) / len(points(wall))
        inside, outside = (
            [math.hypot(x - middle_x, y - points(wall)[0][1]) for x, y in points(shape)]
            for shape in (paper, wall)
        )
        self.assertLess(max(inside), max(outside) + 1)
        right = max(x for x, _ in points(wall))
        self.assertGreater(right, max(x for x, _ in points(paper)))

    def test_sighting_dots_stand_on_the_side_whose_edge_they_name(self):
        """From the right rear dot over the front dot one looks along the left edge of the field."""
        camera = plank(offset_mm=0)
        for template, first in zip(prints.dots(camera), ("left", "bottom", "top"), strict=True):
            front, *rear = of_class(template, "dot")
            named = {
                shape.text.split()[0]: float(shape.attributes["x"])
                for shape in template.shapes
                if getattr(shape, "text", "") and shape.text.endswith(" edge")
            }
            far = max(float(dot.attributes["cx"]) for dot in rear)
            self.assertAlmostEqual(named[first], far)
            self.assertGreater(far, float(front.attributes["cx"]))


def _box(shape):
    return {name: float(shape.attributes[name]) for name in ("x", "y", "width", "height")}


def _middle(box):
    return box["x"] + box["width"] / 2


def _floor(box):
    return box["y"] + box["height"]


def _labels(drawing):
    return [
        shape.text
        for shape in drawing.shapes
        if getattr(shape, "text", "").endswith((" up", " down"))
    ]


class Words(TestCase):
    def calculated(self, **more):
        return exposure.calculate(
            exposure.Reading("seconds", "4 s", 4, 128, 6),
            exposure.Specification(300, 6, reciprocity.NoCorrection(), **more),
        )

    def test_less_light_is_held_back_and_more_is_generous(self):
        for stops, label in ((-1, "held back"), (1, "generous")):
            found = tiles.tiles(self.calculated(compensation_stops=stops), tiles.Links())
            self.assertEqual([tile.label for tile in found if tile.name == "compensation"], [label])
        told = self.calculated()
        more, less = (tiles.given_words(told, told.exact_s * times) for times in (2, 0.5))
        self.assertEqual(
            (more, less), ("1 stop more than worked out", "1 stop less than worked out")
        )

    def test_every_page_says_what_may_run_in_it_and_that_a_fragment_is_another(self):
        page = self.client.get("/kit/")
        policy = {
            part.split()[0]: part.split()[1:]
            for part in page["Content-Security-Policy"].split("; ")
        }
        ours = {
            name: ["'self'"] for name in ("default-src", "script-src", "style-src", "form-action")
        }
        none = {name: ["'none'"] for name in ("object-src", "base-uri", "frame-ancestors")}
        self.assertEqual(policy, ours | none | {"img-src": ["'self'", "data:"]})
        self.assertEqual(page["X-Frame-Options"], "DENY")
        self.assertIn("HX-Request", page["Vary"])


class Clocks(SimpleTestCase):
    def test_the_standard_clock_has_no_summer_time(self):
        """Hours from UTC without summer time, as the zones' laws have them (tz database)."""
        for zone, day, hours in (
            ("Europe/Stockholm", date(2026, 7, 1), 1),
            ("Europe/Stockholm", date(2026, 1, 1), 1),
            ("Pacific/Auckland", date(2026, 1, 1), 12),
            ("Asia/Kathmandu", date(2026, 7, 1), 5.75),
            ("America/St_Johns", date(2026, 7, 1), -3.5),
        ):
            with self.subTest(zone=zone, day=day):
                place = Place(name="x", latitude_deg=0, longitude_deg=0, zone=zone)
                self.assertEqual(craft.standard_offset_h(place, day), hours)

    def test_a_wedge_goes_by_what_stands_on_it(self):
        """Closed form: 66 mm of can and 90 mm of body at 14 degrees; width times tan of the
        lean.
        """
        can, box = plank(back="can", focal_mm=66), plank(focal_mm=125, body_mm=90)

        def wedge_mm(camera, tilt_deg, wall_deg=0.0):
            return craft.wedge_mm(SimpleNamespace(camera=camera, wall_deg=wall_deg), tilt_deg)

        self.assertAlmostEqual(wedge_mm(can, 14), 16.46, places=2)
        self.assertAlmostEqual(wedge_mm(box, -14), 22.44, places=2)
        self.assertIsNone(wedge_mm(can, 85))
        # On a roof that leans back 30 the wedge makes up the rest, whichever way.
        self.assertAlmostEqual(wedge_mm(can, 44, 30), 16.46, places=2)
        self.assertAlmostEqual(wedge_mm(can, 16, 30), 16.46, places=2)

    def test_a_compass_points_as_the_published_test_values_say(self):
        """World Magnetic Model 2025, test values of its technical report (from memory): 80 N 0 E on
        the ellipsoid at 2025.0 declines 1.28 degrees east.
        """
        pole = Place(name="x", latitude_deg=80, longitude_deg=0, elevation_m=0, zone="UTC")
        self.assertAlmostEqual(craft.declination_deg(pole, date(2025, 1, 1)), 1.28, delta=0.02)
        # Before and after its five years the nearest end stands.
        self.assertEqual(
            craft.declination_deg(pole, date(1990, 6, 1)),
            craft.declination_deg(pole, date(2000, 6, 1)),
        )
