"""A person takes the log along and brings it in; a sensor's light is taken with one tap."""

from io import StringIO

from django.core.management import CommandError, call_command
from playwright.sync_api import expect

from chimney.exchange.models import FeedToken
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from tests.browser.stage import PHONE, Stage
from tests.chimney.kitchen import kit, opened


class Data(Stage):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def test_the_log_goes_along_and_comes_in_once_looked_through(self):
        logbook.close_hole(opened(self.camera, self.paper, self.holder))
        with self.page() as page:
            page.goto("/")
            page.get_by_role("link", name="Your data").click()
            self.assert_accessible(page, "one's own data")
            with page.expect_download() as download:
                page.get_by_role("link", name="The whole log, as ZIP").click()
            package = download.value.path()
            page.get_by_label("A log, as ZIP or JSON").set_input_files(package)
            page.get_by_role("button", name="Look through it").click()
            expect(page.locator("h1")).to_contain_text("No rows would come in")
            self.assert_accessible(page, "a log looked through")
            Sheet.objects.all().delete()
            page.goto("/data/")
            page.get_by_label("A log, as ZIP or JSON").set_input_files(package)
            page.get_by_role("button", name="Look through it").click()
            expect(page.locator("h1")).to_contain_text("would come in")
            page.get_by_role("button", name="Bring it in").click()
            expect(page.locator("h1")).to_contain_text("brought in")
            page.get_by_role("button", name="Take all of it out again").click()
            expect(page.locator("h1")).to_contain_text("taken out again")
        self.assertEqual(Sheet.objects.count(), 0)

    def test_a_meter_that_sends_its_light_is_read_with_one_tap(self):
        with self.page(PHONE) as page:
            page.goto("/data/")
            page.get_by_label("What sends the light").fill("window sill")
            page.get_by_role("button", name="Let it in").click()
            secret = page.locator("code").first.text_content()
            told = StringIO()
            url = f"{self.live_server_url}/data/light/"
            call_command("meter", url=url, token=secret, times=1, every=0.0, stdout=told)
            ev = FeedToken.objects.get().ev100
            self.assertIn(f"EV {round(ev, 2)}", told.getvalue())
            page.goto("/plan/")
            page.get_by_label("Subject").fill("net loft")
            page.get_by_role("link", name="Take it").click()
            expect(page.get_by_role("radio", name="EV")).to_be_checked()
            expect(page.locator("#id_ev")).to_have_value(f"{ev:.1f}")
            expect(page.get_by_label("Subject")).to_have_value("net loft")
            expect(page.locator("h1")).to_contain_text("Open ")
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 360)
            with self.assertRaisesRegex(CommandError, "401"):
                call_command("meter", url=url, token="wrong", times=1, every=0.0, stdout=told)
