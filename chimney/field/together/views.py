"""A class at its cameras: one reading, one tap to open them all, one to close them."""

from django.contrib import messages
from django.shortcuts import redirect, render

from chimney.field.together import craft, flows
from chimney.field.together.forms import TogetherForm
from chimney.logbook.page import Timer
from chimney.logbook.queries import running
from chimney.parts import clock
from chimney.parts.refusal import Refused


def together(request):
    """The loaded cameras with their times under one reading, and those that are open."""
    posted = request.method == "POST"
    data = request.POST if posted else request.GET or None
    form = TogetherForm(data, initial=TogetherForm.START)
    judged = form.is_valid() if form.is_bound else False
    if posted and judged and _opened(form):
        messages.success(request, f"{len(form.ticked)} opened.")
        return redirect("field:together")
    return _page(request, form, status=422 if posted else 200)


def _opened(form):
    """True if all that were ticked are open; else the reason stands beside them."""
    planned = craft.plans(form.cleaned_data, form.ticked)
    long_one = next((too_long for too_long in planned if too_long.is_too_long), None)
    if long_one:
        refusal = "would be open for more than a day: that is a solargraph."
        form.add_error("sides", f"{long_one.camera} {refusal}")
        return False
    try:
        return flows.open_together(planned, form.cleaned_data["subject"])
    except Refused as refused:
        form.add_error("sides", refused.sentence)
        return False


def _page(request, form, status):
    reading = form.reading if form.is_bound else None
    if request.method == "GET":
        # Nothing is asked for yet.
        form.errors.pop("sides", None)
    page = {
        "form": form,
        "planned": craft.plans(reading, form.loaded.values()) if reading else [],
        "loaded": form.loaded.values(),
        "ticked": set(form["sides"].value() or form.loaded),
        "timers": [Timer.of(exposure, clock.now()) for exposure in running()],
    }
    template = "field/_together.html" if request.htmx else "field/together.html"
    return render(request, template, page, status=status)
