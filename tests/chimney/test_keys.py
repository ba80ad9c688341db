"""The return key in a field: the first button of a form is what a browser presses, so it does no
harm, on every page there is.
"""

import re
from html.parser import HTMLParser

from django.test import TestCase

from tests import years
from tests.chimney import addresses

# Fields in which the return key sends the form.
TYPED = ("text", "search", "number", "date", "time", "datetime-local", "email", "password", "url")
# Buttons that work something out and change nothing.
LOOKS = {"work", "look"}
# Buttons that keep what stands in the fields, and nothing else: what the return key means there.
KEEPS = {"Keep it", "Show it", "Take this reading"}


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


class ReturnKey(TestCase):
    @classmethod
    def setUpTestData(cls):
        years.a_year()

    def test_the_first_button_of_every_form_does_no_harm(self):
        seen, wrong = 0, set()
        for _, url in addresses.every((1, 2, 3, 5, 6, 9, 60)):
            answer = self.client.get(url)
            if answer.status_code != 200 or "text/html" not in answer["Content-Type"]:
                continue
            for form in Forms(answer.content.decode()).forms:
                seen += bool(form["fields"])
                if why := harms(form):
                    wrong.add((re.sub(r"\d+", "N", form["action"] or url), why))
        self.assertGreater(seen, 110)
        self.assertEqual(wrong, set())
