"""The search for what went wrong with a picture, by how it looks."""

from django.http import Http404, HttpResponse
from django.shortcuts import render

from chimney.parts import previews
from chimney.results import queries
from chimney.results.wrong import craft, page


def wrong(request):
    """Page of complaints, the questions behind one, and the cause that they lead to."""
    code = request.GET.get("sheet", "").replace("\0", "")
    sheet = queries.sheet_coded(code) if code else None
    shown = page.read(request.GET, sheet)
    template = "results/_wrong.html" if request.htmx else "results/wrong.html"
    return render(request, template, {"page": shown})


def picture(request, medium, looks):
    """A made-up sheet that looks so."""
    if medium not in craft.ASKED_MEDIA or craft.symptom(medium, looks) is None:
        raise Http404("There is no such picture.")
    headers = {"Cache-Control": "max-age=86400"}
    jpeg = previews.jpeg(craft.example(medium, looks))
    return HttpResponse(jpeg, content_type="image/jpeg", headers=headers)
