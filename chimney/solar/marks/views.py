"""Page that reads off a picture by clicks how a can really stood. The state stands in the
address.
"""

from dataclasses import replace
from urllib.parse import urlencode

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_POST

from chimney.parts import clicks, drag
from chimney.parts.refusal import Refused
from chimney.results.scans import page as results
from chimney.solar.cans import queries
from chimney.solar.marks import craft, figures, flows
from chimney.solar.marks.forms import MarkForm, PictureMark, read_marks
from chimney.solar.planner import files
from pinhole import solargraph

# A trail is marked more than once, and so is chosen still; a corner of the skyline once.
KEPT_CHOICES = ("on", "day")


def marks(request, pk):
    """The picture to click on, and how it stood as soon as the marks say so."""
    can, scan = _pictured(pk)
    marks_made = _marks(can, request.GET)
    form = MarkForm(craft.days_to_mark(can), craft.points_to_mark(can), can.days_of, request.GET)
    if clicked := _clicked(request, scan, form):
        return _to(pk, [*marks_made, clicked], request.GET)
    if moved := _moved(request, scan, marks_made):
        return _to(pk, moved, request.GET)
    if "drop" in request.GET:
        return _to(pk, _without(marks_made, request.GET["drop"]), request.GET)
    page = {"can": can, "marks": marks_made, "form": form, "scan": scan}
    return render(request, "solar/marks.html", page | _answer(can, scan, marks_made))


def _pictured(pk):
    """(Solargraph, its Scan). Raises Refused where it has none."""
    can = get_object_or_404(queries.cans(), pk=pk)
    scan = can.sheet and can.sheet.scans.filter(state="ready").select_related("preview").first()
    if scan is None:
        raise Refused(f"{can} has no scan yet.", "Bring its scan in", "results:scans")
    return can, scan


def _marks(can, sent):
    """PictureMarks that an address names, on days when the can was out; those that were kept where
    it names none.
    """
    written = sent.getlist("m") if "m" in sent or "anew" in sent else can.marks
    return [mark for mark in read_marks(written) if craft.is_in_span(can, mark)]


def _without(marks, number):
    """The marks without the one of that number, counted from 0."""
    return [mark for n, mark in enumerate(marks) if str(n) != number]


@require_POST
def keep(request, pk):
    """Keep how it stood, or forget it."""
    can, scan = _pictured(pk)
    if "forget" in request.POST:
        flows.forget(can)
        messages.success(request, f"{can} stands as it was left.")
        return redirect("solar:one", pk)
    marks_made = _marks(can, request.POST)
    answer, trouble = _stood(can, marks_made, craft.Laid.of(scan))
    if answer is None or trouble:
        raise Refused(trouble or "More marks are needed.", "To its marks", "solar:marks", pk)
    flows.keep(can, marks_made, answer.fit)
    messages.success(request, f"{can} is drawn and summed as it stood.")
    return redirect("solar:one", pk)


def _aspect(scan):
    """Height over width of the positive."""
    high, wide = (scan.height, scan.width) if scan.quarters % 2 == 0 else (scan.width, scan.height)
    return high / wide


def _clicked(request, scan, form):
    """The PictureMark of a click on the picture, or None."""
    place = clicks.read(request.GET, figures.MARKED_WIDTH, figures.MARKED_WIDTH * _aspect(scan))
    return PictureMark(*place, form.chosen) if place and form.is_valid() else None


def _moved(request, scan, marks):
    """The marks with one of them where it was dragged; None if none was."""
    pull = drag.read(request.GET.get("dragged"))
    numbers = [f"mark{n}" for n in range(1, len(marks) + 1)]
    if pull is None or pull[0] not in numbers:
        return None
    n, high = numbers.index(pull[0]), figures.MARKED_WIDTH * _aspect(scan)
    across, down = np.clip([pull[1] / figures.MARKED_WIDTH, pull[2] / high], 0, 1).tolist()
    return [*marks[:n], replace(marks[n], across=across, down=down), *marks[n + 1 :]]


def _to(pk, marks, typed):
    query = [("m", mark.written) for mark in marks] or [("anew", "1")]
    query += [(name, typed[name]) for name in KEPT_CHOICES if typed.get(name)]
    return redirect(f"{reverse('solar:marks', args=[pk])}?{urlencode(query)}")


def _stood(can, marks, laid):
    """(StoodFit of enough marks on a picture on which the paper is Laid or None, what is wrong with
    them in words or "").
    """
    if len(marks) < solargraph.LEAST_MARKS:
        return None, ""
    try:
        answer = craft.stood(can, marks, laid)
    except ValueError as error:
        return None, f"{str(error)[0].upper()}{str(error)[1:]}."
    return answer, answer.trouble


def _answer(can, scan, marks):
    """Context of what the marks say, or of what is still wanted."""
    laid, prediction = craft.Laid.of(scan), None
    answer, trouble = _stood(can, marks, laid)
    distances = answer.residuals if answer else [""] * len(marks)
    page = {"trouble": trouble, "told": list(zip(marks, distances, strict=True))}
    # What the marks do not tell is not told.
    answer = None if trouble else answer
    if answer:
        prediction = craft.predicted(can, answer.fit)
        page["next_time"] = urlencode(craft.next_time(answer.fit))
        page["dull"] = craft.dull(prediction, answer.fit, laid.cut(results.whole(scan)))
    drawing = figures.overlay(_aspect(scan), len(marks), prediction, laid)
    grips = figures.grips(drawing, marks)
    return page | {"answer": answer, "drawing": drawing, "grips": grips}


def meant(request, pk):
    """The picture that was expected beforehand, as a PNG."""
    can = get_object_or_404(queries.cans(), pk=pk)
    try:
        png = files.preview_png(craft.meant(can), water=can.water)
    except ValueError as error:
        raise Http404("Its paper cannot lie in it.") from error
    return HttpResponse(png, content_type="image/png")
