"""How numbers, stops, sizes and moments are written and read, and that drawings say what the core
computes.
"""

import codecs
import io
import json
import random
import re
from datetime import datetime, timedelta
from unittest.mock import patch

from django.core.exceptions import ValidationError
from django.template import Context, Template
from django.test import SimpleTestCase
from django.utils import timezone

from chimney.kit import figures as kit_figures
from chimney.kit.models import Camera, Paper
from chimney.kit.page import study
from chimney.lessons import figures as lesson_figures
from chimney.lessons.models import Evidence, Lesson
from chimney.parts import calculation as calculations
from chimney.parts import clock, downloads, fields, glossary, json_stream, scales, sizes, svg
from pinhole import exposure, optics, reciprocity


class Words(SimpleTestCase):
    NUMBERS = (
        (11.475, "11.5"),
        (0.00123, "0.00123"),
        (62_500, "62 500"),
        (1, "1"),
        (0, "0"),
        (1.20, "1.2"),
        (-2.5, "-2.5"),
    )
    STOPS = (
        (0, "0"),
        (1 / 3, "+1/3"),
        (-2 / 3, "−2/3"),
        (1.5, "+1½"),
        (4 / 3, "+1 1/3"),
        (0.22, "+0.22"),
        (-2, "−2"),
    )
    SIZES_OF_STOPS = (
        (0.02, "no stop"),
        (0.31, "a third of a stop"),
        (-0.5, "half a stop"),
        (0.9, "1 stop"),
        (1.3, "1¼ stops"),
        (-2, "2 stops"),
    )
    READ_STOPS = (
        ("1", 1),
        ("+2/3", 2 / 3),
        ("-1 1/3", -4 / 3),
        ("1½", 1.5),
        ("−1", -1),
        ("0,5", 0.5),
        ("2 stops", 2),
    )

    def test_numbers_and_stops(self):
        for value, words in self.NUMBERS:
            self.assertEqual(scales.number(value), words)
        for value, words in self.STOPS:
            self.assertEqual(scales.stops(value), words)
            if "." not in words:
                self.assertAlmostEqual(scales.parse_stops(words), value)
        for value, words in self.SIZES_OF_STOPS:
            self.assertEqual(scales.size_of_stops(value), words)
        for words, value in self.READ_STOPS:
            self.assertAlmostEqual(scales.parse_stops(words), value)
        for words in ("", "x", "1/0", "1/2/3", "--1", "1" * 30):
            with self.assertRaises(ValueError):
                scales.parse_stops(words)

    def test_sizes_metric_and_inch(self):
        for typed, named in (
            ("4x5 in", "4x5 in"),
            ("5 x 4 inches", "4x5 in"),
            ("102x127", "4x5 in"),
            ("18×13cm", "13x18 cm"),
            ("70x150", "70x150 mm"),
            ("ø12 cm", "round 120 mm"),
            ("Round 120", "round 120 mm"),
        ):
            self.assertEqual(sizes.named(typed), named)
        for name, said in (
            ("4x5 in", "4x5 in (10.2x12.7 cm)"),
            ("13x18 cm", "13x18 cm (5.1x7.1 in)"),
            ("round 127 mm", "round 127 mm (5 in)"),
        ):
            self.assertEqual(sizes.both(name), said)
        # By hand: four 4x5 in out of 8x10 in, two 5x7 in out of 7x10, none out of a smaller sheet.
        for sheet, piece, count in (
            ("8x10 in", "4x5 in", 4),
            ("18x24 cm", "9x12 cm", 4),
            ("4x5 in", "5x7 in", 0),
        ):
            self.assertEqual(sizes.pieces(sheet, piece), count)
        # Paper sold for 4x5 in holders is 99.6 x 125 mm (common practice).
        self.assertEqual(sizes.cut("4x5 in"), (99.6, 125.0))

    def test_moments_are_said_from_today(self):
        home = timezone.get_default_timezone()
        today = datetime(2026, 3, 2, 14, 5, tzinfo=home)
        template = Template("{{ when|moment }}|{{ when|day }}")
        with clock.at(today):
            for back, words in (
                (timedelta(0), "today 14:05|today"),
                (timedelta(days=1), "yesterday 14:05|yesterday"),
                (timedelta(days=5), "Wed 25 Feb 14:05|25 Feb"),
                (timedelta(days=365), "Sun 2 Mar 2025 14:05|2 Mar 2025"),
            ):
                self.assertEqual(template.render(Context({"when": today - back})), words)


def plank(**more):
    measures = {"focal_mm": 125, "diameter_mm": 0.41, "cut_width_mm": 125, "cut_height_mm": 99.6}
    seen = {"visible_width_mm": 119, "visible_height_mm": 93.6}
    return Camera(**{"name": "Plank", "size": "4x5 in"} | measures | seen | more)


class Lengths(SimpleTestCase):
    """A size and a length are understood with the unit that they are typed with."""

    def test_each_length_in_every_unit_and_each_size_as_it_is_called(self):
        field = fields.NumberField(least=1, most=5000, noun="The depth", unit="mm")
        for text, wanted in (
            ("90", 90),
            ("90 mm", 90),
            ("9 cm", 90),
            ("9,5cm", 95),
            ("4 in", 101.6),
            ('4"', 101.6),
            ("3.5 inches", 88.9),
        ):
            self.assertAlmostEqual(field.clean(text), wanted, msg=text)
        for text in ("9 miles", "cm", "4 x 5 in", "in 4", "9 cm cm"):
            with self.assertRaises(ValidationError, msg=text):
                field.clean(text)
        for text, name in (
            ("5x7", "5x7 in"),
            ("4x5", "4x5 in"),
            ("10 x 8", "8x10 in"),
            ("13x18", "13x18 cm"),
            ("9x12", "9x12 cm"),
            ("102x127", "4x5 in"),
            ("5x7 in", "5x7 in"),
            ("50x70", "50x70 mm"),
            ("20x30", "20x30 mm"),
        ):
            self.assertEqual(sizes.named(text), name, text)


class Trade(SimpleTestCase):
    def test_words_of_a_page_are_found_and_led_to(self):
        anchors = [word.anchor for word in glossary.GLOSSARY]
        self.assertEqual(len(anchors), len(set(anchors)))
        self.assertTrue(all(word.source for word in glossary.GLOSSARY))
        for html, found in (
            ("<p>Rate it at <b>EI 3</b>, half a stop.</p>", ["EI", "stop"]),
            ("<p>Then the stop bath.</p>", ["bath", "stop", "stop bath"]),
            ('<a title="EI" href="/stops/">neither</a> seventh eight stopped', []),
            ("f/206, D 0.12, pre-flash; Skylines", ["density", "f/N", "pre-flash", "skyline"]),
            ("<p>nonstop graded wedgewood</p>", []),
        ):
            with self.subTest(html):
                self.assertEqual([word.word for word in glossary.found_in(html)], found)


class Drawings(SimpleTestCase):
    def test_what_is_typed_cannot_break_out_of_a_drawing(self):
        drawing = svg.Drawing(
            '<x a="', "y", 10, 10, (svg.text(1, 1, "</svg><script>", '"onload="'),)
        )
        self.assertNotRegex(str(drawing.svg), r"<script|<x|\"onload=\"")

    def test_a_camera_in_section_has_its_true_proportions(self):
        drawing = kit_figures.section(plank())
        across = optics.field_deg(125, 119)
        self.assertIn(f"{across:.0f} degrees across", drawing.words)
        cone = next(
            shape for shape in drawing.shapes if shape.attributes["class"] == "cone"
        ).attributes["points"]
        (hole_x, _), (back_x, top), (_, bottom) = (
            map(float, point.split(",")) for point in cone.split()
        )
        self.assertAlmostEqual((bottom - top) / (back_x - hole_x), 119 / 125, places=2)

    def test_a_lesson_is_drawn_with_its_numbers(self):
        paper = Paper(name="grade-2 RC", box_ei=6)
        lesson = Lesson(paper=paper, ei=4.8, low=4.1, high=5.6, sheets=1)
        seen = [
            Evidence(log2_ei=2, exposed_at=timezone.now(), reason=reason)
            for reason in ("", "left out by you")
        ]
        drawing = lesson_figures.course_of(lesson, seen)
        for words in ("1 counted, 2 drawn", "EI 4.8", "between 4.1 and 5.6", "started from 6"):
            self.assertIn(words, drawing.words)
        self.assertEqual(len(re.findall("<circle", drawing.svg)), 2)
        self.assertEqual(len(re.findall("dot-not-counted", drawing.svg)), 1)

    def test_calculations_reads_as_a_sentence(self):
        reading = exposure.Reading("seconds", "4 s", 4, 90, 6)
        done = exposure.calculate(
            reading,
            exposure.Specification(
                f_number=125 / 0.41, ei=5, school=reciprocity.PowerLaw(1.1), filter_stops=1
            ),
        )
        tiles = calculations.tiles(
            done, calculations.Links(camera_words="Plank", ei_words="you rate it")
        )
        row = " | ".join(f"{tile.label}: {tile.value}" for tile in tiles)
        camera, paper = "Plank is f/305: × 11.5", "you rate it EI 5: × 1.2"
        self.assertEqual(
            row, f"the meter: 4 s at f/90 | {camera} | {paper} | filter: × 2 | reciprocity: × 1.6"
        )
        self.assertIn("f/305 against f/90, squared", tiles[1].source)
        self.assertIn("power law 1.1", tiles[-1].source.lower())
        with patch.object(calculations, "effect_stops", return_value=0.5):
            self.assertEqual(calculations.given_words(done, 1), "half a stop more than worked out")

    def test_every_back_is_drawn_with_the_numbers_of_the_core(self):
        for back, focal, across in (("flat", 125, 51), ("can", 96, 71), ("arc", 80, 85)):
            camera = plank(back=back, focal_mm=focal)
            drawn = study(camera)
            self.assertIn(f"{across} degrees across", drawn.above.words)
            self.assertIn("polyline", drawn.above.svg)
            up = camera.geometry.field_deg()[1]
            self.assertIn(f"{up:.0f} degrees above", drawn.side.words)
            edge = camera.geometry.fall_off_stops(camera.visible_width_mm / 2, 0)
            self.assertIn(f"{abs(round(edge, 2)):.2g} stops less at the side", drawn.fall_off.words)
            best = optics.best_diameter_mm(focal)
            self.assertIn(f"Rayleigh's best is {best:.2g} mm", drawn.blur.words)

    def test_what_cuts_the_corners_is_told(self):
        camera = plank(wall_mm=0.1)
        self.assertIn(
            "ends the field at 153°; the paper's corners need 62.4°: nothing is cut",
            study(camera).cut_off,
        )
        camera.opening_mm, camera.opening_depth_mm = 5, 6
        self.assertIn("The opening at the plate ends the field at 45.2°", study(camera).cut_off)
        self.assertIn("they stay dark", study(camera).cut_off)


class Stops(SimpleTestCase):
    def test_stops_are_read_as_they_are_said(self):
        """To a twentieth: what is said of a stop is coarser than a sum."""
        for twelfths in range(-60, 61):
            value = twelfths / 12
            said = scales.stops(value)
            with self.subTest(value=value, said=said):
                self.assertAlmostEqual(scales.parse_stops(said), value, delta=0.051)
                self.assertEqual(said.startswith("−"), value < -0.05)
                self.assertNotIn("-", said)

    def test_the_size_of_stops_grows_with_them(self):
        known = [scales.size_of_stops(value / 20) for value in range(201)]
        self.assertEqual(known[20], "1 stop")
        self.assertEqual((known[0], known[7]), ("no stop", "a third of a stop"))
        for words in known:
            self.assertNotRegex(words, r"^0|\b1 stops|^[2-9] stop$|None")
        # Each way of saying it comes once, and does not come back.
        changes = [words for n, words in enumerate(known) if n == 0 or known[n - 1] != words]
        self.assertEqual(len(changes), len(set(changes)))


class Streams(SimpleTestCase):
    """JSON read piece by piece says what JSON read at once says, wherever the pieces end."""

    def streamed(self, written, piece_bytes):
        with patch.object(json_stream, "PIECE_BYTES", piece_bytes):
            stream = json_stream.JsonStream(io.BytesIO(written))
            found = {}
            for name in stream.members():
                if stream.next_character() == "[":
                    found[name] = [value for value, _ in stream.items()]
                else:
                    found[name] = stream.value()
            stream.end()
        return found

    @staticmethod
    def chance(rng, depth=0):
        words = ("", "a", "räka ☀", '𝄞 \\ "x"', "[{", "e+5", "\n")
        kinds = [rng.choice(words), rng.randrange(-(10**9), 10**9), rng.uniform(-1, 1) * 1e-9]
        kinds += [None, True, 1.5e200, -0.0]
        if depth < 3:
            kinds.append([Streams.chance(rng, depth + 1) for _ in range(rng.randrange(4))])
            kinds.append({w: Streams.chance(rng, depth + 1) for w in rng.sample(words, 2)})
        return rng.choice(kinds)

    def test_pieces_of_any_length_say_the_same(self):
        rng = random.Random(23)
        for _ in range(300):
            value = {f"{n}": self.chance(rng) for n in range(rng.randrange(6))}
            indent, plain = rng.choice((None, 2)), rng.choice((True, False))
            written = json.dumps(value, indent=indent, ensure_ascii=plain).encode()
            bom = rng.choice((b"", codecs.BOM_UTF8))
            self.assertEqual(self.streamed(bom + written, rng.randrange(1, 40)), value)
            for cut in rng.sample(range(len(written)), 2):
                with self.assertRaises(ValueError):
                    self.streamed(written[:cut], 7)

    def test_what_cannot_be_computed_with_is_refused_in_a_stream_too(self):
        for wrong in (
            b"NaN",
            b"1e999",
            b"9" * 30,
            b'"\\ud800"',
            b"[" * 5000,
            b"\xff",
            b"1 2",
            b"]",
        ):
            for around in (b'{"a": %s}', b'{"a": [%s]}', b'{"a": %s', b'{"a": 1} %s'):
                with self.subTest(wrong=wrong[:20], around=around), self.assertRaises(ValueError):
                    self.streamed(around % wrong, 5)

    def test_no_value_is_longer_than_any(self):
        with (
            patch.object(json_stream, "MOST_VALUE_CHARACTERS", 1000),
            self.assertRaises(ValueError),
        ):
            self.streamed(b'{"a": "%s"}' % (b"x" * 5000), 50)


class Downloads(SimpleTestCase):
    def test_a_file_is_saved_under_its_name_and_not_shown(self):
        answer = downloads.answer(b"BEGIN:VCALENDAR", "text/calendar; charset=utf-8", "cans.ics")
        self.assertEqual(answer["Content-Disposition"], 'attachment; filename="cans.ics"')
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        self.assertEqual(answer.content, b"BEGIN:VCALENDAR")


class ManyStops(SimpleTestCase):
    def test_one_and_less_are_a_stop(self):
        for value, said in (
            (1, "+1 stop"),
            (-0.5, "−½ stop"),
            (1 / 3, "+1/3 stop"),
            (0, "0 stops"),
            (1.5, "+1½ stops"),
            (-2, "−2 stops"),
            (0.94, "+0.94 stops"),
        ):
            self.assertEqual(scales.many_stops(value), said)
