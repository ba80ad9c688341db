"""Every page there is, fetched once: what it links to is there, its words are whole, and the
return key in a field does no harm.
"""

import re
from datetime import UTC, datetime
from html.parser import HTMLParser
from unittest import mock

from django.forms import BaseForm
from django.template.base import Variable, VariableDoesNotExist
from django.template.context import BaseContext
from django.urls import resolve

from chimney.parts import clock
from tests import years
from tests.chimney import addresses
from tests.chimney.monkey import Page
from tests.chimney.pages import TestCase

# At dusk.
NOVEMBER = datetime(2026, 11, 25, 14, tzinfo=UTC)
MOST_PAGES = 260
# Fields in which the return key sends the form.
TYPED = ("text", "search", "number", "date", "time", "datetime-local", "email", "password", "url")
# Buttons that work something out and change nothing.
LOOKS = {"work", "look"}
# Buttons that keep what stands in the fields, and nothing else: what the return key means there.
KEEPS = {"Keep it", "Show it", "Take this reading"}
# What no page may say: a plural of one, a number without a unit word, words of the machine.
WRONG = re.compile(
    r"\b1 (sheets|noons|shots|cans|days|minutes|exposures|verdicts|lessons|pages|holders|papers)\b"
    r"|\b(nan|None|Traceback|undefined)\b|\{\{|\}\}|\{%|\.\.(?!\.)|,,| ,(?=\s)|\(\s*\)",
)


def reading(html):
    """What is read of a page: inline marks stand for nothing, everything else for a space."""
    html = re.sub(r"(?s)<(script|style|svg|option)\b.*?</\1>", " ", html)
    html = re.sub(r"</?(a|strong|em|kbd|b|small)\b[^>]*>", "", html)
    return re.sub(r"\s+", " ", re.sub(r"<[^>]*>", " ", html))


class Asks(HTMLParser):
    """What asks the server by itself says where its answer goes: one that stands inside another
    that asks would else take that one's place. wrong: those that do not.
    """

    VOID = {"input", "img", "br", "hr", "meta", "link", "path", "rect", "line", "circle"}

    def __init__(self):
        super().__init__()
        self.open, self.wrong = [], []

    def handle_starttag(self, tag, attrs):
        attrs = dict(attrs)
        inside = any("hx-target" in above for _, above in self.open)
        if inside and {"hx-get", "hx-post"} & set(attrs) and "hx-target" not in attrs:
            self.wrong.append(self.get_starttag_text())
        if tag not in self.VOID:
            self.open.append((tag, attrs))

    def handle_startendtag(self, tag, attrs):
        """Holds nothing."""

    def handle_endtag(self, tag):
        while self.open and self.open.pop()[0] != tag:
            pass


class Forms(HTMLParser):
    """[{action, method, fields, buttons}] of a page, buttons as a browser orders them."""

    def __init__(self, html):
        super().__init__()
        self.forms, self.form, self.button = [], None, None
        self.feed(html)

    def handle_starttag(self, tag, attrs):
        found = dict(attrs)
        if tag == "form":
            self.form = {"action": found.get("action", ""), "method": found.get("method", "get")}
            self.form |= {"fields": [], "buttons": []}
            self.forms.append(self.form)
        elif self.form is None:
            return
        elif tag == "input" and found.get("type", "text") in TYPED:
            self.form["fields"].append(found.get("name", ""))
        elif tag == "button" and found.get("type", "submit") == "submit":
            self.button = found | {"words": ""}
            self.form["buttons"].append(self.button)

    def handle_endtag(self, tag):
        if tag == "form":
            self.form = None
        if tag == "button":
            self.button = None

    def handle_data(self, data):
        if self.button is not None:
            self.button["words"] += data


def harms(form):
    """Why the return key in a field of a form may do what nobody meant, or nothing."""
    if not (form["fields"] and form["buttons"]) or form["method"] == "get":
        return ""
    first, *others = form["buttons"]
    if "disabled" in first or first.get("name") in LOOKS or first.get("formmethod") == "get":
        return ""
    words = " ".join(first["words"].split())
    if words in KEEPS:
        return ""
    if others:
        return f"several buttons, and “{words}” is the first"
    if "act-big" in first.get("class", ""):
        return f"“{words}” moves a sheet or a can"
    return ""


class EveryPage(TestCase):
    """Pages are only read here, so that each is fetched once, whichever test asks for it first."""

    fetched: dict = {}
    missed: set = set()

    @classmethod
    def setUpTestData(cls):
        with clock.at(NOVEMBER):
            years.a_year()

    def setUp(self):
        self.enterContext(clock.at(NOVEMBER))
        self.enterContext(mock.patch.object(Variable, "_resolve_lookup", self.watched()))

    def watched(self):
        """Django's look for a name, which notes what a thing does not have."""
        found_by_django, missed = Variable._resolve_lookup, self.missed

        def look(variable, context):
            try:
                return found_by_django(variable, context)
            except VariableDoesNotExist as error:
                part, thing = error.params
                if not isinstance(thing, BaseContext | BaseForm | dict | str | type(None)):
                    missed.add(f"{type(thing).__name__}.{part}")
                raise

        return look

    def get(self, url):
        """(address, status, text of a page of HTML or None) of what an address leads to."""
        if url not in self.fetched:
            answer = self.client.get(url)
            if answer.status_code in (301, 302) and answer["Location"].startswith("/"):
                self.fetched[url] = self.get(answer["Location"])
            else:
                is_page = "text/html" in answer.get("Content-Type", "")
                is_page = is_page and "attachment" not in answer.get("Content-Disposition", "")
                text = answer.content.decode() if is_page else None
                self.fetched[url] = url, answer.status_code, text
        return self.fetched[url]

    def pages(self):
        """(address, text) of every page of the URL configuration that is there."""
        for _, url in addresses.every((1, 2, 3, 5, 6, 9, 60)):
            _, status, text = self.get(url)
            if status == 200 and text is not None:
                yield url, text

    def test_the_first_button_of_every_form_does_no_harm(self):
        seen, wrong = 0, set()
        for url, text in self.pages():
            for form in Forms(text).forms:
                seen += bool(form["fields"])
                if why := harms(form):
                    wrong.add((re.sub(r"\d+", "N", form["action"] or url), why))
        self.assertGreater(seen, 110)
        self.assertEqual(wrong, set())

    def test_every_link_leads_somewhere(self):
        waiting, seen, forms, places, ids = ["/"], set(), set(), set(), {}
        while waiting and len(seen) < MOST_PAGES:
            url = waiting.pop(0)
            shape = re.sub(r"\d+", "N", url.partition("?")[0])
            # A dozen of each kind of page will do.
            if (
                url in seen
                or sum(re.sub(r"\d+", "N", one.partition("?")[0]) == shape for one in seen) >= 12
            ):
                continue
            seen.add(url)
            with self.subTest(url):
                _, status, text = self.get(url)
                self.assertEqual(status, 200)
                if text is None:
                    continue
                page = Page(text, url)
                twice = {one for one in page.ids if page.ids.count(one) > 1}
                self.assertEqual(twice, set(), "ids that stand twice")
                places, ids[url] = places | page.places, {*page.ids, ""}
                forms |= {
                    offer.action.partition("?")[0]
                    for offer in page.offers
                    if offer.method == "post"
                }
                waiting += sorted(
                    link
                    for link in page.links
                    if not link.startswith("/static/") and link not in seen
                )
        self.assertGreater(len(seen), 120)
        led = {(url, place) for url, place in places if url in ids}
        self.assertEqual({one for one in led if one[1] not in ids[one[0]]}, set())
        self.assertGreater(sum(url == "/words/" for url, _ in led), 25)
        for url in forms:
            with self.subTest(form=url):
                self.assertTrue(resolve(url))
        self.assertGreater(len(forms), 40)

    def test_every_room_is_within_three_links_of_the_hearth(self):
        near, edge = {"/"}, {"/"}
        for _ in range(3):
            found = set()
            for url in sorted(edge):
                if text := self.get(url)[2]:
                    found |= {link.partition("?")[0] for link in Page(text).links}
            edge = {link for link in found - near if not re.search(r"static|\d", link)}
            near |= found
        for room in (
            "/kit/can/",
            "/kit/room/",
            "/kit/needs/",
            "/plan/outings/",
            "/plan/places/",
            "/plan/sun/",
        ):
            self.assertIn(room, near)
        for room in (
            "/expose/cans/",
            "/expose/packet/",
            "/develop/",
            "/read/",
            "/learn/",
            "/sheets/",
            "/keys/",
        ):
            self.assertIn(room, near)

    def test_every_page_is_said_in_whole_words_and_asks_things_for_what_they_have(self):
        """Django forgives a missing name silently, in a condition as in a sentence: one that was
        changed would quietly take its words off the page.
        """
        read = 0
        for url, text in self.pages():
            read += 1
            with self.subTest(url):
                self.assert_whole(reading(text))
                asks = Asks()
                asks.feed(text)
                self.assertEqual(asks.wrong, [])
        self.assertEqual(self.missed, set())
        self.assertGreater(read, 40)

    def assert_whole(self, text):
        wrong = WRONG.search(text)
        self.assertIsNone(wrong, wrong and text[max(0, wrong.start() - 60) :][:140])
