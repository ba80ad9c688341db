from django.http import FileResponse
from django.shortcuts import get_object_or_404

from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts import waiting
from chimney.parts.refusal import Refused


def making(request, pk):
    """A file that is being made, and the way to it when it lies there."""
    found = get_object_or_404(Making, pk=pk)
    pages, waits = ("hearth/making.html", "hearth/_making.html"), found.state == Making.State.ASKED
    return waiting.answer(request, *pages, {"making": found}, waits=waits)


def fetch(request, pk):
    found = get_object_or_404(Making, pk=pk, state=Making.State.MADE)
    try:
        file = makings.path_of(found).open("rb")
    except OSError as error:
        words = "That file is gone: let it be made again."
        raise Refused(words, "To the Hearth", "hearth:hearth") from error
    return FileResponse(file, as_attachment=True, filename=found.name)
