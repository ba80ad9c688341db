"""Scans: brought in, matched, made positive, read."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.text import capfirst
from django.views.decorators.http import require_POST
from django_htmx.http import HttpResponseClientRedirect

from chimney.logbook.models import Sheet
from chimney.parts import clicks, fragments, scales, waiting
from chimney.results import queries as results
from chimney.results import wording
from chimney.results.models import Scan, ToneSetting
from chimney.results.placing.forms import CornersForm
from chimney.results.scans import figures, files, flows, page, queries
from chimney.results.scans.forms import (
    GroupForm,
    MatchForm,
    ReadByForm,
    SettingForm,
    UploadForm,
)

SHOWN_SCANS = 48


def scans(request):
    """Page of scans: what waits, what belongs to no sheet yet, what is done."""
    sent = request.method == "POST"
    form = UploadForm(request.POST, request.FILES) if sent else UploadForm()
    if sent and form.is_valid():
        return _brought(request, form.cleaned_data["scans"])
    if sent and request.htmx:
        page = {"form": form, "inbox": files.inbox()}
        return render(request, "results/_upload.html", page, status=422)
    return _table(request, {"form": form}, status=422 if form.errors else 200)


def _table(request, more, status=200):
    """The light table: more overrides its forms."""
    rows = queries.listed()
    context = {"form": UploadForm(), "group": GroupForm(), "inbox": files.inbox()}
    context |= {"overdue": waiting.overdue(), "not_taken": results.not_taken()}
    context["waiting"] = rows.filter(state=Scan.State.WAITING).count()
    context["broken"] = rows.filter(state=Scan.State.BROKEN)[:SHOWN_SCANS]
    ready = rows.filter(state=Scan.State.READY)
    context |= {
        "matched": ready.exclude(sheet=None)[:SHOWN_SCANS],
        "first": request.GET.get("from", ""),
    }
    context["in_order"] = page.in_order(first=context["first"])
    context["settings"] = queries.has_settings()
    template = "results/_scans.html" if request.htmx else "results/scans.html"
    return render(request, template, context | more, status=status)


@require_POST
def match_all(request):
    """Loose scans matched to the sheets whose codes stand beside them."""
    form = page.in_order(request.POST)
    if form is None:
        return redirect("results:scans")
    if not form.is_valid():
        return _table(request, {"in_order": form}, status=422)
    flows.match_all(form.pairs)
    count_words = scales.counted(
        len(form.pairs), "scan found its sheet", "scans found their sheets"
    )
    if form.pairs:
        messages.success(request, f"{count_words}.")
    else:
        messages.warning(request, "No code stood beside any: they stay on the light table.")
    return redirect("results:scans")


@require_POST
def group(request):
    """The positives of several scans made by a kept setting."""
    form = GroupForm(request.POST)
    if not form.is_valid():
        return _table(request, {"group": form}, status=422)
    setting, chosen = form.cleaned_data["setting"], form.cleaned_data["scans"]
    flows.tone_all(chosen, setting)
    count_words = scales.counted(len(chosen), "positive is", "positives are")
    messages.success(request, f"{capfirst(count_words)} made as {setting}.")
    return redirect("results:scans")


def _brought(request, uploads):
    for number, upload in enumerate(uploads):
        try:
            scan, fresh = flows.bring(upload.name, upload.chunks())
        except files.UnreadableError as error:
            messages.error(request, f"{upload.name}: {error}")
        except OSError as error:
            messages.error(request, wording.cut_short(uploads, number, error))
            break
        else:
            messages.success(request, f"{upload.name}: {wording.arrived(scan, new=fresh)}.")
    # A script that sends the files takes the whole new page, with what is said on it.
    target = reverse("results:scans")
    return HttpResponseClientRedirect(target) if request.htmx else redirect(target)


def _scan(pk):
    rows = queries.scans()
    return get_object_or_404(rows, pk=pk)


def scan(request, pk):
    """One scan beside its positive, and what it says."""
    scan_row = _scan(pk)
    if request.htmx:
        return render(request, "results/_tones.html", {"work": page.working(scan_row, request.GET)})
    if request.method == "POST":
        return _tone(request, scan_row)
    spots = page.read_spots(request.GET.getlist("p"))
    if clicked := _clicked(request, scan_row):
        return redirect(f"{request.path}?{page.written([*spots, clicked])}")
    return _one(request, scan_row, page.working(scan_row, _chosen(request, scan_row)), spots)


def _chosen(request, scan):
    """Values that a kept setting would type, if one is chosen."""
    setting_key = request.GET.get("setting", "")
    setting = setting_key.isascii() and setting_key.isdecimal() and len(setting_key) < 18
    setting = queries.setting(setting_key) if setting else None
    return page.as_typed(setting) if setting else None


def _one(request, scan, work, spots=(), status=200, **more):
    context = page.of_scan(scan, work, spots) | {"match": MatchForm(initial={"code": scan.sheet})}
    return render(request, "results/scan.html", context | more, status=status)


def _tone(request, scan):
    """The positive kept as it was typed, for this scan, the day's, or by a name."""
    work, setting_form = page.working(scan, request.POST), SettingForm(request.POST)
    if work is None:
        return redirect("results:scan", scan.pk)
    named = "by_name" in request.POST
    if not work.form.is_valid() or (named and not setting_form.is_valid()):
        shown_form = setting_form if named else SettingForm()
        return _one(request, scan, work, status=422, setting_form=shown_form)
    group = page.alike(scan) if "all" in request.POST else ()
    flows.tone(scan, work.form.cleaned_data, also=group)
    if named:
        setting = flows.keep_setting(setting_form.cleaned_data["name"], work.form.cleaned_data)
        messages.success(request, f"These settings are kept as {setting}.")
    return redirect("results:scan", scan.pk)


def corners(request, pk):
    """The outline of its sheet, as a fragment while its corners are dragged; kept by POST."""
    scan_row = _scan(pk)
    form = CornersForm(request.POST if request.method == "POST" else request.GET)
    if not form.is_valid():
        return fragments.refused(form)
    placed = form.cleaned_data["corners"]
    if request.method == "POST":
        flows.keep_corners(scan_row, None if "found" in request.POST else placed)
        return redirect("results:scan", pk)
    return render(request, "results/_corners.html", page.placed(scan_row, placed))


@require_POST
def read_by(request, pk):
    """By which wedge its densities are read."""
    scan_row, form = _scan(pk), ReadByForm(request.POST)
    if form.is_valid():
        group = page.of_the_day(scan_row) if form.cleaned_data["days"] else ()
        flows.read_by([scan_row, *group], form.cleaned_data["wedge"])
    return redirect("results:scan", pk)


@require_POST
def forget(request, pk):
    """A kept setting goes; what was made by it stays."""
    setting = get_object_or_404(ToneSetting, pk=pk)
    flows.forget_setting(setting)
    messages.success(request, f"The settings {setting} are no longer kept.")
    return redirect("results:scans")


def _clicked(request, scan):
    """Place of a click on the picture, as shares of it; None if there was none."""
    if not scan.width:
        return None
    return clicks.read(request.GET, *figures.shown(scan))


@require_POST
def assign(request, pk):
    """Write down which sheet it is a scan of."""
    scan_row, form = _scan(pk), MatchForm(request.POST)
    if not form.is_valid():
        return _one(request, scan_row, page.working(scan_row), status=422, match=form)
    flows.match(scan_row, form.sheet)
    target = f"a scan of {form.sheet}" if form.sheet else "no sheet's"
    messages.success(request, f"{scan_row} is {target} now.")
    return redirect("results:scan", pk)


def of_sheet(request, code):
    """The pictures of a sheet as a fragment for its page."""
    sheet = get_object_or_404(Sheet, code=code)
    earlier = queries.earlier(sheet)
    context = {"scans": sheet.scans.filter(state="ready"), "sheet": sheet}
    context["beside"] = earlier.order_by("-pk").first()
    return render(request, "results/_pictures.html", context)
