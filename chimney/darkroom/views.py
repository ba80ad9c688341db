from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import flows, page, queries
from chimney.darkroom.forms import TOGETHER, CorrectForm, RunForm
from chimney.darkroom.running.page import Bench
from chimney.logbook import queries as logbook
from chimney.logbook.models import Sheet
from chimney.parts import adding, clock, darkroom_dress, fragments

SEVERAL = ("sheets", "baths")


def run(request):
    """The sheets that wait, and one form for what they go through."""
    form, waiting, room = _begin_form(request)
    if request.method == "POST" and form.is_valid():
        if form.is_timed:
            return _begun(request, form)
        return _logged(request, form.cleaned_data)
    now = clock.now()
    context = page.of_begin(form, waiting, room)
    context["going"] = [Bench.of(run, now) for run in queries.going()]
    context["wet"] = sum(bench.count for bench in context["going"])
    return render(request, "darkroom/run.html", context, status=422 if form.errors else 200)


def _begin_form(request):
    waiting = list(logbook.waiting(Sheet.Stage.EXPOSED))
    room = queries.dark_room(clock.now())
    arguments = request.GET.get("sheet"), room, request.GET.get("period", "")
    typed = request.POST if request.method == "POST" else request.GET
    follows = page.follow(typed, waiting, room) if "made_for" in typed else {}
    if request.method == "POST":
        return _judged_form(typed, follows, room), waiting, room
    start = page.start_of(waiting, *arguments, process=typed.get("process"))
    start |= adding.begun(request, SEVERAL)
    if "made_for" in typed:
        # What is not ticked does not come along.
        start |= {box: box in typed for box in ("by_eye", "longer")}
        start |= {"baths": typed.getlist("baths")}
    return RunForm(None, room=room, initial=start | follows), waiting, room


def _judged_form(typed, follows, room):
    """Form of what was sent; where its process is not that of its proposals, it holds those of its
    own, to be looked at first.
    """
    data = typed.copy()
    for name, value in follows.items():
        if isinstance(value, list):
            data.setlist(name, map(str, value))
        elif value is False:
            data.pop(name, None)
        else:
            data[name] = "" if value is None else RunForm.as_typed(name, value)
    return RunForm(data, room=room, moved=bool(follows))


def _begun(request, form):
    """The run begins; from here on every page is red."""
    cleaned, sheets = form.cleaned_data, list(form.cleaned_data["sheets"].order_by("pk"))
    values = {name: cleaned[name] for name in ("vessel", "light", "by_eye", "parts")}
    values |= {name: cleaned[name] for name in ("temperature_c", "remarks")}
    values |= {"safe_s": page.safe_s(cleaned["light"], sheets), "steps": form.steps}
    begun = flows.begin(
        sheets,
        cleaned["process"],
        cleaned["developer"],
        together=cleaned["order"] == TOGETHER,
        baths=list(cleaned["baths"]),
        **values,
    )
    return darkroom_dress.put_on(redirect("darkroom:going", begun.pk))


def _logged(request, cleaned):
    """Write down what is over."""
    sheets = list(cleaned["sheets"])
    values = {name: cleaned[name] for name in ("parts", "seconds", "temperature_c", "remarks")}
    values |= {name: cleaned[name] for name in ("vessel", "light", "by_eye", "baths", "process")}
    flows.develop(sheets, cleaned["developer"], **values)
    logged = ", ".join(map(str, sheets))
    messages.success(request, f"{logged} logged. Fix, wash and dry, then read.")
    return redirect("darkroom:run")


def of_sheet(request, code):
    """A sheet's development as a fragment for the page of the sheet."""
    sheet = get_object_or_404(queries.sheets_in_the_dark(), code=code)
    context = {"sheet": sheet, "development": getattr(sheet, "development", None)}
    context |= {"printed": getattr(sheet, "printed", None)}
    context |= {"prints": sheet.prints.select_related("sheet")}
    through = sheet.stage in (Sheet.Stage.DEVELOPED, Sheet.Stage.READ)
    context["can_print"] = through and sheet.paper.medium.is_printed_from
    return fragments.answer(request, "darkroom/_of_sheet.html", context, f"{sheet} in the dark")


def correct(request, pk):
    """Correct what was really done, where the log has it otherwise."""
    developments = queries.developments()
    development = get_object_or_404(developments.exclude(developed_at=None), pk=pk)
    form = CorrectForm(development, request.POST or None)
    if request.method == "POST" and form.is_valid():
        flows.correct(development, **form.cleaned_data)
        messages.success(request, f"{development.sheet}: {development.run.developer} it is.")
        return redirect("logbook:sheet", development.sheet.code)
    run = development.run
    context = {"form": form, "sheet": development.sheet, "run": run}
    context["others"] = run.developments.count() - 1
    return render(request, "darkroom/correct.html", context, status=422 if form.errors else 200)


@require_POST
def take_back(request, pk):
    development = get_object_or_404(queries.developments(), pk=pk)
    flows.take_back(development)
    messages.success(request, f"{development.sheet} waits for the developer again.")
    return redirect("darkroom:run")
