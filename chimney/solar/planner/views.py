"""The planner's pages."""

from datetime import timedelta
from urllib.parse import urlencode

import numpy as np
from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.parts import clock, drag, fragments
from chimney.parts.csv_form import CsvForm
from chimney.parts.refusal import Refused
from chimney.places import queries as place_queries
from chimney.places.models import Place
from chimney.solar import craft
from chimney.solar.forms import GOALS, say_points
from chimney.solar.models import Solargraph
from chimney.solar.planner import files, flows, queries
from chimney.solar.planner import forms as series
from chimney.solar.planner import page as pages
from chimney.solar.planner.wording import eclipse_words
from pinhole.solargraph import climate, skyline

# Eclipses are told so far ahead.
ECLIPSES_AHEAD = timedelta(days=3652)


def plan(request, pk=None):
    """Two linked drawings, the numbers and the verdict; the same state stands in the address, which
    stays short.

    What is typed and dragged comes by POST, because a skyline is too long for an address.
    """
    cans = queries.planned()
    can = get_object_or_404(cans, pk=pk) if pk else None
    _need_what_is_drawn()
    params = request.POST if request.method == "POST" else request.GET
    page = pages.read(params, can=can, live=bool(request.htmx))
    if request.htmx:
        return _answer(request, page, params)
    if request.method == "POST":
        return _planner(page, can)
    return _page(request, page, can)


def _page(request, page, can, window_form=None):
    forms = {"csv_form": CsvForm(), "window_form": window_form or series.WindowForm()}
    status = 422 if window_form else 200
    return render(request, "solar/plan.html", {"page": page, "can": can} | forms, status=status)


@require_POST
def window(request):
    """The planner with the sky that a window's frame leaves; a wrong one is told beside its
    field.
    """
    page, form = pages.read(request.POST), series.WindowForm(request.POST)
    if not form.is_valid():
        return _page(request, page, _of_can(request.POST), form)
    horizon, upper = map(say_points, form.lines)
    messages.success(request, "The sky through that window: its frame hides the rest.")
    return _planner(page, _of_can(request.POST), horizon=horizon, leaf="", upper=upper)


def again(request, pk):
    """The planner for a can that is put out once more, as it stood or as its marks say that it
    did.
    """
    can = get_object_or_404(queries.planned(), pk=pk)
    params = QueryDict(mutable=True)
    params.update(queries.next_year(can))
    for name in queries.POINTING:
        if name in request.GET:
            params[name] = request.GET[name]
    return _planner(pages.read(params))


def eclipses(request, pk):
    """The eclipses that a place sees in the next years, each with the way to plan a can for it."""
    place = get_object_or_404(Place, pk=pk)
    first = clock.local(clock.now()).date()
    rows = [
        {
            "words": eclipse_words(eclipse, place),
            "asked": urlencode(_asked(eclipse, place)),
        }
        for eclipse in craft.eclipses_at(place, first, first + ECLIPSES_AHEAD)
    ]
    return render(request, "solar/eclipses.html", {"place": place, "rows": rows})


def _asked(eclipse, place):
    """The fields of the planner for a can that is open while an Eclipse lasts."""
    begins, ends = (moment.astimezone(place.tz) for moment in (eclipse.begins, eclipse.ends))
    times = {"from_time": f"{begins:%H:%M}", "to_time": f"{ends:%H:%M}"}
    days = dict.fromkeys(("first_day", "last_day"), begins.date())
    return {"place": place.pk, "kind": Solargraph.Kind.ECLIPSE.value} | days | times


def _need_what_is_drawn():
    """Refused without a place whose sun is drawn, or a camera that draws it."""
    if not place_queries.any_place():
        refusal = "A solargraph needs a place: its sun is what is drawn."
        raise Refused(refusal, "Add a place", "places:add")
    if not queries.usable_cameras().exists():
        refusal = "A solargraph needs a can, or a box with a hole: its measures say what it sees."
        raise Refused(refusal, "Add a camera", "kit:add", "camera")


def _answer(request, page, params):
    """The drawings anew; the address follows once a drag has ended."""
    response = render(request, "solar/_answer.html", {"page": page, "live": True})
    if not drag.is_moving(params.get("dragged")):
        response["HX-Replace-Url"] = f"{request.path}?{page.address()}"
    return response


def _planner(page, can=None, **more):
    """To the planner as it stands, of a kept can if it is one; more: fields that shall stand
    otherwise.
    """
    where = reverse("solar:kept", args=[can.pk]) if can else reverse("solar:plan")
    return redirect(f"{where}?{page.address(**more)}")


def _of_can(params):
    """The kept can that a planner is open for."""
    return queries.can(params.get("can"))


def best(request):
    """The best way to stand for a goal, as the address of the planner that stands so."""
    params = request.POST if request.method == "POST" else request.GET
    page, goal, can = pages.read(params), params.get("goal", ""), _of_can(params)
    if page.prediction is None or goal not in {"cure", *dict(GOALS)}:
        return _planner(page, can)
    if goal == "solstices":
        return _planner(page, can, **queries.next_solstices(page.prediction.place))
    return _cured(page, can) if goal == "cure" else _aimed(request, page, can, goal)


def _aimed(request, page, can, goal):
    try:
        aim = craft.best(page.prediction, goal, page.form.cleaned_data["first_day"])
    except ValueError as error:
        messages.warning(request, f"Nothing to aim at: {error}.")
        return _planner(page, can)
    share = f"{aim.share:.0%} of that sun lies on the paper."
    messages.success(request, f"Best for {dict(GOALS)[goal]}: {share}")
    stands = {"azimuth_deg": f"{aim.azimuth_deg:.0f}", "tilt_deg": f"{aim.tilt_deg:g}"}
    return _planner(page, can, **stands)


def _cured(page, can):
    """To the planner with the can standing as its advice says."""
    cure = page.advice.cure
    if cure is None:
        return _planner(page, can)
    aim = cure.stand.pointing
    turned = {"azimuth_deg": f"{aim.azimuth_deg:g}", "tilt_deg": f"{aim.tilt_deg:g}"}
    return _planner(page, can, **turned, roll_deg=f"{aim.roll_deg:g}")


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
        refusal = "Something is missing or wrong on the planner."
        return HttpResponse(refusal, status=422, content_type="text/plain")
    png = files.preview_png(page.prediction, water=bool(page.typed.get("water")))
    return HttpResponse(png, content_type="image/png")


@require_POST
def change(request, pk):
    """Keep a plan as it stands now, instead of another beside it."""
    can = get_object_or_404(Solargraph, pk=pk)
    page = pages.read(request.POST, judging=True)
    if page.prediction is None:
        context = {"page": page, "can": can, "csv_form": CsvForm()}
        return render(request, "solar/plan.html", context, status=422)
    cleaned = page.form.cleaned_data
    flows.change(can, cleaned, pages.minutes_of(cleaned))
    messages.success(request, f"{can} is kept as it stands now.")
    return redirect("solar:one", pk)


@require_POST
def keep(request):
    """Keep the plan as a can, or as several in a row with directions of their own."""
    page, typed = pages.read(request.POST, judging=True), request.POST.get("series", "")
    context = {"page": page, "can": None, "csv_form": CsvForm(), "series": typed}
    if page.prediction is None:
        return render(request, "solar/plan.html", context, status=422)
    cleaned = page.form.cleaned_data
    rows, wrong = series.read(typed, cleaned)
    if wrong:
        return render(request, "solar/plan.html", context | {"series_error": wrong}, status=422)
    kept_cans = flows.keep(rows, cleaned, pages.minutes_of(cleaned))
    messages.success(request, f"Planned: {', '.join(map(str, kept_cans))}.")
    return redirect("solar:one", kept_cans[0].pk) if len(kept_cans) == 1 else redirect("solar:cans")


@require_POST
def table(request, kind):
    """A skyline or days of sunshine read from a CSV file; a wrong one is told and nothing typed is
    lost.
    """
    page, form = pages.read(request.POST), CsvForm(request.POST, request.FILES)
    if not form.is_valid():
        wrong = " ".join(error for errors in form.errors.values() for error in errors)
        messages.error(request, wrong)
        return _planner(page)
    take = _take_skyline if kind == "skyline" else _take_sunshine
    try:
        message, changed = take(page, form.cleaned_data["file"], request.FILES["file"].name)
    except ValueError as error:
        messages.error(request, f"Not read: {error}.")
        return _planner(page)
    messages.success(request, message)
    return _planner(page, **changed)


def _take_skyline(page, rows, name):
    """(what was read, the fields that stand otherwise now). Raises ValueError in words."""
    points = skyline.read_csv(rows)
    if not points:
        raise ValueError("there is no direction and height in it")
    return f"A skyline of {len(points)} points was read.", {"horizon": say_points(points)}


def _take_sunshine(page, rows, name):
    """The same for days of sunshine of the place, checked against the days that are planned."""
    if page.prediction is None:
        raise ValueError("the planner lacks something: put that right first")
    days = page.prediction.track.days
    climate.read_csv(rows, days, np.full(len(days), 24.0))
    flows.keep_sunshine(page.prediction.place, rows, name)
    return "The days of sunshine are kept for this place.", {"climate": "measured"}


@require_POST
def skyline_of_place(request):
    """Keep the skyline as the usual one of its place."""
    page = pages.read(request.POST)
    if page.form.is_valid():
        cleaned = page.form.cleaned_data
        flows.keep_skyline(cleaned["place"], cleaned["horizon"], cleaned["leaf"])
        messages.success(request, f"Every can at {cleaned['place']} begins with this skyline.")
    return _planner(page)
