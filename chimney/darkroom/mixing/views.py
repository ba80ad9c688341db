"""Mixing a bath."""

from urllib.parse import urlencode

from django.shortcuts import render

from chimney.darkroom.mixing import craft, figures
from chimney.darkroom.mixing.forms import MixForm


def mix(request):
    """Page of a mix; the state stands in the address."""
    form = MixForm(MixForm.START | request.GET.dict())
    page = {"form": form}
    if form.is_valid():
        mixture = craft.mix(form.cleaned_data)
        page["bath"] = urlencode(craft.as_bath(form.cleaned_data, mixture))
        page |= {"mix": mixture, "drawing": figures.vessel(form.cleaned_data, mixture)}
    template = "darkroom/_mix.html" if request.htmx else "darkroom/mix.html"
    return render(request, template, page)
