"""The return key in every text field of every main view: no sheet, hole, can or bath moves."""

import re

from chimney.darkroom.models import Bath, Development, LaneTap, Run
from chimney.logbook.models import Loading, Opening, Sheet
from chimney.results.models import Verdict
from chimney.solar.models import Solargraph
from tests.browser.stage import DESK, UNTOUCHED_MS
from tests.browser.test_views import Shown

FIELDS = (
    "main form input:not([type=hidden], [type=checkbox], [type=radio], [type=file], [type=range])"
    ":not([type=color]):not([disabled])"
)
# What the log knows of where things are and what was done with them.
LOG = (
    (Sheet, ("pk", "stage")),
    (Loading, ("pk", "unloaded_at")),
    (Opening, ("pk", "closed_at")),
    (Run, ("pk", "white_at")),
    (LaneTap, ("pk",)),
    (Development, ("pk", "developed_at")),
    (Verdict, ("pk", "stops_more")),
    (Bath, ("pk", "thrown_at")),
    (Solargraph, ("pk", "opened_at", "closed_at")),
)
# Parts of a page that are shut are opened first: nobody types into what is not seen. What a form
# would send is told, not sent.
HOLD = r"""() => {
  document.querySelectorAll('main details').forEach((e) => { e.open = true; });
  window.sent = null;
  addEventListener('submit', (event) => {
    event.preventDefault();
    event.stopImmediatePropagation();
    const { target: form, submitter } = event;
    const method = submitter?.getAttribute('formmethod') ?? form.method;
    const action = form.getAttribute('action') || location.pathname;
    window.sent = [method, action, (submitter?.textContent ?? '').trim()].join(' ');
  }, true);
}"""

# The places of those fields that are seen; the hand in one of them.
SEEN = r"""(fields) => [...document.querySelectorAll(fields)]
  .flatMap((e, n) => e.checkVisibility({ visibilityProperty: true }) ? [n] : [])"""
INTO = r"""([fields, n]) => {
  window.sent = null;
  document.querySelectorAll(fields)[n].focus();
}"""


def the_log():
    return [sorted(map(str, model.objects.values_list(*names))) for model, names in LOG]


class ReturnKey(Shown):
    def test_it_moves_nothing_in_any_field(self):
        pressed, tried = 0, set()
        with self.page(DESK, expected_status=[400, 404, 409, 422]) as page:
            for address in self.each(page):
                page.evaluate(HOLD)
                would_send = {}
                for n in page.evaluate(SEEN, FIELDS):
                    page.evaluate(INTO, [FIELDS, n])
                    page.keyboard.press("Enter")
                    pressed += 1
                    if sent := page.evaluate("window.sent"):
                        would_send.setdefault(re.sub(r"\d+", "N", sent), n)
                for what, n in would_send.items():
                    if what.startswith("post") and what not in tried:
                        tried.add(what)
                        self.press_for_good(page, address, n, what)
        self.assertGreater(pressed, 200)
        self.assertGreater(len(tried), 20)

    def press_for_good(self, page, address, n, what):
        page.goto(address)
        self.wait_until_quiet(page, UNTOUCHED_MS)
        page.evaluate(
            "document.querySelectorAll('main details').forEach((e) => { e.open = true; })"
        )
        before = the_log()
        page.locator(FIELDS).nth(n).press("Enter")
        self.wait_until_quiet(page)
        with self.subTest(address, what=what):
            self.assertEqual(the_log(), before)
