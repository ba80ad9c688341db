"""An exposure that costs no sheet."""

from django.http import Http404, HttpResponse
from django.shortcuts import render

from chimney.field.photo.craft import drawn, png
from chimney.field.practice import page as pages


def practice(request):
    """A scene, a time, the sheet and what one makes of it; all of it stands in the address."""
    page = pages.read(request.GET)
    status = 200 if page.is_asked else 422
    return render(request, "field/practice.html", {"page": page}, status=status)


def picture(request):
    """The sheet as it comes out of the wash, or as a print, as a PNG."""
    page = pages.read(request.GET)
    if not page.is_exposed:
        raise Http404("No sheet was exposed.")
    paper = page.paper
    as_negative = "print" not in request.GET
    image = drawn(page.foreseen, page.curve, paper.kind, negative=as_negative, marks=False)
    return HttpResponse(png(image), content_type="image/png")
