"""Each main view, wide and narrow, by day, at night and in dark-room dress."""

import base64
import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from chimney.darkroom.models import Run, SafeLight
from chimney.field.models import Shot
from chimney.logbook.models import Opening, Sheet
from chimney.parts import clock
from chimney.results.models import Scan
from chimney.solar.models import Solargraph
from demo import year as demo
from tests import years
from tests.browser.stage import DESK, PHONE, UNTOUCHED_MS, Stage
from tests.chimney.test_photo import brought
from tests.pinhole.test_hole import plate
from tests.runner import MORNING

STAGES = ("out", "home", "scanned")
VIEWS = (
    "/",
    "/kit/",
    "/kit/camera/1/",
    "/kit/room/?dioptres=1",
    "/kit/needs/",
    "/kit/can/",
    "/kit/camera/1/hole/",
    "/kit/can/?diameter_mm=66&can_height_mm=150&sheet=5x7+in",
    "/kit/paper/new/",
    "/plan/",
    "/plan/?seconds=4&camera=1",
    "/begin/minutes/",
    "/begin/room/",
    "/expose/row/",
    "/read/wrong/?looks=pale&short_in=no&low_sun=yes",
    "/plan/?seconds=4m&sheets=bracket&azimuth_deg=N&darkest=1h&brightest=1m&kind=seconds&reckon=on",
    "/plan/?seconds=30&sheets=strip&bands=3&kind=seconds",
    "/plan/together/",
    "/plan/together/?kind=seconds&seconds=4&meter_f=128&meter_iso=6&ev_iso=100&sky=sun&height=high",
    "/plan/outings/",
    "{outing}",
    "{outing}packing/",
    "{outing}notebook/",
    "{outing}pocket/",
    "{shot}",
    "/plan/outings/new/",
    "/plan/places/",
    "/plan/sun/",
    "/plan/sun/?view=negative&tilt_deg=x",
    "/plan/year/?azimuth_deg=NW&day=2027-03-13&hour=14:30",
    "/plan/year/?azimuth_deg=NW&night=moon&over=nothing",
    "/plan/today/",
    "/plan/photo/",
    "{photo}",
    "/plan/practice/?given_s=2m",
    "/plan/practice/?given_s=2m&developed=on",
    "/plan/practice/?given_s=2m&judged=1",
    "/plan/sun/season/?azimuth_deg=180",
    "/expose/cans/round/",
    "/expose/cans/",
    "{can_out}",
    "{can_home}",
    "{can_scanned}",
    "{can_planned}",
    "{place}",
    "/plan/places/new/?find=malmo",
    "{reread}",
    "/expose/",
    "/expose/packet/",
    "{timer}",
    "{closed}",
    "/develop/",
    "/develop/mix/",
    "/develop/mix/?what=salt",
    "{run}",
    "/develop/place/",
    "/develop/room/",
    "/develop/room/bath/new/",
    "/develop/room/vessel/new/",
    "{lamp}test/",
    "/develop/process/rc-trays/",
    "/develop/process/reversal-camera/change/",
    "/develop/process/coffee-fix/clock/",
    "{print}",
    "/develop/mix/?what=coffee&soda_g=18&vessel=tank&tablet_mg=500",
    "/read/",
    "/read/scans/",
    "{scan}",
    "{compare}",
    "/read/trainer/",
    "/read/faults/",
    "/sheets/?view=pictures",
    "{can_scanned}stood/",
    "{pictured}",
    "{judge}",
    "{sheet}",
    "/learn/",
    "/data/",
    "/learn/1/",
    "/learn/search/",
    "/learn/notebook/",
    "{year}",
    "{scan}wedge/",
    "/sheets/",
    "/keys/",
    "/nowhere/",
)


# Rules of axe that ask for colours.
OF_COLOURS = ("color-contrast", "link-in-text-block")


class Shown(Stage):
    """The demo's views, one after the other."""

    def setUp(self):
        with clock.at(MORNING):
            years.a_year(scans=3, cans=True)
        scan = Scan.objects.exclude(sheet=None).first()
        timers = Opening.objects.order_by("-pk")
        cans = Solargraph.objects.order_by("pk")
        shot = Shot.objects.exclude(outing=None).first()
        self.found = {
            "timer": f"/expose/{timers.filter(closed_at=None).first().exposure_id}/",
            "reread": f"/expose/{timers.filter(closed_at=None).first().exposure_id}/reading/",
            "outing": f"/plan/outings/{shot.outing_id}/",
            "shot": f"/plan/outings/{shot.outing_id}/shot/{shot.pk}/",
            "place": f"/plan/places/{shot.outing.place_id}/",
            "photo": f"/plan/photo/{brought().pk}/",
            "can_planned": f"/expose/cans/{cans.get(sheet=None).pk}/",
            **{
                f"can_{stage}": f"/expose/cans/{cans.filter(sheet__stage=stage).first().pk}/"
                for stage in STAGES
            },
            "closed": f"/expose/{timers.exclude(closed_at=None).first().exposure_id}/",
            "run": f"/develop/run/{Run.objects.filter(timed=True).first().pk}/",
            "lamp": f"/develop/room/light/{SafeLight.objects.get().pk}/",
            "print": f"/develop/print/{Sheet.objects.filter(stage='read').last()}/",
            "compare": "/read/compare/?"
            + "&".join(f"s={s.sheet}" for s in Scan.objects.all()[1:4]),
            "scan": f"/read/scans/{scan.pk}/",
            "pictured": f"/sheets/{scan.sheet}/",
            "year": f"/learn/year/{clock.now().year}/",
            "judge": f"/read/{Sheet.objects.filter(stage='developed').first()}/",
            "sheet": f"/sheets/{Sheet.objects.filter(stage='read').first()}/",
        }
        # The ids of the kit are those of this database.
        self.ids = {
            "/camera/1/": f"/camera/{demo.Camera.objects.first().pk}/",
            "/learn/1/": f"/learn/{demo.Lesson.objects.first().pk}/",
        }

    def each(self, page):
        for view in VIEWS:
            address = view.format(**self.found)
            for one, here in self.ids.items():
                address = address.replace(one, here)
            page.goto(address)
            self.wait_until_quiet(page, UNTOUCHED_MS)
            yield address

    def picture_of(self, page):
        """All of it as it is drawn, beyond the screen too. Packed quickly rather than small: it is
        only looked at once.
        """
        size = page.evaluate(
            "(({ scrollWidth, scrollHeight }) => [scrollWidth, scrollHeight])"
            "(document.documentElement)"
        )
        clip = {"x": 0, "y": 0, "width": size[0], "height": size[1], "scale": 1}
        browser = page.context.new_cdp_session(page)
        taken = browser.send(
            "Page.captureScreenshot",
            {"clip": clip, "captureBeyondViewport": True, "optimizeForSpeed": True},
        )
        browser.detach()
        return np.asarray(Image.open(io.BytesIO(base64.b64decode(taken["data"]))).convert("RGB"))

    def assert_red_and_black(self, page, address):
        # Its markup is that of the other dress; what differs is how it looks.
        self.assert_accessible(page, f"{address} in the dark room", OF_COLOURS)
        picture = self.picture_of(page)
        self.assertEqual(picture[..., 1:].max(), 0, f"{address} shines green or blue")
        self.assertGreater(picture[..., 0].max(), 0xEA, address)


class Views(Shown):
    def test_dark_room_dress_is_red_and_black_and_nothing_else(self):
        with self.page(expected_status=[404]) as page:
            page.goto("/develop/")
            page.keyboard.press("r")
            expect(page.get_by_role("note").first).to_contain_text("no tested safelight")
            self.assert_accessible(page, "in the dark-room dress")
            self.assertEqual(
                page.evaluate("getComputedStyle(document.body).backgroundColor"), "rgb(0, 0, 0)"
            )
            for view in ("/", "{timer}", "{run}", "/develop/mix/", "{scan}", "/plan/sun/"):
                page.goto(view.format(**self.found))
                self.wait_until_quiet(page, UNTOUCHED_MS)
                self.assert_red_and_black(page, view)
            page.get_by_role("button", name="Back to daylight").click()
            expect(page.locator("html")).to_have_attribute("data-dress", "day")

    def test_keys_work_rest_while_typing_and_can_be_switched_off(self):
        with self.page() as page:
            page.goto("/")
            for key, address in (
                ("1", "/kit/"),
                ("3", "/expose/"),
                ("n", "/plan/"),
                ("0", "/"),
                ("?", "/keys/"),
                ("/", "/sheets/"),
            ):
                page.locator("h1").click()
                page.keyboard.press(key)
                page.wait_for_url(f"**{address}**")
            page.keyboard.type("n1")
            self.assertEqual(page.locator("#find").input_value(), "n1")
            page.goto("/plan/")
            page.locator("h1").click()
            page.keyboard.press("m")
            expect(page.get_by_label("reads")).to_be_focused()
            page.goto("/keys/")
            page.get_by_label("Keys are on").uncheck()
            page.locator("h1").click()
            page.keyboard.press("1")
            page.wait_for_timeout(150)
            self.assertIn("/keys/", page.url)

    def test_it_works_without_script(self):
        with self.page(java_script_enabled=False) as page:
            page.goto("/plan/")
            page.get_by_label("reads").fill("4")
            page.get_by_label("reads").press("Enter")
            expect(page.locator(".tile-answer")).to_be_visible()
            page.locator(".answer .act-big").click()
            page.get_by_role("button", name="Close the hole").click()
            expect(page.locator(".digits")).to_contain_text("free for")
            page.goto(self.found["sheet"])
            page.get_by_role("link", name="Its verdict").click()
            expect(page.locator("h2").first).to_contain_text(re.compile("next time|same again"))

    def test_a_first_visit_asks_for_few_things_and_nothing_moves_when_they_come(self):
        moved = (
            "window.moved = 0; new PerformanceObserver((list) => { for (const one of "
            "list.getEntries()) window.moved += one.value; })"
            ".observe({ type: 'layout-shift', buffered: true });"
        )
        for viewport in (DESK, PHONE):
            for url in ("/", "/sheets/?view=pictures"):
                first = self.page(viewport, fresh=True)
                with self.subTest(url, wide=viewport["width"]), first as page:
                    asked = []
                    page.on("request", lambda request, asked=asked: asked.append(request.url))
                    page.add_init_script(moved)
                    page.goto(url)
                    page.wait_for_load_state("networkidle")
                    pictures = [one for one in asked if one.endswith("stamp.jpg")]
                    self.assertLessEqual(len(asked) - len(pictures), 7, asked)
                    # A slow machine may draw once before the fonts are there.
                    self.assertLess(page.evaluate("window.moved"), 0.1)

    def test_the_bar_of_a_day_begins_where_something_is_to_come(self):
        with self.page(PHONE) as page:
            page.goto(self.found["outing"])
            first = page.locator(".day-glass [data-handle]").first.bounding_box()
            self.assertTrue(0 < first["x"] < 200, first)

    def test_a_tile_says_its_source_to_a_thumb_and_the_time_is_said_aloud(self):
        with self.page(PHONE, has_touch=True) as page:
            page.goto(f"/plan/?seconds=4&kind=seconds&camera={demo.Camera.objects.first().pk}")
            tile, says = page.locator(".tile-camera label"), page.locator(".says-camera").first
            expect(says).to_be_hidden()
            tile.tap()
            expect(says).to_be_visible()
            expect(page.get_by_role("group", name="Which camera")).to_be_visible()
            self.assertIn("/plan/", page.url)
            page.locator(".tile-reading label").tap()
            page.get_by_label("reads").fill("9")
            expect(page.locator("#said")).to_contain_text("Open ")
            expect(page.locator("#said")).to_have_text(page.locator("h1").inner_text())
            # What was typed is answered meanwhile, and the tile stays open for its second tap.
            expect(page.locator("#plan.htmx-request")).to_have_count(0)
            tile.tap()
            says.get_by_role("link").tap()
            expect(page).to_have_url(re.compile("/kit/camera/"))

    def test_depth_hole_and_sheet_of_a_camera_are_dragged(self):
        with self.page() as page:
            page.goto(f"/kit/camera/{demo.Camera.objects.get(name='Plank').pk}/")
            for handle, field, by in (
                ("Depth", "Depth: hole to paper", (40, 0)),
                ("Hole", "Pinhole", (50, 0)),
                ("Sheet", "Sheet, nominal", (0, -45)),
            ):
                typed = page.get_by_role("textbox", name=field, exact=True)
                before = typed.input_value()
                grip = page.get_by_role("slider", name=handle, exact=True)
                with self.dragged(page, grip, *by):
                    # While it is in the hand the field moves along.
                    expect(typed).not_to_have_value(before)
            expect(page.get_by_label("Marked f/")).to_be_hidden()
            page.get_by_label("Back", exact=True).select_option("lens")
            expect(page.get_by_label("Marked f/")).to_be_visible()
            expect(page.get_by_label("Pinhole", exact=True)).to_be_hidden()

    def test_a_key_there_and_a_key_back_leave_a_handle_where_it_was(self):
        state = """() => [...document.querySelectorAll("main form")].flatMap((form) =>
          [...new FormData(form)].filter(([name, value]) => typeof value === "string"
            && !/^(csrf|dragged|frame|shown|layout)/.test(name)).map((one) => one.join("=")))"""
        plank = demo.Camera.objects.get(name="Plank").pk
        for url in (
            f"/kit/camera/{plank}/",
            "/plan/sun/",
            self.found["outing"],
            self.found["scan"],
        ):
            with self.page() as page:
                page.goto(url)
                self.wait_until_quiet(page)
                names = page.locator("[data-handle]").evaluate_all(
                    "all => [...new Set(all.map((one) => one.dataset.handle))]"
                )
                for name in [*names[:2], names[-1]]:
                    grip, was = page.locator(f'[data-handle="{name}"]').first, page.evaluate(state)
                    says = grip.get_attribute("aria-valuetext")
                    grip.focus()
                    for there, back in (
                        ("ArrowRight", "ArrowLeft"),
                        ("ArrowDown", "ArrowUp"),
                    ):
                        for key in (there, back):
                            page.keyboard.press(key)
                            self.wait_until_quiet(page)
                    with self.subTest(url, handle=name):
                        self.assertEqual(page.evaluate(state), was)
                        self.assertEqual(grip.get_attribute("aria-valuetext"), says)

    def test_a_paper_is_added_from_the_plan_and_nothing_typed_is_lost(self):
        with self.page() as page:
            page.goto("/plan/")
            page.get_by_label("Subject").fill("net loft")
            page.get_by_label("reads").fill("7")
            page.locator(".tile-paper label").click()
            papers = page.locator(".field", has=page.locator("#id_paper"))
            papers.get_by_role("link", name="Add one").click()
            page.get_by_label("Name").fill("chlorobromide RC")
            page.get_by_label("Starting EI").fill("9")
            page.get_by_role("button", name="Keep it").click()
            expect(page.locator("#id_paper option:checked")).to_have_text("chlorobromide RC")
            expect(page.get_by_label("Subject")).to_have_value("net loft")
            expect(page.get_by_label("reads")).to_have_value("7")

    def test_a_ruler_in_the_picture_is_marked_by_two_taps(self):
        picture = np.pad(plate(0.38, 0.38, 2400).astype(np.uint8), (60, 60), constant_values=40)
        scan = io.BytesIO()
        Image.fromarray(picture).save(scan, "PNG")
        with self.page() as page:
            page.goto(f"/kit/camera/{demo.Camera.objects.first().pk}/hole/")
            page.get_by_label("Scan or photo").set_input_files(
                {"name": "scan.png", "mimeType": "image/png", "buffer": scan.getvalue()}
            )
            ruler = page.locator("[data-ruler]")
            expect(ruler).to_be_visible()
            box = ruler.locator("svg").bounding_box()
            shown = box["width"] / picture.shape[1]
            # Two taps 100 pixels of the picture apart: at 2400 to the inch 1.0583 mm.
            for x in (40, 140):
                page.mouse.click(box["x"] + x * shown, box["y"] + 30 * shown)
            pixels = page.get_by_label("are so many pixels")
            self.assertAlmostEqual(float(pixels.input_value()), 100, delta=1)
            before = float(pixels.input_value())
            ruler.get_by_role("button", name="Second mark").press("ArrowRight")
            self.assertAlmostEqual(float(pixels.input_value()), before + 1, delta=0.11)
            page.get_by_label("or so many mm").fill("1.0583")
            page.get_by_role("button", name="Measure").click()
            expect(page.locator("h1")).to_contain_text(re.compile(r"0\.3[78]"))

    def test_the_edge_of_a_hole_is_dragged_where_it_was_missed(self):
        scan = io.BytesIO()
        Image.fromarray(plate(0.38, 0.38, 2400).astype(np.uint8)).save(
            scan, "PNG", dpi=(2400, 2400)
        )
        with self.page() as page:
            page.goto(f"/kit/camera/{demo.Camera.objects.first().pk}/hole/")
            page.get_by_label("Scan or photo").set_input_files(
                {"name": "scan.png", "mimeType": "image/png", "buffer": scan.getvalue()}
            )
            page.get_by_role("button", name="Measure").click()
            sheets = page.locator(".hole-found .glass > *")
            boxes = [sheets.nth(n).bounding_box() for n in range(sheets.count())]
            self.assertEqual(boxes, [boxes[0]] * 3)
            width = page.locator("#hole-found").get_by_label("Pinhole")
            expect(width).to_have_value(re.compile(r"0\.3[78]"))
            before = width.input_value()
            first = page.get_by_role("slider", name="Edge point 1", exact=True)
            with self.dragged(page, first, 40, 0):
                expect(width).not_to_have_value(before)
            # The heading says what the field has, once the last answer is there.
            said = float(re.match(r"[\d.]+", page.locator("h1").inner_text())[0])
            self.assertAlmostEqual(said, float(width.input_value()), delta=0.001)
            self.assertNotEqual(width.input_value(), before)
            grip = page.get_by_role("slider", name="Edge point 4", exact=True)
            grip.focus()
            before, stood = width.input_value(), float(grip.get_attribute("data-y"))
            # The answer to the first key comes while the others are pressed, and takes none away.
            held = []
            page.route(re.compile("outline"), lambda route: held.append(route), times=1)
            for _ in range(4):
                page.keyboard.press("ArrowDown")
            self.assert_comes_to(page, 1, lambda: len(held))
            with page.expect_response(re.compile("outline")):
                held[0].continue_()
            for _ in range(4):
                page.keyboard.press("ArrowDown")
            self.wait_until_quiet(page)
            step = float(grip.get_attribute("data-step"))
            self.assertAlmostEqual(float(grip.get_attribute("data-y")), stood + 8 * step, delta=0.5)
            expect(width).not_to_have_value(before)
