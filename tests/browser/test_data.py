"""A whole log as a person takes it along and brings it in: asked for, waited for, fetched, looked
through, wanted, taken out again.
"""

import shutil
import tempfile
from io import StringIO
from pathlib import Path
from unittest import mock

from django.core.management import call_command
from django.test import override_settings
from playwright.sync_api import expect

from chimney import beside
from chimney.exchange.models import Installation
from chimney.kit.models import Camera
from tests.browser.stage import PHONE, Stage
from tests.chimney.kitchen import kit


class Data(Stage):
    def setUp(self):
        home = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, home)
        self.enterContext(override_settings(DATA=home))
        self.enterContext(mock.patch.object(beside, "BEAT", home / "work.beat"))
        self.log = home / "log.zip"
        Installation.objects.get_or_create()
        kit()
        beside.beat()

    def work(self):
        """What the worker beside the server does, at this very moment."""
        call_command("work", stdout=StringIO())

    def test_a_log_goes_out_and_comes_in_and_goes_again(self):
        with self.page() as page:
            page.goto("/data/")
            page.get_by_role("button", name="Write the whole log").click()
            expect(page.locator("h1")).to_contain_text("is being made")
            self.assert_accessible(page, "a file that is being made")
            self.work()
            expect(page.locator("h1")).to_contain_text("is ready")
            with page.expect_download() as fetched:
                page.get_by_role("link", name="Save it").click()
            fetched.value.save_as(self.log)
        # Another installation knows none of its rows.
        Installation.objects.update(key="e" * 32)
        with self.page(PHONE) as page:
            page.goto("/data/")
            page.get_by_label("A log, as ZIP or JSON").set_input_files(self.log)
            page.get_by_role("button", name="Look through it").click()
            expect(page.locator("h1")).to_contain_text("being looked through")
            self.work()
            expect(page.locator("h1")).to_contain_text("4 rows would come in")
            page.get_by_role("button", name="Bring it in").click()
            expect(page.locator("h1")).to_contain_text("coming in")
            self.assert_accessible(page, "a log that is coming in")
            self.work()
            expect(page.locator("h1")).to_contain_text("brought in")
            self.assertEqual(Camera.objects.count(), 2)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 360)
            page.get_by_role("button", name="Take all of it out").click()
            self.work()
            expect(page.locator("h1")).to_contain_text("taken out again")
        self.assertEqual(Camera.objects.count(), 1)
