"""A thing that is missing in a choice is added where it is needed: what was typed goes along in the
address, and the way back leads to it, with the new thing chosen.
"""

from urllib.parse import parse_qsl, urlencode, urlsplit

from django.shortcuts import redirect
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme

from chimney.parts.fields import FewRowsField

# No form says more; a longer address is none of ours.
LONGEST = 6000
OWN = ("then", "as")


class AddableField(FewRowsField):
    """A choice with a way to add one; `add`: a URL name and its arguments."""

    def __init__(self, *args, add, **kwargs):
        super().__init__(*args, **kwargs)
        self.add = add

    @property
    def add_address(self):
        return reverse(self.add[0], args=self.add[1:])


def begun(request, several=()):
    """{field: value} that a form begins with, from what was typed before something was added;
    several: fields in which more than one may be ticked.
    """
    return {name: values if name in several else values[-1] for name, values in request.GET.lists()}


def way_back(request):
    """{"then": the page something is needed on, "as": the field it is needed in}, as far as the
    request or the page before says so.
    """
    fields = {name: request.POST.get(name) or request.GET.get(name, "") for name in OWN}
    if fields["as"] and not fields["then"] and request.method == "GET":
        before = urlsplit(request.headers.get("Referer", ""))
        fields["then"] = f"{before.path}?{before.query}"
    ours = url_has_allowed_host_and_scheme(fields["then"], allowed_hosts=None)
    if not (ours and fields["then"].startswith("/") and len(fields["then"]) <= LONGEST):
        return {}
    return fields


def as_query(back):
    """The same for an address on the way."""
    return urlencode(back)


def lead_back(back, thing, *usual):
    """To the page that the thing was added for, with it chosen; else to the usual URL name."""
    if not back:
        return redirect(*usual)
    target = urlsplit(back["then"])
    typed = [(name, value) for name, value in parse_qsl(target.query) if name != back["as"]]
    if back["as"]:
        typed.append((back["as"], str(thing.pk)))
    return redirect(f"{target.path}?{urlencode(typed)}" if typed else target.path)
