"""The pictures of a scan, each at its own address: as scanned, its positive, a rung of the ladder,
densities on one scale, and the whole positive as a file.
"""

from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import etag

from chimney.logbook.models import Sheet
from chimney.parts import previews
from chimney.parts.sentences import NOT_LOOKED_THROUGH
from chimney.results.pictures import craft as pictures
from chimney.results.pictures import flows, queries
from chimney.results.scans import craft, page
from chimney.results.scans import queries as scans
from chimney.results.scans.forms import ExportForm, ToneForm

# Asked for each time, and sent only where it has changed.
seen_again = etag(queries.mark)


def _scan(pk):
    rows = scans.scans()
    return get_object_or_404(rows, pk=pk)


def _jpeg(data):
    return HttpResponse(data, content_type="image/jpeg", headers={"Cache-Control": "no-cache"})


def _preview(scan):
    preview = getattr(scan, "preview", None)
    if preview is None:
        raise Http404(NOT_LOOKED_THROUGH)
    return preview


@seen_again
def stamp(request, pk):
    """Its positive at the size of a stamp, as it was made when its tones were."""
    return _jpeg(bytes(_preview(_scan(pk)).thumb))


@seen_again
def negative(request, pk):
    return _jpeg(bytes(_preview(_scan(pk)).jpeg))


@seen_again
def positive(request, pk):
    """The positive of the preview, as it is kept or as it is being typed; whole: nothing cut
    off.
    """
    scan_row = _scan(pk)
    array = previews.array_of(_preview(scan_row).jpeg)
    asked = set(request.GET) & set(ToneForm.base_fields)
    typed = page.typed(scan_row, ToneForm(request.GET) if asked else None)
    if "whole" in request.GET:
        for side in ("left", "right", "top", "bottom"):
            setattr(typed, f"crop_{side}", 0.0)
    return _jpeg(previews.jpeg(craft.tones(typed, array).positive(array)))


@seen_again
def upright(request, pk):
    """The whole positive, on which a place on the paper is found."""
    scan_row = _scan(pk)
    _preview(scan_row)
    return _jpeg(previews.jpeg(page.whole(scan_row)))


@seen_again
def rung(request, pk, number):
    """A rung of the ladder: the picture with more or less light."""
    scan_row = _scan(pk)
    if number >= len(craft.RUNGS) or scan_row.sheet is None:
        raise Http404("There is no such rung.")
    array = previews.small(previews.array_of(_preview(scan_row).jpeg), 320)
    if array.ndim == 3:
        array = array.mean(axis=2).astype("uint8")
    looks = pictures.rung(array, craft.RUNGS[number], scan_row.sheet.paper, scan_row)
    return _jpeg(previews.jpeg(craft.tones(page.typed(scan_row, None), array).positive(looks)))


@seen_again
def one_scale(request, pk):
    """Its densities as greys, the same for every sheet, upright and the right way round."""
    scan_row = _scan(pk)
    array = previews.small(previews.array_of(_preview(scan_row).jpeg), 700)
    greys = craft.on_one_scale(array, darkens=scan_row.inverted, wedge=scan_row.wedge)
    plain = craft.Tones(False, (0,), (255,), 1.0, scan_row.mirrored, scan_row.quarters)
    return _jpeg(previews.jpeg(plain.positive(greys)))


def export(request, pk, kind):
    """The whole positive, made of the original: at once, or beside the server where that is
    large.
    """
    scan_row, wished = _scan(pk), ExportForm(request.GET)
    if kind not in flows.MEDIA_TYPES:
        raise Http404("There is no such kind of picture.")
    _preview(scan_row)
    place = wished.cleaned_data["place"] if wished.is_valid() else None
    if scan_row.is_large:
        return redirect("hearth:making", flows.ask(scan_row, kind, place).pk)
    file, name = (
        flows.positive(scan_row, kind, place=place),
        f"{scan_row.sheet or 'scan'}-positive.{kind}",
    )
    return FileResponse(
        file, as_attachment=True, filename=name, content_type=flows.MEDIA_TYPES[kind]
    )


@etag(queries.mark_of_sheet)
def thumb(request, code):
    """The newest picture of a sheet, as small as a stamp."""
    sheet = get_object_or_404(Sheet, code=code)
    scan_row = scans.newest_of(sheet)
    if scan_row is None:
        raise Http404("There is no picture of it.")
    return _jpeg(bytes(_preview(scan_row).thumb))
