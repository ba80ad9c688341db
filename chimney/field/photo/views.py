"""Photos of scenes: brought in, read, and the sheet that they let one foresee."""

import re

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.field.photo import craft, flows, queries
from chimney.field.photo import page as pages
from chimney.field.photo.forms import BringPhotoForm
from chimney.parts import drag
from chimney.parts.refusal import Refused

STOPS_WORDS = re.compile(r"-?\d(\.\d{1,2})?", re.ASCII)


def bring(request):
    """Bring a photo in, and those that wait."""
    form = BringPhotoForm(request.POST or None, request.FILES or None)
    view = queries.view(request.GET.get("view", ""))
    if request.method == "POST" and form.is_valid():
        photo = flows.bring(form.cleaned_data["brought"], view)
        if form.cleaned_data["brought"].is_panorama:
            messages.info(request, "A panorama bends what it shows: its frame may be wrong.")
        shot = request.GET.get("shot", "")
        for_shot = f"?shot={shot}" if shot.isascii() and shot.isdigit() else ""
        return redirect(f"{reverse('field:photo', args=[photo.pk])}{for_shot}")
    context = {"form": form, "photos": queries.of_view(view) if view else queries.to_do()}
    context["view"] = view
    return render(request, "field/bring_photo.html", context, status=422 if form.errors else 200)


def photo(request, pk):
    """A photo as meter, viewfinder and preview; the state stands in the address."""
    page = pages.read(_photo(pk), request.GET, live=bool(request.htmx))
    _need_what_is_read(page)
    template = "field/_photo.html" if request.htmx else "field/photo.html"
    status = 200 if page.scenery or request.htmx else 422
    response = render(request, template, {"page": page}, status=status)
    if request.htmx and page.scenery and not drag.is_moving(request.GET.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{page.address}"
    return response


def _need_what_is_read(page):
    """Raises Refused where there is no camera or no paper to read it with."""
    fields = page.form.fields
    if not (fields["camera"].queryset.exists() and fields["paper"].queryset.exists()):
        raise Refused("A photo is read with a camera and a paper.", "See the kit", "kit:shelf")


@require_POST
def keep(request, pk):
    """Keep how it is read, and go on to the plan."""
    page = pages.read(_photo(pk), request.POST)
    if page.scenery is None:
        return render(request, "field/photo.html", {"page": page}, status=422)
    flows.keep(page.photo, page.form.cleaned_data, page.scenery.spots, page.reading)
    if "open" in request.POST and page.tells_light:
        return redirect(page.plan)
    messages.success(request, "It is kept as it is read.")
    return redirect("field:photo", pk)


@require_POST
def drop(request, pk):
    """Away with a photo."""
    flows.drop(_photo(pk))
    messages.success(request, "The photo is gone.")
    return redirect("field:bring_photo")


def jpeg(request, pk):
    """The photo itself, small."""
    answer = HttpResponse(bytes(_photo(pk).jpeg), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=86400"
    return answer


def foreseen(request, pk):
    """The print, or the negative in the hand, as a PNG."""
    page = pages.read(_photo(pk), request.GET)
    if page.scenery is None:
        raise Http404("Something is missing or wrong.")
    stops = _stops(request.GET.get("stops", "0"))
    sheet = page.scenery.foreseen(stops, page.moving_part)
    fields = {"negative": "negative" in request.GET, "marks": not page.form.cleaned_data["bare"]}
    picture = craft.drawn(sheet, page.scenery.curve, page.scenery.paper.kind, **fields)
    return HttpResponse(craft.png(picture), content_type="image/png")


def _stops(text):
    """Stops as an address has them; none for anything else."""
    return float(text) if STOPS_WORDS.fullmatch(text) else 0.0


def _photo(pk):
    return get_object_or_404(queries.photos(), pk=pk)
