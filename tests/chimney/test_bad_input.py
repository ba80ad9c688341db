"""Whatever is typed: a message beside its field that names the limit, the rest kept, nothing
written, no 500.
"""

import json
from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile

from chimney.exchange.whole import flows as logs
from chimney.field.models import Outing, Shot
from chimney.kit.models import Box, Camera, Developer, Holder, Meter, Paper
from chimney.logbook import flows
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock, plain_json
from chimney.places.models import Place
from chimney.results.models import Verdict
from tests.chimney.kitchen import kit, opened, typed
from tests.chimney.pages import TestCase

CAMERA = {
    "name": "Wedge",
    "back": "flat",
    "focal_mm": "68",
    "diameter_mm": "0.33",
    "size": "4x5 in",
}
PAPER = {
    "name": "fibre",
    "kind": "negative",
    "base": "fibre",
    "box_ei": "6",
    "school": "none",
    "exponent": "1.16",
    "onset_s": "1s",
    "sees": "blue",
}
# field, typed, words of the message
BAD_CAMERA = (
    ("focal_mm", "0", "between 5 and 20000 mm"),
    ("focal_mm", "-68", "between 5"),
    ("focal_mm", "wide", "must be a number"),
    ("focal_mm", "", "required"),
    ("diameter_mm", "nan", "must be a number"),
    ("diameter_mm", "1e999", "between 0.05"),
    ("diameter_mm", "4", "is f/17, and less than f/30 is no pinhole: did you mean 0.4?"),
    ("diameter_mm", "80", "did you mean 0.8?"),
    ("size", "4x5 furlongs", "written like"),
    ("size", "1x1", "between 10 mm"),
    ("cut", "150x150", "would jam"),
    ("visible", "300x300", "No more can be visible"),
    ("wall_mm", "0", "between 0.005 and 10 mm"),
    ("name", "plank", "already a camera called"),
    ("name", "", "required"),
    ("diameter_sd_mm", "0.3", "less than half the pinhole"),
)
BAD_PAPER = (
    ("box_ei", "0", "between 0.05 and 3200"),
    ("box_ei", "fast", "must be a number"),
    ("exponent", "0.86", "between 1 and 3"),
    ("table", "4s", "a metered and an adjusted time"),
    ("table", "4s 20s\n8s 10s", "must grow"),
    ("table", "0s 3s", "above 0"),
    ("onset_s", "soon", "not a time"),
    ("school", "guess", "valid choice"),
)
BAD_PLAN = (
    ("seconds", "", "required", {}),
    ("seconds", "0", "above 0", {}),
    ("seconds", "-2", "not a time", {}),
    ("seconds", "bright", "not a time", {}),
    ("seconds", "25h", "solargraph", {}),
    ("seconds", "6h", "solargraph", {}),
    ("meter_f", "0", "between 0.7 and 1000", {}),
    ("meter_iso", "1e9", "between 0.1", {}),
    ("ev", "99", "between -10 and 24", {"kind": "ev"}),
    ("ev", "", "required", {"kind": "ev"}),
    ("lux", "0", "between 0.001", {"kind": "lux"}),
    ("sky", "green", "valid choice", {"kind": "sky"}),
    ("ei", "0", "between 0.05", {"ei_from": "typed"}),
    ("ei", "", "Type the EI", {"ei_from": "typed"}),
    ("filter_stops", "1/0", "written like", {}),
    ("filter_stops", "-1", "between 0 and 10", {}),
    ("compensation_stops", "a lot", "written like", {}),
    ("side", "999Z", "not in the bag", {}),
)


class BadInput(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def beside(self, url, data, field, words, models, keeps):
        """Post; the words stand in the error of that field, what else was typed is still there,
        nothing is new.
        """
        before = [model.objects.count() for model in models]
        answer = self.client.post(url, data)
        self.assertIn(answer.status_code, (409, 422), f"{field}={data.get(field)!r} was taken")
        html = answer.content.decode()
        start = html.index(f'id="id_{field}_error"')
        message = html[start : html.index("</div>", start)].replace("&#x27;", "'")
        self.assertIn(words, message)
        self.assertIn(keeps, html)
        self.assertEqual([model.objects.count() for model in models], before)

    def test_a_can_is_asked_what_a_can_needs_and_no_more(self):
        tin = CAMERA | {"back": "can", "focal_mm": "66", "size": "5x7 in", "cut": "178x120"}
        for field, bad, words in (
            ("offset_mm", "far", "must be a number"),
            ("height_mm", "100", "would stick out of 100 mm"),
        ):
            self.beside(
                "/kit/camera/new/", tin | {field: bad}, field, words, [Camera, Holder], "178x120"
            )
        left_over = {"marked_f_number": "wide", "extension_mm": "x", "body_mm": "?"}
        self.client.post("/kit/camera/new/", tin | left_over | {"height_mm": "150"})
        can = Camera.objects.get(name=CAMERA["name"])
        # It stands on the floor, 60 mm up in its middle; the hole is at half of 150.
        self.assertEqual((can.height_mm, can.offset_mm), (150, -15))
        page = self.client.get("/kit/camera/new/", tin | {"height_mm": "150"})
        self.assertContains(page, "49 degrees above the axis and 34 below")
        self.assertEqual((can.visible_width_mm, can.visible_height_mm), (178, 120))

    def test_kit(self):
        for url, good, rows, model in (
            ("/kit/camera/new/", CAMERA, BAD_CAMERA, Camera),
            ("/kit/paper/new/", PAPER, BAD_PAPER, Paper),
        ):
            for field, bad, words in rows:
                with self.subTest(url=url, field=field, typed=bad):
                    keeps = "fibre" if field == "name" or model is Paper else "Wedge"
                    keeps = "0.33" if field == "name" else keeps
                    self.beside(url, good | {field: bad}, field, words, [model, Holder], keeps)
            self.assertEqual(self.client.post(url, good).status_code, 302)
        self.beside(
            "/kit/developer/new/",
            {"name": "x", "parts": "0", "usual_s": "1m"},
            "parts",
            "between 0.1",
            [Developer],
            "1m",
        )
        # Beside minutes a number alone is minutes.
        self.client.post("/kit/developer/new/", {"name": "soup", "usual_s": "2"})
        self.assertEqual(Developer.objects.get(name="soup").usual_s, 120)
        box = {
            "name": "b",
            "paper": self.paper.pk,
            "size": "4x5 in",
            "sheets": "25",
            "opened_on": "2026-05-01",
        }
        for field, bad, words in (
            ("sheets", "2.5", "whole number"),
            ("sheets", "0", "between 1 and 5000"),
            ("made_in", "19", "between 1900"),
            ("opened_on", "May", "valid date"),
        ):
            self.beside("/kit/box/new/", box | {field: bad}, field, words, [Box], "4x5 in")
        self.beside(
            "/kit/holder/new/",
            {"name": "9", "size": "huge"},
            "size",
            "written like",
            [Holder],
            "huge",
        )

    def test_paper_that_cannot_lie_in_a_can(self):
        tin = CAMERA | {"back": "can", "focal_mm": "66", "size": "8x10 in"}
        for cut, words in (
            ("250x200", "circumference of 207 mm"),
            ("200x150", "cover the hole: trim 5 mm"),
        ):
            self.beside(
                "/kit/camera/new/", tin | {"cut": cut}, "cut", words, [Camera, Holder], "0.33"
            )
        arc = tin | {"back": "arc", "focal_mm": "50", "cut": "180x100"}
        self.beside("/kit/camera/new/", arc, "cut", "half turn of 157 mm", [Camera], "0.33")
        self.assertEqual(
            self.client.post(
                "/kit/camera/new/", tin | {"cut": "178x120", "visible": "178x120"}
            ).status_code,
            302,
        )
        live = {"HX-Request": "true"}
        drawn = self.client.get(
            "/kit/camera/new/",
            tin | {"name": "", "cut": "178x120", "visible": "178x120"},
            headers=live,
        )
        self.assertContains(drawn, "155 degrees across")
        self.assertContains(
            self.client.get("/kit/camera/new/", {"focal_mm": "x"}, headers=live),
            "drawn here as you type",
        )

    def test_can_and_meter(self):
        good = {"diameter_mm": "66", "can_height_mm": "150", "sheet": "5x7 in"}
        found = self.client.get("/kit/can/", good)
        # 177.8 / 66 radians are 154 degrees (closed form); the other way round 27.8 mm come off the
        # height.
        for words in (
            "sees 154° across",
            "Nothing to trim",
            "27.8 mm</strong> of the height",
            "cut=177.8x127",
        ):
            self.assertContains(found, words)
        for field, bad, words in (
            ("diameter_mm", "0", "between 15 and 2000 mm"),
            ("sheet", "large", "written like"),
            ("hole_up_mm", "200", "above the can&#39;s 150 mm"),
        ):
            self.assertContains(self.client.get("/kit/can/", good | {field: bad}), words)
        made = self.client.get(
            "/kit/camera/new/?back=can&focal_mm=66&cut=177.8x127&loads_directly=on"
        )
        self.assertContains(made, 'value="177.8x127"')
        meter = {"name": "m", "kind": "hand", "lowest_iso": "0", "last_f_number": "f/128"}
        self.beside("/kit/meter/new/", meter, "lowest_iso", "between 0.1", [Meter], "f/128")
        self.client.post("/kit/meter/new/", meter | {"lowest_iso": "ISO 100"})
        page = self.client.get("/plan/", typed(self.camera, self.paper))
        # f/300 and EI 6 at f/128 and ISO 100, by hand: 5.493 x 100 / 6 = 91.6.
        self.assertContains(page, "M: set ISO 100, read at f/128, and multiply by 91.6.")

    def test_what_is_needed_at_least(self):
        page = self.client.get(
            "/kit/needs/", {"price_tank": "40", "price_bag": "25", "price_trays": "9"}
        )
        names = [offer.way.name for offer in page.context["offers"]]
        self.assertEqual(
            (names[0], names[-1]), ("drum, loaded in the dark", "tank, loaded in a bag")
        )
        # 40 to 100 ml serve two 4x5 sheets in a drum (common practice), so 20 to 50 ml one.
        self.assertContains(page, "20 to 50 ml")
        self.assertContains(page, '65 <span class="aside">7 things without a price')
        film = self.client.get("/kit/needs/", {"film": "on", "place": "none"})
        self.assertNotContains(film, "Trays")
        for height, words in (
            ("150", "fits the tank"),
            ("90", "does not fit that tank: it needs 102 mm"),
        ):
            self.assertContains(
                self.client.get(
                    "/kit/needs/", {"tank_height_mm": height, "tank_diameter_mm": "85"}
                ),
                words,
            )
        for field, bad, words in (
            ("sheet", "big", "written like"),
            ("price_paper", "-1", "between 0 and"),
            ("place", "moon", "valid"),
        ):
            wrong = self.client.get("/kit/needs/", {field: bad})
            self.assertContains(wrong, words)
            self.assertContains(wrong, "Something is missing")

    def test_room(self):
        page = self.client.get("/kit/room/?dioptres=1")
        # 7 mm at 3.5 m is f/500; at EI 6 in EV 14.8 by hand 500^2 / 2^14.8 x 100 / 6 = 146 s.
        for words in ("The picture is f/500", "4.04 m wide", "about 2:30", "sharp at 1 m, f/140"):
            self.assertContains(page, words)
        for field, bad, words in (
            ("hole_mm", "0", "between 0.5 and 100 mm"),
            ("throw_m", "far", "must be a number"),
            ("dioptres", "0", "between 0.25 and 20 dioptres"),
        ):
            wrong = self.client.get("/kit/room/", {field: bad})
            self.assertContains(wrong, words)
            self.assertContains(wrong, "Something is missing or wrong")

    def test_plan(self):
        for field, bad, words, more in BAD_PLAN:
            with self.subTest(field=field, typed=bad):
                data = typed(
                    self.camera,
                    self.paper,
                    subject="slipway",
                    side=f"{self.holder.pk}A",
                    open="",
                    **more,
                ) | {field: bad}
                if bad == "6h":
                    data |= {"meter_f": "100"}
                self.beside("/plan/", data, field, words, [Sheet, Exposure, Shot], "slipway")

    def test_while_typing_wrong_is_said_and_empty_is_not(self):
        page = {"HX-Request": "true"}
        live = self.client.get(
            "/plan/", typed(self.camera, self.paper, seconds="soon"), headers=page
        )
        self.assertContains(live, "That is not a time")
        quiet = self.client.get("/plan/", typed(self.camera, self.paper, seconds=""), headers=page)
        self.assertNotContains(quiet, "required")
        other = self.client.get("/plan/", typed(self.camera, self.paper, lux="dim"), headers=page)
        self.assertContains(other, "Open Plank for 11 s")

    def test_exposed_side_is_refused_beside_its_field(self):
        exposure = opened(self.camera, self.paper, self.holder)
        flows.close_hole(exposure)
        data = typed(self.camera, self.paper, side=f"{self.holder.pk}A", open="", subject="again")
        self.beside("/plan/", data, "side", "double exposure", [Exposure, Sheet], "again")
        Holder.objects.all().update(size="8x10 in")
        self.beside(
            "/plan/",
            data | {"side": ""},
            "side",
            "No side is free for 4x5 in",
            [Exposure, Sheet],
            "again",
        )

    def test_bag_developer_and_verdict(self):
        exposure = opened(self.camera, self.paper, self.holder)
        flows.close_hole(exposure)
        load = {"paper": self.paper.pk, "sides": [f"{self.holder.pk}B"], "code": "S-002"}
        for field, bad, words in (
            ("code", "S-001", "already pencilled"),
            ("code", "<b>", "letters, figures"),
            ("sides", [f"{self.holder.pk}A"], "not empty"),
            ("sides", [], "Tick at least one side"),
            ("paper", "999", "valid choice"),
        ):
            self.beside("/expose/", load | {field: bad}, field, words, [Sheet], "Code to pencil")
        run = {
            "sheets": exposure.sheet_id,
            "developer": self.developer.pk,
            "parts": "10",
            "seconds": "1m",
            "remarks": "rocked",
        }
        for field, bad, words in (
            ("seconds", "3h", "at most 2 h"),
            ("parts", "-1", "between 0.1"),
            ("temperature_c", "200", "between 2 and 60 °C"),
        ):
            self.beside("/develop/", run | {field: bad}, field, words, [Verdict], "rocked")
        self.assertContains(
            self.client.post("/develop/", run | {"sheets": []}),
            "Tick at least one",
            status_code=422,
        )
        self.client.post("/develop/", run)
        for field, bad, words in (
            ("stops_more", "9", "between -6 and 6"),
            ("look", "", "Choose how the sheet looks"),
        ):
            self.beside(
                "/read/S-001/", {"remarks": "hm", field: bad}, field, words, [Verdict], "hm"
            )

    def test_addresses_that_lead_nowhere(self):
        opened(self.camera, self.paper, self.holder)
        huge = 10**30
        for url, status in (
            ("/nowhere/", 404),
            ("/kit/dragon/new/", 404),
            (f"/kit/camera/{huge}/", 404),
            (f"/expose/{huge}/", 404),
            ("/sheets/X-1/", 404),
            ("/learn/9/", 404),
            ("/read/S-001/", 409),
            ("/plan/9/", 404),
            ("/sheets/?page=zzz&q=%00%27%25", 200),
            ("/plan/?camera=x&side=q&kind=7", 200),
            (f"/plan/?camera={huge}&paper=-1&school=x&ei_from=y&seconds=%00", 200),
            ("/develop/?sheet=%F0%9F%94%A5", 200),
            ("/expose/1/explode/", 404),
            ("/develop/of/S-001/", 200),
            ("/read/of/S-001/", 200),
            ("/plan/?seconds=²&kind=seconds", 200),
        ):
            with self.subTest(url):
                self.assertEqual(self.client.get(url).status_code, status)
        for url, data, status in (
            ("/expose/1/reopen/", {}, 409),
            ("/expose/1/slip/", {"slip": "x"}, 409),
            ("/learn/9/answer/", {}, 404),
            ("/dress/", {"next": "//evil.example"}, 302),
            ("/sheets/S-001/give-up/", {"stage": "lost"}, 409),
            ("/kit/holder/1/retire/", {}, 302),
            ("/plan/", {"side": "\0", "kind": "\0"}, 422),
        ):
            with self.subTest(url):
                self.assertEqual(self.client.post(url, data).status_code, status)
        self.assertEqual(self.client.post("/dress/", {"next": "//evil.example"})["Location"], "/")
        self.assertEqual(self.client.get("/expose/1/close/").status_code, 405)

    def test_numbers_at_their_permitted_ends_are_computable_by_everything_that_reads_them(self):
        place = {
            "name": "x",
            "latitude_deg": "57",
            "longitude_deg": "19",
            "zone": "Europe/Stockholm",
        }
        self.client.post("/plan/places/new/", place)
        wrong = self.client.post("/plan/places/1/", place | {"longitude_deg": "east", "zone": ""})
        self.assertContains(wrong, "must be a number", status_code=422)
        steep = self.client.post("/kit/paper/new/", PAPER | {"table": "1s 2s\n1.01s 40s"})
        self.assertContains(steep, "it grows with the power", status_code=422)
        bent = CAMERA | {"back": "arc", "focal_mm": "50", "cut": "150x100", "visible": "170x90"}
        self.assertEqual(self.client.post("/kit/camera/new/", bent).status_code, 422)
        self.assertEqual(
            self.client.get("/kit/camera/new/", bent, headers={"HX-Request": "true"}).status_code,
            200,
        )
        self.client.post(
            "/kit/paper/new/", PAPER | {"exponent": "3", "school": "power", "onset_s": "0.0001"}
        )
        exposure = opened(self.camera, self.paper, self.holder)
        changed = PAPER | {"name": "grade-2 RC", "kind": "solargraph"}
        told = self.client.post(f"/kit/paper/{self.paper.pk}/", changed)
        self.assertContains(told, "add another paper instead", status_code=422)
        again = {"kind": "seconds", "seconds": "24h", "meter_f": "1", "meter_iso": "6"}
        with clock.at(clock.now() + timedelta(seconds=1)):
            self.client.post(f"/expose/{exposure.pk}/reading/", again)
            page = self.client.get(f"/expose/{exposure.pk}/")
        for words in ("no end comes within a day", "no end is in sight", "Close the hole"):
            self.assertContains(page, words, html=False)
        self.client.post(f"/expose/{exposure.pk}/close/")
        self.assertContains(self.client.get(f"/expose/{exposure.pk}/"), "Slide is in")
        # A day that its zone left out when it crossed the date line.
        Place.objects.update(zone="Pacific/Apia", latitude_deg=-13.8, longitude_deg=-171.8)
        self.assertEqual(self.client.get("/plan/places/1/?day=2011-12-30").status_code, 200)
        day = {"name": "gone", "place": 1, "day": "2011-12-30", "sky": "haze", "wind": "still"}
        self.assertContains(self.client.post("/plan/outings/new/", day, follow=True), "no shot yet")

    def test_json_that_nobody_can_keep_or_compute_is_no_json_at_any_door(self):
        place = Place.objects.create(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6)
        outing = Outing.objects.create(
            name="out", place=place, day=clock.now().date(), made_at=clock.now()
        )
        for value in ("1e999", "-1e400", "NaN", "9" * 400, str(2**63), r'"\ud800"', "[" * 9000):
            text = f'{{"format": {value}, "parts": {{"ei": {value}}}, "typed": {value}}}'
            with self.subTest(value[:20]):
                with self.assertRaises(ValueError):
                    plain_json.loads(text)
                hidden = {"shown": text, "rated": f'{{"{self.paper.pk}": [{value}]}}'}
                page = self.client.get("/plan/", typed(self.camera, self.paper) | hidden)
                self.assertEqual(page.status_code, 200)
                for url, field in (
                    ("/data/", "log"),
                    ("/data/places/bring/", "places"),
                    (f"/plan/outings/{outing.pk}/pocket/", "file"),
                ):
                    upload = SimpleUploadedFile("x.json", text.encode())
                    answer = self.client.post(url, {field: upload}, follow=True)
                    if waits := logs.waiting():
                        # A log is looked through beside the server.
                        logs.work(waits, lambda: None)
                        answer = self.client.get(answer.request["PATH_INFO"])
                    self.assertContains(answer, "JSON", status_code=answer.status_code)
                    self.assertLess(answer.status_code, 500, url)
        for fine in (
            r'["\ud83d\ude00", -9223372036854775807, 1.5, null, true]',
            b'{"a": "\xc3\xa5"}',
        ):
            self.assertEqual(plain_json.loads(fine), json.loads(fine))
