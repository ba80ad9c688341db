"""The cans out there, one by one and all together."""

from dataclasses import replace

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.logbook.models import Sheet
from chimney.parts import downloads, drag, fragments, pdf, svg, undo
from chimney.parts.refusal import Refused
from chimney.parts.templatetags.said import at_place
from chimney.solar import figures
from chimney.solar.advising import wording
from chimney.solar.cans import craft, files, flows, prints, queries
from chimney.solar.cans.forms import EventForm, LookForm, PutOutForm, ShutForm, SpotForm
from chimney.solar.cans.page import Ladder
from chimney.solar.cans.wording import (
    CHECKLIST,
    FIXING_SCHOOLS,
    FOUND_SO,
    HOMECOMING,
    LATENT,
    weathered,
)
from chimney.solar.models import Solargraph
from chimney.solar.planner import flows as plans

OUT = Sheet.Stage.OUT


def cans(request):
    """All cans: those out by what is due, planned ones, those home, the archive."""
    stages = queries.by_stage()
    out = stages[OUT]
    page = {
        "out": out,
        "due": [can for can in out if can.days_to_go <= 0],
        "planned": stages["planned"],
        "home": stages["home"],
        "archive": stages["scanned"],
        "gone": stages["lost"] + stages["spoiled"],
        "maps": _maps(out),
    }
    return render(request, "solar/cans.html", page)


def _maps(out):
    """[(place, drawing, handles, ways)] of the cans that are out, place by place."""
    by_place = {}
    for can in out:
        by_place.setdefault(can.place, []).append(can)
    return [_map(place, cans_there) for place, cans_there in by_place.items()]


def _map(place, cans):
    drawing = replace(figures.map_of(place, cans), id=f"map{place.pk}")
    return (
        place,
        drawing,
        svg.handles(drawing, f"spots{place.pk}", figures.spots(place, cans)),
        [(can, craft.way_to(can)) for can in cans],
    )


@require_POST
def move_spot(request, pk):
    """A can dragged to its spot on the plan of its place."""
    cans_there = [can for can in queries.out() if can.place_id == pk]
    moved = drag.read(request.POST.get("dragged"))
    can = next((can for can in cans_there if moved and f"can{can.pk}" == moved[0]), None)
    if can and not drag.is_moving(request.POST.get("dragged")):
        flows.set_spot(can, *figures.spot_at(can.place, cans_there, *moved[1:]))
    return redirect("solar:cans")


def out(request):
    """The cans in the sun, as a fragment for the Hearth."""
    return fragments.answer(request, "solar/_out.html", {"out": queries.out()}, "Cans in the sun")


def to_scan(request):
    """Cans that are home and wait for their one scan, as a fragment for the course that reads."""
    return fragments.answer(
        request, "solar/_to_scan.html", {"cans": queries.to_scan()}, "To scan, once"
    )


def _can(pk):
    return get_object_or_404(queries.cans().prefetch_related("events", "looks"), pk=pk)


def can(request, pk):
    return _page(request, _can(pk))


def _page(request, can, *, status=200, **forms):
    page = {"can": can}
    page["has_photo"] = queries.has_photo(can)
    page |= {
        "put_out_form": PutOutForm(instance=can, checklist=CHECKLIST),
        "spot_form": SpotForm(instance=can),
        "event_form": EventForm(can=can),
        "shut_form": ShutForm(can=can),
    }
    page |= {"look_form": LookForm(), "scan_form": LookForm(initial=_scan(can))} | forms
    page |= {"schools": FIXING_SCHOOLS, "homecoming": HOMECOMING, "latent": LATENT}
    if can.stage in ("planned", OUT):
        page |= {"weather_words": weathered(craft.weathering(can)), "found_so": FOUND_SO}
    return render(request, "solar/one.html", page | _drawn(can), status=status)


def _drawn(can):
    """Prediction of what it will draw; a plan that cannot be drawn any more, its camera having
    changed, can still be dropped.
    """
    try:
        first, *later = every = craft.predictions_of(can)
        survey = craft.whole_survey(every)
        hangs = later[-1] if later and can.stage == OUT else first
        return {
            "prediction": first,
            "ladder": Ladder(first),
            "advice": wording.advice_on(can, hangs, survey, craft.noons_of(every)),
            "paper": figures.paper(first, "positive", later, survey),
            "later": later,
            "whole": survey if later else None,
        }
    except ValueError as error:
        return {"undrawn": str(error)}


def _scan(can):
    """Cost of the scan: the time counted, else a usual one, in a dim room."""
    minutes = can.light_s / 60 + 0.5 if can.light_from else 2
    return {"minutes": f"{minutes:.1f}".removesuffix(".0"), "lux": "20"}


def _stood(can, cleaned):
    """(azimuth, lean) of a can as they were measured on the day on which it was opened."""
    opened = cleaned.get("opened") or can.opened_at
    axis = (cleaned["compass_deg"], cleaned["sun_ahead"])
    return craft.measured_stand(can, *axis, opened and opened.date()), cleaned["plumb_deg"]


@require_POST
def describe(request, pk):
    """The rest that could wait: where exactly it hangs, its photo, its notes."""
    can = _can(pk)
    form = SpotForm(request.POST, request.FILES, instance=can)
    if not form.is_valid():
        return _page(request, _can(pk), spot_form=form, status=422)
    flows.describe(form.save(commit=False), _stood(can, form.cleaned_data))
    messages.success(request, f"{can} is described.")
    return redirect("solar:one", pk)


@require_POST
def put_out(request, pk):
    can = _can(pk)
    form = PutOutForm(request.POST, request.FILES, instance=can, checklist=CHECKLIST)
    if not form.is_valid():
        return _page(request, _can(pk), put_out_form=form, status=422)
    try:
        cleaned, typed = form.cleaned_data, form.save(commit=False)
        flows.put_out(typed, cleaned["opened"], stood=_stood(typed, cleaned))
    except Refused as refused:
        return _page(request, _can(pk), put_out_form=form, refused=refused, status=409)
    since = at_place(can.opened_at, can.place)
    messages.success(request, f"{can} is out since {since}: {can.sheet}.")
    return redirect("solar:one", pk)


@require_POST
def close(request, pk):
    """The hole is shut, just now or at a moment that is typed; or that moment corrected."""
    can = _can(pk)
    form = ShutForm(request.POST, can=can)
    if not form.is_valid():
        return _page(request, can, shut_form=form, status=422)
    shut = form.cleaned_data["shut"]
    if can.stage == Sheet.Stage.HOME:
        flows.close_then(can, shut)
    else:
        flows.close(can, shut)
    return redirect("solar:one", pk)


CAN_STEPS = {
    "undo": flows.not_out_after_all,
    "reopen": flows.reopen,
    "fix": flows.fix,
    "unfix": flows.unfix,
    "unlook": flows.unlook,
    "light": flows.into_light,
}


@require_POST
def step(request, pk, word):
    CAN_STEPS[word](_can(pk))
    return redirect("solar:one", pk)


@require_POST
def event(request, pk):
    can = _can(pk)
    form = EventForm(request.POST, can=can)
    if not form.is_valid():
        return _page(request, can, event_form=form, status=422)
    cleaned = form.cleaned_data
    stands = cleaned["azimuth_deg"], cleaned["tilt_deg"]
    moment = form.moment(can.place)
    flows.note_event(can, cleaned["kind"], cleaned["words"], moment, stands=stands)
    return redirect("solar:one", pk)


@require_POST
def unnote_event(request, pk, event_pk):
    """Take back an event of a can that did not happen."""
    can = _can(pk)
    flows.unnote_event(can, get_object_or_404(can.events, pk=event_pk))
    messages.success(request, "It is taken back.")
    return redirect("solar:one", pk)


@require_POST
def look(request, pk):
    """A look at the unfixed sheet, the one scan being the first."""
    can, form = _can(pk), LookForm(request.POST)
    scan = can.stage == Sheet.Stage.HOME
    if not form.is_valid():
        return _page(request, can, status=422, **{"scan_form" if scan else "look_form": form})
    cleaned = form.cleaned_data
    (flows.scanned if scan else flows.look_at)(
        can, cleaned["minutes"], cleaned["lux"], cleaned["words"]
    )
    return redirect("solar:one", pk)


@require_POST
def drop(request, pk):
    can = _can(pk)
    plans.drop(can)
    undo.offer(request, f"{can} is dropped.", "solar:undrop", pk)
    return redirect("solar:cans")


@require_POST
def undrop(request, pk):
    can = get_object_or_404(Solargraph.everything.defer("photo"), pk=pk)
    plans.undrop(can)
    messages.success(request, f"{can} is back.")
    return redirect("solar:one", pk)


def label(request, pk):
    can = _can(pk)
    return pdf.answer([prints.label(can), prints.note(can)], f"Label of {can}", f"can-{pk}")


def ics(request):
    """Checks and retrievals of every can that is out."""
    book = files.calendar_of(queries.out(), queries.planned())
    return downloads.calendar(book, "cans.ics")


def photo(request, pk):
    can = get_object_or_404(queries.with_photo(), pk=pk)
    return HttpResponse(bytes(can.photo), content_type="image/jpeg")


def of_sheet(request, code):
    """A sheet's can, as a fragment for the page of the sheet."""
    can = queries.cans().filter(sheet__code=code).first()
    return fragments.answer(request, "solar/_of_sheet.html", {"can": can}, "Its can")
