"""Taps that cannot be sent: none is lost, doubled or moved in time, through cut networks, closed
tabs and errors.
"""

import re

from playwright.sync_api import expect

from chimney.hearth import invariants
from chimney.ledger.models import Receipt
from chimney.logbook import flows
from chimney.logbook.models import Cover, Exposure
from tests.browser.stage import PHONE, Stage
from tests.chimney.kitchen import kit, opened
from tests.runner import later

# What the console says when the network is cut, or the server answers badly, on purpose.
CUT = ("htmx:sendError", "htmx:responseError", "Response Status Error", "Failed to load resource")
SECOND = 1.0


class Taps(Stage):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        self.exposure = opened(self.camera, self.paper, self.holder, seconds=20.0)
        self.url = f"/expose/{self.exposure.pk}/"

    def tap(self, page, words):
        """The page's own moment of that tap, in ms: a slow machine tells of it late."""
        page.wait_for_load_state()
        page.get_by_role("button", name=words).tap()
        return page.evaluate("clickedAt")

    def test_a_phone_without_network_covers_uncovers_and_closes_and_its_tab_is_closed(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            page.goto(self.url)
            page.context.set_offline(True)
            began = self.tap(page, "Cover for a moment")
            expect(page.locator("[data-waits]")).to_contain_text("1 tap waits here")
            # The second that the tap fell in may still be drawn.
            page.wait_for_timeout(400)
            stood = page.locator("[data-digits]").text_content()
            page.wait_for_timeout(1500)
            # The clock stands although the server knows nothing of it, and there is a way to
            # uncover.
            self.assertEqual(page.locator("[data-digits]").text_content(), stood)
            uncovered = self.tap(page, "Uncover")
            page.wait_for_timeout(1200)
            self.assertNotEqual(page.locator("[data-digits]").text_content(), stood)
            closed = self.tap(page, "Close the hole")
            expect(page.locator("[data-waits]")).to_contain_text("3 taps wait here")
            expect(page.get_by_role("button", name="Slide is in, turned")).to_be_visible()
            context = page.context
            page.close()
            self.assertEqual(Cover.objects.count(), 0)
            context.set_offline(False)
            other = context.new_page()
            # Another page, after a restart: what waits is handed over from wherever one is.
            other.goto("/kit/")
            expect(other.locator("[data-waits]")).to_be_hidden()
            opening = Exposure.objects.get().opening
            cover = opening.covers.get()
            for moment, tapped in (
                (cover.covered_at, began),
                (cover.uncovered_at, uncovered),
                (opening.closed_at, closed),
            ):
                self.assertAlmostEqual((moment - later()).timestamp(), tapped / 1000, delta=SECOND)
            self.assertEqual(Receipt.objects.filter(key__startswith="tap").count(), 3)
        self.assertEqual(list(invariants.broken()), [])

    def test_a_phone_whose_clock_is_put_right_by_an_hour_loses_no_light(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            page.goto(self.url)
            page.context.set_offline(True)
            covered = self.tap(page, "Cover for a moment")
            page.evaluate("() => { const said = Date.now; Date.now = () => said() + 3.6e6; }")
            page.context.set_offline(False)
            self.assert_comes_to(page, 1, Cover.objects.count)
        cover = Cover.objects.get()
        self.assertAlmostEqual(
            (cover.covered_at - later()).timestamp(), covered / 1000, delta=SECOND
        )

    def test_an_error_and_a_lost_cookie_are_no_acknowledgement(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            page.goto(self.url)
            page.route(
                re.compile("/close/"), lambda route: route.fulfill(status=500, body="broken")
            )
            self.tap(page, "Close the hole")
            expect(page.locator("[data-waits]")).to_contain_text("answered with an error (500)")
            self.assertIsNone(Exposure.objects.get().given_s)
            page.unroute(re.compile("/close/"))
            expect(page.locator(".digits")).to_contain_text("free for")
            expect(page.locator("[data-waits]")).to_be_hidden()
            # The cookie is gone, so the page's own token is worth nothing: a fresh one is asked
            # for.
            page.context.clear_cookies()
            self.tap(page, "Slide is in, turned")
            expect(page.locator(".done-note")).to_contain_text("is safe")
            self.assertIsNotNone(Exposure.objects.get().slide_back_at)

    def test_an_answer_that_was_lost_on_the_way_does_nothing_twice(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            page.goto(self.url)

            def lose(route):
                route.fetch()
                route.abort()

            page.route(re.compile("/cover/"), lose, times=1)
            self.tap(page, "Cover for a moment")
            expect(page.get_by_role("button", name="Uncover")).to_be_visible()
            self.assert_handed_over(page)
            self.assertEqual(
                (Cover.objects.count(), Receipt.objects.filter(key__startswith="tap").count()),
                (1, 1),
            )

    def test_what_another_device_did_first_is_told_and_stays_until_it_was_seen(self):
        with self.page(PHONE, has_touch=True, expected=CUT) as page:
            page.goto(self.url)
            page.context.set_offline(True)
            self.tap(page, "Cover for a moment")
            expect(page.locator("[data-waits]")).to_contain_text("1 tap waits")
            flows.close_hole(self.exposure)
            page.context.set_offline(False)
            expect(page.locator("[data-waits]")).to_contain_text("Not taken in: Cover for a moment")
            page.goto("/")
            expect(page.locator("[data-waits]")).to_contain_text("is shut on S-001")
            self.assert_accessible(page, "a tap that was refused")
            self.tap(page, "I have seen that")
            expect(page.locator("[data-waits]")).to_be_hidden()
            page.goto("/expose/")
            expect(page.locator("[data-waits]")).to_be_hidden()

    def test_nothing_is_changed_under_a_finger_that_is_down(self):
        with self.page(PHONE) as page:
            page.goto(self.url)
            box = page.get_by_role("button", name="Cover for a moment").bounding_box()
            page.mouse.move(box["x"] + 9, box["y"] + 9)
            page.mouse.down()
            page.evaluate("window.kept = document.getElementById('timer')")
            fetch = "htmx.ajax('GET', location.pathname, {target: '#timer', swap: 'outerHTML'})"
            page.evaluate(fetch)
            same = "document.getElementById('timer') === window.kept"
            page.wait_for_timeout(300)
            self.assertTrue(page.evaluate(same))
            page.mouse.up()
            expect(page.get_by_role("button", name="Uncover")).to_be_visible()
            self.assert_comes_to(page, 1, Cover.objects.count)

    def test_an_answer_that_comes_under_a_finger_takes_no_word_from_it(self):
        with self.page(PHONE) as page:
            page.goto(self.url)
            with self.answer_under_a_finger(page, "Uncover", re.compile("/cover/")):
                page.get_by_role("button", name="Cover for a moment").click()
            expect(page.get_by_role("button", name="Cover for a moment")).to_be_visible()
            self.assert_handed_over(page)
        self.assertIsNotNone(Cover.objects.get().uncovered_at)
