"""Every main view, fetched once: as a phone does at night, dressed for the dark room there, then
laid out for a desk by day. There the return key in every text field moves no sheet, hole, can or
bath.
"""

import re

from axe_playwright_python.base import AXE_SCRIPT

from chimney.darkroom.models import Bath, Development, LaneTap, Run
from chimney.logbook.models import Loading, Opening, Sheet
from chimney.results.models import Verdict
from chimney.solar.models import Solargraph
from tests.browser.stage import DESK, PHONE, UNTOUCHED_MS
from tests.browser.test_views import Shown

# What the server writes into a page for another dress, beside its note.
DRESS = """([dress, scheme]) => {
  document.documentElement.dataset.dress = dress;
  document.querySelector('meta[name=color-scheme]').content = scheme;
}"""
# Letters under 12 px, in drawings as they are shown; and what is tapped and is under 44 px, but for
# links inside a sentence.
SMALL = r"""() => {
  const seen = (e) => e.checkVisibility({ visibilityProperty: true })
    && !e.closest(".visually-hidden");
  const said = (e) => (e.textContent || e.name || "").trim().slice(0, 30);
  const own = (e) => [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
  const letters = (e) => parseFloat(getComputedStyle(e).fontSize)
    * (e.ownerSVGElement ? e.getScreenCTM().a : 1);
  const inside = (e) => e.matches("a") && getComputedStyle(e).display === "inline"
    && e.parentElement.textContent.trim().length > e.textContent.trim().length + 3;
  const box = (e) => (e.type === "radio" || e.type === "checkbox"
    ? (e.closest("label") ?? e) : e).getBoundingClientRect();
  const tiny = [...document.querySelectorAll("main *, nav *")]
    .filter((e) => own(e) && seen(e) && letters(e) < 11.95)
    .map((e) => `${letters(e).toFixed(1)} px: ${said(e)}`);
  const tapped = "a[href], button, input:not([type=hidden]), select, textarea, summary, "
    + "[data-handle]";
  const thin = [...document.querySelectorAll("main, nav")]
    .flatMap((part) => [...part.querySelectorAll(tapped)])
    .filter((e) => seen(e) && !inside(e) && Math.min(box(e).width, box(e).height) < 43.5)
    .map((e) => `${box(e).width.toFixed(0)} x ${box(e).height.toFixed(0)}: ${said(e)}`);
  return [...tiny, ...thin];
}"""
# What is spoken when it changes, and is longer than a sentence or two.
TALKATIVE = r"""() => [...document.querySelectorAll("[aria-live], [role=status], [role=alert]")]
  .map((e) => e.textContent.trim()).filter((words) => words.length > 200)"""
# Words of a page beside its drawings, choices and lists of what somebody has; and its sentences of
# more words than one takes in at once.
WORDS = r"""() => {
  const aside = "svg, select, table, .words-here, .visually-hidden, .thing, .strip,"
    + " .notebook-sheet, .slot, .message, .calculation, .steps, .by-name, .say";
  const words = (text) => text.trim().split(/\s+/).filter(Boolean).length;
  const main = document.querySelector("main"), texts = new Map();
  const walker = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
  while (walker.nextNode()) {
    const of = walker.currentNode.parentElement;
    if (of.closest(aside) || !of.checkVisibility()) continue;
    const block = of.closest("p, li, dd, dt, h1, h2, h3, label, legend, button, summary, a, div");
    texts.set(block, (texts.get(block) ?? "") + walker.currentNode.textContent);
  }
  const all = [...texts.values()];
  const long = all.flatMap((text) => text.replace(/\s+/g, " ").split(/(?<=[.!?])\s|[:;] /))
    .filter((sentence) => words(sentence) > 20);
  return [all.reduce((sum, text) => sum + words(text), 0), long];
}"""
MOST_WORDS, MOST_OF_LEARN = 400, 350
# These are lists of words.
WORDY = ("/words/", "/read/faults/", "/notebook/")

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
# Parts of a page that are shut are opened first: nobody types into what is not seen.
UNFOLD = "document.querySelectorAll('main details').forEach((e) => { e.open = true; })"
# What a form would send is told, not sent.
HOLD = r"""() => {
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


class EveryView(Shown):
    def test_each_is_kept_to_on_a_phone_in_the_dark_room_and_on_a_desk(self):
        pressed, would_send, refusals = 0, {}, [400, 404, 409, 422]
        with self.page(PHONE, color_scheme="dark", expected_status=refusals) as page:
            # A script that each document begins with is compiled once for all of them.
            page.add_init_script(AXE_SCRIPT)
            for address in self.each(page):
                with self.subTest(address):
                    self.narrow_at_night(page, address)
                    page.evaluate(DRESS, ["darkroom", "dark"])
                    self.assert_red_and_black(page, address)
                    page.evaluate(DRESS, ["day", "light dark"])
                    page.set_viewport_size(DESK)
                    page.emulate_media(color_scheme="light")
                    self.wait_until_quiet(page, UNTOUCHED_MS)
                    self.wide_by_day(page, address)
                for n, sent in self.press_everywhere(page):
                    pressed += 1
                    if sent.startswith("post"):
                        would_send.setdefault(sent, (address, n))
                # The next one is fetched by a phone again; this one need not be laid out for it.
                page.evaluate("document.documentElement.remove()")
                page.set_viewport_size(PHONE)
                page.emulate_media(color_scheme="dark")
        with self.page(expected_status=refusals) as page:
            for sent, (address, n) in would_send.items():
                self.press_for_good(page, address, n, sent)
        self.assertGreater(pressed, 200)
        self.assertGreater(len(would_send), 20)

    def narrow_at_night(self, page, address):
        self.assert_accessible(page, f"{address} narrow at night")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 360)
        self.assertEqual(page.evaluate(SMALL), [], "under 12 px, or 44 to a thumb")
        self.assertEqual(page.evaluate(TALKATIVE), [], "too long to be read aloud")

    def wide_by_day(self, page, address):
        self.assert_accessible(page, f"{address} wide by day")
        count, long = page.evaluate(WORDS)
        self.assertEqual(long, [], "sentences of more than 20 words")
        if not address.endswith(WORDY):
            most = MOST_OF_LEARN if address == "/learn/" else MOST_WORDS
            self.assertLessEqual(count, most)

    def press_everywhere(self, page):
        """(place of a field, what the return key would send there) of all that are seen."""
        page.evaluate(UNFOLD)
        page.evaluate(HOLD)
        for n in page.evaluate(SEEN, FIELDS):
            page.evaluate(INTO, [FIELDS, n])
            page.keyboard.press("Enter")
            yield n, re.sub(r"\d+", "N", page.evaluate("window.sent") or "")

    def press_for_good(self, page, address, n, what):
        page.goto(address)
        self.wait_until_quiet(page, UNTOUCHED_MS)
        page.evaluate(UNFOLD)
        before = the_log()
        page.locator(FIELDS).nth(n).press("Enter")
        self.wait_until_quiet(page)
        with self.subTest(address, what=what):
            self.assertEqual(the_log(), before)
