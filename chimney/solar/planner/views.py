"""The planner's pages."""

import io

import numpy as np
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST
from PIL import Image, ImageDraw

from chimney.parts import drag, fragments
from chimney.parts.refusal import Refused
from chimney.places import flows as places
from chimney.places.models import Place
from chimney.solar import craft
from chimney.solar.forms import GOALS, CsvForm, say_points
from chimney.solar.models import Solargraph
from chimney.solar.planner import flows, series
from chimney.solar.planner import page as pages
from pinhole import imaging
from pinhole.solargraph import climate, skyline


def plan(request, pk=None):
    """Two linked drawings, the numbers and the verdict; the same state stands in the address, which
    stays short.

    What is typed and dragged comes by POST, because a skyline is too long for an address.
    """
    can = (
        get_object_or_404(Solargraph.objects.select_related("place", "camera", "sheet"), pk=pk)
        if pk
        else None
    )
    if not Place.objects.exists():
        raise Refused(
            "A solargraph needs a place: its sun is what is drawn.", "Add a place", "places:add"
        )
    params = request.POST if request.method == "POST" else request.GET
    page = pages.read(params, can=can, live=bool(request.htmx))
    if not request.htmx:
        context = {"page": page, "can": can, "csv_form": CsvForm()}
        return (
            _planner(page)
            if request.method == "POST"
            else render(request, "solar/plan.html", context)
        )
    response = render(request, "solar/_answer.html", {"page": page, "live": True})
    if not drag.is_moving(params.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{page.address()}"
    return response


def _planner(page, **more):
    """To the planner as it stands; more: fields that shall stand otherwise."""
    return redirect(f"{reverse('solar:plan')}?{page.address(**more)}")


def best(request):
    """The best way to point for a goal, as the address of the planner that stands so."""
    params = request.POST if request.method == "POST" else request.GET
    page, goal = pages.read(params), params.get("goal", "")
    if page.prediction is None or goal not in dict(GOALS):
        return _planner(page)
    given, prediction = page.form.cleaned_data, page.prediction
    if goal == "solstices":
        first, last = craft.solstices(places.today(given["place"]))
        return _planner(page, first_day=first.isoformat(), last_day=last.isoformat())
    try:
        found = craft.best(
            prediction.track,
            goal,
            given["place"],
            given["camera"],
            prediction.skyline,
            given["first_day"],
            prediction.minutes,
        )
    except ValueError as error:
        messages.warning(request, f"Nothing to aim at: {error}.")
        return _planner(page)
    messages.success(
        request, f"The best {dict(GOALS)[goal]}: {found.share:.0%} of that sun lies on the paper."
    )
    return _planner(page, azimuth_deg=f"{found.azimuth_deg:.0f}", tilt_deg=f"{found.tilt_deg:g}")


def preview_of(request):
    """The preview under the drawings, as a fragment; its picture comes from an address of its
    own.
    """
    page = pages.read(request.POST if request.method == "POST" else request.GET)
    context = {"page": page, "address": page.address()}
    return fragments.answer(request, "solar/_preview.html", context, "Preview")


def picture(request):
    """The preview as a PNG that says in its own pixels what it is."""
    page = pages.read(request.GET)
    if page.prediction is None:
        return HttpResponse(
            "Something is missing or wrong on the planner.", status=422, content_type="text/plain"
        )
    prediction = page.prediction
    shining = climate.shining(prediction.sunshine, len(prediction.track.minutes))
    array = imaging.render(
        prediction.trails,
        prediction.back,
        prediction.pointing,
        prediction.skyline,
        width_mm=prediction.lines.width_mm,
        shining=shining,
        px_per_mm=_px_per_mm(prediction.back),
        water=bool(page.typed.get("water")),
    )
    out = io.BytesIO()
    _marked(array).save(out, "PNG")
    return HttpResponse(out.getvalue(), content_type="image/png")


def _px_per_mm(back):
    """About 900 pixels along the longer side, whatever the size."""
    return float(np.clip(450 / max(back.half_mm), 0.2, 8.0))


def _marked(array):
    image = Image.fromarray(array)
    ImageDraw.Draw(image).text(
        (8, image.height - 18), "simulation: one year's weather of many", fill=(235, 228, 214)
    )
    return image


@require_POST
def keep(request):
    """Keep the plan as a can, or as several in a row with directions of their own."""
    page = pages.read(request.POST, judging=True)
    context = {
        "page": page,
        "can": None,
        "csv_form": CsvForm(),
        "series": request.POST.get("series", ""),
    }
    if page.prediction is None:
        return render(request, "solar/plan.html", context, status=422)
    given = page.form.cleaned_data
    rows, wrong = series.read(context["series"], given)
    if wrong:
        return render(request, "solar/plan.html", context | {"series_error": wrong}, status=422)
    kept = flows.keep(rows, given, pages.minutes_of(given))
    messages.success(request, f"Planned: {', '.join(map(str, kept))}.")
    return redirect("solar:one", kept[0].pk) if len(kept) == 1 else redirect("solar:cans")


@require_POST
def table(request, what):
    """A skyline or days of sunshine read from a CSV file; a wrong one is told and nothing typed is
    lost.
    """
    page, form = pages.read(request.POST), CsvForm(request.POST, request.FILES)
    if not form.is_valid():
        messages.error(
            request, " ".join(error for errors in form.errors.values() for error in errors)
        )
        return _planner(page)
    rows = form.cleaned_data["file"]
    try:
        if what == "skyline":
            points = skyline.read_csv(rows)
            if not points:
                raise ValueError("there is no direction and height in it")
            messages.success(request, f"A skyline of {len(points)} points was read.")
            return _planner(page, horizon=say_points(points))
        _keep_record(page, rows, request.FILES["file"].name)
    except ValueError as error:
        messages.error(request, f"Not read: {error}.")
        return _planner(page)
    messages.success(request, "The days of sunshine are kept for this place.")
    return _planner(page, climate="measured")


def _keep_record(page, rows, name):
    """Days of sunshine of the place, checked against the days that are planned."""
    if page.prediction is None:
        raise ValueError("the planner lacks something: put that right first")
    track = page.prediction.track
    climate.read_csv(rows, track.days, np.full(len(track.days), 24.0))
    flows.keep_sunshine(page.prediction.place, rows, name)


@require_POST
def skyline_of_place(request):
    """Keep the skyline as the usual one of its place."""
    page = pages.read(request.POST)
    if page.form.is_valid():
        given = page.form.cleaned_data
        flows.keep_skyline(given["place"], given["horizon"], given["leaf"])
        messages.success(request, f"Every can at {given['place']} begins with this skyline.")
    return _planner(page)
