from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.darkroom import flows
from chimney.darkroom.forms import RunForm
from chimney.darkroom.models import Development
from chimney.kit.models import Developer
from chimney.logbook import queries
from chimney.logbook.models import Sheet
from chimney.parts import fragments


def run(request):
    """The sheets that wait, and one form for what they go into."""
    waiting = list(queries.waiting(Sheet.Stage.EXPOSED))
    form = RunForm(request.POST or None, initial=_usual(request, waiting))
    if request.method == "POST" and form.is_valid():
        given = form.cleaned_data
        sheets = list(given.pop("sheets"))
        flows.develop(sheets, given.pop("developer"), **given)
        messages.success(
            request, f"{', '.join(map(str, sheets))} logged. Fix, wash and dry, then read."
        )
        return redirect("darkroom:run")
    ticked = (
        set(form.data.getlist("sheets"))
        if form.is_bound
        else {str(sheet.pk) for sheet in form.initial["sheets"]}
    )
    page = {
        "form": form,
        "waiting": [(sheet, str(sheet.pk) in ticked) for sheet in waiting],
        "recent": Development.objects.select_related("sheet", "developer")[:6],
        "developers": Developer.objects.in_use().exists(),
    }
    return render(request, "darkroom/run.html", page, status=422 if form.errors else 200)


def _usual(request, waiting):
    """The intended developer of the first sheet with all meant for the same, else the developer
    used last.
    """
    wanted = [sheet for sheet in waiting if sheet.code == request.GET.get("sheet")] or waiting
    meant = {sheet: sheet.last_exposure.developer_id for sheet in wanted if sheet.last_exposure}
    intended = next(iter(meant.values()), None)
    wanted = [sheet for sheet in wanted if meant.get(sheet) == intended]
    last = (
        Development.objects.filter(developer=intended).first()
        if intended
        else Development.objects.first()
    )
    if last:
        return {
            "sheets": wanted,
            "developer": last.developer_id,
            "parts": last.parts,
            "seconds": last.seconds,
        }
    developer = (
        Developer.objects.in_use().filter(pk=intended).first() or Developer.objects.in_use().first()
    )
    if developer is None:
        return {"sheets": wanted}
    return {
        "sheets": wanted,
        "developer": developer.pk,
        "parts": developer.parts,
        "seconds": developer.usual_s,
    }


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
