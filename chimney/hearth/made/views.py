from django.http import FileResponse
from django.shortcuts import get_object_or_404

from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts import waiting
from chimney.parts.refusal import Refused


def making(request, pk):
    """A file that is being made, and the way to it when it lies there."""
    making_row = get_object_or_404(Making, pk=pk)
    pages, waits = (
        ("hearth/making.html", "hearth/_making.html"),
        making_row.state == Making.State.ASKED,
    )
    return waiting.answer(request, *pages, {"making": making_row}, waits=waits)


def fetch(request, pk):
    making_row = get_object_or_404(Making, pk=pk, state=Making.State.MADE)
    try:
        file = makings.path_of(making_row).open("rb")
    except OSError as error:
        refusal = "That file is gone: let it be made again."
        raise Refused(refusal, "To the Hearth", "hearth:hearth") from error
    return FileResponse(file, as_attachment=True, filename=making_row.name)
