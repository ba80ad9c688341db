"""The pictures of a scan, each at its own address: as scanned, its positive, a rung of the ladder,
densities on one scale, and the whole positive as a file.
"""

from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import etag

from chimney.logbook.models import Sheet
from chimney.results.models import Scan
from chimney.results.pictures import flows, queries
from chimney.results.scans import craft, files, page
from chimney.results.scans.forms import ExportForm, ToneForm

# Asked for each time, and sent only where it has changed.
seen_again = etag(queries.mark)


def _scan(pk):
    rows = Scan.objects.select_related("sheet__paper", "preview", "wedge")
    return get_object_or_404(rows, pk=pk)


def _jpeg(data):
    return HttpResponse(data, content_type="image/jpeg", headers={"Cache-Control": "no-cache"})


def _preview(kept):
    preview = getattr(kept, "preview", None)
    if preview is None:
        raise Http404("It was not looked through yet.")
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
    kept = _scan(pk)
    array = files.array_of(_preview(kept).jpeg)
    asked = set(request.GET) & set(ToneForm.base_fields)
    typed = page.typed(kept, ToneForm(request.GET) if asked else None)
    if "whole" in request.GET:
        for side in ("left", "right", "top", "bottom"):
            setattr(typed, f"crop_{side}", 0.0)
    return _jpeg(files.jpeg(craft.tones(typed, array).positive(array)))


@seen_again
def upright(request, pk):
    """The whole positive, on which a place on the paper is found."""
    kept = _scan(pk)
    _preview(kept)
    return _jpeg(files.jpeg(page.whole(kept)))


@seen_again
def rung(request, pk, number):
    """A rung of the ladder: the picture with more or less light."""
    kept = _scan(pk)
    if number >= len(craft.RUNGS) or kept.sheet is None:
        raise Http404("There is no such rung.")
    array = files.small(files.array_of(_preview(kept).jpeg), 320)
    if array.ndim == 3:
        array = array.mean(axis=2).astype("uint8")
    looks = craft.rung(array, craft.RUNGS[number], kept.sheet.paper, kept.wedge)
    return _jpeg(files.jpeg(craft.tones(page.typed(kept, None), array).positive(looks)))


@seen_again
def one_scale(request, pk):
    """Its densities as greys, the same for every sheet, upright and the right way round."""
    kept = _scan(pk)
    array = files.small(files.array_of(_preview(kept).jpeg), 700)
    greys = craft.on_one_scale(array, darkens=kept.inverted, wedge=kept.wedge)
    plain = craft.Tones(False, (0,), (255,), 1.0, kept.mirrored, kept.quarters)
    return _jpeg(files.jpeg(plain.positive(greys)))


def export(request, pk, kind):
    """The whole positive, made of the original: at once, or beside the server where that is
    large.
    """
    kept, wished = _scan(pk), ExportForm(request.GET)
    if kind not in flows.TYPES:
        raise Http404("There is no such kind of picture.")
    _preview(kept)
    place = wished.cleaned_data["place"] if wished.is_valid() else None
    if kept.is_large:
        return redirect("hearth:making", flows.ask(kept, kind, place).pk)
    made, name = flows.positive(kept, kind, place=place), f"{kept.sheet or 'scan'}-positive.{kind}"
    return FileResponse(made, as_attachment=True, filename=name, content_type=flows.TYPES[kind])


@etag(queries.mark_of_sheet)
def thumb(request, code):
    """The newest picture of a sheet, as small as a stamp."""
    sheet = get_object_or_404(Sheet, code=code)
    kept = Scan.objects.filter(sheet=sheet, state="ready").select_related("preview").first()
    if kept is None:
        raise Http404("There is no picture of it.")
    return _jpeg(bytes(_preview(kept).thumb))
