from urllib.parse import urlencode

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.field.models import Shot
from chimney.field.outing import flows as outings
from chimney.field.outing import queries as days_out
from chimney.field.plan import flows, prints, queries
from chimney.field.plan import page as pages
from chimney.field.strip import craft as strips
from chimney.kit import queries as kit
from chimney.kit.models import Camera
from chimney.lessons.proposing import queries as lessons
from chimney.logbook.models import Sheet
from chimney.parts import fragments, pdf, undo
from chimney.parts.refusal import Refused


def plan(request, pk=None):
    """Reading in, time out; live for htmx, the same state in the address."""
    shot = get_object_or_404(_to_do(request), pk=pk) if pk else None
    if "work" in request.POST:
        # By its button or the return key, without script: the same page, and no token in its
        # address.
        page = pages.read(request.POST, shot=shot)
        return redirect(_address(request, page))
    if request.method == "POST":
        return _act(request, pages.read(request.POST, shot=shot, judging=True))
    page = pages.read(request.GET, shot=shot)
    if not request.htmx:
        return _page(request, page)
    response = render(request, "field/_answer.html", {"page": page, "live": True})
    response["HX-Replace-Url"] = _address(request, page)
    return response


def _address(request, page):
    """The state of a plan in the address of its page."""
    return f"{request.path}?{urlencode({k: v for k, v in page.typed.items() if v})}"


def _to_do(request):
    """Plans that can be looked at; one that is done still takes in a form that was overtaken, to
    say so, and answers what was typed just before the hole was opened.
    """
    shots = days_out.shots()
    overtaken = request.method == "POST" or request.htmx
    return shots if overtaken else shots.filter(done=False)


def _page(request, page, status=200):
    context = {
        "page": page,
        "kept": queries.kept(),
        "outings": days_out.outings()[:3],
    }
    return render(request, "field/plan.html", context, status=status)


def _act(request, page):
    """Keep the plan, or open the hole; what cannot be done is said beside its field."""
    keeping = "keep" in request.POST
    if page.plan is None or not (keeping or _has_side(page)):
        return _page(request, page, 422)
    return (_keep if keeping else _open)(request, page)


def _keep(request, page):
    shot = flows.keep(page.form.cleaned_data, page.typed, page.shot)
    messages.success(request, f"{shot} is kept for later.")
    return redirect("field:outing", shot.outing_id) if shot.outing_id else redirect("field:plan")


def _open(request, page):
    cleaned = page.form.cleaned_data
    try:
        opened = flows.open_shot(cleaned, page.plan, page.side, page.shot, page.place, page.typed)
    except Refused as refused:
        page.refused = refused
        page.form.add_error("side", refused.sentence)
        return _page(request, page, 409)
    return redirect("logbook:timer", opened.pk)


def _has_side(page):
    if page.side:
        return True
    if "side" not in page.form.errors:
        size = page.camera.size
        page.form.add_error(
            "side",
            f"No side is free for {size}: unload one in the bag, or add a holder to the kit.",
        )
    return False


def card(request, pk):
    """The field card of a camera for the papers in use, at the EIs that plans would propose
    today.
    """
    camera = get_object_or_404(Camera, pk=pk)
    ratings = lessons.ratings()
    rated = [(paper, ratings.best(paper)) for paper in kit.developed_papers()]
    return pdf.answer(prints.cards(camera, rated), f"Field card of {camera}", f"card-{camera.pk}")


@require_POST
def drop(request, pk):
    shot = get_object_or_404(Shot, pk=pk)
    outings.drop(shot)
    undo.offer(request, f"{shot} is dropped.", "field:undrop_shot", pk)
    return redirect("field:plan")


def beside(request, pk):
    """Fragment of what belongs to a running exposure: the pulls of its test strip, the next sheet
    of its shot, its pair.
    """
    record = days_out.taken(exposure=pk)
    coming = days_out.next_of(record.shot) if record else []
    page = {"taken": record, "next": [(shot, pages.read({}, shot=shot)) for shot in coming]}
    page["rows"] = strips.rows(strips.bands_made(record)) if record and record.bands else []
    return fragments.answer(request, "field/_beside.html", page, "What belongs to it")


def after(request, pk):
    """To the next sheet after an exposure: the rest of its shot, its pair, the day's next shot,
    or a new plan.
    """
    record = days_out.taken(exposure=pk)
    coming = days_out.next_of(record.shot) if record else []
    return redirect("field:kept", coming[0].pk) if coming else redirect("field:plan")


def of_sheet(request, code):
    """The shot that a sheet belongs to, and the sheets beside it, as a fragment for the page of the
    sheet.
    """
    sheet = get_object_or_404(Sheet, code=code)
    record = days_out.taken(exposure__sheet=sheet)
    exposures_beside = days_out.others_beside(record.shot, sheet) if record else []
    page = {"taken": record, "others": exposures_beside}
    page["rows"] = strips.rows(strips.bands_made(record)) if record and record.bands else []
    return fragments.answer(request, "field/_of_sheet.html", page, f"With {sheet}")
