"""Scans: brought in, matched, made positive, read."""

from django.contrib import messages
from django.http import FileResponse, Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.logbook.models import Sheet
from chimney.parts import clicks
from chimney.parts.refusal import Refused
from chimney.results.models import Scan
from chimney.results.scans import craft, files, flows, page
from chimney.results.scans.forms import MatchForm, ToneForm, UploadForm

SHOWN = 48


def scans(request):
    """What came in: what waits, what belongs to no sheet yet, what is done."""
    sent = request.method == "POST"
    form = UploadForm(request.POST, request.FILES) if sent else UploadForm()
    if sent and form.is_valid():
        return _brought(request, form.cleaned_data["scans"])
    rows = Scan.objects.select_related("sheet")
    waiting = rows.filter(state=Scan.State.WAITING)
    context = {"form": form, "waiting": waiting.count(), "inbox": files.inbox()}
    context["broken"] = rows.filter(state=Scan.State.BROKEN)[:SHOWN]
    ready = rows.filter(state=Scan.State.READY)
    context |= {"loose": ready.filter(sheet=None)[:SHOWN], "matched": _newest(ready)}
    template = "results/_scans.html" if request.htmx else "results/scans.html"
    return render(request, template, context, status=422 if form.errors else 200)


def _newest(ready):
    return ready.exclude(sheet=None)[:SHOWN]


def _brought(request, uploads):
    for upload in uploads:
        try:
            scan, fresh = flows.bring(upload.name, upload.chunks())
        except files.UnreadableError as error:
            messages.error(request, f"{upload.name}: {error}")
            continue
        told = f"it waits for {scan.sheet}" if scan.sheet else "match it to its sheet"
        words = told if fresh else "it was here already, so nothing was kept twice"
        messages.success(request, f"{upload.name}: {words}.")
    return redirect("results:scans")


def _scan(pk):
    return get_object_or_404(Scan.objects.select_related("sheet__paper", "preview"), pk=pk)


def scan(request, pk):
    """One scan beside its positive, and what it says."""
    kept = _scan(pk)
    start = {name: getattr(kept, name) for name in flows.TONES}
    form = ToneForm(request.POST or None, initial=start)
    if request.method == "POST" and form.is_valid():
        group = page.alike(kept) if "all" in request.POST else ()
        flows.tone(kept, form.cleaned_data, also=group)
        return redirect("results:scan", pk)
    spots = page.read_spots(request.GET.getlist("p"))
    if clicked := _clicked(request, kept):
        return redirect(f"{request.path}?{page.written([*spots, clicked])}")
    context = page.of_scan(kept, form, spots) | {"match": MatchForm(initial={"code": kept.sheet})}
    return render(request, "results/scan.html", context, status=422 if form.errors else 200)


def _clicked(request, kept):
    """Where the picture was clicked, as shares of it; None where it was not."""
    if not kept.width:
        return None
    return clicks.read(request.GET, page.SHOWN_PX, page.SHOWN_PX * kept.height / kept.width)


@require_POST
def assign(request, pk):
    """Which sheet it is a scan of."""
    kept, form = _scan(pk), MatchForm(request.POST)
    if not form.is_valid():
        context = page.of_scan(kept, ToneForm(initial=vars(kept))) | {"match": form}
        return render(request, "results/scan.html", context, status=422)
    flows.match(kept, form.sheet)
    said = f"a scan of {form.sheet}" if form.sheet else "no sheet's"
    messages.success(request, f"{kept} is {said} now.")
    return redirect("results:scan", pk)


def _jpeg(data):
    return HttpResponse(data, content_type="image/jpeg", headers={"Cache-Control": "no-cache"})


def _preview(kept):
    preview = getattr(kept, "preview", None)
    if preview is None:
        raise Http404("It was not looked through yet.")
    return preview


def stamp(request, pk):
    """Its positive at the size of a stamp, as it was made when its tones were."""
    return _jpeg(bytes(_preview(_scan(pk)).thumb))


def negative(request, pk):
    return _jpeg(bytes(_preview(_scan(pk)).jpeg))


def positive(request, pk):
    """The positive of the preview, as it is kept or as it is being typed."""
    kept = _scan(pk)
    array = files.array_of(_preview(kept).jpeg)
    typed = page.typed(kept, ToneForm(request.GET) if request.GET else None)
    return _jpeg(files.jpeg(craft.tones(typed, array).positive(array)))


def rung(request, pk, number):
    """A rung of the ladder: the picture with more or less light."""
    kept = _scan(pk)
    if number >= len(craft.RUNGS) or kept.sheet is None:
        raise Http404("There is no such rung.")
    array = files.small(files.array_of(_preview(kept).jpeg), 320)
    if array.ndim == 3:
        array = array.mean(axis=2).astype("uint8")
    looks = craft.rung(array, craft.RUNGS[number], kept.sheet.paper)
    return _jpeg(files.jpeg(craft.tones(page.typed(kept, None), array).positive(looks)))


def one_scale(request, pk):
    """Its densities as greys, the same for every sheet, upright and the right way round."""
    kept = _scan(pk)
    array = files.small(files.array_of(_preview(kept).jpeg), 700)
    greys = craft.on_one_scale(array, darkens=kept.inverted)
    plain = craft.Tones(False, (0,), (255,), 1.0, kept.mirrored, kept.quarters)
    return _jpeg(files.jpeg(plain.positive(greys)))


def export(request, pk, kind):
    """The whole positive, made of the original."""
    kept = _scan(pk)
    types = {"jpg": "image/jpeg", "png": "image/png", "tif": "image/tiff"}
    if kind not in types:
        raise Http404("There is no such kind of picture.")
    array = files.array_of(_preview(kept).jpeg)
    try:
        told = page.exif(kept.sheet)
        made = files.export(files.path_of(kept), kind, craft.tones(kept, array), told)
    except files.UnreadableError as error:
        raise Refused(str(error), "See the scan", "results:scan", pk) from error
    name = f"{kept.sheet or 'scan'}-positive.{kind}"
    return FileResponse(made, as_attachment=True, filename=name, content_type=types[kind])


def thumb(request, code):
    """The newest picture of a sheet, as small as a stamp."""
    sheet = get_object_or_404(Sheet, code=code)
    kept = Scan.objects.filter(sheet=sheet, state="ready").select_related("preview").first()
    if kept is None:
        raise Http404("There is no picture of it.")
    return _jpeg(bytes(_preview(kept).thumb))


def of_sheet(request, code):
    """The pictures of a sheet as a fragment for its page."""
    sheet = get_object_or_404(Sheet, code=code)
    context = {"scans": sheet.scans.filter(state="ready"), "sheet": sheet}
    return render(request, "results/_pictures.html", context)
