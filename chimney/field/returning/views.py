"""Days on which a light comes back: clock times, and the time that a sheet would need."""

from django.http import Http404
from django.shortcuts import get_object_or_404, render

from chimney.field.returning import craft, files, queries
from chimney.field.returning.forms import MomentForm
from chimney.field.returning.page import ReturnsPage
from chimney.logbook.models import Sheet
from chimney.parts import downloads
from chimney.parts.refusal import Refused


def returns(request, code):
    """The days on which the sun stands again as it did for a sheet."""
    return _page(request, _of_sheet(code))


def returns_of(request):
    """The same for a kept plan, a view, or any moment before a camera."""
    return _page(request, _asked(request.GET))


def _page(request, then):
    fields = request.GET.copy()
    fields.pop("all", None)
    page = ReturnsPage(then, "all" in request.GET, fields.urlencode())
    return render(request, "field/returns.html", {"page": page, "then": then})


def ics(request, code, stamp):
    """One of these days of a sheet as a calendar file."""
    return _file([_on(_of_sheet(code), stamp)], f"{code}-returns.ics")


def ics_of(request, stamp):
    """One of these days of a plan, a view or a moment as a calendar file."""
    return _file([_on(_asked(request.GET), stamp)], "returns.ics")


def views_ics(request):
    """The days of all views of which a sheet was made, as one calendar file."""
    rows = [
        (then, row) for _, then in queries.views() for row in craft.seasons(craft.comebacks(then))
    ]
    return _file(rows, "views.ics")


def _file(rows, name):
    return downloads.calendar(files.calendar_of(rows), name)


def _on(then, stamp):
    """(Then, its Comeback of that stamp). Raises Http404 where it has none."""
    row = next((row for row in craft.comebacks(then) if row.stamp == stamp), None)
    if row is None:
        raise Http404("The sun does not come back then.")
    return then, row


def _of_sheet(code):
    """The Then of a sheet. Raises Refused where nobody knows how the sun stood."""
    sheet = get_object_or_404(Sheet, code=code)
    then = queries.of_sheet(sheet)
    if then is None:
        refusal = f"Where and when {sheet} was exposed is not written down: its sun is not known."
        raise Refused(refusal, f"See {sheet}", "logbook:sheet", sheet.code)
    return then


def _asked(params):
    """The Then that an address asks for. Raises Refused where it tells of none."""
    for name, read, then_of in (
        ("shot", queries.shot, queries.of_shot),
        ("view", queries.view, queries.of_view),
    ):
        if params.get(name, "").isdecimal():
            row = read(int(params[name][:15]))
            then = row and then_of(row)
            if then:
                return then
    form = MomentForm(params)
    if form.is_valid():
        return queries.of_moment(form.cleaned_data)
    refusal = "No sheet or hour of it is written down: choose a moment in the year of light."
    raise Refused(refusal, "See the year of light", "field:year")
