"""The dark room as it is worked in: four negatives one after the other, a reversal whose bleach is
repeated, through a reload, a cut network and a second device; and nothing but red.
"""

import io
import re

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from chimney.darkroom.models import Development, LaneTap, Run
from chimney.hearth import invariants
from chimney.kit.models import Paper
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from tests.browser.stage import PHONE, Stage
from tests.browser.test_taps import CUT, SECOND
from tests.chimney.kitchen import kit, opened
from tests.runner import later


class DarkRoom(Stage):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def exposed(self, count, paper=None):
        for _ in range(count):
            exposure = opened(self.camera, paper or self.paper, self.holder)
            logbook.close_hole(exposure)
            logbook.unload(exposure.loading)

    def tap(self, page, words, lane=None):
        """One tap on the big button, or on a sheet's own; the moment on the browser's clock."""
        where = page.locator(".lane-now" if lane is None else f'[data-lane="{lane}"]')
        button = where.get_by_role("button", name=words)
        expect(button).to_be_visible()
        # Before its script is there it is a form like any other, and leads to another page.
        page.wait_for_load_state()
        button.click()
        return page.evaluate("clickedAt") / 1000

    def pixels(self, page):
        picture = np.asarray(Image.open(io.BytesIO(page.screenshot(full_page=True))).convert("RGB"))
        self.assertEqual(picture[..., 1:].max(), 0, "green or blue shines")
        self.assertGreater(picture[..., 0].max(), 0xEA)

    def test_four_negatives_through_a_reload_a_cut_network_and_a_second_device(self):
        self.exposed(4)
        with self.page(PHONE, expected=CUT, expected_status=[409]) as page:
            page.goto("/")
            # To the first step in three taps from the Hearth, the paper's process proposed.
            page.get_by_role("link", name="Develop 4 sheets").click()
            page.get_by_role("button", name="Begin the run").click()
            self.pixels(page)
            moments = {"0 next": [self.tap(page, "Developer now")]}
            expect(page.locator("h1")).to_contain_text("Developer")
            expect(page.locator("[data-light]")).to_contain_text("Red light only")
            page.reload()
            self.pixels(page)
            page.wait_for_timeout(1200)
            moments["0 next"].append(self.tap(page, "Stop bath now"))
            # The next sheet's turn: it goes in when the first is in the stop.
            expect(page.locator("h1")).to_contain_text("S-002: goes in now")
            url = page.url
            self.assert_handed_over(page)
            self.wait_until_quiet(page)
            page.context.set_offline(True)
            moments["1 next"] = [self.tap(page, "Developer now")]
            expect(page.locator("[data-waits]")).to_contain_text("1 tap waits")
            expect(page.locator("h1")).to_contain_text("S-001: Stop bath")
            page.wait_for_timeout(700)
            moments["0 next"].append(self.tap(page, "Fix now"))
            expect(page.locator("h1")).to_contain_text("S-002: Developer")
            page.wait_for_timeout(900)
            moments["1 next"].append(self.tap(page, "Stop bath now"))
            expect(page.locator("h1")).to_contain_text("S-003")
            self.pixels(page)
            self.assertEqual(LaneTap.objects.count(), 2)
            page.context.set_offline(False)
            self.assert_handed_over(page)
            with self.page(PHONE) as second:
                # A second device goes on; what the first shows by then is old, and it is told.
                second.goto(url)
                moments["2 next"] = [self.tap(second, "Developer now", 2)]
                expect(second.locator('[data-lane="2"]')).to_contain_text("Developer")
            page.route("**/develop/run/*/", lambda route: route.abort())
            page.locator("body").press("Tab")
            page.unroute("**/develop/run/*/")
            expect(page.locator('[data-lane="2"] [data-head-words]')).to_have_text("Developer")
            for lane, words in ((2, "Stop bath now"), (3, "Developer now"), (3, "Stop bath now")):
                moments.setdefault(f"{lane} next", []).append(self.tap(page, words, lane))
                expect(page.locator(f'[data-lane="{lane}"] [data-head-words]')).to_have_text(
                    words.removesuffix(" now")
                )
            self.assert_handed_over(page)
        self.assert_times(moments)
        kept = Development.objects.order_by("lane")
        for lane, development in enumerate(kept):
            began, ended = moments[f"{lane} next"][:2]
            self.assertAlmostEqual(development.seconds, ended - began, delta=SECOND)
        self.assertEqual(list(invariants.broken()), [])

    def assert_times(self, moments):
        """The log holds when each was tapped, to the second."""
        for words, taps in moments.items():
            lane, word = words.split()
            logged = LaneTap.objects.filter(lane=lane, word=word).order_by("pk")
            for tap, moment in zip(logged, taps, strict=True):
                self.assertAlmostEqual((tap.at - later()).timestamp(), moment, delta=SECOND)

    def test_an_answer_that_comes_under_a_finger_takes_no_step_from_it(self):
        self.exposed(1)
        with self.page() as page:
            page.goto("/develop/")
            page.get_by_role("button", name="Begin the run").click()
            with self.answer_under_a_finger(page, "Stop bath now", re.compile("/next/")):
                self.tap(page, "Developer now")
            expect(page.locator("h1")).to_contain_text("Stop bath")
            self.assert_handed_over(page)
        self.assertEqual(LaneTap.objects.filter(word="next").count(), 2)

    def test_a_reversal_is_bleached_again_undone_and_comes_into_white_light(self):
        paper = Paper.objects.create(name="RC for reversal", kind="reversal", box_ei=0.8)
        self.exposed(1, paper)
        with self.page(PHONE, expected=CUT) as page:
            page.goto("/develop/")
            expect(page.get_by_label("Process")).to_have_value("reversal-tank")
            page.get_by_role("button", name="Begin the run").click()
            expect(page.locator("[data-light]")).to_contain_text("Total darkness")
            moments = {"0 next": [self.tap(page, "First developer now")], "0 again": []}
            for words in ("Rinse", "Citric acid", "Peroxide bleach", "Citric acid again"):
                expect(page.locator("h1")).not_to_contain_text(words)
                moments["0 next"].append(self.tap(page, f"{words} now"))
                expect(page.locator("h1")).to_contain_text(words)
            self.assertTrue(page.locator(".note-caution").first.is_visible())
            # No network: bleached again, and the clock shows it. What was tapped before is known.
            self.assert_handed_over(page)
            self.wait_until_quiet(page)
            page.context.set_offline(True)
            moments["0 again"].append(self.tap(page, "Peroxide bleach again"))
            expect(page.locator("h1")).to_contain_text("Peroxide bleach")
            moments["0 next"].append(self.tap(page, "Citric acid again now"))
            page.context.set_offline(False)
            self.assert_handed_over(page)
            # One tap too early, taken back.
            self.tap(page, "Rinse well now")
            expect(page.locator("h1")).to_contain_text("Rinse well")
            page.get_by_role("button", name="Tapped too early").click()
            expect(page.locator("h1")).to_contain_text("Citric acid again")
            moments["0 next"].append(self.tap(page, "Rinse well now"))
            expect(page.locator("h1")).to_contain_text("Rinse well")
            moments["0 next"].append(self.tap(page, "Sheet out of the tank now"))
            moments["0 next"].append(self.tap(page, "White light now"))
            expect(page.locator("[data-light]")).to_contain_text("White light is allowed")
            self.pixels(page)
            page.get_by_role("button", name="Yes: white light on").click()
            expect(page.locator("html")).to_have_attribute("data-dress", "day")
            self.assert_accessible(page, "a run in white light")
        self.assert_times(moments)
        bleached = Run.objects.get().taps.filter(word__in=["next", "again"]).count()
        self.assertEqual(bleached, 10)

    def test_back_for_more_is_asked_and_the_sheet_waits_to_be_read_at_the_end(self):
        self.exposed(1)
        with self.page() as page:
            page.goto("/develop/")
            page.get_by_role("button", name="Begin the run").click()
            for words in ("Developer", "Stop bath"):
                page.locator("h1").click()
                # A letter on the big button, and the space bar does nothing by itself.
                self.press(page, " ")
                self.press(page, "d")
                expect(page.locator("h1")).to_contain_text(words)
            page.get_by_role("link", name="Back for more").click()
            self.pixels(page)
            self.assert_accessible(page, "back for more")
            page.get_by_role("button", name="No white light reached it").click()
            expect(page.locator("h1")).to_contain_text("Developer")
            page.get_by_role("button", name="Leave it longer").click()
            expect(page.locator(".lane-now [data-times]")).to_contain_text("1:50")
            for words in ("Stop bath", "Fix", "Fix again", "Wash", "Dry"):
                self.tap(page, f"{words} now")
                expect(page.locator("h1")).to_contain_text(words)
            self.assert_handed_over(page)
            page.goto("/")
            expect(page.locator("[aria-labelledby=wet]")).to_contain_text("dry, ")
            page.locator("[aria-labelledby=wet] a").click()
            self.tap(page, "Through: it waits to be read")
            page.get_by_role("link", name="Read them").click()
            expect(page.locator("main")).to_contain_text("S-001")
        self.assertEqual(Sheet.objects.get().stage, "developed")

    def test_a_voice_says_each_step_and_is_silent_when_it_is_off(self):
        self.exposed(1)
        heard = "window.heard = []; window.speechSynthesis.speak = (line) => heard.push(line.text);"
        with self.page() as page:
            page.add_init_script(heard)
            page.goto("/develop/")
            page.get_by_role("button", name="Begin the run").click()
            self.tap(page, "Developer now")
            expect(page.locator("h1")).to_contain_text("Developer")
            page.wait_for_timeout(400)
            self.assertEqual(page.evaluate("heard"), [])
            page.get_by_label("A voice says each step").check()
            self.tap(page, "Stop bath now")
            expect(page.locator("h1")).to_contain_text("Stop bath")
            page.wait_for_timeout(400)
            self.assertIn("S-001. Stop bath. 10 s to 20 s", page.evaluate("heard"))

    def test_nothing_flashes_white_from_the_begin_on(self):
        self.exposed(1)
        with self.page() as page:
            page.goto("/develop/")
            page.get_by_role("button", name="Begin the run").click()
            expect(page.locator("h1")).to_contain_text("Make ready")
            for address in ("/", "/develop/", "/develop/room/", page.url):
                # What the browser paints before a page is there, and what the page then is.
                page.goto(address, wait_until="commit")
                page.locator("html").wait_for(state="attached")
                self.assertEqual(
                    page.evaluate("document.documentElement.dataset.dress"), "darkroom"
                )
                self.assertEqual(
                    page.evaluate("getComputedStyle(document.documentElement).colorScheme"), "dark"
                )
                self.wait_until_quiet(page)
                self.pixels(page)
