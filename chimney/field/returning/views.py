"""Days on which the light of a sheet comes back: clock times, and the time that it would need."""

from urllib.parse import urlencode

from django.http import Http404
from django.shortcuts import get_object_or_404, render

from chimney.field.again import queries as again
from chimney.field.returning import craft, files
from chimney.logbook.models import Sheet
from chimney.parts import downloads
from chimney.parts.refusal import Refused


def returns(request, code):
    """The days on which the sun stands again as it did for a sheet."""
    sheet, exposure = _exposed(code)
    rows = craft.comebacks(exposure, _stops_more(sheet))
    every = "all" in request.GET
    page = {"sheet": sheet, "exposure": exposure, "count": len(rows), "every": every}
    page["nearest"] = min(rows, key=lambda row: row.off_deg, default=None)
    told = rows if every else craft.seasons(rows)
    page["rows"] = [(row, _plan(exposure, row)) for row in told]
    page["within_deg"], page["stood"] = craft.WITHIN_DEG, craft.stood(exposure)
    return render(request, "field/returns.html", page)


def ics(request, code, stamp):
    """One of these days as a calendar file."""
    sheet, exposure = _exposed(code)
    rows = craft.comebacks(exposure, _stops_more(sheet))
    row = next((row for row in rows if row.stamp == stamp), None)
    if row is None:
        raise Http404("The sun does not come back then.")
    return downloads.calendar(files.calendar_of(exposure, row), f"{sheet.code}-returns.ics")


def _exposed(code):
    """(sheet, its last Exposure). Raises Refused where nobody knows how the sun stood."""
    sheet = get_object_or_404(Sheet, code=code)
    exposure = again.exposures().filter(sheet=sheet).select_related("place").first()
    opened = exposure and exposure.opening
    if not opened or not exposure.place or not exposure.effective_s:
        refusal = f"Where and when {sheet} was exposed is not written down: its sun is not known."
        raise Refused(refusal, f"See {sheet}", "logbook:sheet", sheet.code)
    return sheet, exposure


def _stops_more(sheet):
    """Stops that the sheet would have needed more, by its verdict; 0 without one."""
    verdict = getattr(sheet, "verdict", None)
    return verdict.stops_more if verdict else 0.0


def _plan(exposure, row):
    """The query of a plan for that light."""
    fields = again.again(exposure) | {"kind": "ev", "ev_iso": "100"}
    fields["ev"] = f"{exposure.calculation.reading.ev100 - row.light_stops:.2f}"
    return urlencode(fields)
