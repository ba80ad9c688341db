"""The pages of a day out."""

from datetime import timedelta

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.field.forms import OutingForm, PocketForm, ShotForm, SkyForm
from chimney.field.models import Outing, Shot, SkyChange
from chimney.field.outing import craft, figures, files, flows, queries, wording
from chimney.field.outing.page import schedule
from chimney.ledger.keys import as_kept, row_key
from chimney.parts import adding, downloads, drag, svg, undo
from chimney.parts.refusal import Refused
from chimney.places import craft as places
from chimney.places import queries as place_queries


def outings(request):
    days_out = queries.outings().prefetch_related("shots")
    return render(
        request, "field/outings.html", {"outings": days_out, "has_place": place_queries.any_place()}
    )


def new(request, pk=None):
    """A day out, new or changed."""
    outing_row = get_object_or_404(Outing, pk=pk) if pk else None
    if not place_queries.any_place():
        refusal = "An outing needs a place: its sun gives the light of the day."
        raise Refused(refusal, "Add a place", "places:add")
    start = None if outing_row else _start(request) | adding.begun(request)
    form = OutingForm(request.POST or None, instance=outing_row, initial=start)
    if request.method == "POST" and form.is_valid():
        return redirect("field:outing", flows.keep_outing(form).pk)
    # A wrong form has changed the instance in memory: the page speaks of the day as it is kept.
    page = {"form": form, "outing": _outing(pk) if outing_row else None}
    return render(request, "field/new_outing.html", page, status=422 if form.errors else 200)


def _start(request):
    place_key = row_key(request.GET.get("place"))
    place = place_queries.chosen_or_home(place_key)
    return {
        "place": place,
        "day": places.today(place) + timedelta(days=1),
        "name": f"A day at {place}",
    }


def _outing(pk):
    return get_object_or_404(queries.outings(), pk=pk)


def outing(request, pk, form=None, status=200):
    """The day as a bar of light with its shots; drags and edits come back to the same fragment."""
    day_out = _outing(pk)
    day = schedule(day_out)
    page = {"outing": day_out} | _drawn(day, live=False)
    page |= {
        "form": form
        or ShotForm(outing=day_out, initial=flows.usual_shot(day_out, day) | adding.begun(request)),
        "pocket_form": PocketForm(),
    }
    return render(request, "field/outing.html", page, status=status)


def _drawn(day, *, live):
    drawing = figures.bar(day)
    handles = svg.handles(drawing, "day", list(figures.grips(day)), live=live)
    return {"day": day, "drawing": drawing, "handles": handles, "live": live}


@require_POST
def move(request, pk):
    """A shot dragged along the hours, or typed to another one; the rest of the day follows."""
    day_out, moved = _outing(pk), request.POST.get("dragged")
    light = craft.light_of(day_out)
    shot = _dragged(day_out, light[1], drag.read(moved))
    if shot and not drag.is_moving(moved):
        flows.move(shot, shot.starts_at)
    if not request.htmx:
        return redirect("field:outing", pk)
    day = schedule(day_out, light, moved=shot)
    return render(request, "field/_day.html", {"outing": day_out} | _drawn(day, live=True))


def _dragged(outing, daylight, dragged):
    """The Shot that was dragged, at its new hour, not kept yet; None for anything else."""
    key = row_key(dragged[0]) if dragged else None
    shot = queries.shot_to_do(outing, key)
    if shot:
        seconds = figures.seconds_of(daylight, dragged[1])
        shot.starts_at = daylight.start + timedelta(seconds=seconds)
    return shot


def shot(request, pk, shot_pk=None):
    """Add a shot on the spot, or change one."""
    day_out = _outing(pk)
    shot_row = get_object_or_404(Shot, pk=shot_pk, outing=day_out) if shot_pk else None
    start = _hour(shot_row, day_out) | adding.begun(request)
    form = ShotForm(request.POST or None, instance=shot_row, outing=day_out, initial=start)
    if request.method == "POST" and form.is_valid():
        messages.success(request, f"{flows.keep_shot(day_out, form)} is added to the day.")
        return redirect("field:outing", pk)
    if shot_row:
        page = {"outing": day_out, "shot": as_kept(shot_row), "form": form}
        return render(request, "field/shot.html", page, status=422 if form.errors else 200)
    if form.errors:
        return outing(request, pk, form=form, status=422)
    return redirect("field:outing", pk)


def _hour(shot, outing):
    """The hour of a kept shot on the clock of its place."""
    starts_at = shot and shot.starts_at
    return {"time": places.local(starts_at, outing.place).time()} if starts_at else {}


@require_POST
def change_sky(request, pk):
    """The sky has changed: what was read before keeps its own."""
    form = SkyForm(request.POST)
    change = form.is_valid() and flows.change_sky(_outing(pk), form.cleaned_data["sky"])
    if change:
        message = f"{change.get_sky_display()} from now on. Read the light again."
        undo.offer(request, message[0].upper() + message[1:], "field:undo_sky", change.pk)
    return redirect("field:outing", pk)


@require_POST
def undo_sky(request, pk):
    change = get_object_or_404(SkyChange, pk=pk)
    flows.undo_change_of_sky(change)
    messages.success(request, "The sky is what it was before.")
    return redirect("field:outing", change.outing_id)


@require_POST
def drop_shot(request, pk, shot_pk):
    shot = get_object_or_404(Shot, pk=shot_pk, outing=pk)
    flows.drop(shot)
    undo.offer(request, f"{shot} is taken off the day.", "field:undrop_shot", shot.pk)
    return redirect("field:outing", pk)


@require_POST
def undrop_shot(request, pk):
    """A dropped shot of a day, or a dropped plan, is back."""
    shot = get_object_or_404(Shot.everything, pk=pk)
    flows.undrop(shot)
    messages.success(request, f"{shot} is back.")
    return redirect("field:outing", shot.outing_id) if shot.outing_id else redirect("field:plan")


@require_POST
def shoot_again(request, pk, shot_pk):
    flows.again(get_object_or_404(Shot, pk=shot_pk, outing=pk))
    return redirect("field:outing", pk)


@require_POST
def drop_outing(request, pk):
    day_out = _outing(pk)
    flows.drop_outing(day_out)
    undo.offer(request, f"{day_out} is dropped. What was exposed stays.", "field:undrop_outing", pk)
    return redirect("field:outings")


@require_POST
def undrop_outing(request, pk):
    day_out = get_object_or_404(Outing.everything, pk=pk)
    flows.undrop_outing(day_out)
    messages.success(request, f"{day_out} is back.")
    return redirect("field:outing", pk)


def pack(request, pk):
    day_out = _outing(pk)
    day = schedule(day_out)
    return render(
        request,
        "field/packing.html",
        {
            "outing": day_out,
            "day": day,
            "groups": wording.packing_list(day),
            "cautions": wording.CAUTIONS,
        },
    )


def ics(request, pk):
    day_out = _outing(pk)
    book = files.calendar_of(schedule(day_out))
    return downloads.calendar(book, f"outing-{day_out.pk}.ics")
