"""A sheet brought in, read, judged by the ladder and compared; a solargraph's marks by clicks."""

import re

from playwright.sync_api import expect

from chimney.darkroom import flows as darkroom
from chimney.hearth import invariants
from chimney.logbook import flows as logbook
from chimney.parts import clock, previews
from chimney.results.models import Scan, Trial, Verdict
from chimney.results.scans import files, flows
from chimney.solar.models import Solargraph
from demo import cans, days, pictures, shelf
from pinhole.projection import Pointing
from tests.browser.stage import PHONE, Stage, scan_of
from tests.chimney import test_reading
from tests.chimney.kitchen import kit, opened


class Bringing(Stage):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()
        for _ in range(2):
            exposure = opened(self.camera, self.paper, self.holder)
            logbook.close_hole(exposure)
            darkroom.develop([exposure.sheet], self.developer, parts=9, seconds=60)

    def scan(self, seed, stops=0.0):
        return scan_of(self.paper, seed, stops)

    def bring(self, page, *named):
        page.goto("/read/")
        page.get_by_role("link", name="Bring scans in").click()
        sent = [{"name": name, "mimeType": "image/png", "buffer": data} for name, data in named]
        page.get_by_label("Scans").set_input_files(sent)
        page.get_by_role("button", name="Bring them in").click()

    def test_two_scans_are_brought_in_toned_read_and_judged_by_the_ladder(self):
        under, loose = self.scan(3, -1.0), self.scan(4)
        with self.page() as page:
            self.bring(page, ("S-001.png", under), ("table.png", loose))
            expect(page.locator("#scans")).to_contain_text("2 scans wait")
            flows.work_off()
            # The page asks by itself until nothing waits any more.
            expect(page.locator("#scans")).to_contain_text("On the light table")
            expect(page.locator("#scans")).not_to_contain_text("wait")
            page.locator(".stamp", has_text="table.png").click()
            page.get_by_label("Sheet", exact=True).fill("S-002")
            page.get_by_role("button", name="It is this sheet's").click()
            expect(page.get_by_role("status").first).to_contain_text("a scan of S-002 now")
            # The positive follows what is typed, before it is kept.
            picture = page.locator("#positive image")
            self.wait_until_quiet(page)
            page.get_by_text("How the positive is made").click()
            page.get_by_label("Curve").fill("2")
            expect(picture).to_have_attribute("href", re.compile("gamma=2"))
            page.get_by_role("button", name="Keep it so").click()
            expect(page.get_by_label("Curve")).to_have_value("2")
            self.assertEqual(Scan.objects.get(name="table.png").gamma, 2)
            # The ladder: the rung that was wanted is the verdict that the form begins with.
            page.goto("/read/S-001/")
            expect(page.locator("main")).to_contain_text("Its scan says")
            page.get_by_role("link", name="see the ladder").click()
            expect(page.locator(".rung")).to_have_count(9)
            page.locator(".rung", has_text="+1").first.click()
            expect(page.get_by_label("or typed: stops more light it needed")).to_have_value("+1")
            self.assert_accessible(page, "the judge with a picture")
            page.get_by_role("button", name="Keep the verdict").click()
            expect(page.get_by_role("status").first).to_contain_text("1 stop more next time")
        self.assertEqual(Verdict.objects.get().stops_more, 1)
        self.assertEqual(files.path_of(Scan.objects.get(name="S-001.png")).read_bytes(), under)
        self.assertEqual(list(invariants.broken()), [])

    def pull(self, page, name, dx, dy):
        grip = page.locator(f"[data-handle={name}] .grip, [data-handle={name}] circle").first
        with self.dragged(page, grip, dx, dy, steps=5):
            pass

    def test_crop_lean_and_levels_are_dragged_and_kept_for_the_day(self):
        for name, seed in (("S-001.png", 5), ("S-002.png", 6)):
            flows.bring(name, [self.scan(seed)])
        flows.work_off()
        one = Scan.objects.get(name="S-001.png")
        with self.page() as page:
            page.goto(f"/read/scans/{one.pk}/")
            # The outline of the sheet is dragged, what it says follows, and it is kept.
            corners = page.locator("#corners-corners")
            self.pull(page, "'2'", -30, -24)
            expect(corners).to_have_value(re.compile(r"0\.[89]\d+,0\.[89]\d+ "))
            expect(page.locator("#corners-live")).to_contain_text("Read so")
            page.get_by_role("button", name="Keep this outline").click()
            expect(page.get_by_role("button", name="Find it again")).to_be_visible()
            one.refresh_from_db()
            self.assertLess(max(one.corners[2]), 0.97)
            page.get_by_role("button", name="Find it again").click()
            expect(page.get_by_role("button", name="Find it again")).to_have_count(0)
            wide = page.locator("#positive").bounding_box()["width"]
            self.pull(page, "from", 0.1 * wide, 0.05 * wide)
            left = page.get_by_label("Cut off at the left")
            expect(left).to_have_value(re.compile(r"^(9|10)(\.\d)?$"))
            self.pull(page, "lean", 0, 20)
            expect(page.get_by_label("Straightened by")).to_have_value(re.compile(r"^[5-9]"))
            self.pull(page, "white", -30, 0)
            expect(page.get_by_label("White at")).not_to_have_value("99.5")
            # The picture shows it, and what was dragged before stays.
            expect(page.locator("#positive image")).to_have_attribute(
                "href", re.compile(r"straighten_deg=[5-9].*crop_left=(9|10)")
            )
            self.assert_accessible(page, "a scan")
            page.get_by_role("button", name="And the day's others too").click()
            expect(left).to_have_value(re.compile(r"^(9|10)"))
        made = Scan.objects.values_list("crop_left", "straighten_deg", "high_percent")
        self.assertEqual(len(set(made)), 1)
        self.assertGreater(made[0][0], 8)

    def test_spots_are_measured_by_a_tap_on_a_phone_and_a_wedge_on_the_desk(self):
        flows.bring("S-001.png", [self.scan(5)])
        flows.work_off()
        scan = Scan.objects.get()
        with self.page(PHONE) as page:
            page.goto(f"/read/scans/{scan.pk}/")
            picture = page.get_by_role("button", name="Measure a spot")
            box = picture.bounding_box()
            self.assertLess(box["width"], 340)
            picture.click(position={"x": box["width"] / 4, "y": box["height"] / 2})
            page.wait_for_url(re.compile(r"p=0\.2[45]\d*%2C0\.(49|50)"))
            expect(page.locator(".read-cards strong")).to_have_count(1)
            over = "() => document.documentElement.scrollWidth"
            self.assertLessEqual(page.evaluate(over), 360)
        with self.page() as page:
            page.goto(f"/read/scans/{scan.pk}/")
            page.get_by_role("link", name="There is a wedge").click()
            greys = previews.array_of(scan.preview.jpeg)
            # The brightest and the darkest of its cells of 20 x 20.
            cells = greys.reshape(10, 20, 13, 20).mean(axis=(1, 3))
            bright, dark = (divmod(int(at), 13) for at in (cells.argmax(), cells.argmin()))
            for number, (density, (row, column)) in enumerate((("0.05", bright), ("1.9", dark)), 1):
                page.get_by_label("The next step has a density of").fill(density)
                step = page.get_by_role("button", name="The next step is here")
                box = step.bounding_box()
                cell = box["width"] / 13
                step.click(position={"x": (column + 0.5) * cell, "y": (row + 0.5) * cell})
                expect(page.locator("form input[name=s]")).to_have_count(number)
            page.get_by_label("Keep this wedge as").fill("flat bed")
            self.assert_accessible(page, "a wedge")
            page.get_by_role("button", name="Keep it").click()
            expect(page.locator("main")).to_contain_text("flat bed, give or take 0.05 D")

    def test_loose_scans_are_matched_in_order(self):
        with self.page() as page:
            self.bring(page, ("one.png", self.scan(7)), ("two.png", self.scan(8)))
            expect(page.locator("#scans")).to_contain_text("2 scans wait")
            flows.work_off()
            expect(page.get_by_label("Sheet of one.png")).to_have_value("S-001")
            expect(page.get_by_label("Sheet of two.png")).to_have_value("S-002")
            self.assert_accessible(page, "the light table")
            page.get_by_role("button", name="They are these sheets'").click()
            expect(page.get_by_role("status").first).to_contain_text("2 scans found their sheets")
            page.goto("/sheets/S-002/")
            expect(page.locator(".life-picture img").first).to_be_visible()
            self.wait_until_quiet(page)
            self.assert_accessible(page, "the life of a sheet")
            page.get_by_label("What it is made for").select_option("print")
            page.get_by_role("button", name="Keep what it is for").click()
            expect(page.locator(".life")).to_contain_text("to be printed")

    def test_sheets_are_ticked_on_the_contact_sheet_and_lie_side_by_side(self):
        for name, seed in (("S-001.png", 5), ("S-002.png", 6)):
            flows.bring(name, [self.scan(seed)])
        flows.work_off()
        with self.page() as page:
            page.goto("/sheets/")
            page.get_by_role("link", name="As a contact sheet").click()
            for code in ("S-001", "S-002"):
                page.get_by_label(code).check()
            page.get_by_role("button", name="Lay the ticked ones side by side").click()
            expect(page.locator(".compared figure")).to_have_count(2)
            # A closer look at one is a closer look at the same place of both.
            first, second = (page.locator(".lens img").nth(n) for n in (0, 1))
            first.click(position={"x": 40, "y": 30})
            styles = [
                one.evaluate("(e) => e.style.transform + e.style.transformOrigin")
                for one in (first, second)
            ]
            self.assertEqual(styles[0], styles[1])
            self.assertIn("scale(3)", styles[0])
            page.get_by_role("button", name="Flicker").click()
            expect(page.locator(".compared figure:visible")).to_have_count(1)
            page.get_by_role("button", name="Flicker").click()
            expect(page.locator(".compared figure:visible")).to_have_count(2)

    def test_an_eye_is_trained_on_a_phone(self):
        with self.page(PHONE) as page:
            page.goto("/read/trainer/")
            for number in (1, 2):
                page.get_by_label("a bit dark").check()
                page.get_by_role("button", name="That is what I see").click()
                expect(page.get_by_role("status").first).to_contain_text("The sheet before")
                self.assertEqual(Trial.objects.count(), number)


class Marking(Stage):
    def setUp(self):
        now = clock.now()
        shelf.fill()
        days.make_places(now)
        cans.put_cans_out(now)
        pictures.scan_cans()
        self.can = Solargraph.objects.get(sheet__stage="scanned")

    def test_a_click_on_the_picture_is_a_mark_and_marks_say_how_it_stood(self):
        with self.page() as page:
            page.goto(f"/expose/cans/{self.can.pk}/")
            page.get_by_role("link", name="How did it really").click()
            picture = page.get_by_role("button", name="Mark a place on the picture")
            box = picture.bounding_box()
            self.assertEqual(round(box["width"]), 640)
            high = box["height"]
            true = self.can.stands[0][1]
            turned, leaned, askew = pictures.OFF_DEG
            true = Pointing(true.azimuth_deg + turned, true.tilt_deg + leaned, askew)
            made = test_reading.Stood.clicks(self, true)
            made = [*made[:2], *made[-2:]]
            for number, mark in enumerate(made, 1):
                on = page.get_by_label("The next mark lies on")
                on.select_option(str(mark.on or "horizon"))
                picture.click(position={"x": mark.across * 640, "y": mark.down * high})
                expect(page.locator(".marks-page ol li")).to_have_count(number)
            expect(page.locator("#dull")).to_contain_text("dull day")
            expect(page.get_by_role("img", name="The picture that was expected")).to_be_visible()
            # Clicks are whole pixels: a third of a degree.
            expect(page.locator("h1")).to_contain_text(
                re.compile(r"stood [67](\.\d)?° to the left")
            )
            self.assert_accessible(page, "marks")
            # Under the glass a mark is dragged, and a key moves it by half a pixel.
            before = page.url
            grip = page.get_by_role("slider", name="Mark 2")
            with self.dragged(page, grip, 0, 6):
                expect(page.locator(".loupe")).to_be_visible()
            expect(page.locator(".loupe")).to_be_hidden()
            page.wait_for_url(lambda url: url != before)
            moved = page.url
            self.assertNotEqual(page.locator(".marks-page ol li").count(), 0)
            page.get_by_role("slider", name="Mark 2").focus()
            self.press(page, "ArrowRight")
            page.wait_for_url(lambda url: url != moved)
            across = [float(url.split("&m=")[1].split("%2C")[0]) for url in (moved, page.url)]
            self.assertAlmostEqual(across[1] - across[0], 0.5 / 640, delta=2e-4)
            page.get_by_role("button", name="Larger").click()
            wide = picture.bounding_box()["width"]
            self.assertAlmostEqual(wide, 1280, delta=2)
            page.get_by_role("button", name="Take away mark 4").click()
            expect(page.locator(".marks-page ol li")).to_have_count(3)
            expect(page.locator("h1")).to_contain_text("How did")
