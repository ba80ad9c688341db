"""A live server with a browser before it. Any script error or policy violation fails the test."""

import io
import os
import signal
from contextlib import contextmanager
from functools import cache
from unittest import mock

from axe_playwright_python.base import AXE_SCRIPT, AxeResults
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from PIL import Image
from playwright.sync_api import expect, sync_playwright

from chimney import beside
from chimney.parts import clock
from chimney.results.curves.craft import curve_of
from pinhole import sheet as papers
from pinhole.imaging import view
from tests.browser.chromium import launch
from tests.runner import begin, going

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
TELL = (
    "addEventListener('securitypolicyviolation', e => console.error('policy: ' + "
    "e.violatedDirective + e.blockedURI));"
    "addEventListener('click', () => { window.clickedAt = Date.now(); }, true);"
    "addEventListener('pointermove', e => { window.pointer = [e.clientX, e.clientY]; }, true);"
    "window.stirredAt = 0;"
    "for (const name of ['input', 'change', 'htmx:beforeRequest', 'htmx:afterSettle'])"
    "  addEventListener(name, () => { window.stirredAt = performance.now(); }, true)"
)
RUN_AXE = """async (options) => {
  const { violations, passes } = await axe.run(options);
  return { violations, passed: passes.length };
}"""
# A slow machine is no defect: a wait ends as soon as what is waited for is there.
PATIENCE_MS = 20_000
expect.set_options(timeout=PATIENCE_MS)
HANGS_S = 900
# A picture, which neither asks for anything nor stirs.
STILL = "/static/icon.svg"
# Longer than a form waits for a hand that rests; where no hand was, parts of a page are asked for
# at once.
QUIET_MS, UNTOUCHED_MS = 400, 80
DESK, PHONE = {"width": 1280, "height": 800}, {"width": 360, "height": 740}


def scan_of(paper, seed, stops=0.0):
    """The bytes of a scan of a scene of chance on that paper."""
    made = papers.simulate(view(seed, 200, 260), stops, curve_of(paper), seed=seed)
    out = io.BytesIO()
    Image.fromarray(papers.scanned(made)).save(out, "PNG")
    return out.getvalue()


@cache
def _playwright():
    """One for all tests of a process; what it drives ends with it."""
    return sync_playwright().start()


def _give_up(*_):
    # The next class has another one.
    Stage.browser = None
    raise TimeoutError("The browser does not answer.")


class Stage(StaticLiveServerTestCase):
    # One for all tests of a process too, unless it broke.
    browser = None
    # {what they are like: [windows that nobody uses now]}.
    left = {}

    @classmethod
    def _start_server_thread(cls):
        """One server for all tests of a process, too: what its browser has fetched of it once need
        not be fetched and understood again in the next test.
        """
        if "server_thread" not in vars(Stage):
            super()._start_server_thread()
            Stage.server_thread = cls.server_thread

    @classmethod
    def _terminate_thread(cls):
        """It ends with its process."""

    @classmethod
    def setUpClass(cls):
        standing = mock.patch.object(clock, "now", going)
        standing.start()
        cls.addClassCleanup(standing.stop)
        super().setUpClass()
        cls.playwright = _playwright()
        if Stage.browser is None or not Stage.browser.is_connected():
            Stage.browser, Stage.left = launch(cls.playwright), {}

    def run(self, result=None):
        """A browser that never answers ends its own test, not the whole run. Whoever was at work
        in another test is silent by now, and is no trouble of this one.
        """
        beside.BEAT.unlink(missing_ok=True)
        begin()
        signal.signal(signal.SIGALRM, _give_up)
        signal.alarm(HANGS_S)
        try:
            return super().run(result)
        finally:
            signal.alarm(0)

    @contextmanager
    def windows(self, *, fresh, **like):
        """Windows of a browser without cookies, store or open pages, as a device of its own has
        them; fresh: nor has it ever fetched anything, and nobody has it afterwards.
        """
        left = [] if fresh else Stage.left.setdefault(repr(like), [])
        if left:
            windows = left.pop()
        else:
            windows = self.browser.new_context(base_url=self.live_server_url, **like)
            windows.add_init_script(TELL)
            windows.set_default_timeout(PATIENCE_MS)
            if not fresh:
                # As long as one of them stays open, the others are drawn by who is warm already.
                windows.new_page().goto(STILL)
        is_sound = False
        try:
            yield windows
            is_sound = not fresh
        finally:
            if is_sound:
                for page in windows.pages[1:]:
                    page.close()
                windows.set_offline(False)
                windows.clear_cookies()
                left.append(windows)
            else:
                windows.close()

    @contextmanager
    def page(self, viewport=DESK, *, expected_status=(), expected=(), fresh=False, **more):
        with self.windows(fresh=fresh, viewport=viewport, **more) as windows:
            page, wrong = windows.new_page(), []
            store = {"origin": self.live_server_url, "storageTypes": "local_storage"}
            windows.new_cdp_session(page).send("Storage.clearDataForOrigin", store)
            page.on("pageerror", lambda error: wrong.append(str(error)))
            page.on(
                "console",
                lambda message: wrong.append(message.text) if message.type == "error" else None,
            )
            yield page
        # A newer request calls off the one under way (a tap the poll, a choice the sum), and htmx
        # tells the console so.
        allowed = ("htmx:sendAbort", "htmx:afterRequest", *expected)
        wrong = [words for words in wrong if not words.startswith(allowed)]
        wrong = [
            words
            for words in wrong
            if not any(f"status of {status}" in words for status in expected_status)
        ]
        self.assertEqual(wrong, [])

    def wait_until_quiet(self, page, quiet_ms=QUIET_MS):
        """The page and the parts that it fetches by itself are there, and nothing stirred for so
        long.
        """
        page.wait_for_load_state()
        page.wait_for_function(
            "() => !document.querySelector('.htmx-request')"
            f" && performance.now() - window.stirredAt > {quiet_ms}"
        )

    def press(self, page, key):
        """A key on a page whose scripts are there: before that it is nobody's."""
        page.wait_for_load_state()
        page.keyboard.press(key)

    @contextmanager
    def dragged(self, page, grip, across, down, steps=6):
        """Inside it the grip is held so many pixels from where it lay; after it, it is let go and
        answered.
        """
        self.wait_until_quiet(page)
        box = grip.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(1, steps + 1):
            page.mouse.move(x + across * step / steps, y + down * step / steps)
            page.wait_for_timeout(60)
        yield
        page.mouse.up()
        self.wait_until_quiet(page)

    def assert_comes_to(self, page, wanted, told):
        """What the page shows at once the server has a moment later."""
        for _ in range(PATIENCE_MS // 100):
            if told() == wanted:
                break
            page.wait_for_timeout(100)
        self.assertEqual(told(), wanted)

    @contextmanager
    def answer_under_a_finger(self, page, words, address):
        """What was tapped in here is answered only when a finger lies on the button of these words,
        and the finger is lifted after that.
        """
        held = []
        # Before all is there, what is tapped may still move from under the finger.
        self.wait_until_quiet(page)
        page.route(address, lambda route: held.append(route), times=1)
        yield
        self.assert_comes_to(page, 1, lambda: len(held))
        button = page.get_by_role("button", name=words)
        expect(button).to_be_visible()
        box = button.bounding_box()
        page.mouse.move(box["x"] + 9, box["y"] + 9)
        page.mouse.down()
        with page.expect_response(address):
            held[0].continue_()
        # Longer than the beat at which the page draws its clocks.
        page.wait_for_timeout(500)
        expect(button).to_be_visible()
        page.mouse.up()

    def assert_handed_over(self, page):
        """No tap waits in the browser; if one does, the page says why."""
        for _ in range(PATIENCE_MS // 100):
            if not page.evaluate("JSON.parse(localStorage.taps || '[]').length"):
                return
            page.wait_for_timeout(100)
        self.fail(page.locator("#taps").text_content() or page.evaluate("localStorage.taps"))

    def assert_accessible(self, page, where, rules=()):
        """No violation of these rules of axe, or of any."""
        # One element of each rule that passed is told; of each that is violated, all.
        options = {"resultTypes": ["violations"]}
        if rules:
            options["runOnly"] = {"type": "rule", "values": rules}
        if not page.evaluate("'axe' in window"):
            page.evaluate(AXE_SCRIPT)
        found = AxeResults(page.evaluate(RUN_AXE, options))
        self.assertGreater(found.response["passed"], 0 if rules else 5)
        self.assertEqual(found.violations_count, 0, f"{where}: {found.generate_report()}")
