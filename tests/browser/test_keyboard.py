"""The loop by keyboard alone, and a focus that nothing hides."""

import re
from copy import copy

from playwright.sync_api import expect

from chimney.kit import flows as kit_flows
from chimney.logbook.models import Sheet
from tests.browser.stage import PHONE, Stage
from tests.chimney.kitchen import kit

# Words of what has the focus: those of its label, its own, or what a reader of screens is told.
FOCUSED = """() => {
  const one = document.activeElement;
  return [one.labels?.[0]?.innerText, one.innerText, one.getAttribute("aria-label")].join(" ");
}"""
# What has the focus, if it lies behind the bar of courses, the button at the thumb or the edge.
HIDDEN = """() => {
  const one = document.activeElement;
  const seen = one.matches("input[type=radio], input[type=checkbox]")
    ? (one.closest("label") ?? one) : one;
  if (one === document.body || one.closest(".visually-hidden, .column, .skip")) return "";
  const { left, top, width, height } = seen.getClientRects()[0];
  if (height > window.innerHeight / 2) return "";
  const [x, y] = [left + width / 2, top + height / 2];
  const there = document.elementFromPoint(x, y);
  const free = there && (seen.contains(there) || there.contains(seen));
  return free ? "" : `${seen.outerHTML.slice(0, 120)} at ${x.toFixed()}, ${y.toFixed()}`;
}"""
MOST_STOPS = 160
NARROW = {"width": 320, "height": 256 * 2}


class Keyboard(Stage):
    def tab_to(self, page, words, key="Tab"):
        stops = []
        for _ in range(MOST_STOPS):
            page.keyboard.press(key)
            stops.append(page.evaluate(FOCUSED))
            if re.search(words, stops[-1]):
                return
        self.fail(f"None of the keyboard's stops is called {words}: {stops}")

    def test_plan_open_close_develop_read_and_learn(self):
        kit()
        with self.page() as page:
            page.goto("/")
            self.tab_to(page, "New exposure")
            page.keyboard.press("Enter")
            page.wait_for_url("**/plan/")
            self.tab_to(page, "^reads")
            page.keyboard.type("2")
            expect(page.locator("h1")).to_contain_text("11 s")
            self.wait_until_quiet(page)
            self.tab_to(page, "Load and open", "Shift+Tab")
            page.keyboard.press("Enter")
            page.wait_for_url("**/expose/*/")
            self.tab_to(page, "Close the hole")
            page.keyboard.press("Enter")
            # Whoever stood on the button stands on the one that took its place.
            expect(page.locator(".digits")).to_contain_text("free for")
            self.wait_until_quiet(page)
            if "Slide is in" not in page.evaluate(FOCUSED):
                self.tab_to(page, "Slide is in")
            page.keyboard.press("Enter")
            expect(page.locator(".done-note")).to_be_visible()
            self.wait_until_quiet(page)
            self.tab_to(page, "Develop S-001")
            page.keyboard.press("Enter")
            page.wait_for_url("**/develop/**")
            page.wait_for_load_state("networkidle")
            self.tab_to(page, "log the run")
            page.keyboard.press("Enter")
            expect(page.get_by_role("status").first).to_contain_text("S-001 logged")
            page.goto("/read/")
            self.tab_to(page, "Read S-001")
            page.keyboard.press("Enter")
            page.wait_for_url("**/read/S-001/")
            self.tab_to(page, "too pale|too dark|right")
            page.keyboard.press("ArrowRight")
            self.tab_to(page, "Keep the verdict")
            page.keyboard.press("Enter")
            expect(page.get_by_role("status").first).to_contain_text("next time")
            page.goto("/learn/")
            self.tab_to(page, "The sheets behind it")
            page.keyboard.press("Enter")
            expect(page.locator("main")).to_contain_text("S-001")
        self.assertEqual(Sheet.objects.get().stage, "read")

    def test_cold_thumbs_type_a_reading_with_keys_of_ours_and_choose_a_camera_by_its_time(self):
        camera, *_ = kit()
        wedge = copy(camera)
        wedge.pk, wedge.name, wedge.focal_mm = None, "Wedge", 75.0
        kit_flows.keep_camera(wedge, loads_directly=False)
        with self.page(PHONE, has_touch=True) as page:
            page.goto(f"/plan/?camera={camera.pk}")
            keys, typed = page.locator("#number-keys"), page.get_by_label("reads")
            for key in ("4", "8", "s"):
                keys.get_by_role("button", name=key, exact=True).tap()
            expect(typed).to_have_value("48 s")
            for left in ("48", "4"):
                keys.get_by_role("button", name="Take back").tap()
                expect(typed).to_have_value(left)
            expect(page.locator(".open-time")).to_have_text("22 s")
            # Reading, answer and button stand on one screen, and no key lies behind the button.
            button = page.locator("#open-the-hole").bounding_box()
            last = keys.get_by_role("button", name="min").bounding_box()
            self.assertLessEqual(last["y"] + last["height"], button["y"])
            page.locator(".choice", has_text="EV").first.tap()
            expect(keys.get_by_role("button", name="min")).to_be_hidden()
            page.locator(".choice", has_text="seconds").first.tap()
            page.locator(".tile-camera label").tap()
            row = page.locator(".camera-row", has_text="Wedge")
            # Half as deep behind the same hole: a quarter of 21.97 s, counted in whole seconds.
            expect(row).to_contain_text("5 s")
            row.tap()
            expect(page.locator(".open-time")).to_have_text("5 s")

    def test_a_tile_of_the_plan_is_opened_by_arrows(self):
        kit()
        with self.page() as page:
            page.goto("/plan/?seconds=4&kind=seconds")
            page.locator("#door-reading").focus()
            page.keyboard.press("ArrowRight")
            expect(page.get_by_role("group", name="Which camera")).to_be_visible()
            expect(page.get_by_label("reads")).to_be_hidden()
            page.keyboard.press("ArrowLeft")
            expect(page.get_by_label("reads")).to_be_visible()

    def test_the_focus_is_never_behind_the_bar_or_the_button(self):
        kit()
        with self.page(NARROW) as page:
            for url in (
                "/plan/?seconds=4&kind=seconds",
                "/begin/minutes/",
                "/expose/",
                "/develop/",
            ):
                page.goto(url)
                page.wait_for_load_state("networkidle")
                hidden = []
                for _ in range(60):
                    page.keyboard.press("Tab")
                    hidden.append(page.evaluate(HIDDEN))
                self.assertEqual([words for words in hidden if words], [], url)
