"""Contact prints of a paper negative."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import queries as dark
from chimney.darkroom import wording
from chimney.darkroom.printing import craft, flows
from chimney.darkroom.printing.forms import STRIP, WHOLE, BestForm, PrintForm
from chimney.logbook import queries
from chimney.parts.refusal import Refused


def print_of(request, code):
    """Emulsion to emulsion: a strip that is planned and read, and the print it leads to."""
    negative = get_object_or_404(queries.with_thread(), code=code)
    if not negative.paper.medium.is_printed_from:
        kind = negative.paper.get_kind_display()
        raise Refused(f"{negative} is {kind}, no paper negative.", "See it", "logbook:sheet", code)
    prints = list(negative.prints.select_related("sheet__paper"))
    start = _start(negative, prints) | request.GET.dict()
    looked = start | craft.followed(request.GET.dict()) if "look" in request.GET else None
    form = PrintForm(request.POST or looked, initial=start)
    if request.method == "POST" and form.is_valid():
        return _exposed(request, negative, form.cleaned_data)
    page = {"negative": negative, "form": form, "prints": _told(prints)} | _reckoned(form, negative)
    wrong = request.method == "POST" and form.errors
    return render(request, "darkroom/print.html", page, status=422 if wrong else 200)


def _exposed(request, negative, cleaned):
    lamp = {name: cleaned[name] for name in ("lamp", "lamp_mm", "distance_mm")}
    print_made = flows.expose(negative, cleaned["paper"], craft.times_of(cleaned), **lamp)
    messages.success(request, f"Pencil {print_made.sheet} on the back: it waits for the developer.")
    return redirect("darkroom:print", negative.code)


def _start(negative, prints):
    """Initial values: as for this negative last time, else for any; after a strip, the time it
    gave.
    """
    last = prints[0] if prints else dark.prints().first()
    if last is None:
        start = {"paper": negative.paper_id, "kind": STRIP, "distance_mm": 600.0}
        return start | {"first_s": 4.0, "step_stops": "1/2", "bands": 5}
    start = {"paper": last.sheet.paper_id, "lamp": last.lamp, "lamp_mm": last.lamp_mm}
    start |= {"distance_mm": last.distance_mm, "first_s": 4.0, "step_stops": "1/2", "bands": 5}
    last_strip = next((print_row for print_row in prints if print_row.best_s), None)
    seconds = last_strip and craft.at_s(last_strip, last.distance_mm)
    return start | {"kind": WHOLE if last_strip else STRIP, "seconds": seconds}


def _told(prints):
    """[(Print, the form that reads it if it is a strip that is dry)]."""
    return [
        (print_row, BestForm(craft.choices(print_row)) if flows.can_be_read(print_row) else None)
        for print_row in prints
    ]


def _reckoned(form, negative):
    """The clock of what is asked for, and what is to be said about the lamp."""
    trial = form if form.is_bound else PrintForm(_as_typed(form))
    if not trial.is_valid():
        return {}
    cleaned = trial.cleaned_data
    last_strip = negative.prints.exclude(best_s=None).first()
    steps = craft.steps(craft.times_of(cleaned))
    notes = craft.notes(cleaned["distance_mm"], cleaned["lamp_mm"], negative.size, last_strip)
    return {"steps": [(step, wording.times(step), "", "") for step in steps], "notes": notes}


def _as_typed(form):
    """Values of the fields as a browser would send them."""
    first = form.fields["paper"].queryset.first()
    typed = {field.html_name: field.value() or "" for field in form}
    return typed | {"paper": form.initial.get("paper") or (first and first.pk)}


@require_POST
def read_strip(request, pk):
    strip = get_object_or_404(dark.prints(), pk=pk)
    form = BestForm(craft.choices(strip), request.POST)
    best_s = craft.best_s(strip, form.cleaned_data["best"]) if form.is_valid() else None
    flows.read_strip(strip, best_s)
    return redirect("darkroom:print", strip.negative.code)


@require_POST
def take_back(request, pk):
    printed = get_object_or_404(dark.prints(), pk=pk)
    flows.take_back(printed)
    messages.success(request, f"{printed.sheet} was never exposed.")
    return redirect("darkroom:print", printed.negative.code)
