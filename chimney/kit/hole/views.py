"""The pages of measuring a pinhole."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.kit import flows
from chimney.kit.hole import craft
from chimney.kit.hole.forms import CountForm, HoleForm, MeasuredForm, OutlineForm
from chimney.kit.models import Camera
from chimney.parts import fragments


def hole(request, pk):
    """Measure the pinhole in a picture; nothing is kept until it is said."""
    camera = get_object_or_404(Camera, pk=pk)
    if "divisions" in request.GET:
        return _counted(request, camera)
    form = HoleForm(request.POST or None, request.FILES or None)
    measurement = _found(form, camera) if form.is_bound and form.is_valid() else None
    measured = _measured(measurement) if measurement else None
    page = {
        "camera": camera,
        "form": form,
        "found": measurement,
        "measured": measured,
        "count": CountForm(),
    }
    return render(request, "kit/hole.html", page, status=422 if form.errors else 200)


def _found(form, camera):
    """The MeasuredHole in the picture, or None and why not beside its field."""
    try:
        hole = craft.measure(form.cleaned_data["greys"], form.cleaned_data["mm_per_px"])
    except ValueError as error:
        form.add_error("picture", str(error))
        return None
    doubt = craft.no_pinhole(camera, hole.hole.area_mm)
    if doubt:
        form.add_error("dpi", f"{doubt} Is the scale of the picture right?")
        return None
    return hole


def _corrected(form):
    """The same of points that were dragged."""
    cleaned = form.cleaned_data
    try:
        return craft.correct(
            cleaned["points"], cleaned["mm_per_px"], cleaned["wide_px"], cleaned["high_px"]
        )
    except ValueError as error:
        form.add_error("points", str(error) or "Those points make no hole.")


def _measured(hole):
    return MeasuredForm(
        initial={
            "diameter_mm": f"{hole.hole.area_mm:.4g}",
            "diameter_sd_mm": f"{hole.hole.sd_mm:.2g}",
        }
    )


def outline(request, pk):
    """The edge corrected by hand, as a fragment: what the points amount to."""
    camera = get_object_or_404(Camera, pk=pk)
    form = OutlineForm(request.GET)
    measurement = _corrected(form) if form.is_valid() else None
    if measurement is None:
        return fragments.refused(form)
    page = {"camera": camera, "found": measurement, "measured": _measured(measurement)}
    return fragments.answer(request, "kit/_hole_found.html", page, f"The hole of {camera}")


def _counted(request, camera):
    count = CountForm(request.GET)
    measured = MeasuredForm(initial=count.measured()) if count.is_valid() else None
    page = {"camera": camera, "form": HoleForm(), "measured": measured, "count": count}
    return render(request, "kit/hole.html", page, status=422 if count.errors else 200)


@require_POST
def hole_keep(request, pk):
    camera = get_object_or_404(Camera, pk=pk)
    measured = MeasuredForm(request.POST)
    doubt = measured.is_valid() and craft.no_pinhole(camera, measured.cleaned_data["diameter_mm"])
    if doubt:
        measured.add_error("diameter_mm", doubt)
    if measured.errors:
        page = {"camera": camera, "form": HoleForm(), "measured": measured, "count": CountForm()}
        return render(request, "kit/hole.html", page, status=422)
    flows.keep_measured(camera, **measured.cleaned_data)
    messages.success(request, f"{camera} is f/{camera.f_number:.0f} as measured today.")
    return redirect("kit:edit", "camera", pk)
