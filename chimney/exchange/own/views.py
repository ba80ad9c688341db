"""The page of one's own data, and what is typed there."""

from django import forms
from django.contrib import messages
from django.shortcuts import redirect
from django.views.decorators.http import require_POST

from chimney.exchange.feed import flows as feed
from chimney.exchange.feed.forms import TokenForm
from chimney.exchange.models import FeedToken
from chimney.exchange.own import page
from chimney.exchange.tables import flows as tables
from chimney.exchange.tables.forms import MapForm
from chimney.exchange.whole import files, flows
from chimney.exchange.whole.forms import BringForm
from chimney.parts.scales import counted


def data(request):
    """Page of what can be taken along, brought in and let in; a log that is handed over is looked
    through first.
    """
    posted = request.method == "POST"
    form = BringForm(request.POST, request.FILES) if posted else BringForm()
    if posted and form.is_valid():
        try:
            stored = files.store(form.cleaned_data["log"])
            handed = flows.hand_over(stored, form.cleaned_data["log"].name)
            return redirect("exchange:brought", handed.pk)
        except forms.ValidationError as error:
            form.add_error("log", error)
    return page.data(request, form, status=422 if form.errors else 200)


@require_POST
def bring_places(request):
    """Places, views and cans of a GeoJSON; what is here stays."""
    form = MapForm(request.POST, request.FILES)
    try:
        came, left = tables.bring_map(form.cleaned_data["places"]) if form.is_valid() else (0, [])
    except forms.ValidationError as error:
        form.add_error("places", error)
    if form.errors:
        return page.data(request, BringForm(), status=422, map_form=form)
    many = counted(came, "place, view or can", "places, views and cans")
    messages.success(request, f"{many[0].upper()}{many[1:]} came in.")
    for line in left[:5]:
        messages.warning(request, line)
    return redirect("exchange:data")


@require_POST
def let_in(request):
    to = request.POST.get("to")
    form = TokenForm(to if to in FeedToken.To else FeedToken.To.LIGHT, request.POST)
    if not form.is_valid():
        return page.data(request, BringForm(), status=422, token_form=form)
    return page.data(request, BringForm(), fresh=feed.let_in(form.cleaned_data["name"], form.to))
