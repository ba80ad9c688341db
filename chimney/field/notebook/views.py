from django.shortcuts import get_object_or_404, render

from chimney.field.notebook.craft import CARD_EVS, notebook_shots
from chimney.field.outing import queries
from chimney.field.outing.page import schedule


def notebook(request, pk):
    """The printed page with boxes to fill, for fields without a phone."""
    day_out = get_object_or_404(queries.outings(), pk=pk)
    page = {
        "outing": day_out,
        "day": schedule(day_out),
        "noted": notebook_shots(day_out),
        "evs": CARD_EVS,
    }
    return render(request, "field/notebook.html", page)
