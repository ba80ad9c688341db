"""The curve of a paper by its own scans."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from chimney.kit.models import Paper
from chimney.parts import fragments
from chimney.results.curves import figures, queries


def of_paper(request, pk):
    """Fragment of a paper's curve, empty before three of its scans were judged."""
    paper = get_object_or_404(Paper, pk=pk)
    known = queries.known_of(paper)
    if known is None:
        return HttpResponse()
    context = {"drawing": figures.curve(paper, known), "sheets": known.sheets}
    return fragments.answer(request, "results/_curve.html", context, f"The curve of {paper}")
