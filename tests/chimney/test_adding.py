"""A thing that is missing is added where it is needed: nothing that was typed is lost on the way,
and the way back leads nowhere else.
"""

import re
from html import unescape
from urllib.parse import urlencode

from chimney.field.models import Outing
from chimney.kit.models import Camera, Holder, Paper
from chimney.logbook import flows as logbook
from chimney.parts import clock
from chimney.places.models import Place
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase
from tests.chimney.test_bad_input import CAMERA, PAPER

PLACE = {"name": "Far Quay", "latitude_deg": "57.1", "longitude_deg": "19.6"}
PLACE |= {"elevation_m": "3", "zone": "Europe/Stockholm"}
# What may be added, as each kind is typed.
TYPED = {
    "/kit/camera/new/": CAMERA,
    "/kit/paper/new/": PAPER,
    "/kit/holder/new/": {"name": "7", "size": "4x5 in"},
    "/kit/developer/new/": {"name": "coffee", "usual_s": "5"},
    "/plan/places/new/": PLACE,
    "/develop/room/vessel/new/": {"name": "trays", "kind": "tray", "holds": "1"},
    "/develop/room/light/new/": {"name": "torch"},
}
ADD = re.compile(r'<a[^>]* data-add(?:="(\w*)")?\s+href="([^"]+)"')
# Fields that a form on the way carries: page, a field typed there, and what was typed.
WANTED = (
    ("/plan/", "seconds", "17"),
    ("/plan/outings/new/", "name", "A wet walk"),
    ("{outing}", "subject", "the lee of the kiln"),
    ("/plan/sun/", "tilt_deg", "17"),
    ("/expose/", "code", "R-700"),
    ("/develop/", "remarks", "stale soup"),
)


class Adding(TestCase):
    def setUp(self):
        self.camera, self.paper, _, holder = kit()
        logbook.close_hole(opened(self.camera, self.paper, holder))
        place = Place.objects.create(
            name="Quay", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm"
        )
        self.outing = Outing.objects.create(
            name="A day", place=place, day="2026-11-25", made_at=clock.now()
        )

    def links(self, url):
        return [
            (field, unescape(href))
            for field, href in ADD.findall(self.client.get(url).content.decode())
        ]

    def test_whatever_is_added_comes_back_chosen_and_all_else_as_it_was_typed(self):
        tried = set()
        for page, name, value in WANTED:
            url = page.format(outing=f"/plan/outings/{self.outing.pk}/")
            self.assertTrue(self.links(url), url)
            for field, href in self.links(url):
                with self.subTest(page=page, field=field):
                    form, _, known = href.partition("?")
                    there = {"then": f"{url}?{urlencode({name: value})}", "as": field}
                    self.assertContains(self.client.get(f"{form}?{known}&{urlencode(there)}"), name)
                    thing = TYPED[form] | {"name": f"{TYPED[form]['name']} {len(tried)}"}
                    back = self.client.post(form, thing | there, follow=True)
                    self.assertEqual(back.redirect_chain[0][0].split("?")[0], url)
                    tried.add((page, field))
                    html = back.content.decode()
                    self.assertIn(value, html)
                    # Chosen in a list, or among rows.
                    rows = rf'<(?:select|input[^>]*) name="{field}".*?(?:</select>|</fieldset>)'
                    chosen = re.search(rows, html, re.DOTALL)[0]
                    one = rf"(?s)(?:selected|checked)>(?:(?!</option|</label).)*{thing['name']}"
                    self.assertRegex(chosen, one)
        self.assertGreaterEqual(len(tried), 10)

    def test_the_way_back_leads_to_no_other_house(self):
        for there in (
            "https://elsewhere.example/",
            "//elsewhere.example/x",
            "javascript:x",
            "plan",
        ):
            page = self.client.get("/kit/paper/new/", {"then": there, "as": "paper"})
            self.assertNotContains(page, 'name="then"')
            kept = self.client.post("/kit/paper/new/", PAPER | {"then": there, "name": there[:9]})
            self.assertRedirects(kept, "/kit/")

    def test_without_script_the_page_before_is_the_way_back(self):
        before = {"Referer": "http://testserver/plan/?seconds=9"}
        page = self.client.get("/kit/paper/new/?as=paper", headers=before)
        self.assertContains(page, 'name="then" value="/plan/?seconds=9"')

    def test_another_camera_like_it_and_several_holders_at_once(self):
        self.camera.diameter_mm, self.camera.height_mm = 0.47, None
        self.camera.save()
        like = self.client.get(f"/kit/camera/new/?like={self.camera.pk}")
        self.assertContains(like, 'value="Plank 2"')
        self.assertContains(like, 'value="0.47"')
        start = {
            name: value
            for name, value in like.context["form"].initial.items()
            if value not in (None, False)
        }
        self.client.post("/kit/camera/new/", start)
        twin = Camera.objects.get(name="Plank 2")
        self.assertEqual((twin.measures, twin.body), (self.camera.measures, None))
        self.client.post("/kit/holder/new/", {"name": "1", "size": "4x5 in", "count": "4"})
        self.assertEqual(Holder.objects.count(), 1, "its name is taken")
        self.client.post("/kit/holder/new/", {"name": "2", "size": "4x5 in", "count": "4"})
        self.assertEqual(
            sorted(Holder.objects.values_list("name", flat=True)), ["1", "2", "3", "4", "5"]
        )

    def test_as_cut_and_visible_follow_the_sheet_until_they_are_typed(self):
        url = f"/kit/camera/{self.camera.pk}/"
        form = self.client.get(url).context["form"]
        self.assertEqual((form.initial["cut"], form.initial["visible"]), ("", ""))
        typed = CAMERA | {"name": "Plank", "size": "5x7 in"}
        self.client.post(url, typed)
        camera = Camera.objects.get(pk=self.camera.pk)
        self.assertEqual((camera.cut_width_mm, camera.cut_height_mm), (175.8, 125))
        self.assertEqual((camera.visible_width_mm, camera.visible_height_mm), (169.8, 119))
        self.client.post(url, typed | {"cut": "160x110"})
        camera = Camera.objects.get(pk=self.camera.pk)
        self.assertEqual((camera.visible_width_mm, camera.visible_height_mm), (154, 104))
        self.assertEqual(Paper.objects.count(), 1)

    def test_what_is_pulled_in_the_drawing_stands_in_the_fields(self):
        url, live = f"/kit/camera/{self.camera.pk}/", {"HX-Request": "true"}
        typed = {"name": "Plank", "back": "flat", "focal_mm": "150", "diameter_mm": "0.5"}
        typed |= {"size": "4x5 in"}
        still = self.client.get(url, typed, headers=live).context["typed"]
        layout = str(still.study.layout)
        scale, hole_x, hole_y = (float(part) for part in layout.split())
        for back, name, pulled, field, value in (
            ("flat", "depth", (hole_x + 100 * scale, 9), "focal_mm", "100"),
            ("arc", "depth", (hole_x + 40.26 * scale, 9), "focal_mm", "40.5"),
            ("lens", "depth", (hole_x + 180 * scale, 9), "extension_mm", "180"),
            ("flat", "sheet", (hole_x, hole_y - 88 * scale), "size", "5x7 in"),
            ("flat", "sheet", (hole_x, hole_y - 8 * scale), "size", "6x9 cm"),
        ):
            with self.subTest(back=back, name=name):
                lens = {"marked_f_number": "8"} if back == "lens" else {}
                asked = typed | lens | {"back": back, "frame": layout}
                asked |= {"dragged": f"{name} {pulled[0]:.1f} {pulled[1]:.1f} moving"}
                answer = self.client.get(url, asked, headers=live).context["typed"]
                self.assertEqual(answer.form[field].value(), value)
                self.assertEqual(str(answer.study.layout), layout, "it grows under the hand")
                asked["dragged"] = asked["dragged"].removesuffix(" moving")
                answer = self.client.get(url, asked, headers=live).context["typed"]
                if name == "depth":
                    self.assertNotEqual(str(answer.study.layout), layout, "and fits when let go")
        self.assertEqual(Camera.objects.get().focal_mm, 150)
        for nonsense in ("depth 1e9 0", "sheet -999 -999", "hole 0 0", "hole 360 0", "other 1 1"):
            for frame in (layout, "", "0 0 0", "nan nan nan", "1 2"):
                asked = typed | {"dragged": nonsense, "frame": frame}
                self.assertEqual(self.client.get(url, asked, headers=live).status_code, 200)
