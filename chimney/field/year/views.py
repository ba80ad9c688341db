"""The page of the year of light. The state stands in the address."""

from django.shortcuts import render

from chimney.field.year import page as pages
from chimney.parts import drag
from chimney.parts.refusal import Refused


def year(request):
    """The chart, its answer, and the same numbers as a table; a drag brings the answer along."""
    if not pages.need_what_is_planned():
        refusal = "A year of light needs a camera, a paper and a place."
        raise Refused(refusal, "See the kit", "kit:shelf")
    page = pages.read(request.GET, live=bool(request.htmx))
    template = "field/_year.html" if request.htmx else "field/year.html"
    status = 200 if page.year or request.htmx else 422
    response = render(request, template, {"page": page}, status=status)
    if request.htmx and page.year and not drag.is_moving(request.GET.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{page.address}"
    return response
