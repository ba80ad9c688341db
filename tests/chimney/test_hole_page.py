"""A picture of a hole comes in: measured, kept on purpose, and whatever is no such picture told in
words.
"""

import struct
import zlib
from io import BytesIO

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from chimney.kit.models import Camera
from tests.chimney.pages import TestCase
from tests.chimney.test_parts import plank
from tests.pinhole.test_hole import plate


def picture(array, form="PNG", **more):
    out = BytesIO()
    Image.fromarray(array).save(out, form, **more)
    return out.getvalue()


def huge_png():
    """A few bytes that claim 500 megapixels."""
    head = struct.pack(">IIBBBBB", 25_000, 20_000, 8, 0, 0, 0, 0)
    chunks = ((b"IHDR", head), (b"IDAT", zlib.compress(b"\0")), (b"IEND", b""))
    body = b"".join(
        struct.pack(">I", len(d)) + n + d + struct.pack(">I", zlib.crc32(n + d)) for n, d in chunks
    )
    return b"\x89PNG\r\n\x1a\n" + body


class HolePage(TestCase):
    def setUp(self):
        self.camera = plank()
        self.camera.save()
        self.url = f"/kit/camera/{self.camera.pk}/hole/"
        self.grey = plate(0.38, 0.38, 2400).astype(np.uint8)

    def send(self, content, name="scan.png", **more):
        return self.client.post(self.url, {"picture": SimpleUploadedFile(name, content)} | more)

    def test_a_scan_is_measured_and_kept_on_purpose(self):
        sixteen = self.grey.astype(np.uint16) * 257
        colour = np.repeat(self.grey[:, :, None], 3, axis=2)
        for content, more in (
            (picture(self.grey, dpi=(2400, 2400)), {}),
            (picture(self.grey, "JPEG", quality=92), {"dpi": "2400"}),
            (picture(colour, "TIFF"), {"scale_mm": "10", "scale_px": f"{2400 / 2.54:.2f}"}),
            (picture(sixteen), {"dpi": "2400 dpi"}),
        ):
            found = self.send(content, **more)
            self.assertContains(found, "0.38 mm, give or take")
            self.assertContains(found, 'aria-label="The hole and its outline: mean width 0.38 mm')
        self.assertEqual(Camera.objects.get().diameter_mm, 0.41)
        self.client.post(f"{self.url}keep/", {"diameter_mm": "0.381", "diameter_sd_mm": "0.003"})
        camera = Camera.objects.get()
        self.assertEqual((camera.diameter_mm, camera.diameter_sd_mm), (0.381, 0.003))
        self.assertIsNotNone(camera.measured_on)

    def test_a_smaller_hole_beside_it_is_told(self):
        two = np.full((260, 260), 40, np.uint8)
        two[: self.grey.shape[0], : self.grey.shape[1]] = self.grey
        small = plate(0.12, 0.12, 2400).astype(np.uint8)
        two[180 : 180 + len(small), 180 : 180 + len(small)] = small
        self.assertContains(
            self.send(picture(two), dpi="2400"), "There is a smaller hole beside it (0.12 mm)"
        )

    def test_a_size_that_no_camera_has_is_asked_about_and_not_offered(self):
        asked = self.send(picture(self.grey), dpi="72")
        self.assertContains(
            asked, "no pinhole. Is the scale of the picture right?", status_code=422
        )
        self.assertNotContains(asked, "Keep it as measured today", status_code=422)
        wrong = {"diameter_mm": "13.3", "diameter_sd_mm": "0.1"}
        kept = self.client.post(f"{self.url}keep/", wrong)
        self.assertContains(kept, "less than f/30: no pinhole", status_code=422)

    def test_the_outline_is_corrected_by_hand(self):
        page = self.send(picture(self.grey), dpi="2400")
        typed = page.context["found"].typed
        drawn = self.client.get(f"{self.url}outline/", typed, headers={"HX-Request": "true"})
        self.assertAlmostEqual(drawn.context["found"].hole.area_mm, 0.38, delta=0.005)
        pulled = self.client.get(f"{self.url}outline/", typed | {"dragged": "0 470 240"})
        self.assertGreater(pulled.context["found"].hole.area_mm, 0.385)
        for bad in (
            {"points": "1,1 2,2"},
            {"mm_per_px": "0"},
            {"dragged": "x"},
            {"points": "1 2 3 4 5 6 7"},
        ):
            wrong = self.client.get(f"{self.url}outline/", typed | bad)
            self.assertEqual(wrong.status_code, 422, bad)

    def test_a_count_under_a_magnifier_gives_width_and_doubt(self):
        # By hand: 8 divisions of 0.05 mm; two ends, each evenly somewhere in half a division: 0.05
        # x sqrt(2/48).
        page = self.client.get(self.url, {"divisions": "8", "division_mm": "0.05"})
        self.assertContains(page, 'value="0.4"')
        self.assertContains(page, 'value="0.01"')
        self.assertContains(
            self.client.get(self.url, {"divisions": "", "division_mm": "0"}),
            "required",
            status_code=422,
        )

    def test_what_is_no_such_picture_is_told(self):
        whole = picture(self.grey, "JPEG")
        for content, name, more, words in (
            (b"\x7fELF" + b"\0" * 500, "hole.png", {"dpi": "2400"}, "That is no picture"),
            (b"", "empty.png", {"dpi": "2400"}, "empty"),
            (huge_png(), "huge.png", {"dpi": "2400"}, "more than 80 megapixels"),
            (whole[: len(whole) // 2], "cut.jpg", {"dpi": "2400"}, "broken or ends too early"),
            (
                picture(np.zeros((200, 200), np.uint8)),
                "black.png",
                {"dpi": "2400"},
                "No hole stands out",
            ),
            (
                picture(np.hstack([self.grey] * 2)),
                "two.png",
                {"dpi": "2400"},
                "2 things like a hole",
            ),
            (picture(self.grey), "bare.png", {}, "does not state its resolution"),
            (picture(self.grey), "bare.png", {"dpi": "0"}, "between 50 and 20000 dpi"),
            (picture(self.grey), "bare.png", {"scale_mm": "10"}, "both its mm and its pixels"),
        ):
            with self.subTest(name, words=words):
                self.assertContains(self.send(content, name, **more), words, status_code=422)
        wrong = self.client.post(
            f"{self.url}keep/", {"diameter_mm": "0", "diameter_sd_mm": "0.003"}
        )
        self.assertContains(wrong, "between 0.05 and 100 mm", status_code=422)
        self.assertEqual(Camera.objects.get().diameter_mm, 0.41)
