"""The round of the cans: on paper, on the phone, and home again."""

from itertools import groupby

from django.contrib import messages
from django.shortcuts import redirect, render

from chimney.parts import downloads, pdf
from chimney.solar.cans import queries
from chimney.solar.round import files, flows, prints
from chimney.solar.round.forms import RoundForm


def _by_place():
    """Every can that is out, place by place, the place first that has something due."""
    cans, due = list(queries.out()), {}
    for can in cans:
        due.setdefault(can.place_id, can.last_day)
    return sorted(cans, key=lambda can: (due[can.place_id], can.place_id))


def printed(request):
    """The round to print, sheets of their own for each place."""
    parts = [list(cans) for _, cans in groupby(_by_place(), key=lambda can: can.place)]
    sheets = [sheet for cans in parts or [[]] for sheet in prints.round_of(cans)]
    return pdf.answer(sheets, "The round of the cans", "round")


def carried(request):
    """One self-contained file for the phone."""
    page = {"pack": files.packed(_by_place())}
    page["style"] = downloads.inside("css/pocket.css")
    page["script"] = downloads.inside("js/round.js")
    return downloads.named(render(request, "solar/round.html", page), "round.html")


def bring_back(request):
    """Show first what the phone gave back, and write it down when told to."""
    form = RoundForm(request.POST or None)
    good = request.method == "POST" and form.is_valid()
    if good and "take" in request.POST:
        count = flows.take_in(form.sightings)
        messages.success(request, f"{count} seen at the cans, written down.")
        return redirect("solar:cans")
    page = {"form": form, "coming": form.sightings if good else None}
    return render(request, "solar/round_back.html", page, status=422 if form.errors else 200)
