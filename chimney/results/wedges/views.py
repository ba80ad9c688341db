"""A wedge or grey card on a scan, read step by step by clicks. The state stands in the address."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from chimney.parts import clicks, previews
from chimney.parts.sentences import NOT_LOOKED_THROUGH
from chimney.results.scans import craft, figures, flows
from chimney.results.scans import page as scans
from chimney.results.scans import queries as scan_queries
from chimney.results.wedges.forms import USUAL_STEP, WedgeForm, WedgeStep, WedgeStepForm, read_steps


def wedge(request, pk):
    """Steps clicked so far, the next one, and the whole wedge kept."""
    scan_row = get_object_or_404(scan_queries.scans(), pk=pk)
    if getattr(scan_row, "preview", None) is None:
        raise Http404(NOT_LOOKED_THROUGH)
    steps = read_steps(request.GET.getlist("s"))
    if request.method == "POST":
        return _kept(request, scan_row, steps)
    if "back" in request.GET:
        return _to(pk, steps[:-1])
    return _clicked(request, scan_row, steps)


def _clicked(request, scan, steps):
    """The page with one more step, if there was a click on one."""
    if "density" not in request.GET:
        return _page(request, scan, steps, WedgeStepForm(initial=_next(steps)), WedgeForm())
    form = WedgeStepForm(request.GET)
    place = clicks.read(request.GET, *figures.shown(scan))
    if place and form.is_valid():
        return _to(scan.pk, [*steps, WedgeStep(*place, form.cleaned_data["density"])])
    status = 200 if form.is_valid() else 422
    return _page(request, scan, steps, form, WedgeForm(), status=status)


def _next(steps):
    """The density that the next step most likely has."""
    last = steps[-1].density + USUAL_STEP if steps else 0.05
    return {"density": f"{last:.2f}"}


def _to(pk, steps):
    query = urlencode([("s", step.written) for step in steps])
    return redirect(f"{reverse('results:wedge', args=[pk])}?{query}")


def _read(scan, steps):
    """([(code, density)], why that is no wedge yet or nothing)."""
    greys = craft.greys_of(previews.array_of(scan.preview.jpeg))
    readings = [(craft.spot(greys, step.across, step.down), step.density) for step in steps]
    try:
        craft.wedge_of(readings)
    except ValueError as error:
        return readings, str(error)
    return readings, ""


def _page(request, scan, steps, form, naming, status=200):
    readings, trouble = _read(scan, steps)
    spots = [(step.across, step.down, step.density) for step in steps]
    page = {"scan": scan, "steps": steps, "found": readings, "form": form, "naming": naming}
    page["trouble"] = trouble if len(steps) > 1 else ""
    page["drawing"] = figures.negative(scan, (scan.height, scan.width), (), spots)
    page["query"] = urlencode([("s", step.written) for step in steps])
    page["ready"] = len(steps) > 1 and not trouble
    return render(request, "results/wedge.html", page, status=status)


def _kept(request, scan, steps):
    """The wedge kept by a name, and the scans that are read by it from now on."""
    naming, (readings, trouble) = WedgeForm(request.POST), _read(scan, steps)
    if trouble or not naming.is_valid():
        return _page(request, scan, steps, WedgeStepForm(initial=_next(steps)), naming, status=422)
    group = scans.of_the_day(scan) if naming.cleaned_data["days"] else ()
    wedge_row = flows.keep_wedge(naming.cleaned_data["name"], readings, [scan, *group])
    messages.success(request, f"{1 + len(group)} scans are read by {wedge_row}.")
    return redirect("results:scan", scan.pk)
