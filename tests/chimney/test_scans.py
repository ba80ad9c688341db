"""Scans as they come: whatever is sent is kept whole or refused in words, and the original is never
touched.
"""

import hashlib
from io import BytesIO
from unittest import mock

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from PIL import Image

from chimney.darkroom import flows as darkroom
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.results.models import Scan
from chimney.results.scans import craft, files, flows
from pinhole import sheet as papers
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase

ROOM = (120, 160)


def saved(codes, kind="PNG", **more):
    out = BytesIO()
    Image.fromarray(codes).save(out, kind, **more)
    return out.getvalue()


class Scans(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        exposure = opened(self.camera, self.paper, self.holder)
        logbook.close_hole(exposure)
        darkroom.develop([exposure.sheet], self.developer, parts=9, seconds=60)
        self.sheet = exposure.sheet

    def codes(self, stops=0.0, faults=()):
        """A sheet of a scene of chance, scanned."""
        chance = np.random.default_rng(4)
        y = np.linspace(0, 1, ROOM[0])[:, None]
        logs = np.where(y < 0.4, 1.7, -0.5) + 0.5 * chance.normal(0, 1, ROOM)
        scene = 2.0 ** (logs - logs[20:-20, 25:-25].mean())
        curve = craft.curve_of(self.paper)
        return papers.scanned(papers.simulate(scene, stops, curve, faults=faults))

    def send(self, *files_sent, status=302):
        uploads = [SimpleUploadedFile(name, data) for name, data in files_sent]
        answer = self.client.post("/read/scans/", {"scans": uploads})
        self.assertEqual(answer.status_code, status)
        return self.client.get("/read/scans/")

    def test_several_at_once_find_their_sheet_and_are_kept_bit_for_bit(self):
        negative, other = saved(self.codes()), saved(self.codes(1), "TIFF")
        page = self.send(("S-001 hedge.png", negative), ("untitled.tif", other))
        self.assertContains(page, "2 scans wait")
        self.assertEqual(flows.work_off(), 2)
        mine, loose = Scan.objects.order_by("pk")
        self.assertEqual((mine.sheet, loose.sheet), (self.sheet, None))
        kept = files.path_of(mine).read_bytes()
        self.assertEqual((kept, hashlib.sha256(kept).hexdigest()), (negative, mine.sha256))
        self.assertEqual((mine.width, mine.height, mine.bits), (ROOM[1], ROOM[0], 8))
        self.assertTrue(Sheet.objects.get().is_pictured)
        self.assertContains(self.client.get("/read/"), "/read/S-001/stamp.jpg")
        # By hand, taken back, and the same file once more.
        self.client.post(f"/read/scans/{loose.pk}/sheet/", {"code": "s-001"})
        self.assertEqual(Scan.objects.get(pk=loose.pk).sheet, self.sheet)
        page = self.send(("again.png", negative))
        self.assertContains(page, "nothing was kept twice")
        self.assertEqual(Scan.objects.count(), 2)
        wrong = self.client.post(f"/read/scans/{loose.pk}/sheet/", {"code": "Q-9"})
        self.assertContains(wrong, "No sheet is called Q-9", status_code=422)

    def test_what_is_no_scan_is_told_and_leaves_nothing_half_written(self):
        whole = saved(self.codes())
        cases = (
            ("letter.png", b"dear sir", "neither TIFF, PNG nor JPEG"),
            ("short.png", whole[: len(whole) // 2], "broken or ends too early"),
            ("dot.png", saved(np.zeros((3, 3), np.uint8)), "smaller than 16 pixels"),
            ("liar.jpg", b"\xff\xd8\xff" + b"x" * 500, "broken or ends too early"),
        )
        for name, data, words in cases:
            with self.subTest(name):
                before = self.send((name, data)).content.decode()
                flows.work_off()
                page = before + self.client.get("/read/scans/").content.decode()
                self.assertIn(words, page)
        self.assertEqual([p.name for p in files.folder().glob("begun-*")], [])
        self.assertFalse(Sheet.objects.get().is_pictured)
        self.assertContains(self.client.post("/read/scans/"), "at least one", status_code=422)
        full = mock.patch("os.fsync", side_effect=OSError(28, "No space left on device"))
        with full, self.assertRaises(OSError):
            flows.bring("full.png", [whole])
        self.assertEqual(list(files.folder().glob("begun-*")), [])

    def test_every_kind_of_picture_is_looked_through(self):
        grey = self.codes()
        deep = grey.astype(np.uint16) * 257
        colour = np.stack([grey] * 3, axis=2)
        clear = np.concatenate([colour, np.full((*ROOM, 1), 200, np.uint8)], axis=2)
        cmyk = BytesIO()
        Image.fromarray(colour).convert("CMYK").save(cmyk, "JPEG")
        for name, data, bits in (
            ("16.tif", saved(deep, "TIFF"), 16),
            ("16.png", saved(deep), 16),
            ("rgb.jpg", saved(colour, "JPEG"), 8),
            ("alpha.png", saved(clear), 8),
            ("cmyk.jpg", cmyk.getvalue(), 8),
            ("one tone.png", saved(np.full(ROOM, 99, np.uint8)), 8),
        ):
            with self.subTest(name):
                scan, _ = flows.bring(name, [data])
                flows.match(scan, self.sheet)
                flows.work_off()
                scan.refresh_from_db()
                self.assertEqual((scan.state, scan.bits), ("ready", bits))
                for url in ("", "stamp.jpg", "positive.jpg", "negative.jpg", "rung-0.jpg"):
                    self.assertEqual(
                        self.client.get(f"/read/scans/{scan.pk}/{url}").status_code, 200
                    )
                for kind in ("jpg", "png", "tif"):
                    answer = self.client.get(f"/read/scans/{scan.pk}/export.{kind}")
                    made = Image.open(BytesIO(b"".join(answer.streaming_content)))
                    self.assertEqual(made.size, ROOM[::-1])
                self.assertEqual(files.path_of(scan).read_bytes(), data)

    def test_the_positive_is_inverted_mirrored_turned_and_levelled(self):
        codes = np.full((40, 60), 200, np.uint8)
        codes[:20, :30] = 40
        scan, _ = flows.bring("S-001.png", [saved(codes)])
        flows.work_off()
        typed = {"inverted": "on", "mirrored": "on", "quarters": "1", "low_percent": "0"}
        typed |= {"high_percent": "100", "gamma": "1"}
        self.assertEqual(self.client.post(f"/read/scans/{scan.pk}/", typed).status_code, 302)
        png = self.client.get(f"/read/scans/{scan.pk}/export.png").streaming_content
        made = np.asarray(Image.open(BytesIO(b"".join(png))))
        # Dark upper left of the negative: bright, mirrored to the right, and a quarter turn down.
        self.assertEqual(made.shape[:2], (60, 40))
        self.assertTrue(made[45, 30] > 240 and made[10, 10] < 20, made[45, 30])
        seen = self.client.get(f"/read/scans/{scan.pk}/positive.jpg").content
        preview = np.asarray(Image.open(BytesIO(seen)))
        self.assertGreater(preview[45, 30], 240)
        # Cut at the right, and each colour by itself: the same picture, narrower.
        cut = typed | {"crop_right": "40", "by_channel": "on", "straighten_deg": "0"}
        self.client.post(f"/read/scans/{scan.pk}/", cut)
        half = self.client.get(f"/read/scans/{scan.pk}/export.png").streaming_content
        half = np.asarray(Image.open(BytesIO(b"".join(half))))
        self.assertEqual(half.shape[:2], (60, 24))
        np.testing.assert_array_equal(half, made[:, :24])
        self.client.post(f"/read/scans/{scan.pk}/", cut | {"straighten_deg": "3"})
        for url in ("positive.jpg", "export.tif"):
            self.assertEqual(self.client.get(f"/read/scans/{scan.pk}/{url}").status_code, 200)
        bad = self.client.post(
            f"/read/scans/{scan.pk}/", typed | {"low_percent": "60", "high_percent": "40"}
        )
        self.assertContains(bad, "at least 5 %", status_code=422)

    def test_spots_are_measured_and_a_leak_is_pointed_at(self):
        scan, _ = flows.bring("S-001.png", [saved(self.codes(faults=["leak"]))])
        flows.work_off()
        url = f"/read/scans/{scan.pk}/"
        self.assertContains(self.client.get(url), "Look here: a bright streak")
        click = self.client.get(url, {"at.x": "260", "at.y": "195"})
        self.assertEqual(click["Location"], f"{url}?p=0.5000%2C0.5000")
        page = self.client.get(url, {"p": ["0.01,0.5", "0.5,0.9"]})
        # The rail is bare paper: 0.06 D by the curve that it was made with.
        self.assertRegex(page.content.decode(), r"Spot 1: <strong>0\.0[56]\d* D</strong>")
        for wild in ("p=9,9", "p=a", "p=nan,0.1", "at.x=1", "at.x=a&at.y=b"):
            self.assertEqual(self.client.get(f"{url}?{wild}").status_code, 200)

    def test_an_exported_picture_says_what_the_exposure_was(self):
        scan, _ = flows.bring("S-001.png", [saved(self.codes())])
        flows.work_off()
        answer = self.client.get(f"/read/scans/{scan.pk}/export.jpg")
        told = Image.open(BytesIO(b"".join(answer.streaming_content))).getexif()
        inner = told.get_ifd(0x8769)
        exposure = self.sheet.exposures.get()
        # Exif 2.3: FNumber 0x829D, ExposureTime 0x829A, FocalLength 0x920A, ISO 0x8827.
        self.assertAlmostEqual(float(inner[0x829D]), exposure.camera.f_number, delta=0.06)
        self.assertAlmostEqual(float(inner[0x829A]), exposure.given_s, delta=0.001)
        self.assertAlmostEqual(float(inner[0x920A]), exposure.camera.focal_mm, delta=0.06)
        self.assertEqual(inner[0x8827], 6)
        self.assertIn("S-001", told[0x010E])

    def test_the_scan_proposes_and_the_person_decides(self):
        flows.bring("S-001.png", [saved(self.codes(stops=-1.5))])
        flows.work_off()
        page = self.client.get("/read/S-001/")
        self.assertContains(page, "Its scan says: 1½ stops more next time")
        taken = self.client.get("/read/S-001/?stops_more=1.5")
        self.assertContains(taken, 'value="1.5"')
        blank, _ = flows.bring("S-001 b.png", [saved(self.codes(faults=["blank"]))])
        flows.work_off()
        self.assertContains(self.client.get(f"/read/scans/{blank.pk}/"), "Cannot say")

    def test_the_inbox_is_emptied_by_copying_and_once(self):
        files.inbox().mkdir(parents=True, exist_ok=True)
        lies = files.inbox() / "S-001 inbox.png"
        try:
            lies.write_bytes(saved(self.codes(0.3)))
            (files.inbox() / "notes.txt").write_text("not a scan")
            call_command("scans", stdout=mock.Mock(), stderr=mock.Mock())
            call_command("scans", stdout=mock.Mock(), stderr=mock.Mock())
            self.assertEqual(Scan.objects.get().state, "ready")
            self.assertTrue(lies.exists())
        finally:
            for path in files.inbox().iterdir():
                path.unlink()
