"""Judging simulated sheets, and the catalogue of faults with an example of each."""

from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.ledger.keys import row_key
from chimney.parts import previews
from chimney.results import wording
from chimney.results.training import craft, flows, queries
from chimney.results.training.forms import TrialForm
from pinhole.faults import FAULTS

MOST_SEED = 10**6


def trainer(request):
    """One simulated sheet after the other: say the stops and the fault, be told how near."""
    seed = row_key(request.POST.get("seed") or request.GET.get("seed")) or queries.count() + 1
    puzzle = craft.puzzle(seed % MOST_SEED)
    form = TrialForm(puzzle.medium, request.POST or None, initial={"seed": puzzle.seed})
    if request.method == "POST" and form.is_valid():
        flows.judge(puzzle, form.stops, form.cleaned_data["fault"])
        return redirect(f"{reverse('results:trainer')}?seed={puzzle.seed + 1}")
    page = {"form": form, "puzzle": puzzle, "eye": queries.eye(), "last": _last()}
    page["leans"] = [
        (medium, wording.lean_of(eye)) for medium, eye in queries.eyes().items() if eye.is_known
    ]
    return render(request, "results/trainer.html", page, status=422 if form.errors else 200)


def _last():
    """Words for what was true of the sheet before."""
    trial = queries.last()
    if trial is None:
        return None
    named = [FAULTS[code].words if code else "nothing amiss" for code in _faults_of(trial)]
    return {
        "trial": trial,
        "rungs": list(enumerate(craft.LADDER)),
        "true": wording.sentence(trial.medium, trial.true_stops),
        "said_fault": named[0],
        "true_fault": named[1],
    }


def _faults_of(trial):
    return trial.said_fault, trial.true_fault


@require_POST
def forget(request):
    flows.forget()
    return redirect("results:trainer")


def puzzle_picture(request, seed):
    return _jpeg(craft.picture(seed % MOST_SEED))


def rung(request, seed, number):
    """The sheet of a seed as if it needed another amount of light."""
    if number >= len(craft.LADDER):
        raise Http404("The ladder has no such step.")
    return _jpeg(craft.picture(seed % MOST_SEED, craft.LADDER[number]))


def faults(request):
    """Every fault: what it looks like, its causes, what tells them apart, the remedy."""
    return render(request, "results/faults.html", {"faults": FAULTS.values()})


def example(request, code):
    if code not in FAULTS:
        raise Http404("There is no such fault.")
    return _jpeg(craft.example(code))


def _jpeg(array):
    headers = {"Cache-Control": "max-age=86400"}
    return HttpResponse(previews.jpeg(array), content_type="image/jpeg", headers=headers)
