"""The dark room itself: baths, vessels, lamps, and how it is set up."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import queries, wording
from chimney.darkroom.models import Bath, SafeLight, Vessel
from chimney.darkroom.room import catalogue, flows, prints
from chimney.darkroom.room.forms import BathForm, LightForm, LightTestForm, TopUpForm, VesselForm
from chimney.kit import flows as kit
from chimney.ledger.keys import as_kept
from chimney.parts import adding, clock, pdf
from pinhole.developing import Step

ROOM_THINGS = {
    "vessel": (Vessel, VesselForm),
    "light": (SafeLight, LightForm),
    "bath": (Bath, BathForm),
}


def room(request):
    """Everything that stands in it."""
    now = clock.now()
    page = {
        "baths": queries.baths(now),
        "thrown": queries.baths(now, thrown=True),
        "vessels": queries.vessels(),
        "lights": queries.lamps(),
        "retired": [*queries.vessels(retired=True)],
        "processes": queries.all_processes().values(),
        "top_up_form": TopUpForm(),
    }
    return render(request, "darkroom/room.html", page)


def _kind(kind):
    if kind not in ROOM_THINGS:
        raise Http404("There is no such kind of thing in the dark room.")
    return ROOM_THINGS[kind]


def add(request, kind):
    return _admit(request, kind, None)


def edit(request, kind, pk):
    return _admit(request, kind, get_object_or_404(_kind(kind)[0], pk=pk))


def _admit(request, kind, thing):
    _, form_of = _kind(kind)
    start = None if thing else request.GET.dict()
    form = form_of(request.POST or None, instance=thing, initial=start)
    back = adding.way_back(request)
    if request.method == "POST" and form.is_valid() and (saved := _keep(form)):
        messages.success(request, f"{saved} is in the dark room now.")
        return adding.lead_back(back, saved, "darkroom:room")
    thing = thing and as_kept(thing)
    page = {"form": form, "kind": kind, "thing": thing, "back": back}
    return render(request, "darkroom/thing.html", page, status=422 if form.errors else 200)


def _keep(form):
    try:
        row = form.save(commit=False)
        if isinstance(row, Bath):
            return flows.mix(row, makes=form.cleaned_data["makes"])
        return kit.keep(row)
    except ValidationError as error:
        form.add_error("name", error.messages[0])
        return None


@require_POST
def top_up(request, pk):
    """Concentrate poured in; with nothing said, the last of it is taken back."""
    bath, form = get_object_or_404(Bath, pk=pk), TopUpForm(request.POST)
    if "undo" in request.POST:
        flows.pour_back(bath)
        messages.success(request, f"Nothing was poured into {bath} after all.")
    elif form.is_valid():
        flows.top_up(bath, form.cleaned_data["concentrate_ml"])
        messages.success(request, f"{bath} is stronger now.")
    else:
        return _badly_topped(request, bath, form)
    return redirect("darkroom:edit", "bath", pk)


def _badly_topped(request, bath, form):
    page = {"form": BathForm(instance=bath), "kind": "bath", "thing": bath, "top_up_form": form}
    return render(request, "darkroom/thing.html", page, status=422)


@require_POST
def throw_away(request, pk):
    bath = get_object_or_404(Bath, pk=pk)
    is_thrown = "back" not in request.POST
    flows.throw_away(bath, gone=is_thrown)
    message = f"{bath} is thrown away. {bath.away}" if is_thrown else f"{bath} is in use again."
    messages.success(request, message)
    return redirect("darkroom:room")


def label(request, pk):
    bath = get_object_or_404(Bath, pk=pk)
    return pdf.answer([prints.label(bath)], f"Label of {bath}", f"bath-{bath.pk}")


@require_POST
def retire(request, kind, pk):
    """Out of use, or in use again."""
    if kind == "bath":
        raise Http404("A bath is thrown away.")
    thing = get_object_or_404(_kind(kind)[0], pk=pk)
    kit.take_back_into_use(thing) if thing.retired_at else kit.retire(thing)
    return redirect("darkroom:room")


def light_test(request, pk):
    """The test with a coin, its clock, and what it told."""
    light = get_object_or_404(SafeLight, pk=pk)
    form = LightTestForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        test = flows.keep_test(form.test(light))
        messages.success(request, f"{light} with {test.paper}: noted.")
        return redirect("darkroom:room")
    page = {"light": light, "form": form, "protocol": catalogue.TEST}
    page["steps"] = [(step, wording.times(step), "", "") for step in _test_steps()]
    page["tests"] = light.tests.select_related("paper")
    return render(request, "darkroom/light_test.html", page, status=422 if form.errors else 200)


def _test_steps():
    """The strip as steps of a clock: from one covering to the next."""
    times = catalogue.TEST_TIMES_S
    return [
        Step(f"Cover part {n}" if n else "All parts open", "rinse", time - before, time - before)
        for n, (before, time) in enumerate(zip((0.0, *times), times, strict=False))
    ]


def place(request):
    """Advice on setting up a room, a bathroom or a tent."""
    return render(request, "darkroom/place.html", {"setups": catalogue.SETUPS})
