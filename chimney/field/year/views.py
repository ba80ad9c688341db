"""The page of the year of light, and its card. The state stands in the address."""

from django.http import HttpResponse
from django.shortcuts import render

from chimney.field.year import page as pages
from chimney.field.year import prints
from chimney.parts import drag, pdf
from chimney.parts.refusal import Refused


def year(request):
    """The chart, its answer, and the same numbers as a table; a drag brings the answer along."""
    if not pages.need_what_is_planned():
        refusal = "A year of light needs a camera, a paper and a place."
        raise Refused(refusal, "See the kit", "kit:shelf")
    page = pages.read(request.GET, live=bool(request.htmx))
    if "hovered" in request.GET:
        return HttpResponse(page.hover if page.year else "", content_type="text/plain")
    template = "field/_year.html" if request.htmx else "field/year.html"
    status = 200 if page.year or request.htmx else 422
    response = render(request, template, {"page": page}, status=status)
    if request.htmx and page.year and not drag.is_moving(request.GET.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{page.address}"
    return response


def card(request):
    """The card of a year, two sides of A6."""
    page = pages.read(request.GET) if pages.need_what_is_planned() else None
    if page is None or page.year is None:
        raise Refused("A card needs a camera, a paper and a place.", "See the year", "field:year")
    camera = page.form.cleaned_data["camera"]
    return pdf.answer(prints.cards(page), f"Year of light of {camera}", f"year-{camera.pk}")
