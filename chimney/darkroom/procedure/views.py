"""A process: its steps, where schools differ, changed, printed, and on a clock for all to hear."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import queries, wording
from chimney.darkroom.catalogue.processes import BY_KEY
from chimney.darkroom.catalogue.schools import DARKROOM_SCHOOLS, FIX_AFTER
from chimney.darkroom.procedure import flows, prints
from chimney.darkroom.procedure.forms import ProcessForm, Steps, start_of
from chimney.parts import pdf
from pinhole import developing

PROCESS_FIELDS = ("name", "kinds", "vessels", "together", "by_eye", "why")


def _process(key):
    processes = queries.all_processes()
    if key not in processes:
        raise Http404("There is no such process.")
    return processes[key]


def process(request, key):
    """A process step by step, with the schools that differ at them."""
    chosen = _process(key)
    page = {"process": chosen, "steps": told(chosen), "schools": _schools(chosen)}
    shortest_s, longest_s = developing.total_s(chosen.steps, alone=False)
    page |= {"least_s": shortest_s, "most_s": longest_s, "in_set": key in BY_KEY}
    page["changed"] = queries.is_changed(key)
    return render(request, "darkroom/process.html", page)


def told(chosen):
    """[(Step, its times, caution, how it is done)]."""
    return [
        (step, wording.times(step), wording.caution(step), wording.manner(step))
        for step in chosen.steps
    ]


def _schools(chosen):
    """[(number, DarkroomSchool, whether the process has it so)]."""
    purposes = {step.purpose for step in chosen.steps}
    present = {(step.name, step.least_s, step.most_s) for step in chosen.steps}
    every = enumerate((*DARKROOM_SCHOOLS, *FIX_AFTER))
    schools = [(n, school) for n, school in every if school.of in purposes or "light" in purposes]
    if "light" not in purposes:
        schools = [(n, school) for n, school in schools if school not in FIX_AFTER]
    else:
        schools = [
            (n, school) for n, school in schools if school in FIX_AFTER or school.of in purposes
        ]
    return [(n, school, _is_taken(school, present, purposes)) for n, school in schools]


def _is_taken(school, present, purposes):
    if school.step is None:
        return school.of not in purposes
    return (school.step.name, school.step.least_s, school.step.most_s) in present


@require_POST
def take_school(request, key, number):
    chosen, every = _process(key), (*DARKROOM_SCHOOLS, *FIX_AFTER)
    if number >= len(every):
        raise Http404("There is no such school.")
    flows.take_school(chosen, every[number])
    messages.success(request, f"{chosen.name}: {every[number].words} from now on.")
    return redirect("darkroom:process", key)


def change(request, key=None):
    """The list of steps, row by row."""
    chosen = _process(key) if key else None
    start = {name: getattr(chosen, name) for name in PROCESS_FIELDS} if chosen else {}
    form = ProcessForm(request.POST or None, initial=start)
    rows = Steps(request.POST or None, initial=start_of(chosen.steps) if chosen else None)
    if request.method == "POST" and all([form.is_valid(), rows.is_valid()]):
        outcome = _kept(key, form, rows)
        if outcome:
            return redirect("darkroom:process", outcome)
    page = {"process": chosen, "form": form, "rows": rows}
    wrong = form.errors or rows.total_error_count()
    return render(request, "darkroom/change.html", page, status=422 if wrong else 200)


def _kept(key, form, rows):
    try:
        return flows.keep(key, rows.steps, **form.cleaned_data)
    except ValidationError as error:
        form.add_error("name", error.messages[0])
        return None


@require_POST
def drop(request, key):
    name = _process(key).name
    flows.drop(key)
    messages.success(request, f"{name} is as it was." if key in BY_KEY else f"{name} is retired.")
    return redirect("darkroom:room")


def sheet(request, key):
    chosen = _process(key)
    return pdf.answer(prints.sheets(chosen), chosen.name, f"process-{key}")


def clock(request, key):
    """A clock that goes through the steps by itself and sounds outside the door; logs nothing."""
    chosen = _process(key)
    baths = [row for row in told(chosen) if row[0].purpose != developing.READY]
    return render(request, "darkroom/clock.html", {"process": chosen, "steps": baths})
