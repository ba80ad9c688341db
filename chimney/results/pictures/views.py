"""The pictures of a scan, each at its own address: as scanned, its positive, a rung of the ladder,
densities on one scale, and the whole positive as a file.
"""

import hashlib

from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404
from django.views.decorators.http import etag

from chimney.logbook.models import Sheet
from chimney.parts.refusal import Refused
from chimney.results.models import Scan
from chimney.results.scans import craft, files, page
from chimney.results.scans.forms import ExportForm, ToneForm

# Raised where the same scan comes out otherwise than before.
EDITION = 1


def _mark(request, pk, **_):
    """What a browser tells a picture by that it has already: the scan as it is kept, by what it is
    read, and what is asked of it.
    """
    kept = Scan.objects.select_related("sheet__paper", "wedge").filter(pk=pk).first()
    if kept is None:
        return None
    rows = [kept, kept.wedge, kept.sheet, kept.sheet and kept.sheet.paper]
    told = [[of.value_from_object(row) for of in row._meta.concrete_fields] for row in rows if row]
    said = f"{EDITION} {request.get_full_path()} {told}"
    return f'"{hashlib.sha256(said.encode()).hexdigest()[:32]}"'


def _mark_of_sheet(request, code):
    newest = Scan.objects.filter(sheet__code=code, state="ready").values_list("pk", flat=True)
    return _mark(request, newest.first())


# Asked for each time, and sent only where it has changed.
seen_again = etag(_mark)


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
    """The whole positive, made of the original."""
    kept = _scan(pk)
    types = {"jpg": "image/jpeg", "png": "image/png", "tif": "image/tiff"}
    if kind not in types:
        raise Http404("There is no such kind of picture.")
    array, wished = files.array_of(_preview(kept).jpeg), ExportForm(request.GET)
    try:
        told = page.exif(kept.sheet, wished.cleaned_data["place"] if wished.is_valid() else None)
        made = files.export(files.path_of(kept), kind, craft.tones(kept, array), told)
    except files.UnreadableError as error:
        raise Refused(str(error), "See the scan", "results:scan", pk) from error
    name = f"{kept.sheet or 'scan'}-positive.{kind}"
    return FileResponse(made, as_attachment=True, filename=name, content_type=types[kind])


@etag(_mark_of_sheet)
def thumb(request, code):
    """The newest picture of a sheet, as small as a stamp."""
    sheet = get_object_or_404(Sheet, code=code)
    kept = Scan.objects.filter(sheet=sheet, state="ready").select_related("preview").first()
    if kept is None:
        raise Http404("There is no picture of it.")
    return _jpeg(bytes(_preview(kept).thumb))
