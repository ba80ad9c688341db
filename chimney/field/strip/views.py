"""A test strip is read: which of its bands is right."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect

from chimney.field.strip import craft, flows, queries
from chimney.field.strip.forms import BandForm
from chimney.parts import fragments


def strip(request, pk):
    """The bands of an exposed strip as they were made, and the form that says which is right."""
    record = get_object_or_404(queries.strips(), exposure=pk)
    bands = craft.bands_made(record)
    form = BandForm(craft.choices(bands), request.POST or None)
    if request.method == "POST" and form.is_valid():
        verdict = flows.read_strip(record, form.cleaned_data["band"])
        messages.success(request, f"{verdict.sheet}: {craft.said(verdict.band, bands)}.")
        return redirect("results:waiting")
    sheet = record.exposure.sheet
    page = {"taken": record, "sheet": sheet, "form": form, "rows": craft.rows(bands)}
    page["can_be_read"] = sheet.stage in (sheet.Stage.DEVELOPED, sheet.Stage.READ)
    return fragments.answer(request, "field/_strip.html", page, f"The strip {sheet}")
