from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import craft, flows, page, queries
from chimney.darkroom.forms import TOGETHER, RunForm
from chimney.darkroom.models import Development
from chimney.darkroom.running.page import Bench
from chimney.kit.models import Paper
from chimney.logbook import queries as logbook
from chimney.logbook.models import Sheet
from chimney.parts import adding, clock, darkroom_dress, fragments

SEVERAL = ("sheets", "baths")


def run(request):
    """The sheets that wait, and one form for what they go through."""
    form, waiting, states = _begin_form(request)
    if request.method == "POST" and form.is_valid():
        if form.is_timed:
            return _begun(request, form)
        return _logged(request, form.cleaned_data)
    now = clock.now()
    context = page.of_begin(form, waiting, states)
    context["going"] = [Bench.of(run, now) for run in queries.going()]
    context["wet"] = logbook.counts()[Sheet.Stage.DEVELOPING]
    return render(request, "darkroom/run.html", context, status=422 if form.errors else 200)


def _begin_form(request):
    waiting = list(logbook.waiting(Sheet.Stage.EXPOSED))
    known, states = queries.all_processes(), queries.baths(clock.now())
    wanted = request.GET.get("sheet"), known, states, request.GET.get("period", "")
    start = page.start_of(waiting, *wanted) | adding.begun(request, SEVERAL)
    form = RunForm(request.POST or None, initial=start, known=known, states=states)
    return form, waiting, states


def _begun(request, form):
    """The run begins; from here on every page is red."""
    cleaned, sheets = form.cleaned_data, list(form.cleaned_data["sheets"].order_by("pk"))
    steps = craft.with_longer(cleaned["process"].steps, form.longest)
    kept = {name: cleaned[name] for name in ("vessel", "light", "by_eye", "parts")}
    kept |= {name: cleaned[name] for name in ("temperature_c", "remarks")}
    kept |= {"safe_s": page.safe_s(cleaned["light"], sheets), "steps": steps}
    begun = flows.begin(
        sheets,
        cleaned["process"],
        cleaned["developer"],
        together=cleaned["order"] == TOGETHER,
        baths=list(cleaned["baths"]),
        **kept,
    )
    return darkroom_dress.put_on(redirect("darkroom:going", begun.pk))


def _logged(request, cleaned):
    """What is over is written down."""
    sheets = list(cleaned["sheets"])
    kept = {name: cleaned[name] for name in ("parts", "seconds", "temperature_c", "remarks")}
    flows.develop(sheets, cleaned["developer"], process=cleaned["process"], **kept)
    logged = ", ".join(map(str, sheets))
    messages.success(request, f"{logged} logged. Fix, wash and dry, then read.")
    return redirect("darkroom:run")


def of_sheet(request, code):
    """A sheet's development as a fragment for the page of the sheet."""
    own = "paper", "development__run__developer", "printed__negative"
    sheet = get_object_or_404(Sheet.objects.select_related(*own), code=code)
    context = {"sheet": sheet, "development": getattr(sheet, "development", None)}
    context |= {"printed": getattr(sheet, "printed", None)}
    context |= {"prints": sheet.prints.select_related("sheet")}
    through = sheet.stage in (Sheet.Stage.DEVELOPED, Sheet.Stage.READ)
    context["can_print"] = through and sheet.paper.kind == Paper.Kind.NEGATIVE
    return fragments.answer(request, "darkroom/_of_sheet.html", context, f"{sheet} in the dark")


@require_POST
def take_back(request, pk):
    development = get_object_or_404(Development.objects.select_related("sheet"), pk=pk)
    flows.take_back(development)
    messages.success(request, f"{development.sheet} waits for the developer again.")
    return redirect("darkroom:run")
