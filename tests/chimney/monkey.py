"""A hand that taps what pages offer: forms read off the page as a browser would send them."""

from dataclasses import dataclass, field
from html.parser import HTMLParser


@dataclass
class Offer:
    """A form of a page with one of its buttons: where it goes, what a browser would send, what
    stands on the button.
    """

    action: str
    method: str
    words: str
    data: dict = field(default_factory=dict)

    def send(self, client, **more):
        call = client.post if self.method == "post" else client.get
        return call(self.action, {**self.data, **more})


class Page(HTMLParser):
    """The links, the places on pages that they lead to, the ids and the forms of a page."""

    def __init__(self, html, url="/"):
        super().__init__()
        self.url, self.links, self.ids, self.forms = url, set(), [], []
        self.places = set()
        self.form = self.select = self.area = self.button = None
        self.feed(html)

    @property
    def offers(self):
        """An Offer for each button of each form."""
        return [
            Offer(
                action=(button.get("formaction") or form["action"]).partition("#")[0] or self.url,
                method=button.get("formmethod") or form["method"],
                words=" ".join(button["words"].split()),
                data={
                    **form["data"],
                    **({button["name"]: button.get("value", "")} if button.get("name") else {}),
                },
            )
            for form in self.forms
            for button in form["buttons"]
        ]

    def handle_starttag(self, tag, attrs):
        found = {name: value or "" for name, value in attrs}
        if found.get("id"):
            self.ids.append(found["id"])
        for name in ("href", "hx-get", "src"):
            if found.get(name, "").startswith("/") and tag != "use":
                self.links.add(found[name].partition("#")[0])
        if tag == "a" and "#" in found.get("href", ""):
            page, _, place = found["href"].partition("#")
            self.places.add((page or self.url, place))
        if tag == "form":
            self.form = {
                "action": found.get("action", self.url),
                "method": found.get("method", "get").lower(),
            }
            self.form |= {"data": {}, "buttons": []}
            self.forms.append(self.form)
        elif self.form is not None:
            self._in_a_form(tag, found, dict(attrs))

    def _in_a_form(self, tag, found, attrs):
        data, name = self.form["data"], found.get("name", "")
        if tag == "input" and name:
            kind = found.get("type", "text")
            if kind in ("checkbox", "radio"):
                if "checked" in attrs:
                    data.setdefault(name, [])
                    data[name] = (
                        [*data[name], found.get("value", "on")]
                        if kind == "checkbox"
                        else [found["value"]]
                    )
            elif kind != "file":
                data[name] = found.get("value", "")
        elif tag == "select":
            self.select = name
        elif tag == "option" and self.select and ("selected" in attrs or self.select not in data):
            data[self.select] = found.get("value", "")
        elif tag == "textarea" and name:
            self.area, data[name] = name, ""
        elif tag == "button" and found.get("type", "submit") == "submit":
            self.button = {**found, "words": ""}
            self.form["buttons"].append(self.button)

    def handle_data(self, data):
        if self.button is not None:
            self.button["words"] += data
        elif self.area:
            self.form["data"][self.area] += data

    def handle_endtag(self, tag):
        if tag == "form":
            self.form = None
        elif tag == "select":
            self.select = None
        elif tag == "textarea":
            self.area = None
        elif tag == "button":
            self.button = None
