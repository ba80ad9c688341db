"""A sheet beside what a photo let one foresee of it."""

from django.http import HttpResponse
from django.shortcuts import redirect

from chimney.field.foreseen import queries, wording
from chimney.field.photo import page as pages
from chimney.parts import fragments
from chimney.results.curves.queries import corners_of
from chimney.results.scans import queries as scans


def of_sheet(request, code):
    """Fragment of what was foreseen of a sheet, given as it was; nothing where nothing was."""
    photo = queries.of_sheet(code)
    if photo is None:
        return HttpResponse() if request.htmx else redirect("logbook:sheet", code)
    exposure, given = photo.exposure, wording.stops_given(photo.exposure)
    beside = queries.beside(scans.newest_of(exposure.sheet))
    context = {"page": pages.read(photo, {}), "photo": photo, "stops": given, "code": code}
    context |= {"differs": wording.differs(beside, given), "verdict": wording.verdict(beside)}
    camera = exposure.camera
    context |= {"corners": wording.of_corners(camera, corners_of(camera)), "camera": camera}
    return fragments.answer(
        request, "field/_foreseen.html", context, f"What was foreseen of {code}"
    )
