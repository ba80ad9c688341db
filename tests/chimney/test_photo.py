"""A photo of a scene on its way: what it says of itself, what is read off it, what it teaches."""

import re
from datetime import UTC, datetime
from io import BytesIO

import numpy as np
import pillow_heif
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image
from skimage import data

from chimney.field.foreseen import wording
from chimney.field.models import ScenePhoto, Shot
from chimney.field.photo import files, flows, queries
from chimney.field.photo import page as pages
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock, previews
from chimney.places.models import Place, View
from chimney.results.curves.craft import curve_of
from chimney.results.curves.queries import own_curve_of
from chimney.results.models import Verdict
from chimney.results.scans import flows as scan_flows
from chimney.results.scans import queries as scans
from pinhole import scene
from pinhole.sheet import scanned, simulate
from pinhole.tones import PointCurve
from tests.chimney.kitchen import kit
from tests.chimney.pages import TestCase
from tests.pinhole.test_sun_against_astropy import astropy_position

EXIF_IFD, GPS_IFD = 0x8769, 0x8825
SET = {33434: 1 / 800, 33437: 1.8, 34855: 50, 41989: 24, 36867: "2026:06:02 08:20:00"}
# 1.8 squared over 1/800 s at ISO 50 (additive system of ANSI PH2.5): a hand sum.
SET_EV100 = np.log2(1.8**2 * 800) + 1
TENTH_STOP, FIFTH_STOP = 0.1, 0.2
HTMX = {"HX-Request": "true"}
# Packed in an eighth of the time, and read alike.
QUICK = {"preset": "ultrafast"}


def photo_file(tags=SET, *, size=(900, 600), kind="JPEG", turned=0, facing=None, name="coffee"):
    """A photograph that a package ships, with an Exif of our own making."""
    image = Image.fromarray(getattr(data, name)()[..., :3]).resize(size)
    if turned:
        image = image.rotate(90, expand=True)
    exif, out = Image.Exif(), BytesIO()
    exif[271], exif[272] = "Somebody", "One"
    exif.get_ifd(EXIF_IFD).update(tags)
    if turned:
        exif[274] = turned
    if facing is not None:
        exif.get_ifd(GPS_IFD).update({16: "T", 17: facing, 1: "N", 2: (57.0, 6.0, 0.0)})
    image.save(out, kind, exif=exif)
    return SimpleUploadedFile(f"scene.{kind.lower()}", out.getvalue())


def brought():
    """A ScenePhoto of such a file."""
    content = photo_file().read()
    return flows.bring(files.brought(content, facing=False))


class Photos(TestCase):
    def setUp(self):
        self.camera, self.paper, _, self.holder = kit()

    def bring(self, file, **more):
        answer = self.client.post("/plan/photo/", {"photo": file} | more, follow=True)
        return answer, ScenePhoto.objects.first()

    def test_it_says_its_light_and_keeps_nothing_else_of_what_it_knew(self):
        page, photo = self.bring(photo_file(facing=24.5), facing="on")
        self.assertContains(page, "1/800 s, f/1.8, ISO 50")
        self.assertAlmostEqual(photo.set_ev100, SET_EV100, places=4)
        self.assertEqual((photo.equivalent_mm, photo.facing_deg), (24.0, 24.5))
        self.assertEqual(photo.taken_at, datetime(2026, 6, 2, 6, 20, tzinfo=UTC))
        kept = Image.open(BytesIO(bytes(photo.jpeg)))
        self.assertFalse(dict(kept.getexif()))
        self.assertNotIn(b"Somebody", bytes(photo.jpeg))
        self.assertNotIn("Somebody", photo.phone)
        # Each spot by the standard's formula, on the pixels that were sent.
        read = pages.read(photo, {})
        sent = scene.ev100(
            np.asarray(Image.open(photo_file())), f_number=1.8, seconds=1 / 800, iso=50
        )
        for spot in read.scenery.spots:
            by_hand = scene.spot(sent, spot.x, spot.y).ev100
            self.assertAlmostEqual(spot.ev100, by_hand, delta=TENTH_STOP)
        self.assertAlmostEqual(photo.latitude_deg, 57.1)
        self.assertIsNone(photo.longitude_deg)
        _, unwished = self.bring(photo_file(facing=24.5))
        self.assertEqual((unwished.facing_deg, unwished.latitude_deg), (None, None))

    def test_the_same_scene_turned_large_or_swept_is_the_same_scene(self):
        _, level = self.bring(photo_file())
        light = pages.read(level, {}).scenery
        for file in (
            photo_file(turned=6),
            photo_file(size=(3000, 2000)),
            photo_file(kind="PNG"),
            photo_file(kind="WEBP"),
        ):
            _, photo = self.bring(file)
            seen = pages.read(photo, {}).scenery
            self.assertAlmostEqual(
                float(np.log2(np.exp2(seen.eye).mean())),
                float(np.log2(np.exp2(light.eye).mean())),
                delta=FIFTH_STOP,
                msg=file.name,
            )
        self.assertGreater(level.wide_px, level.high_px)
        swept, _ = self.bring(photo_file(size=(3000, 700)))
        self.assertContains(swept, "A panorama bends")
        night, photo = self.bring(photo_file(SET | {33434: 0.5, 34855: 3200}))
        self.assertTrue(photo.is_night)
        self.assertContains(night, "their light is less sure")

    def test_a_phones_own_format_is_read_as_it_lies(self):
        _, level = self.bring(photo_file())
        out, image = BytesIO(), Image.open(photo_file())
        made = pillow_heif.from_pillow(image.rotate(90, expand=True))
        exif = image.getexif()
        # The file itself says how it is turned, and Exif says it once more.
        exif[274] = 6
        made.save(out, exif=exif.tobytes(), quality=90, enc_params=QUICK)
        page, photo = self.bring(SimpleUploadedFile("a.heic", out.getvalue()))
        self.assertContains(page, "1/800 s, f/1.8, ISO 50")
        self.assertEqual((photo.wide_px, photo.high_px), (900, 600))
        self.assertEqual((photo.phone, photo.equivalent_mm), (level.phone, 24.0))
        eyes = [pages.read(one, {}).scenery.eye for one in (level, photo)]
        self.assertLess(np.median(np.abs(eyes[0] - eyes[1])), TENTH_STOP)
        _, photo = self.bring(photo_file(kind="AVIF", turned=6))
        self.assertEqual((photo.wide_px, photo.high_px), (level.wide_px, level.high_px))
        self.assertAlmostEqual(photo.set_ev100, level.set_ev100)
        grey = BytesIO()
        made = pillow_heif.from_pillow(image.convert("L"))
        made.save(grey, exif=exif.tobytes(), enc_params=QUICK)
        page, photo = self.bring(SimpleUploadedFile("g.heic", grey.getvalue()))
        self.assertEqual(photo.wide_px * 3, photo.high_px * 2)
        cut = SimpleUploadedFile("a.heic", out.getvalue()[: len(out.getvalue()) // 2])
        self.assertContains(self.bring(cut)[0], "cannot be read", status_code=422)

    def test_a_photo_that_says_nothing_asks_for_a_reading(self):
        wrong = {33434: "soon", 33437: 0, 34855: (), 41989: -3, 36867: "0000:00:00 00:00:00"}
        for tags in ({}, wrong):
            page, photo = self.bring(photo_file(tags))
            self.assertContains(page, "says nothing of its exposure")
            self.assertIsNone(photo.set_ev100)
            with_meter = self.client.get(f"/plan/photo/{photo.pk}/", {"meter_ev100": "12"})
            self.assertContains(with_meter, "Open Plank for")
            self.assertEqual(with_meter.context["page"].reading.ev100, 12.0)

    def test_what_is_no_photo_is_refused_in_words(self):
        whole = photo_file().read()
        heic = b"\0\0\0\x18ftypheic" + b"\0" * 64
        for content, told in (
            (b"", "empty"),
            (b"hello", "That is no photo"),
            (whole[: len(whole) // 2], "broken or ends too early"),
            (heic, "This HEIC photo cannot be read"),
        ):
            answer, _ = self.bring(SimpleUploadedFile("x.jpg", content))
            self.assertContains(answer, told, status_code=422)
        self.assertEqual(ScenePhoto.objects.count(), 0)

    def test_dots_and_cross_are_dragged_and_the_plan_is_as_sure_as_the_photo(self):
        _, photo = self.bring(photo_file(facing=300.0), facing="on")
        url = f"/plan/photo/{photo.pk}/"
        state = {"camera": self.camera.pk, "paper": self.paper.pk}
        moved = self.client.get(url, state | {"dragged": "middle 210 140"}, headers=HTMX)
        page = moved.context["page"]
        self.assertAlmostEqual(page.scenery.spots[1].x, 0.5, delta=0.001)
        self.assertIn("spots=", moved["HX-Replace-Url"])
        aimed = self.client.get(url, state | {"dragged": "aim 300 100 moving"}, headers=HTMX)
        self.assertGreater(aimed.context["page"].scenery.pointing.azimuth_deg, 5)
        self.assertNotIn("HX-Replace-Url", aimed)
        calm = state | {"moves": "below", "dragged": "line 210 70"}
        moving = self.client.get(url, calm, headers=HTMX).context["page"]
        part = moving.moving_part
        self.assertEqual((part.part, part.line), ("below", 0.25))
        stirred = self.client.get(url, state, headers=HTMX).context["page"].foreseen.densities
        rough = [np.abs(np.diff(d, axis=1)).mean() for d in (moving.foreseen.densities, stirred)]
        self.assertLess(rough[0], 0.7 * rough[1])
        sent = state | {"spots": "0.2,0.8 0.5,0.5 0.7,0.1", "turn_deg": "10", "open": "1"}
        plan = self.client.post(f"{url}keep/", sent, follow=True).context["page"]
        photo.refresh_from_db()
        # The same time by the same sum, the colour of a low sun in it.
        again = pages.read(photo, {}).calculation
        self.assertAlmostEqual(
            np.log2(plan.plan.calculation.exact_s / again.exact_s), 0, delta=0.02
        )
        reading = plan.plan.calculation.reading
        self.assertAlmostEqual(reading.ev100, photo.corrected_ev100, delta=0.01)
        self.assertEqual(reading.sd_stops, photo.sd_stops)
        self.assertGreater(reading.sd_stops, 0.6)
        self.assertEqual(plan.form.cleaned_data["azimuth_deg"], 310.0)
        # Read for a shot that is kept, it leads back to that one.
        shot = Shot.objects.create(
            subject="kiln", camera=self.camera, paper=self.paper, kept_at=clock.now()
        )
        came = self.client.post(f"/plan/photo/?shot={shot.pk}", {"photo": photo_file()})
        self.assertTrue(came["Location"].endswith(f"?shot={shot.pk}"))
        led = self.client.post(f"{url}keep/", sent | {"shot": shot.pk})
        self.assertTrue(led["Location"].startswith(f"/plan/{shot.pk}/?"))
        self.assertEqual(self.client.get(led["Location"]).context["page"].shot, shot)
        # Another reading typed over it is a meter's.
        typed = {"camera": self.camera.pk, "paper": self.paper.pk, "kind": "ev", "ev_iso": "100"}
        typed |= {"ev": f"{photo.corrected_ev100 + 0.5:.2f}", "by_photo": photo.pk}
        other = self.client.get("/plan/", typed).context["page"].plan.calculation.reading
        self.assertLess(other.sd_stops, 0.2)
        for wild in ("aim x", "soup 1 1", "middle 99999 -9", "aim 0 0"):
            self.client.get(url, state | {"dragged": wild}, headers=HTMX)
        for wrong in ({"turn_deg": "soon"}, {"camera": "x"}, {"equivalent_mm": "0"}):
            self.assertEqual(self.client.get(url, state | wrong).status_code, 422)
        for gone in ("9999", "x", "9" * 30):
            answer = self.client.get("/plan/", typed | {"by_photo": gone})
            self.assertEqual(answer.status_code, 200)

    def test_a_photo_of_a_view_has_its_place_its_subject_and_its_direction(self):
        place = Place.objects.create(
            name="There", latitude_deg=-33.9, longitude_deg=18.4, zone="Africa/Johannesburg"
        )
        view = View.objects.create(place=place, subject="net loft", azimuth_deg=310.0)
        url = f"/plan/photo/?view={view.pk}"
        self.assertContains(self.client.get(url), "A photo of net loft")
        page = self.client.post(url, {"photo": photo_file()}, follow=True).context["page"]
        self.assertEqual((page.photo.view, page.looks_deg), (view, 310))
        self.assertEqual(queries.place_of(page.photo), place)
        self.assertIn("subject=net+loft", page.plan)
        self.assertContains(self.client.get(url), "Its photos")
        self.assertContains(self.client.get(f"/plan/places/{place.pk}/"), f"photo/?view={view.pk}")
        for gone in ("x", "9" * 30, "0"):
            self.assertEqual(self.client.get(f"/plan/photo/?view={gone}").status_code, 200)
        # One of nowhere that is known is at its own coordinates.
        photo = ScenePhoto(latitude_deg=60.0, longitude_deg=10.0)
        there = queries.place_of(photo)
        self.assertEqual((there.latitude_deg, there.longitude_deg), (60.0, 10.0))

    def test_people_in_a_frame_go_with_the_time_and_their_frame_is_dragged(self):
        _, photo = self.bring(photo_file())
        url = f"/plan/photo/{photo.pk}/"
        state = {"camera": self.camera.pk, "paper": self.paper.pk, "moves": "people"}
        state |= {"people": "0.3,0.3 0.6,0.7"}
        still = self.client.get(url, state | {"moves": ""}, headers=HTMX).context["page"]
        away = {}
        for stay in ("1s", "5min", "9h"):
            page = self.client.get(url, state | {"stay_s": stay}, headers=HTMX).context["page"]
            there, share = page.moving_part.passing(*page.scenery.laid[:2:-1], 0.0)
            change = np.abs(page.foreseen.received - still.foreseen.received)
            # Around the frame nothing changes but by the hole's blur.
            away[stay] = share, change[there].mean(), np.median(change[~there])
            self.assertLess(away[stay][2], 0.01)
        self.assertGreater(away["1s"][1], away["5min"][1])
        self.assertEqual(away["9h"][:2], (1.0, 0.0))
        told = [self.client.get(url, state | {"stay_s": stay}).content for stay in ("1s", "9h")]
        self.assertIn(b"Who stays 1 s leaves no trace", told[0])
        self.assertIn(b"they are in the picture", told[1])
        pulled = self.client.get(url, state | {"dragged": "people1 105 28"}, headers=HTMX)
        frame = pulled.context["page"].moving_part.frame
        np.testing.assert_allclose(frame, (0.25, 0.1, 0.3, 0.3), atol=0.001)
        self.assertContains(pulled, "People stand from here")
        for wild in ("", "0,0 0,0", "soup", "1,1 1,1"):
            self.assertEqual(self.client.get(url, state | {"people": wild}).status_code, 200)

    def test_a_pinhole_that_stands_elsewhere_sees_what_is_near_elsewhere(self):
        _, photo = self.bring(photo_file())
        url = f"/plan/photo/{photo.pk}/"
        state = {"camera": self.camera.pk, "paper": self.paper.pk, "lower_cm": "80", "away_m": "4"}
        page = self.client.get(url, state)
        # From 80 cm below a thing 4 m away the phone sees it lower by an angle whose sine is a
        # fifth of the cosine of half of that: 11.3 degrees (triangle by hand).
        self.assertContains(page, "What is so near lies 11° higher for the pinhole")
        # Dragged to the middle of the photo it looks up from below.
        aimed = self.client.get(url, state | {"dragged": "aim 210 140"}, headers=HTMX)
        self.assertAlmostEqual(
            aimed.context["page"].scenery.pointing.tilt_deg, np.degrees(np.arcsin(0.2)), delta=0.1
        )
        for wrong in ({"away_m": ""}, {"away_m": "0.5"}, {"lower_cm": "900"}):
            self.assertEqual(self.client.get(url, state | wrong).status_code, 422)
        self.client.post(f"{url}keep/", state | {"tilt_deg": "5"})
        photo.refresh_from_db()
        self.assertEqual((photo.lower_cm, photo.away_m), (80.0, 4.0))
        as_kept = pages.read(photo, {}).scenery.stand
        self.assertEqual((as_kept.up_m, as_kept.away_m), (-0.8, 4.0))

    def test_a_second_photo_widens_the_first_by_its_own_exposure(self):
        whole, box = Image.open(photo_file(size=(1200, 400))).convert("RGB"), (900, 400)
        exif, files_of = Image.open(photo_file()).getexif(), []
        for left in (0, 300):
            out = BytesIO()
            whole.crop((left, 0, left + box[0], box[1])).save(out, "JPEG", exif=exif, quality=97)
            files_of.append(SimpleUploadedFile("part.jpg", out.getvalue()))
        (_, first), (_, second) = (self.bring(file) for file in files_of)
        first.camera = self.camera
        ScenePhoto.objects.update(equivalent_mm=40.0)
        alone = pages.read(first, {"equivalent_mm": "40"})
        # Both lie in one plane here: what lies 300 px aside is turned by so much.
        turn = np.degrees(np.arctan(300 / alone.scenery.lens.focal_px))
        asked = {"equivalent_mm": "40", "turn_deg": f"{turn:.1f}", "beside": second.pk}
        narrow = pages.read(first, asked | {"beside": ""})
        wide = pages.read(first, asked | {"beside_deg": f"{turn:.1f}"})
        self.assertGreater(narrow.missing, wide.missing + 0.02)
        # Nobody has to type the turn: it is read off what both show.
        by_itself = pages.read(first, asked | {"beside_deg": ""})
        self.assertAlmostEqual(by_itself.form.cleaned_data["beside_deg"], turn, delta=2.5)
        self.assertAlmostEqual(by_itself.missing, wide.missing, delta=0.03)
        _, other = self.bring(photo_file(name="rocket"))
        apart = pages.read(first, asked | {"beside": other.pk, "beside_deg": ""})
        self.assertIn("share too little", str(apart.form.errors["beside_deg"]))
        self.assertEqual(apart.missing, narrow.missing)
        itself = pages.read(first, asked | {"beside": first.pk})
        self.assertEqual(itself.missing, narrow.missing)

    def test_the_sun_in_the_picture_is_told(self):
        Place.objects.create(
            name="Here", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm", home=True
        )
        then = np.datetime64("2026-06-02T18:40")
        azimuth, altitude = (float(one[0]) for one in astropy_position(then, 57.1, 19.6))
        self.assertTrue(0 < altitude < 15)
        tags = SET | {36867: "2026:06:02 18:40:00", 36881: "+00:00"}
        for facing, is_told in ((azimuth, True), (azimuth + 180, False)):
            page, photo = self.bring(photo_file(tags, facing=facing % 360), facing="on")
            self.assertEqual("The sun stood in this picture" in page.content.decode(), is_told)
            if not is_told:
                continue
            # Straight ahead and up: in the middle of the print, above its middle, and burnt there.
            scenery = page.context["page"].scenery
            across, down = scenery.sun_px
            wide, high = scenery.print_px
            self.assertAlmostEqual(across, wide / 2, delta=2)
            by_hand = high / 2 - np.tan(np.radians(altitude)) * 150 / 93.6 * high
            self.assertAlmostEqual(down, by_hand, delta=3)
            sheet = scenery.foreseen()
            self.assertTrue(sheet.blocked_at[round(down), round(across)])
            self.assertEqual(photo.facing_deg, azimuth)

    def test_under_a_low_sun_its_time_is_that_of_the_plan(self):
        Place.objects.create(
            name="Here", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm", home=True
        )
        _, photo = self.bring(photo_file(facing=300.0), facing="on")
        asked = {"camera": self.camera.pk, "paper": self.paper.pk, "open": "1"}
        with clock.at(datetime(2026, 11, 24, 12, 30, tzinfo=UTC)):
            sent = self.client.post(f"/plan/photo/{photo.pk}/keep/", asked, follow=True)
            photo.refresh_from_db()
            told = pages.read(photo, {}).calculation
        plan = sent.context["page"].plan.calculation
        self.assertGreater(plan.factor("colour").multiplier, 1.1)
        self.assertAlmostEqual(np.log2(plan.exact_s / told.exact_s), 0, delta=0.02)

    def test_pictures_are_those_of_the_craft(self):
        _, photo = self.bring(photo_file())
        url = f"/plan/photo/{photo.pk}/print.png"
        sizes = set()
        for query in ("", "?stops=1", "?stops=-1&bare=on", "?negative=on", "?upright=on&camera=1"):
            answer = self.client.get(f"{url}{query}")
            picture = np.asarray(Image.open(BytesIO(answer.content)))
            self.assertEqual(picture.ndim, 3)
            sizes.add(picture.shape[:2])
        self.assertEqual(len(sizes), 2)
        bright, dim = (
            np.asarray(Image.open(BytesIO(self.client.get(f"{url}{q}&bare=on").content))).mean()
            for q in ("?stops=1", "?stops=-1")
        )
        # More light makes a darker negative, and a lighter print.
        self.assertGreater(bright, dim + 5)
        self.assertEqual(self.client.get(f"{url}?camera=x").status_code, 404)
        for stops in ("soup", "99", "1e9", "-"):
            self.assertEqual(self.client.get(f"{url}?stops={stops}").status_code, 200)

    def test_a_phone_read_beside_a_meter_is_learned(self):
        for off in (0.4, 0.3, 0.35, 0.45):
            _, photo = self.bring(photo_file())
            middle = pages.read(photo, {}).scenery.middle_ev100
            beside = {"camera": self.camera.pk, "paper": self.paper.pk}
            beside["meter_ev100"] = f"{middle + off:.2f}"
            self.client.post(f"/plan/photo/{photo.pk}/keep/", beside)
        page, photo = self.bring(photo_file())
        self.assertContains(page, "by 4 readings beside a meter")
        told = page.context["page"]
        self.assertAlmostEqual(told.phone.stops, 0.36, delta=0.05)
        self.assertAlmostEqual(
            told.reading.ev100, told.scenery.middle_ev100 + told.phone.stops, delta=0.006
        )
        self.assertLess(told.reading.sd_stops, 0.4)

    def test_a_sheet_lies_beside_what_was_foreseen_of_it(self):
        _, photo = self.bring(photo_file())
        self.client.post(
            f"/plan/photo/{photo.pk}/keep/", {"camera": self.camera.pk, "paper": self.paper.pk}
        )
        photo.refresh_from_db()
        sent = {"camera": self.camera.pk, "paper": self.paper.pk, "kind": "ev", "ev_iso": "100"}
        sent |= {"ev": f"{photo.corrected_ev100:.2f}", "by_photo": photo.pk, "open": "1"}
        page = self.client.get("/plan/", sent).context["page"]
        side = next(iter(page.form.sides))
        self.client.post("/plan/", sent | {"side": side, "ei_from": "box", "sheets": "single"})
        exposure = Exposure.objects.get()
        photo.refresh_from_db()
        self.assertEqual(photo.exposure, exposure)
        self.assertEqual(exposure.calculation.reading.sd_stops, photo.sd_stops)
        beside = self.client.get(f"/plan/photo/of/{exposure.sheet.code}/", headers=HTMX)
        self.assertContains(beside, "Foreseen")
        self.assertEqual(self.client.get("/plan/photo/of/nothing/", headers=HTMX).content, b"")
        # Scanned a stop and a quarter over what was foreseen, by another simulation.
        shown = pages.read(photo, {}).scenery
        _, paper_ev, less, *_ = shown.laid
        light = np.exp2(np.nan_to_num(paper_ev - shown.middle_ev100, nan=-6.0))
        made = simulate(light, 1.25, shown.curve, fall_off=less[:, ::-1], seed=3)
        code = exposure.sheet.code
        scan_flows.bring(f"{code}.png", [previews.png(scanned(made))])
        scan_flows.work_off()
        told = self.client.get(f"/plan/photo/of/{code}/", headers=HTMX)
        self.assertRegex(told.content.decode(), r"It got (1|1¼|1½) stops? more light than foreseen")
        # One tap on what it proposes is its verdict, by no eye.
        proposed = re.search(
            r"/read/[^?]+/\?stops_more=(-\d\.\d)&amp;source=photo", told.content.decode()
        )
        self.assertAlmostEqual(float(proposed[1]), -1.25, delta=0.3)
        Sheet.objects.update(stage=Sheet.Stage.DEVELOPED)
        form = self.client.get(f"/read/{code}/?stops_more={proposed[1]}&source=photo").context[
            "form"
        ]
        answers = {name: form[name].value() or "" for name in ("stops_more", "proposed", "source")}
        self.client.post(f"/read/{code}/", answers)
        self.assertEqual(Verdict.objects.get().source, "photo")
        # It teaches the curve by which the next photo is foreseen, until its photo is gone.
        own, usual = own_curve_of(self.paper), curve_of(self.paper)
        self.assertIsInstance(own, PointCurve)
        self.assertEqual(pages.read(photo, {}).scenery.curve, own)
        right = [curve.density(0.0) for curve in (own, usual)]
        self.assertAlmostEqual(*right, delta=0.15)
        for left_out, taught in ((True, usual), (False, own)):
            self.client.post(f"/read/{code}/", answers | ({"left_out": "on"} if left_out else {}))
            self.assertEqual(own_curve_of(self.paper), taught)
        self.client.post(f"/plan/photo/{photo.pk}/drop/")
        self.assertFalse(ScenePhoto.objects.exists())
        self.assertTrue(Exposure.objects.exists())
        self.assertEqual(own_curve_of(self.paper), usual)
        self.assertIsNone(scans.newest_of(exposure.sheet).preview.beside_photo)

    def test_corners_that_get_less_than_reckoned_are_told_once_several_sheets_agree(self):
        for corners, is_told in (
            ([-0.6, -0.8], False),
            ([-0.6, -0.8, -0.7], True),
            ([-1.9, 1.6, -0.9, 0.4], False),
            ([-0.1, -0.12, -0.11], False),
        ):
            told = wording.of_corners("Plank", corners)
            self.assertEqual("The corners of Plank get" in told, is_told, corners)


class Practice(TestCase):
    def test_a_sheet_that_costs_nothing_is_exposed_judged_and_explained(self):
        camera, paper, *_ = kit()
        asked = {"camera": camera.pk, "paper": paper.pk, "scene": "harbour", "sky": "bright"}
        first = self.client.get("/plan/practice/", asked | {"height": "high"})
        self.assertContains(first, "How long do you open the hole?")
        page = first.context["page"]
        right, shades = page.calculation.seconds, []
        for factor, judged, told in (
            (1.0, "0", "It came out right"),
            (4.0, "-2", "less next time: it is too dark"),
            (0.25, "2", "more next time: it is too pale"),
        ):
            given = asked | {"height": "high", "given_s": f"{right * factor:.0f}s"}
            latent = self.client.get("/plan/practice/", given)
            self.assertContains(latent, "nothing is to be seen yet")
            self.assertNotContains(latent, "sheet.png")
            sheet = self.client.get("/plan/practice/", given | {"developed": "on"})
            self.assertContains(sheet, "what would you change?")
            answer = self.client.get("/plan/practice/", given | {"judged": judged})
            self.assertContains(answer, told)
            self.assertContains(answer, "You saw it")
            png = self.client.get("/plan/practice/sheet.png", given).content
            shades.append(np.asarray(Image.open(BytesIO(png))).mean())
        # A negative grows darker with light.
        self.assertTrue(shades[1] < shades[0] < shades[2], shades)
        wrong = self.client.get("/plan/practice/", asked | {"given_s": "soon"})
        self.assertEqual(wrong.status_code, 422)
        self.assertEqual(self.client.get("/plan/practice/sheet.png", asked).status_code, 404)

    @override_settings(DEMO=True)
    def test_who_looks_at_the_demo_practises_first_and_then_looks_around(self):
        kit()
        first = self.client.get("/", follow=True)
        self.assertEqual(first.redirect_chain, [("/plan/practice/", 302)])
        self.assertContains(first, "Look around")
        self.assertEqual(self.client.get("/").status_code, 200)
        # A browser that keeps no cookies gets on as well.
        self.client.cookies.clear()
        self.assertEqual(self.client.get("/?looked_around=1").status_code, 200)

    def test_nobody_needs_a_kit_for_it(self):
        sheet = self.client.get("/plan/practice/?given_s=30s&judged=0")
        self.assertContains(sheet, "a box of practice")
        # f/250 and EI 6 in full sun: about 30 s (a card on a camera, common practice).
        self.assertAlmostEqual(
            np.log2(sheet.context["page"].calculation.exact_s / 30), 0, delta=0.7
        )
        self.assertContains(sheet, "It came out right")
        drawn = self.client.get(f"/plan/practice/sheet.png?{sheet.context['page'].picture}")
        self.assertEqual(drawn["Content-Type"], "image/png")
