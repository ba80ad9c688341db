"""A row of cameras on one screen: loaded with an owner each, unloaded in one form."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from chimney.logbook.row import flows, page
from chimney.parts.refusal import Refused


def row(request):
    """Page of the row; POST loads the cameras that are ticked."""
    period = request.GET.get("period", "")[:30]
    shown = page.read(request.POST or None, period)
    if request.method != "POST":
        return render(request, "logbook/row.html", {"page": shown})
    if not shown.is_valid():
        return render(request, "logbook/row.html", {"page": shown}, status=422)
    return _load(request, shown)


def _load(request, shown):
    if not shown.chosen:
        context = {"page": shown, "nothing": "Tick at least one camera."}
        return render(request, "logbook/row.html", context, status=422)
    try:
        loadings = flows.load_row(shown.paper.cleaned_data["paper"], shown.chosen)
    except Refused as refused:
        context = {"page": shown, "nothing": refused.sentence}
        return render(request, "logbook/row.html", context, status=409)
    first, last = loadings[0].sheet, loadings[-1].sheet
    span = f"{first}" if first == last else f"{first} to {last}"
    messages.success(request, f"Loaded: {span}. Pencil each code on the back of its sheet.")
    return redirect("logbook:row")


@require_POST
def unload(request):
    """Take every exposed sheet that is ticked out, into the packet to develop."""
    ticked = set(request.POST.getlist("side"))
    sides = [side for side in page.read().full if side.key in ticked]
    sheets = flows.unload_row(sides)
    if sheets:
        codes = ", ".join(map(str, sheets))
        messages.success(request, f"In the packet to develop: {codes}.")
    return redirect("logbook:row")
