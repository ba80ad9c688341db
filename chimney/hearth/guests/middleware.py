"""A guest makes pictures: plans, opens, develops, reads. The kit, the data and other people's
sheets are not a guest's to change.
"""

from django.shortcuts import redirect, render

from chimney.hearth.flows import GUEST
from chimney.hearth.guests import queries
from chimney.parts.refusal import Refused

# Whose pages are not for guests, and single pages that are not: what was made of a whole log, too.
CLOSED_ROOMS = {"kit", "exchange"}
CLOSED_PAGES = {
    "hearth": {"devices", "call_device", "put_out", "guests", "first_door", "begin"}
    | {"making", "fetch"},
    "logbook": {"row", "unload_row", "close_all", "stock", "packet"},
}
# What a guest may change; every other page is read by a guest, and a new one is no exception.
OPEN_TO_CHANGE = {
    "hearth": {"who", "leave", "dress", "door"},
    "field": {"plan", "kept", "strip", "together", "add_shot", "shot"},
    "logbook": {"bag", "timer", "step", "take_back", "reread", "note", "slip", "unload"}
    | {"lay_in_again", "give_up", "restore", "purpose"},
    "darkroom": {"run", "mix", "going", "white", "note", "back", "tap", "print", "read_strip"}
    | {"take_back_print"},
    "results": {"judge", "take_back", "scans", "scan", "assign", "wedge", "trainer"},
}
NOT_FOR_GUESTS = Refused(
    "Only the owner of this Chimney can do that.", "To the Hearth", "hearth:hearth"
)


class Guests:
    """Marks the request of a guest, and answers what is not for guests."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.guest = request.user.is_authenticated and request.user.username == GUEST
        return self.get_response(request)

    def process_view(self, request, view, args, kwargs):
        if not request.guest:
            return None
        room, _, page = request.resolver_match.view_name.partition(":")
        if not queries.who(request) and page not in ("who", "leave", "door", "token", "dress"):
            return redirect("hearth:who")
        refused = _refused(request, room, page, kwargs)
        return refused and render(request, "parts/refused.html", {"refused": refused}, status=403)


def _refused(request, room, page, kwargs):
    """The Refused of what a guest asked for, or None."""
    if room in CLOSED_ROOMS or page in CLOSED_PAGES.get(room, ()):
        return NOT_FOR_GUESTS
    if request.method in ("GET", "HEAD"):
        return None
    if page not in OPEN_TO_CHANGE.get(room, ()):
        return NOT_FOR_GUESTS
    owner = queries.owner(request.resolver_match, kwargs)
    if owner and owner.pk != queries.who(request):
        return Refused(f"That sheet is {owner}'s.", "To the sheets", "logbook:sheets")
    return None
