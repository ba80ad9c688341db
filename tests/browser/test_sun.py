"""A solargraph as a person does it: planned, dragged, read, put out, looked after, brought home,
scanned.
"""

import re

from django.test import override_settings
from playwright.sync_api import expect

from chimney.kit import flows as kit
from chimney.kit.models import Camera, Paper
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.solar.models import Solargraph
from demo.cans import CAN, SKYLINE
from tests.browser.stage import PHONE, Stage
from tests.chimney import kitchen

SLOW_ANSWERS = """() => {
  const send = XMLHttpRequest.prototype.send;
  XMLHttpRequest.prototype.send = function (body) { setTimeout(() => send.call(this, body), 300); };
}"""

# The drawing's width in its own units and on the screen; where the pointer is, a hair aside.
SIZES = """() => {
  const sky = document.getElementById('sky').closest('svg') || document.querySelector('#sky svg');
  return [sky.viewBox.baseVal.width, sky.getBoundingClientRect().width];
}"""
LAST_PLACE = "() => [window.pointer[0] + 1, window.pointer[1]]"


@override_settings(FROZEN_NOW="2026-11-24T11:00:00+00:00")
class Sun(Stage):
    def setUp(self):
        where = {"latitude_deg": 57.1, "longitude_deg": 19.6, "zone": "Europe/Stockholm"}
        place_flows.keep(Place(name="Rauholm", horizon=SKYLINE, **where))
        kit.keep_camera(Camera(name="Can 3", **CAN), loads_directly=True)
        Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)

    def test_from_a_drag_to_the_one_scan(self):
        with self.page(expected_status=[422]) as page:
            self.plan(page)
            self.put_out(page)
            self.bring_home(page)

    def test_a_steady_hand_on_a_slow_machine_sees_the_drawing_follow(self):
        with self.page() as page:
            page.goto("/plan/sun/")
            self.wait_until_quiet(page)
            page.evaluate(SLOW_ANSWERS)
            box = page.get_by_role("slider", name="The can's direction").bounding_box()
            x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
            page.mouse.move(x, y)
            page.mouse.down()
            drawn = set()
            for step in range(40):
                page.mouse.move(x, y - 2 * step)
                page.wait_for_timeout(60)
                drawn.add(page.locator("#sky").get_attribute("aria-label"))
            page.mouse.up()
            self.wait_until_quiet(page)
        self.assertGreater(len(drawn), 3)

    def test_a_dragged_dot_goes_as_far_as_the_hand_though_the_page_jumps(self):
        with self.page() as page:
            page.goto("/plan/sun/")
            ring = page.get_by_role("slider", name="The can's direction")
            self.wait_until_quiet(page)
            before, (wide, across) = float(ring.get_attribute("data-y")), page.evaluate(SIZES)
            with self.dragged(page, ring, 0, -60):
                page.evaluate("document.querySelector('main').style.marginTop = '40px'")
                page.mouse.move(*page.evaluate(LAST_PLACE))
                risen = before - float(ring.get_attribute("data-y"))
        self.assertAlmostEqual(risen, 60 * wide / across, delta=1)

    def plan(self, page):
        page.goto("/plan/sun/")
        page.get_by_label("From", exact=True).fill("2026-12-21")
        page.get_by_label("To", exact=True).fill("2027-06-21")
        page.get_by_label("To", exact=True).blur()
        expect(page.locator("h1")).to_contain_text("noons over the top")
        ring = page.get_by_role("slider", name="The can's direction")
        with self.dragged(page, ring, 3, -60, steps=8):
            # Both drawings, the fields and the verdict follow.
            expect(page.get_by_label("Leans back")).not_to_have_value("0")
        expect(page.get_by_label("Leans back")).not_to_have_value("0")
        expect(page.locator("h1")).to_contain_text("Can 3 will keep the whole climb of the sun")
        expect(page.locator("#sky")).to_have_attribute(
            "aria-label", re.compile("leaning back [12]")
        )
        expect(page.locator("#paper")).to_have_attribute(
            "aria-label", re.compile("183 of 183 days")
        )
        before = page.get_by_label("Skyline: direction and height").input_value()
        dot = page.get_by_role("slider", name=re.compile("Skyline at 160"))
        dot.focus()
        for _ in range(5):
            page.keyboard.press("ArrowUp")
        expect(page.get_by_label("Skyline: direction and height")).not_to_have_value(before)
        page.get_by_label("Leans back").fill("2")
        expect(page.locator(".finding")).to_contain_text(
            re.compile(r"lean it back 14\.5° to 51\.5°; 16\.5° \(a wedge of 20 mm")
        )
        page.get_by_role("button", name="most sun of these days").click()
        expect(page.get_by_role("status")).to_contain_text("of that sun lies on the paper")
        # Typed rubbish is told beside its field, and the rest stays.
        page.get_by_label("Leans back").fill("far")
        expect(page.locator("#id_tilt_deg_error")).to_contain_text("must be a number")
        page.get_by_label("Leans back").fill("14.5")
        expect(page.locator("h1")).to_contain_text("will keep")
        page.get_by_role("button", name="Keep the plan").click()
        expect(page.locator("h1")).to_contain_text("is planned")

    def put_out(self, page):
        expect(page.locator(".ladder")).to_contain_text("17 mm")
        page.get_by_role("button", name="The hole is open").click()
        expect(page.locator("h1")).to_contain_text("days to go")
        # The rest could wait: wrong words are told and lose nothing.
        page.get_by_label("Where exactly").fill("beech hedge, third post")
        page.get_by_label("by a plumb line").fill("upright")
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_label("Where exactly")).to_have_value("beech hedge, third post")
        page.get_by_label("by a plumb line").fill("")
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_role("status").first).to_contain_text("is described")
        page.get_by_label("In your words").fill("dry, as it was")
        page.get_by_role("button", name="Write it down").click()
        expect(page.locator("main")).to_contain_text("dry, as it was")
        page.goto("/")
        expect(page.locator(".can-row")).to_contain_text("beech hedge, third post, S")

    def bring_home(self, page):
        page.locator(".can-row").click()
        page.get_by_role("button", name="The hole is shut: bring it home").click()
        expect(page.locator("h1")).to_contain_text("now, and once only")
        expect(page.locator("main")).to_contain_text("Do not develop it")
        page.get_by_role("button", name="It is scanned and back in the dark").click()
        expect(page.locator("main")).to_contain_text("40 lux minutes")
        self.assertEqual(Solargraph.objects.get().stage, "scanned")

    def test_the_planner_fits_a_phone_and_turns_the_paper_over(self):
        with self.page(PHONE) as page:
            page.goto("/plan/sun/")
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 360)
            page.get_by_label("as it lies in the camera").check()
            expect(page.locator("#paper")).to_have_attribute(
                "aria-label", re.compile("negative as it lies")
            )


@override_settings(FROZEN_NOW="2026-11-24T11:00:00+00:00")
class YearOfLight(Stage):
    def setUp(self):
        where = {"latitude_deg": 57.1, "longitude_deg": 19.6, "zone": "Europe/Stockholm"}
        place_flows.keep(Place(name="Rauholm", horizon=SKYLINE, **where))
        kit.keep_camera(Camera(name="Can 3", **CAN), loads_directly=True)
        kitchen.kit()

    def at(self, page, css, across, down):
        """(x, y) on the screen of shares of a drawing."""
        box = page.locator(css).bounding_box()
        return box["x"] + across * box["width"], box["y"] + down * box["height"]

    def test_a_pointer_reads_it_a_tap_moves_the_cross_and_keys_go_on(self):
        with self.page() as page:
            page.goto("/plan/year/?azimuth_deg=NW&day=2027-03-13&hour=14:30")
            expect(page.locator("h1")).to_contain_text("13 March, 14:30: ")
            page.mouse.move(*self.at(page, "#chart", 0.5, 0.4))
            expect(page.locator("#year-hover")).to_contain_text("June")
            expect(page.locator("h1")).to_contain_text("13 March")
            page.mouse.click(*self.at(page, "#chart", 0.75, 0.4))
            expect(page.locator("h1")).to_contain_text("September")
            self.wait_until_quiet(page)
            read_off = page.locator("h1").inner_text()
            page.get_by_role("slider", name="The moment that is read off").focus()
            page.keyboard.press("ArrowRight")
            expect(page.locator("h1")).not_to_have_text(read_off)
            self.assertIn("day=2027-09-", page.url)
            page.get_by_text("What is drawn over it").click()
            page.get_by_label("At night the hole").select_option("moon")
            expect(page.locator("#year-finding")).to_contain_text("The moon")

    def test_a_thumb_reads_all_of_it_at_360_pixels(self):
        with self.page(PHONE) as page:
            page.goto("/plan/year/?azimuth_deg=NW&day=2027-03-13&hour=14:30")
            expect(page.locator("#chart")).to_be_hidden()
            chart = page.locator("#chart-in-hand")
            chart.scroll_into_view_if_needed()
            box = chart.bounding_box()
            self.assertLessEqual(box["x"] + box["width"], 360)
            page.mouse.click(*self.at(page, "#chart-in-hand", 0.6, 0.4))
            expect(page.locator("h1")).not_to_contain_text("13 March")
            page.goto("/plan/today/")
            expect(page.locator("h1")).to_contain_text("No view says")
            page.goto("/plan/sun/season/?azimuth_deg=180")
            page.locator(".season-week").nth(20).click()
            expect(page).to_have_url(re.compile("first_day=2027-04-13"))
