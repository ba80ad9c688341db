"""Scans as scanners and people make them: several sheets on one, lids and beds, a paper that is
learned from its own, files that are none.
"""

from datetime import timedelta
from io import BytesIO

import numpy as np
import pyvips as vips
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from chimney.darkroom import flows as darkroom
from chimney.kit.models import Paper
from chimney.logbook import flows as logbook
from chimney.parts import clock, previews
from chimney.results import flows as results
from chimney.results.curves import craft as curve_craft
from chimney.results.curves import queries as curves
from chimney.results.models import PaperTones, Scan
from chimney.results.scans import craft, files, flows
from pinhole.exposure import to_data
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase
from tests.pinhole import scanners


def saved(codes, kind="PNG", **more):
    out = BytesIO()
    Image.fromarray(codes).save(out, kind, **more)
    return out.getvalue()


class Scanned(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.chance = np.random.default_rng(3)

    def sheet(self):
        exposure = opened(self.camera, self.paper, self.holder)
        with clock.at(clock.now() + timedelta(seconds=60)):
            logbook.close_hole(exposure)
        logbook.unload(exposure.loading)
        darkroom.develop([exposure.sheet], self.developer, parts=9, seconds=60)
        return exposure.sheet

    def drawn(self, paper=None, **more):
        paper = paper or scanners.any_paper(self.chance)
        return scanners.draw(self.chance, paper, **more)

    def brought(self, name, data):
        scan, _ = flows.bring(name, [data])
        flows.work_off()
        scan.refresh_from_db()
        return scan

    def test_a_lid_a_tilt_and_a_neighbour_are_no_part_of_what_is_read(self):
        sheet = self.sheet()
        alone = self.drawn(bed="", rails=True, stops=-1.0)
        laid = [self.drawn(bed="white", rails=True, stops=s).codes for s in (-1.0, 0.5)]
        high = max(len(codes) for codes in laid)
        lid = int(np.median(laid[0][:3]))
        both = np.hstack(
            [np.pad(c, ((0, high - len(c)), (0, 0)), constant_values=lid) for c in laid]
        )
        for name, codes in (("alone.png", alone.codes), ("both.png", both)):
            scan = self.brought(f"{sheet.code} {name}", saved(codes))
            page = self.client.get(f"/read/scans/{scan.pk}/")
            self.assertContains(page, "9 chances in 10", msg_prefix=name)
        # Each sheet of the scan is offered, read as itself and kept so.
        (other,) = page.context["others"]
        first = page.context["read"].judgement.stops_more
        size = {"wide": "520", "high": "300"}
        live = self.client.get(f"/read/scans/{scan.pk}/corners/", {"corners": other} | size)
        self.assertContains(live, "Read so")
        self.client.post(f"/read/scans/{scan.pk}/corners/", {"corners": other} | size)
        page = self.client.get(f"/read/scans/{scan.pk}/")
        self.assertGreater(abs(page.context["read"].judgement.stops_more - first), 0.4)
        self.assertContains(page, "Find it again")
        for wrong in ("0,0 1,1 1,0 0,1", "0,0 1,0 1,1", "0,0 0.01,0 0.01,0.01 0,0.01", "x"):
            answer = self.client.post(f"/read/scans/{scan.pk}/corners/", {"corners": wrong} | size)
            self.assertEqual(answer.status_code, 422, wrong)

    def test_a_paper_is_learned_from_its_judged_scans_by_eye_alone(self):
        paper = scanners.PaperOfWorld("gompertz", 3.0, 0.1, 1.6, 0.36)
        for n in range(4):
            sheet, drawn = self.sheet(), self.drawn(paper, key_sd=0.0)
            self.brought(f"{sheet.code}.png", saved(drawn.codes))
            source = "scan" if n == 3 else "hand"
            results.judge(sheet, stops_more=round(2 * drawn.truth) / 2, source=source)
        known = curves.known_of(self.paper)
        self.assertEqual((known.sheets, PaperTones.objects.count()), (3, 1))
        untaught = self.drawn(paper, key_sd=0.0)
        scan = self.brought(f"{self.sheet().code}.png", saved(untaught.codes))
        pictured = craft.Pictured.of(scan)
        alone, taught = (
            craft.read(pictured, self.paper, known=its).judgement for its in (None, known)
        )
        self.assertLess(taught.sd_stops, alone.sd_stops)
        # Its page draws the curve, and another's draws none.
        page = self.client.get(f"/read/curve/{self.paper.pk}/")
        self.assertContains(page, "by 3 scans of yours")
        low, middle, high = curve_craft.drawn(self.paper, known, np.linspace(-4, 4, 9))
        self.assertTrue((low <= middle).all() and (middle <= high).all())
        self.assertTrue((np.diff(middle) > 0).all())
        other = Paper.objects.create(name="other", box_ei=6)
        self.assertEqual(self.client.get(f"/read/curve/{other.pk}/").content, b"")
        # A verdict taken back teaches no more.
        results.take_back(sheet.paper.sheet_set.filter(verdict__source="hand").first().verdict)
        self.assertIsNone(curves.known_of(self.paper))

    def test_a_sheet_metered_by_two_spots_is_read_by_them(self):
        asked = {"camera": self.camera.pk, "paper": self.paper.pk, "kind": "ev", "ev_iso": "100"}
        asked |= {"darkest": "9", "brightest": "13", "ei_from": "box"}
        plan = self.client.get("/plan/", asked).context["page"].plan
        self.assertAlmostEqual(plan.calculation.reading.spots_stops, 4.0)
        sheet, seen = self.sheet(), []
        scan = self.brought(f"{sheet.code}.png", saved(self.drawn(rails=True).codes))
        exposure = sheet.exposures.get()
        for calculation in (exposure.calculation, plan.calculation):
            sheet.exposures.update(calculation_data=to_data(calculation))
            page = self.client.get(f"/read/scans/{scan.pk}/")
            seen.append((page.context["read"].judgement, page.content.decode()))
        (middle, plain), (spots, told) = seen
        self.assertNotAlmostEqual(middle.stops_more, spots.stops_more)
        self.assertGreater(spots.sd_stops, middle.sd_stops)
        self.assertNotIn("You metered", plain)
        self.assertRegex(told, r"You metered 4 stops from its darkest .* they lie .*stops? apart")

    def test_a_solargraph_is_balanced_and_made_as_colourful_as_one_likes(self):
        codes = self.chance.integers(60, 200, (6, 8, 3)).astype(np.uint8)
        codes = codes.repeat(20, axis=0).repeat(20, axis=1)
        scan = self.brought("sun.png", saved(codes))
        kept = {"quarters": "0", "low_percent": "0", "high_percent": "100", "gamma": "1"}
        url = f"/read/scans/{scan.pk}/"

        def off_grey(made, plain):
            return np.ptp(made, axis=2).mean() / np.ptp(plain, axis=2).mean()

        # Of no colour at all every pixel is its grey; twice as red, red alone has changed.
        for colours, check in (
            ({"saturation_percent": "0"}, lambda made, _: np.ptp(made, axis=2).max() <= 1),
            ({"red_percent": "130"}, lambda made, plain: (made[..., 1:] == plain[..., 1:]).all()),
            (
                {"saturation_percent": "160"},
                lambda made, plain: np.ptp(made, 2).mean() > 1.3 * np.ptp(plain, 2).mean(),
            ),
        ):
            scan.refresh_from_db()
            self.client.post(url, kept)
            plain = self.exported(scan)
            self.assertEqual(self.client.post(url, kept | colours).status_code, 302)
            self.assertTrue(check(self.exported(scan), plain), colours)
        # Where red was changed it is brighter, and the live picture is the exported one.
        self.client.post(url, kept | {"red_percent": "130", "saturation_percent": "60"})
        scan.refresh_from_db()
        array = previews.array_of(scan.preview.jpeg)
        shown = craft.tones(scan, array).positive(array).astype(int)
        self.assertLess(np.abs(shown - self.exported(scan)).mean(), 4)
        bad = self.client.post(url, kept | {"red_percent": "9000"})
        self.assertEqual(bad.status_code, 422)

    def exported(self, scan):
        scan.refresh_from_db()
        array = previews.array_of(scan.preview.jpeg)
        out = files.export(files.path_of(scan), "png", craft.tones(scan, array))
        return np.asarray(Image.open(BytesIO(out.read())).convert("RGB")).astype(int)

    def test_a_scan_on_its_side_is_clicked_where_it_is_seen(self):
        codes = np.full((120, 200), 230, np.uint8)
        codes[:60, :100] = 40
        exif = Image.Exif()
        exif[0x0112] = 6
        scan = self.brought("side.jpg", saved(codes, "JPEG", exif=exif, quality=95))
        self.assertEqual((scan.width, scan.height), (120, 200))
        # Turned a quarter right, its dark quarter stands at the upper right.
        page = self.client.get(f"/read/scans/{scan.pk}/", {"p": ["0.75,0.25", "0.25,0.75"]})
        (dark, pale) = (density for *_, density in page.context["spots"])
        self.assertGreater(dark, pale + 0.5)

    def test_what_is_no_picture_of_8_or_16_bits_is_told_and_refuses_no_other(self):
        grey = vips.Image.new_from_array(np.linspace(0, 1, 40 * 50).reshape(40, 50))
        floating = grey.cast("float").write_to_buffer(".tif")
        whole = saved(self.drawn(bed="").codes)
        uploads = [
            SimpleUploadedFile(name, data)
            for name, data in (("empty.png", b""), ("float.tif", floating), ("good.png", whole))
        ]
        page = self.client.post("/read/scans/", {"scans": uploads}, follow=True)
        self.assertContains(page, "empty.png: It is empty")
        flows.work_off()
        states = dict(Scan.objects.values_list("name", "state"))
        self.assertEqual(states, {"float.tif": "broken", "good.png": "ready"})
        self.assertIn("8 or 16 bits", Scan.objects.get(name="float.tif").trouble)
        # Codes are rounded on their way out, not cut off: half a code dark no more.
        scan = Scan.objects.get(name="good.png")
        Scan.objects.update(inverted=False, mirrored=False, low_percent=0, high_percent=100)
        scan.refresh_from_db()
        steps = craft.Tones(False, (0.0,), (255.0,), 1.0, False, 0)
        out = files.export(files.path_of(scan), "png", steps)
        back = np.asarray(Image.open(BytesIO(out.read())).convert("L"))
        original = np.asarray(Image.open(BytesIO(whole)))
        np.testing.assert_array_equal(back, original)
