"""The planner's pages."""

import io
import re
from urllib.parse import urlencode

import numpy as np
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST
from PIL import Image, ImageDraw

from chimney.kit.models import Camera
from chimney.parts import clock, fragments
from chimney.parts.refusal import Refused
from chimney.places.forms import BearingField
from chimney.places.models import Place
from chimney.solar import desk as desks
from chimney.solar import flows
from chimney.solar.forms import GOALS, CsvForm, say_points
from chimney.solar.models import Record, Solargraph
from pinhole import climate, preview, skyline

SERIES = re.compile(
    r"(?P<name>.{1,40}?)\s+(?P<azimuth>[NESW]{1,3}|\d{1,3}(?:\.\d+)?)(?:\s+(?P<tilt>-?\d{1,2}(?:\.\d+)?))?"
)


def plan(request, pk=None):
    """Two linked drawings, the numbers and the verdict; the same state stands in the address."""
    can = get_object_or_404(Solargraph.objects.select_related("place", "camera", "sheet"), pk=pk) if pk else None
    if not Place.objects.exists():
        raise Refused("A solargraph needs a place: its sun is what is drawn.", "Add a place", "places:add")
    desk = desks.lay(request.GET, can=can, live=bool(request.htmx))
    if not request.htmx:
        page = {"desk": desk, "can": can, "csv_form": CsvForm()}
        return render(request, "solar/plan.html", page)
    response = render(request, "solar/_answer.html", {"desk": desk, "live": True})
    response["HX-Replace-Url"] = f"{request.path}?{_address(desk)}"
    return response


def _address(desk, **more):
    return urlencode({name: value for name, value in (desk.typed | more).items() if value})


def best(request):
    """The best way to point for a goal, as the address of the planner that stands so."""
    desk, goal = desks.lay(request.GET), request.GET.get("goal", "")
    if desk.seen is None or goal not in dict(GOALS):
        return redirect(f"{reverse('solar:plan')}?{_address(desk)}")
    given, seen = desk.form.cleaned_data, desk.seen
    if goal == "solstices":
        first, last = flows.solstices(desks.places.today(given["place"]))
        days = {"first_day": first.isoformat(), "last_day": last.isoformat()}
        return redirect(f"{reverse('solar:plan')}?{_address(desk, **days)}")
    try:
        found = flows.best(
            seen.track, goal, given["place"], given["camera"], seen.skyline, given["first_day"], seen.minutes
        )
    except ValueError as error:
        messages.warning(request, f"Nothing to aim at: {error}.")
        return redirect(f"{reverse('solar:plan')}?{_address(desk)}")
    messages.success(request, f"The best {dict(GOALS)[goal]}: {found.share:.0%} of that sun lies on the paper.")
    way = {"azimuth_deg": f"{found.azimuth_deg:.0f}", "tilt_deg": f"{found.tilt_deg:g}"}
    return redirect(f"{reverse('solar:plan')}?{_address(desk, **way)}")


def preview_of(request):
    """The preview under the drawings, as a fragment; its picture comes from an address of its own."""
    desk = desks.lay(request.GET)
    return fragments.answer(request, "solar/_preview.html", {"desk": desk, "address": _address(desk)}, "Preview")


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
    if desk.seen is None:
        page = {"desk": desk, "can": None, "csv_form": CsvForm()}
        return render(request, "solar/plan.html", page, status=422)
    given = desk.form.cleaned_data
    rows, wrong = _series(request.POST.get("series", ""), given)
    if wrong:
        page = {
            "desk": desk,
            "can": None,
            "csv_form": CsvForm(),
            "series_error": wrong,
            "series": request.POST["series"],
        }
        return render(request, "solar/plan.html", page, status=422)
    kept = [_kept(desk, camera, azimuth, tilt) for camera, azimuth, tilt in rows]
    messages.success(request, f"Planned: {', '.join(map(str, kept))}.")
    return redirect("solar:one", kept[0].pk) if len(kept) == 1 else redirect("solar:cans")


def _series(text, given):
    """[(camera, azimuth, tilt)], the planned one alone or a line each: `Can 4 E 10`; and what is wrong, if anything."""
    lines = [line.strip() for line in text[:4000].splitlines() if line.strip()]
    if not lines:
        return [(given["camera"], given["azimuth_deg"], given["tilt_deg"])], ""
    found = []
    for line in lines[:40]:
        match = SERIES.fullmatch(line)
        camera = Camera.objects.in_use().filter(name__iexact=match["name"]).first() if match else None
        if camera is None:
            return [], f"“{line[:40]}”: a camera of yours and its direction, like Can 4 E 10."
        azimuth = BearingField().read(match["azimuth"])
        found.append((camera, azimuth, float(match["tilt"] or given["tilt_deg"])))
    return found, ""


def _kept(desk, camera, azimuth, tilt):
    given, minutes = desk.form.cleaned_data, desks.minutes_of(desk.form.cleaned_data)
    return Solargraph.objects.create(
        name=f"{camera}, {given['first_day']:%b %Y}",
        camera=camera,
        place=given["place"],
        kind=given["kind"],
        azimuth_deg=azimuth,
        tilt_deg=tilt,
        roll_deg=given["roll_deg"],
        first_day=given["first_day"],
        last_day=given["last_day"],
        open_from=minutes and minutes[0],
        open_to=minutes and minutes[1],
        horizon=[list(point) for point in given["horizon"]],
        leaf=[list(point) for point in given["leaf"]],
        made_at=clock.now(),
    )


@require_POST
def table(request, what):
    """A skyline or days of sunshine read from a CSV file; a wrong one is told and nothing typed is lost."""
    desk = desks.lay(request.POST)
    back = f"{reverse('solar:plan')}?{_address(desk)}"
    form = CsvForm(request.POST, request.FILES)
    if not form.is_valid():
        messages.error(request, " ".join(error for errors in form.errors.values() for error in errors))
        return redirect(back)
    rows = form.cleaned_data["file"]
    try:
        if what == "skyline":
            points = skyline.read_csv(rows)
            if not points:
                raise ValueError("there is no direction and height in it")
            messages.success(request, f"A skyline of {len(points)} points was read.")
            return redirect(f"{reverse('solar:plan')}?{_address(desk, horizon=say_points(points))}")
        _keep_record(desk, rows, request.FILES["file"].name)
    except ValueError as error:
        messages.error(request, f"Not read: {error}.")
        return redirect(back)
    messages.success(request, "The days of sunshine are kept for this place.")
    return redirect(f"{reverse('solar:plan')}?{_address(desk, climate='measured')}")


def _keep_record(desk, rows, name):
    """Days of sunshine of the place, checked against the days that are planned."""
    if desk.seen is None:
        raise ValueError("the planner lacks something: put that right first")
    track = desk.seen.track
    climate.read_csv(rows, track.days, np.full(len(track.days), 24.0))
    Record.objects.update_or_create(
        place=desk.seen.place, defaults={"rows": rows, "name": name[:100], "came_at": clock.now()}
    )


@require_POST
def skyline_of_place(request):
    """Keep the skyline as the usual one of its place."""
    desk = desks.lay(request.POST)
    if desk.form.is_valid():
        place, given = desk.form.cleaned_data["place"], desk.form.cleaned_data
        place.horizon, place.leaf = ([list(point) for point in given[name]] for name in ("horizon", "leaf"))
        place.save(update_fields=["horizon", "leaf"])
        messages.success(request, f"Every can at {place} begins with this skyline.")
    return redirect(f"{reverse('solar:plan')}?{_address(desk)}")
