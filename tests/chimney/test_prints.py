"""What is printed, measured in points on the page: 72 points are 25.4 mm."""

import re
from datetime import date
from io import BytesIO
from math import atan2, degrees, dist, hypot

from pypdf import PdfReader
from pypdf.generic import ContentStream

from chimney.kit.models import Camera, Paper
from chimney.logbook.models import Exposure
from chimney.parts import sizes
from pinhole import net
from tests.chimney.kitchen import kit
from tests.chimney.pages import TestCase
from tests.chimney.test_parts import plank

POINT_MM = 25.4 / 72
TENTH_MM = 0.1


def read(content):
    """(width mm, height mm, text, lines, dots) of each page; lines and dots in mm."""
    for page in PdfReader(BytesIO(content)).pages:
        lines, curves, at = [], [], None
        for operands, operator in ContentStream(page.get_contents(), page.pdf).operations:
            if operator == b"m":
                at = [float(number) * POINT_MM for number in operands]
            elif operator == b"l":
                lines.append((*at, *(float(number) * POINT_MM for number in operands)))
            elif operator == b"c":
                curves.append([float(number) * POINT_MM for number in operands[-2:]])
        size = [float(side) * POINT_MM for side in page.mediabox[2:]]
        # A circle is drawn as four curves; opposite ends of them are its diameter.
        circles = [curves[n : n + 4] for n in range(0, len(curves), 4)]
        dots = [(sum(x for x, _ in four) / 4, sum(y for _, y in four) / 4) for four in circles]
        yield *size, page.extract_text(), lines, dots


class Prints(TestCase):
    def setUp(self):
        self.camera = plank(measured_on=date(2026, 3, 1))
        self.camera.save()

    def get(self, url):
        answer = self.client.get(url)
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"))
        return list(read(answer.content))

    def assert_bar(self, lines, length_mm):
        longest = max(abs(x2 - x1) for x1, y1, x2, y2 in lines if y1 == y2)
        self.assertAlmostEqual(longest, length_mm, delta=TENTH_MM)

    def test_a_box_is_printed_as_a_net_over_as_many_sheets_as_it_takes(self):
        """The lengths of all its lines on paper are those of the net, counted once where two sheets
        lap over each other or more.
        """
        for depth, size, least_pages in ((40, "6x9 cm", 2), (90, "4x5 in", 4), (150, "5x7", 6)):
            pages = self.get(f"/kit/net.pdf?depth_mm={depth}&size={size}&card_mm=1")
            self.assertGreaterEqual(len(pages), least_pages)
            cut = sizes.cut(sizes.named(size))[::-1]
            pieces = net.box(depth, cut, sizes.visible(*cut), 1)
            wanted = sum(dist(*line) for piece in pieces for line in (*piece.cuts, *piece.folds))
            printed = 0.0
            for width, height, text, lines, _ in pages:
                self.assertEqual((round(width), round(height)), (210, 297))
                self.assertIn("row", text)
                printed += sum(hypot(x2 - x1, y2 - y1) for x1, y1, x2, y2 in lines)
                # Nothing runs off what a printer reaches.
                for x1, y1, x2, y2 in lines:
                    self.assertTrue(min(x1, x2) > 8 and max(x1, x2) < 202 and min(y1, y2) > 5)
                    self.assertLess(max(y1, y2), 292)
            marks = len(pages) * (8 * 6 + 50 + 6)
            self.assertGreaterEqual(printed - marks, wanted - TENTH_MM)
            self.assertLess(printed - marks, 1.12 * wanted)
        self.assertEqual(self.client.get("/kit/net.pdf?depth_mm=x").status_code, 409)

    def test_the_label_is_true_to_scale_and_names_its_factors(self):
        ((width, height, text, lines, _),) = self.get(f"/kit/camera/{self.camera.pk}/label.pdf")
        self.assertAlmostEqual(width, 210, delta=TENTH_MM)
        self.assertAlmostEqual(height, 297, delta=TENTH_MM)
        self.assert_bar(lines, 90)
        # (304.88 / 128)^2 = 5.67 and so on, by hand.
        for words in (
            "Plank",
            "f/305",
            "F 125 mm, d 0.41 mm",
            "measured 2026-03-01",
            "5.67",
            "11.5",
            "22.7",
        ):
            self.assertIn(words, text)

    def test_the_sighting_dots_stand_where_the_edges_are(self):
        Camera.objects.update(name="Łódka")
        pages = self.get(f"/kit/camera/{self.camera.pk}/dots.pdf")
        for (_, _, text, lines, dots), whole_mm, edges, place in zip(
            pages,
            (119, 93.6, 93.6),
            ("left", "bottom", "top"),
            ("lid", "left side", "right side"),
            strict=True,
        ):
            self.assertIn(f"For the {place}, seen from outside", text)
            self.assertIn("Łódka", text)
            self.assertIn(f"{edges} edge", text)
            self.assert_bar(lines, 100)
            front, one, two = dots
            # Seen from the front dot, the rear ones stand as far apart as the paper's edges from
            # the hole.
            angles = [degrees(atan2(abs(x - front[0]), abs(y - front[1]))) for x, y in (one, two)]
            self.assertAlmostEqual(sum(angles), 2 * degrees(atan2(whole_mm / 2, 125)), delta=0.1)
            self.assertAlmostEqual(abs(one[1] - front[1]), 125, delta=TENTH_MM)
            self.assertGreater(hypot(one[0] - two[0], one[1] - two[1]), 50)

    def test_dots_keep_to_the_lid_they_are_meant_for(self):
        for lid_mm, back_mm in ((119, 125), (60, 125 * 60 / 119)):
            page = self.get(f"/kit/camera/{self.camera.pk}/dots.pdf?lid_mm={lid_mm}")[0]
            front, one, two = page[4]
            # Similar triangles: rear dots at the lid's edges lie lid / paper of the depth behind.
            self.assertAlmostEqual(abs(one[1] - front[1]), back_mm, delta=TENTH_MM)
            self.assertAlmostEqual(abs(one[0] - two[0]), lid_mm, delta=2 * TENTH_MM)
        wrong = self.client.get(f"/kit/camera/{self.camera.pk}/dots.pdf?lid_mm=wide")
        self.assertContains(wrong, "The lid must be a number", status_code=409)

    def test_a_camera_too_wide_for_dots_is_told(self):
        Camera.objects.update(back="can", focal_mm=60, visible_width_mm=170)
        answer = self.client.get(f"/kit/camera/{self.camera.pk}/dots.pdf")
        self.assertContains(answer, "sees too wide", status_code=409)

    def test_the_field_card_has_the_times_of_the_core(self):
        Camera.objects.all().delete()
        camera = kit()[0]
        # f/250, EI 6, EV 14.8: 36.5 s by hand, within a third of a stop of the 30 s that cards have
        # (common practice).
        Camera.objects.update(focal_mm=125)
        Paper.objects.create(
            name="sheet film with a long name", kind="film", box_ei=3200, school="power"
        )
        ((_, _, text, _, _),) = self.get(f"/plan/card/{camera.pk}.pdf")
        for words in (
            "Plank, f/250",
            "EI 6 (box)",
            "no correction",
            "35 s",
            "power law 1.16",
            "too short",
            "EV 14.8",
        ):
            self.assertIn(words, text)
        # Each row no brighter than the one above, as the plan page has them by eye, and a name for
        # its light.
        evs = [float(ev) for ev in re.findall(r"EV ([\d.]+)", text)[:8]]
        self.assertEqual(evs, sorted(evs, reverse=True))
        self.assertEqual((evs[0], evs[-1]), (14.8, 9.4))
        for name in ("full sun", "bright haze", "heavy cloud", "against the sun"):
            self.assertIn(name, text)
        self.assertFalse(Exposure.objects.exists())

    def test_no_paper_is_dropped_from_the_card(self):
        for n in range(6):
            Paper.objects.create(name=f"paper {n}", box_ei=6)
        papers = Paper.objects.developed().count()
        pages = self.get(f"/plan/card/{self.camera.pk}.pdf")
        text = " ".join(page[2] for page in pages)
        for n in range(6):
            self.assertIn(f"paper {n}", text)
        sides = -(-papers // 2)
        self.assertIn(f"side {sides} of {sides}", text)
        # Four A6 to an A4 page.
        self.assertEqual(len(pages), -(-sides // 4))
