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
from chimney.places.models import Place
from chimney.solar import desk as desks
from chimney.solar import flows, plans, series
from chimney.solar.forms import GOALS, CsvForm, say_points
from chimney.solar.models import Solargraph
from pinhole import climate, preview, skyline


def plan(request, pk=None):
    """Two linked drawings, the numbers and the verdict; the same state stands in the address, which stays short.

    What is typed and dragged comes by POST, because a skyline is too long for an address.
    """
    can = get_object_or_404(Solargraph.objects.select_related("place", "camera", "sheet"), pk=pk) if pk else None
    if not Place.objects.exists():
        raise Refused("A solargraph needs a place: its sun is what is drawn.", "Add a place", "places:add")
    params = request.POST if request.method == "POST" else request.GET
    desk = desks.lay(params, can=can, live=bool(request.htmx))
    if not request.htmx:
        page = {"desk": desk, "can": can, "csv_form": CsvForm()}
        return _planner(desk) if request.method == "POST" else render(request, "solar/plan.html", page)
    response = render(request, "solar/_answer.html", {"desk": desk, "live": True})
    if not drag.is_moving(params.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{desk.address()}"
    return response


def _planner(desk, **more):
    """To the planner as it stands; more: fields that shall stand otherwise."""
    return redirect(f"{reverse('solar:plan')}?{desk.address(**more)}")


def best(request):
    """The best way to point for a goal, as the address of the planner that stands so."""
    params = request.POST if request.method == "POST" else request.GET
    desk, goal = desks.lay(params), params.get("goal", "")
    if desk.seen is None or goal not in dict(GOALS):
        return _planner(desk)
    given, seen = desk.form.cleaned_data, desk.seen
    if goal == "solstices":
        first, last = flows.solstices(desks.places.today(given["place"]))
        return _planner(desk, first_day=first.isoformat(), last_day=last.isoformat())
    try:
        found = flows.best(
            seen.track, goal, given["place"], given["camera"], seen.skyline, given["first_day"], seen.minutes
        )
    except ValueError as error:
        messages.warning(request, f"Nothing to aim at: {error}.")
        return _planner(desk)
    messages.success(request, f"The best {dict(GOALS)[goal]}: {found.share:.0%} of that sun lies on the paper.")
    return _planner(desk, azimuth_deg=f"{found.azimuth_deg:.0f}", tilt_deg=f"{found.tilt_deg:g}")


def preview_of(request):
    """The preview under the drawings, as a fragment; its picture comes from an address of its own."""
    desk = desks.lay(request.POST if request.method == "POST" else request.GET)
    page = {"desk": desk, "address": desk.address()}
    return fragments.answer(request, "solar/_preview.html", page, "Preview")


def picture(request):
    """The preview as a PNG that says in its own pixels what it is."""
    desk = desks.lay(request.GET)
    if desk.seen is None:
        return HttpResponse("Something is missing or wrong on the planner.", status=422, content_type="text/plain")
    seen = desk.seen
    shining = climate.shining(seen.sunshine, len(seen.track.minutes))
    array = preview.render(
        seen.look,
        seen.back,
        seen.pointing,
        seen.skyline,
        width_mm=seen.lines.width_mm,
        shining=shining,
        px_per_mm=_px_per_mm(seen.back),
        water=bool(desk.typed.get("water")),
    )
    out = io.BytesIO()
    _marked(array).save(out, "PNG")
    return HttpResponse(out.getvalue(), content_type="image/png")


def _px_per_mm(back):
    """About 900 pixels along the longer side, whatever the size."""
    return float(np.clip(450 / max(back.half_mm), 0.2, 8.0))


def _marked(array):
    image = Image.fromarray(array)
    ImageDraw.Draw(image).text((8, image.height - 18), "simulation: one year's weather of many", fill=(235, 228, 214))
    return image


@require_POST
def keep(request):
    """Keep the plan as a can, or as several in a row with directions of their own."""
    desk = desks.lay(request.POST, judging=True)
    page = {"desk": desk, "can": None, "csv_form": CsvForm(), "series": request.POST.get("series", "")}
    if desk.seen is None:
        return render(request, "solar/plan.html", page, status=422)
    given = desk.form.cleaned_data
    rows, wrong = series.read(page["series"], given)
    if wrong:
        return render(request, "solar/plan.html", page | {"series_error": wrong}, status=422)
    kept = plans.keep(rows, given, desks.minutes_of(given))
    messages.success(request, f"Planned: {', '.join(map(str, kept))}.")
    return redirect("solar:one", kept[0].pk) if len(kept) == 1 else redirect("solar:cans")


@require_POST
def table(request, what):
    """A skyline or days of sunshine read from a CSV file; a wrong one is told and nothing typed is lost."""
    desk, form = desks.lay(request.POST), CsvForm(request.POST, request.FILES)
    if not form.is_valid():
        messages.error(request, " ".join(error for errors in form.errors.values() for error in errors))
        return _planner(desk)
    rows = form.cleaned_data["file"]
    try:
        if what == "skyline":
            points = skyline.read_csv(rows)
            if not points:
                raise ValueError("there is no direction and height in it")
            messages.success(request, f"A skyline of {len(points)} points was read.")
            return _planner(desk, horizon=say_points(points))
        _keep_record(desk, rows, request.FILES["file"].name)
    except ValueError as error:
        messages.error(request, f"Not read: {error}.")
        return _planner(desk)
    messages.success(request, "The days of sunshine are kept for this place.")
    return _planner(desk, climate="measured")


def _keep_record(desk, rows, name):
    """Days of sunshine of the place, checked against the days that are planned."""
    if desk.seen is None:
        raise ValueError("the planner lacks something: put that right first")
    track = desk.seen.track
    climate.read_csv(rows, track.days, np.full(len(track.days), 24.0))
    plans.keep_sunshine(desk.seen.place, rows, name)


@require_POST
def skyline_of_place(request):
    """Keep the skyline as the usual one of its place."""
    desk = desks.lay(request.POST)
    if desk.form.is_valid():
        given = desk.form.cleaned_data
        plans.keep_skyline(given["place"], given["horizon"], given["leaf"])
        messages.success(request, f"Every can at {given['place']} begins with this skyline.")
    return _planner(desk)
