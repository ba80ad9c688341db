"""The pocket sheet's pages: the file for the phone, and its way home."""

from django.contrib import messages
from django.shortcuts import get_object_or_404, redirect, render

from chimney.field.forms import PocketForm
from chimney.field.hours.wording import SHORT_SKIES
from chimney.field.outing import queries as outings
from chimney.field.pocket import craft, files, flows
from chimney.field.pocket.page import by_height
from chimney.parts import downloads


def _outing(pk):
    return get_object_or_404(outings.outings(), pk=pk)


def pocket_sheet(request, pk):
    """One self-contained file for the phone."""
    day_out = _outing(pk)
    page = {"outing": day_out, "pack": craft.packed(day_out)}
    page |= {"skies": SHORT_SKIES.values(), "by_height": list(by_height(day_out))}
    page["style"] = downloads.inside("css/pocket.css")
    page["script"] = downloads.inside("js/pocket.js")
    answer = render(request, "field/pocket.html", page)
    return downloads.named(answer, f"pocket-{day_out.day}.html")


def _unpacked(day_out, form):
    """The PocketEvents of a good form; None where the file is not ours, which is said beside it."""
    try:
        return files.unpack(day_out, form.cleaned_data["text"])
    except files.NotOursError as error:
        form.add_error("file", str(error))
        return None


def bring_back(request, pk):
    """Show what a pocket sheet gave back first, and take it in when told to."""
    day_out = _outing(pk)
    form = PocketForm(request.POST or None, request.FILES or None)
    page = {"outing": day_out, "form": form}
    coming = _unpacked(day_out, form) if request.method == "POST" and form.is_valid() else None
    if coming is not None and "take" in request.POST:
        messages.success(request, flows.take_in(day_out, coming, request.POST.getlist("both")))
        return redirect("field:outing", pk)
    if coming is not None:
        page |= {"coming": coming, "text": form.cleaned_data["text"]}
    return render(request, "field/pocket_back.html", page, status=422 if form.errors else 200)
