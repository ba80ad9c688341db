from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404, render

from chimney.exchange.page import nobody_at_work
from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts.refusal import Refused


def making(request, pk):
    """A file that is being made, and the way to it when it lies there."""
    found = get_object_or_404(Making, pk=pk)
    shown = {"making": found, "nobody": nobody_at_work()}
    if not request.htmx:
        return render(request, "hearth/making.html", shown)
    if found.state == Making.State.ASKED:
        return render(request, "hearth/_making.html", shown)
    return HttpResponse(headers={"HX-Refresh": "true"})


def fetch(request, pk):
    found = get_object_or_404(Making, pk=pk, state=Making.State.MADE)
    try:
        file = makings.path_of(found).open("rb")
    except OSError as error:
        raise Refused("That file is gone: let it be made again.", "To the Hearth") from error
    return FileResponse(file, as_attachment=True, filename=found.name)
