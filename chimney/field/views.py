from urllib.parse import urlencode

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.field import desk as desks
from chimney.field import flows, prints
from chimney.field.models import Shot
from chimney.kit.models import Camera, Paper
from chimney.parts import pdf
from chimney.parts.refusal import Refused


def plan(request, pk=None):
    """Reading in, time out; live for htmx, the same state in the address."""
    shot = get_object_or_404(Shot, pk=pk, done=False) if pk else None
    if request.method == "POST":
        return _act(request, desks.lay(request.POST, shot=shot, judging=True))
    desk = desks.lay(request.GET, shot=shot)
    if not request.htmx:
        return _page(request, desk)
    response = render(request, "field/_answer.html", {"desk": desk, "live": True})
    response["HX-Replace-Url"] = f"{request.path}?{urlencode({k: v for k, v in desk.typed.items() if v})}"
    return response


def _page(request, desk, status=200):
    kept = Shot.objects.filter(done=False).select_related("camera", "paper")
    return render(request, "field/plan.html", {"desk": desk, "kept": kept}, status=status)


def _act(request, desk):
    """Keep the plan, or open the hole; what cannot be done is said beside its field."""
    keeping = "keep" in request.POST
    if desk.plan is None or not (keeping or _has_side(desk)):
        return _page(request, desk, 422)
    given = desk.form.cleaned_data
    if keeping:
        shot = flows.keep(given, {**desk.typed, "csrfmiddlewaretoken": ""}, desk.shot)
        messages.success(request, f"{shot} is kept for later.")
        return redirect("field:plan")
    try:
        opened = flows.open_shot(given, desk.plan, desk.side, desk.shot)
    except Refused as refused:
        desk.refused = refused
        desk.form.add_error("side", refused.sentence)
        return _page(request, desk, 409)
    return redirect("logbook:timer", opened.pk)


def _has_side(desk):
    if desk.side:
        return True
    if "side" not in desk.form.errors:
        size = desk.camera.size
        desk.form.add_error("side", f"No side is free for {size}: unload one in the bag, or add a holder to the kit.")
    return False


def card(request, pk):
    """The field card of a camera for the papers in use, at the EIs that plans would propose today."""
    camera = get_object_or_404(Camera, pk=pk)
    papers = Paper.objects.developed()[: prints.MOST_PAPERS]
    rated = [(paper, flows.usual_proposal(paper)) for paper in papers]
    return pdf.answer([prints.card(camera, rated)], f"Field card of {camera}", f"card-{camera.pk}")


@require_POST
def drop(request, pk):
    shot = get_object_or_404(Shot, pk=pk, done=False)
    shot.delete()
    messages.success(request, f"{shot} is dropped.")
    return redirect("field:plan")
