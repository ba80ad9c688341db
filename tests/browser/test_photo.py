"""A photo of a scene from the phone to the plan: dots, cross and frames in the hand."""

import re

from playwright.sync_api import expect

from chimney.field.models import ScenePhoto
from tests.browser.stage import DESK, PHONE, Stage
from tests.chimney.kitchen import kit
from tests.chimney.test_photo import photo_file


class Photo(Stage):
    def setUp(self):
        self.camera, self.paper, *_ = kit()

    def bring(self, page):
        page.goto("/plan/photo/")
        picture = {"name": "s.jpg", "mimeType": "image/jpeg", "buffer": photo_file().read()}
        page.get_by_label("A photo of the scene").set_input_files(picture)
        page.get_by_role("button", name="Bring it in").click()
        page.wait_for_url(re.compile(r"/plan/photo/\d+/"))

    def grip(self, page, name):
        return page.get_by_role("slider", name=name, exact=True)

    def test_it_is_metered_aimed_and_planned_by_hand(self):
        for viewport in (DESK, PHONE):
            with self.subTest(viewport["width"]), self.page(viewport) as page:
                self.bring(page)
                before = page.locator("h1").inner_text()
                middle = self.grip(page, "The middle").locator(".meter-ring")
                page.locator("#photo").scroll_into_view_if_needed()
                with self.dragged(page, middle, -30, 25):
                    expect(page.locator("h1")).not_to_have_text(before)
                expect(page).to_have_url(re.compile("spots=0"))
                with self.dragged(
                    page, self.grip(page, "Where it points").locator("circle.ring"), 25, 0
                ):
                    expect(page.get_by_label("Turned right")).not_to_have_value("0")
                page.get_by_label("What moves").select_option("people")
                expect(self.grip(page, "to here")).to_be_visible()
                page.locator("#photo").scroll_into_view_if_needed()
                corner = page.locator("[name=people]").input_value()
                with self.dragged(page, self.grip(page, "to here").locator(".ring"), -20, -15):
                    pass
                expect(page.locator("[name=people]")).not_to_have_value(corner)
                expect(page.locator("#photo-print")).to_contain_text("Who stays 10 s leaves no")
                planned = page.locator("h1").inner_text()
                page.get_by_role("button", name="Plan it").click()
                page.wait_for_url("**/plan/?**")
                # The time on the plan is the time that the photo said.
                time = re.search(r"for (.+?);", planned)[1]
                expect(page.locator(".tile-answer, h1").first).to_contain_text(time)

    def test_without_script_it_is_a_form(self):
        with self.page(PHONE, java_script_enabled=False) as page:
            self.bring(page)
            page.get_by_label("Turned right").fill("12")
            page.get_by_role("button", name="Keep for later").click()
            expect(page.get_by_label("Turned right")).to_have_value("12")
            self.assertEqual(ScenePhoto.objects.get().turn_deg, 12.0)
            expect(page.locator("h1")).to_contain_text("Open Plank for")
