"""Page that reads off a picture by clicks how a can really stood. The state stands in the
address.
"""

from urllib.parse import urlencode

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse

from chimney.parts import clicks
from chimney.parts.refusal import Refused
from chimney.results.scans import page as results
from chimney.solar.cans import queries
from chimney.solar.marks import craft, figures
from chimney.solar.marks.forms import MarkForm, PictureMark, read_marks
from chimney.solar.planner import files
from pinhole import solargraph

# A trail is marked more than once, and so is chosen still; a corner of the skyline once.
KEPT_CHOICES = ("on", "day")


def marks(request, pk):
    """The picture to click on, and how it stood as soon as the marks say so."""
    can = get_object_or_404(queries.cans(), pk=pk)
    scan = can.sheet and can.sheet.scans.filter(state="ready").select_related("preview").first()
    if scan is None:
        raise Refused(f"{can} has no scan yet.", "Bring its scan in", "results:scans")
    marks_made = read_marks(request.GET.getlist("m"))
    form = MarkForm(craft.days_to_mark(can), craft.points_to_mark(can), request.GET)
    if clicked := _clicked(request, scan, form):
        return _to(pk, [*marks_made, clicked], request.GET)
    if "back" in request.GET:
        return _to(pk, marks_made[:-1], request.GET)
    page = {"can": can, "marks": marks_made, "form": form, "scan": scan}
    return render(request, "solar/marks.html", page | _answer(can, scan, marks_made))


def _aspect(scan):
    """Height over width of the positive."""
    high, wide = (scan.height, scan.width) if scan.quarters % 2 == 0 else (scan.width, scan.height)
    return high / wide


def _clicked(request, scan, form):
    """The PictureMark of a click on the picture, or None."""
    place = clicks.read(request.GET, figures.MARKED_WIDTH, figures.MARKED_WIDTH * _aspect(scan))
    return PictureMark(*place, form.chosen) if place and form.is_valid() else None


def _to(pk, marks, typed):
    query = [("m", mark.written) for mark in marks]
    query += [(name, typed[name]) for name in KEPT_CHOICES if typed.get(name)]
    return redirect(f"{reverse('solar:marks', args=[pk])}?{urlencode(query)}")


def _answer(can, scan, marks):
    """Context of what the marks say, or of what is still wanted."""
    answer, trouble = None, ""
    if len(marks) >= solargraph.LEAST_MARKS:
        try:
            answer = craft.stood(can, marks)
        except ValueError as error:
            trouble = f"{str(error)[0].upper()}{str(error)[1:]}."
    prediction = craft.predicted(can, answer.fit) if answer else None
    drawing = figures.overlay(_aspect(scan), marks, prediction)
    residuals = zip(marks, answer.residuals if answer else [""] * len(marks), strict=True)
    page = {"answer": answer, "trouble": trouble, "drawing": drawing, "told": list(residuals)}
    if answer:
        page["next_time"] = urlencode(craft.next_time(can, answer.fit))
        page["dull"] = craft.dull(prediction, answer.fit, results.whole(scan))
    return page


def meant(request, pk):
    """The picture that was expected beforehand, as a PNG."""
    can = get_object_or_404(queries.cans(), pk=pk)
    try:
        png = files.preview_png(craft.meant(can), water=can.water)
    except ValueError as error:
        raise Http404("Its paper cannot lie in it.") from error
    return HttpResponse(png, content_type="image/png")
