"""A run that is going: its page, and what is tapped on it."""

from django.contrib import messages
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import flows, queries
from chimney.darkroom.forms import RunNoteForm
from chimney.darkroom.running.page import Bench
from chimney.parts import clock, darkroom_dress
from chimney.parts.taps import tapped_at
from pinhole import developing


def _run(pk):
    return get_object_or_404(queries.whole(), pk=pk, timed=True)


def going(request, pk, form=None):
    """A run: the step in huge digits, each sheet with its clock; red until white light is on."""
    bench = Bench.of(_run(pk), clock.now())
    page = {"bench": bench, "run": bench.run}
    if bench.is_dark:
        page["dress"] = darkroom_dress.DARKROOM
    if request.htmx and not request.htmx.boosted:
        return render(request, "darkroom/_bench_live.html", page)
    noted = {"temperature_c": bench.run.temperature_c, "remarks": bench.run.remarks}
    page["form"] = form or RunNoteForm(noted)
    return render(request, "darkroom/going.html", page, status=422 if form else 200)


@require_POST
def tap(request, pk, lane, moves, word):
    """One tap on a sheet's clock; a fragment for htmx, the page again without script."""
    if word not in (*developing.TAP_WORDS, "undo"):
        raise Http404("There is no such tap.")
    with clock.at(tapped_at(request)):
        if word == "undo":
            flows.undo(_run(pk), lane, moves)
        else:
            flows.tap(_run(pk), lane, moves, word)
    return going(request, pk) if request.htmx else redirect("darkroom:going", pk)


def back(request, pk, lane, moves):
    """Ask whether white light reached a sheet, before it goes back into the developer."""
    bench = Bench.of(_run(pk), clock.now())
    card = next((card for card in bench.cards if card.number == lane), None)
    page = {"bench": bench, "card": card, "run": bench.run, "moves": moves}
    if bench.is_dark:
        page["dress"] = darkroom_dress.DARKROOM
    return render(request, "darkroom/back.html", page)


@require_POST
def white(request, pk):
    """White light on, everybody's paper away; or off again."""
    on = request.POST.get("on") != "0"
    flows.white(_run(pk), on=on)
    answer = redirect("darkroom:going", pk)
    return darkroom_dress.take_off(answer) if on else darkroom_dress.put_on(answer)


@require_POST
def call_off(request, pk):
    flows.call_off(_run(pk))
    messages.success(request, "The run was never begun: its sheets wait as before.")
    return darkroom_dress.take_off(redirect("darkroom:run"))


@require_POST
def note(request, pk):
    form = RunNoteForm(request.POST)
    if not form.is_valid():
        return going(request, pk, form)
    flows.note(_run(pk), **form.cleaned_data)
    messages.success(request, "Noted.")
    return redirect("darkroom:going", pk)
