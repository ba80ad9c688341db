from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import flows, page
from chimney.darkroom.forms import RunForm
from chimney.darkroom.models import Development
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.parts import adding, fragments


def run(request):
    """The sheets that wait, and one form for what they go into."""
    waiting = list(queries.waiting(Sheet.Stage.EXPOSED))
    start = page.start_of(waiting, request.GET.get("sheet"))
    form = RunForm(request.POST or None, initial=start | adding.begun(request, ("sheets",)))
    if request.method == "POST" and form.is_valid():
        cleaned = form.cleaned_data
        sheets = list(cleaned.pop("sheets"))
        flows.develop(sheets, cleaned.pop("developer"), **cleaned)
        logged = ", ".join(map(str, sheets))
        messages.success(request, f"{logged} logged. Fix, wash and dry, then read.")
        return redirect("darkroom:run")
    context = page.of_run(form, waiting)
    return render(request, "darkroom/run.html", context, status=422 if form.errors else 200)


def of_sheet(request, code):
    """A sheet's development as a fragment for the page of the sheet."""
    sheet = get_object_or_404(Sheet.objects.select_related("development__developer"), code=code)
    context = {"sheet": sheet, "development": getattr(sheet, "development", None)}
    return fragments.answer(request, "darkroom/_of_sheet.html", context, f"{sheet} in the dark")


@require_POST
def take_back(request, pk):
    development = get_object_or_404(Development.objects.select_related("sheet"), pk=pk)
    flows.take_back(development)
    messages.success(request, f"{development.sheet} waits for the developer again.")
    return redirect("darkroom:run")
