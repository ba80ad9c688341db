"""The first page: four doors by what one wants to do, each with its answer first."""

from urllib.parse import urlencode

from django.contrib import messages
from django.http import Http404
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone

from chimney.hearth.begin import flows
from chimney.hearth.begin import page as pages
from chimney.kit import wording
from chimney.parts import clock

# A class is made at once: nothing of it is answered before.
ANSWERING = ("minutes", "room", "can")


def begin(request, door="minutes"):
    """Page of one door, its answer live as its fields change; POST does what its button says."""
    if door not in pages.BY_CODE:
        raise Http404
    if request.method == "POST":
        return _act(request, pages.read(door, request.POST))
    page = pages.read(door, request.GET)
    if request.htmx and door in ANSWERING:
        return render(request, f"hearth/begin/_{door}_answer.html", {"page": page, "live": True})
    return show(request, page)


def show(request, page, status=200):
    """The page with its doors."""
    context = {"page": page, "today": timezone.localtime(clock.now())}
    return render(request, "hearth/begin/begin.html", context, status=status)


def _act(request, page):
    if not page.form.is_valid():
        return show(request, page, 422)
    acts = {"minutes": _minutes, "room": _minutes, "can": _can, "class": _class}
    return acts[page.door.code](request, page)


def _minutes(request, page):
    """Open the hole at once, or take the camera to the plan: that says why where it cannot be."""
    if "plan" in request.POST or not page.starts:
        camera, paper = flows.take_kit(page.form)
        query = urlencode({"camera": camera.pk, "paper": paper.pk})
        return redirect(f"{reverse('field:plan')}?{query}")
    opened = flows.start_clock(page.form, page.sun)
    return redirect("logbook:timer", opened.pk)


def _can(request, page):
    if page.can is None:
        for words in page.camera_form.errors.values():
            page.form.add_error("wide_mm", words)
        return show(request, page, 422)
    can = flows.plan_can(page.camera_form, page.can)
    return redirect("solar:one", can.pk)


def _class(request, page):
    cleaned, camera_form = page.form.cleaned_data, page.camera_form
    if camera_form is None or not camera_form.is_valid():
        page.form.add_error("depth_mm", "No common sheet fits such a box.")
        return show(request, page, 422)
    roster = flows.take_class(camera_form, cleaned["names"], cleaned["period"])
    messages.success(request, wording.roster(roster.added, roster.known))
    return redirect(f"{reverse('logbook:row')}?{urlencode({'period': cleaned['period']})}")
