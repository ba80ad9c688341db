"""A guest makes pictures: plans, opens, develops, reads. The kit, the data and other people's
sheets are not a guest's to change.
"""

from django.shortcuts import redirect, render

from chimney.hearth.flows import GUEST
from chimney.hearth.guests import queries
from chimney.parts.refusal import Refused

# Whose pages are not for guests, and single pages that are not.
CLOSED_ROOMS = {"kit", "exchange"}
CLOSED_PAGES = {
    "hearth": {"devices", "call_device", "put_out", "guests", "first_door", "begin"},
    "logbook": {"row", "unload_row", "close_all", "stock", "packet"},
}
# Pages that a guest may read and not change.
READ_ONLY_ROOMS = {"lessons", "places", "solar"}
READ_ONLY_PAGES = {
    "darkroom": {"top_up", "throw_away", "light_test", "add", "edit", "retire", "change"}
    | {"new_process", "drop_process", "take_school", "place", "correct", "take_back"},
    "field": {"drop_outing", "undrop_outing", "new_outing", "edit_outing", "move", "drop"},
    "logbook": {"owner"},
    "results": {"match_all", "group", "forget_setting", "forget"},
}
NOT_FOR_GUESTS = Refused(
    "That is for the one whose Chimney this is.", "To the Hearth", "hearth:hearth"
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
    if room in READ_ONLY_ROOMS or page in READ_ONLY_PAGES.get(room, ()):
        return NOT_FOR_GUESTS
    owner = queries.owner(request.resolver_match, kwargs)
    if owner and owner.pk != queries.who(request):
        return Refused(f"That sheet is {owner}'s.", "To the sheets", "logbook:sheets")
    return None
