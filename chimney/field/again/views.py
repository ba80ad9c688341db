"""The same again, or the same scene on another paper."""

from django.http import HttpResponse
from django.shortcuts import get_object_or_404

from chimney.field.again import page, queries
from chimney.parts import fragments


def again(request, pk):
    """Fragment of the ways to go on from an exposure, each with its own time."""
    return _ways(request, get_object_or_404(queries.exposures(), pk=pk))


def last(request):
    """The same of the exposure that was shut last, nothing where there is none."""
    exposure = queries.last()
    return _ways(request, exposure) if exposure else HttpResponse()


def _ways(request, exposure):
    context = {"exposure": exposure, "ways": page.ways(exposure)}
    return fragments.answer(request, "field/_again.html", context, f"After {exposure.sheet}")
