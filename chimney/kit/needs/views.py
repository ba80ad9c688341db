"""Page of the least needs."""

from django.shortcuts import render

from chimney.kit.needs.craft import offers, shared
from chimney.kit.needs.forms import NeedsForm


def needs(request):
    """Page of what a start takes, for a sheet, a place and the prices typed; the state stands in
    the address.
    """
    form = NeedsForm(NeedsForm.START | request.GET.dict())
    page = {"form": form, "shared": shared()}
    page["offers"] = offers(form.cleaned_data) if form.is_valid() else []
    return render(request, "kit/_needs.html" if request.htmx else "kit/needs.html", page)
