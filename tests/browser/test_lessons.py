"""What the log teaches, on the screen: a slow camera found, kept, planned with, refused again; a
test sheet planned by one tap; the log asked.
"""

import re
from copy import copy
from datetime import timedelta

from playwright.sync_api import expect

from chimney.darkroom import flows as darkroom
from chimney.field.models import Shot
from chimney.kit import flows as kit_flows
from chimney.logbook import flows as logbook
from chimney.parts import clock
from chimney.results import flows as results
from tests.browser.stage import Stage
from tests.chimney.kitchen import kit, opened


class Taught(Stage):
    def setUp(self):
        camera, self.paper, self.developer, self.holder = kit()
        wedge = copy(camera)
        wedge.pk, wedge.name = None, "Wedge"
        self.wedge = kit_flows.keep_camera(wedge, loads_directly=False)
        for _ in range(8):
            self.judged(camera, 0.0)
            self.judged(self.wedge, 1.5)

    def judged(self, camera, stops_more):
        exposure = opened(camera, self.paper, self.holder)
        with clock.at(clock.now() + timedelta(seconds=exposure.planned_s)):
            logbook.close_hole(exposure)
        logbook.unload(exposure.loading)
        darkroom.develop([exposure.sheet], self.developer, parts=9, seconds=60)
        results.judge(exposure.sheet, stops_more=stops_more)

    def test_a_slow_camera_is_planned_with_until_it_is_switched_off(self):
        plan = f"/plan/?kind=seconds&seconds=4&camera={self.wedge.pk}&paper={self.paper.pk}"
        with self.page() as page:
            page.goto("/learn/")
            expect(page.locator(".share-hint").first).to_contain_text("its hole may be")
            page.goto(plan)
            tile = page.locator(".tile label", has_text="your sheets")
            expect(tile).to_be_visible()
            # What such sheets came to before, and the way back to the lesson.
            # One tap, also straight out of a field that was typed in.
            page.get_by_label("reads").fill("5")
            expect(page.locator("#asked .nearest")).to_contain_text("It got")
            expect(page.locator("#asked .thing")).to_have_count(2)
            self.assert_accessible(page, "a plan with what was learned")
            tile.click()
            says = page.locator(".says-own")
            expect(says).to_contain_text(re.compile(r"Wedge \+\d\.\d"))
            # Leaving the field asks once more.
            self.wait_until_quiet(page)
            longer = page.locator(".open-time").inner_text()
            says.get_by_role("link").click()
            expect(page.locator("h1")).to_contain_text("not the box's")
            self.assert_accessible(page, "what explains a plan")
            switch = page.get_by_role("switch", name="Use Wedge in plans")
            expect(switch).to_have_attribute("aria-checked", "true")
            switch.click()
            expect(page.get_by_role("status").first).to_contain_text("No plan uses it")
            page.goto(plan)
            page.get_by_label("reads").fill("5")
            expect(page.locator(".says-own")).not_to_contain_text(re.compile(r"Wedge \+"))
            self.assertNotEqual(page.locator(".open-time").inner_text(), longer)

    def test_a_test_sheet_is_planned_a_dot_leads_to_its_sheet_and_the_log_is_asked(self):
        with self.page() as page:
            page.goto("/learn/")
            page.get_by_role("button", name="Plan this test").click()
            expect(page.get_by_role("status").first).to_contain_text("is kept for later")
            self.assertIn("test sheet", Shot.objects.get().subject)
            page.goto("/learn/")
            page.get_by_role("link", name="The sheets behind it").first.click()
            page.get_by_role("link", name=re.compile("S-003: metered")).click(force=True)
            expect(page).to_have_url(re.compile("/sheets/S-0"))
            page.goto("/learn/")
            page.get_by_role("link", name="Ask the log").click()
            page.get_by_label("Camera").select_option(label="Wedge")
            page.get_by_role("button", name="Ask").click()
            expect(page.locator("h1")).to_contain_text("8 sheets like that")
            page.get_by_label("Keep this search as").fill("slow ones")
            page.get_by_role("button", name="Keep it").click()
            page.get_by_role("link", name="slow ones").click()
            expect(page.locator("h1")).to_contain_text("8 sheets like that")
            page.get_by_role("link", name="As a notebook to print").click()
            expect(page.locator(".notebook-sheet")).to_have_count(8)
