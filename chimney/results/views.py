from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.logbook.page import Timer
from chimney.parts import clock, fragments
from chimney.parts.refusal import Refused
from chimney.results import figures, flows, wording
from chimney.results import queries as results
from chimney.results.forms import VerdictForm
from chimney.results.scans import craft
from chimney.results.scans import page as scans
from chimney.results.scans import queries as scan_queries


def waiting(request):
    """Sheets that nobody has judged, and the verdicts given last."""
    recent = results.recent(8)
    page = {
        "sheets": queries.waiting(Sheet.Stage.DEVELOPED),
        "to_scan": queries.counts()[Sheet.Stage.HOME],
        "recent": [
            (verdict, wording.sentence(verdict.sheet.paper.kind, verdict.stops_more))
            for verdict in recent
        ],
    }
    return render(request, "results/waiting.html", page)


def judge(request, code):
    sheet = get_object_or_404(queries.with_thread(), code=code)
    if sheet.stage not in (Sheet.Stage.DEVELOPED, Sheet.Stage.READ):
        raise _not_yet(sheet)
    verdict = results.verdict_of(sheet)
    start = VerdictForm.start(verdict) if verdict else {}
    start |= VerdictForm.proposed_by(request.GET)
    form = VerdictForm(sheet.paper.kind, request.POST or None, initial=start)
    if request.method == "POST" and form.is_valid():
        verdict = flows.judge(sheet, **form.cleaned_data)
        sentence = wording.sentence(sheet.paper.kind, verdict.stops_more)
        messages.success(request, f"{sheet}: {sentence}")
        return redirect("results:waiting")
    page = {"form": form, "sheet": sheet, "verdict": verdict} | _behind(sheet)
    return render(request, "results/judge.html", page, status=422 if form.errors else 200)


def _behind(sheet):
    """Context of the judge beside the sheet: its exposure, its development, the rule of its
    medium.
    """
    exposure = queries.whole(sheet.exposures).first()
    through = results.developments_of(sheet)
    return _pictured(sheet) | {
        "timer": Timer.of(exposure, clock.now()) if exposure else None,
        "development": through.first(),
        "rule": wording.rule(sheet.paper.kind),
        "scale": figures.scale(sheet.paper.kind),
    }


def _pictured(sheet):
    """The newest picture of a sheet, and what it says."""
    scan = scan_queries.newest_of(sheet)
    if scan is None:
        return {}
    if scan.transmitted:
        return {"scan": scan}
    return {"scan": scan} | scans.says(craft.Pictured.of(scan), sheet)


def _not_yet(sheet):
    stage = Sheet.Stage(sheet.stage).label
    if sheet.stage == Sheet.Stage.EXPOSED:
        return Refused(
            f"{sheet} has not been developed yet.", "Log its development", "darkroom:run"
        )
    return Refused(
        f"{sheet} is {stage}: there is nothing to read yet.",
        f"See {sheet}",
        "logbook:sheet",
        sheet.code,
    )


def of_sheet(request, code):
    """The verdict as a fragment for the page of the sheet."""
    sheet = get_object_or_404(results.sheets(), code=code)
    verdict = results.verdict_of(sheet)
    sentence = wording.sentence(sheet.paper.kind, verdict.stops_more) if verdict else ""
    context = {"sheet": sheet, "verdict": verdict, "sentence": sentence}
    context["done"] = wording.done(sheet, printed=sheet.prints.exists())
    return fragments.answer(request, "results/_of_sheet.html", context, f"{sheet}, read")


@require_POST
def take_back(request, code):
    verdict = get_object_or_404(results.verdicts(), sheet__code=code)
    flows.take_back(verdict)
    messages.success(request, f"{verdict.sheet} waits to be read again.")
    return redirect(reverse("results:judge", args=[code]))
