from django import forms
from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from chimney.exchange import page
from chimney.exchange.models import Bringing
from chimney.exchange.whole import catalogue, files, flows
from chimney.exchange.whole.forms import BringForm
from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts import clock


@require_POST
def write(request):
    """The whole log with its pictures is to be written as a ZIP, beside the server."""
    name = f"chimney-{timezone.localdate(clock.now())}.zip"
    return redirect("hearth:making", makings.ask(Making.What.LOG, name).pk)


def schema(request):
    return JsonResponse(catalogue.schema(), content_type="application/schema+json")


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


def brought(request, pk):
    """Page of what a log would do, does or did."""
    return page.brought(request, get_object_or_404(Bringing, pk=pk))


@require_POST
def bring(request, pk):
    flows.want(get_object_or_404(Bringing, pk=pk))
    return redirect("exchange:brought", pk)


@require_POST
def take_out(request, pk):
    flows.unwant(get_object_or_404(Bringing, pk=pk))
    return redirect("exchange:brought", pk)


@require_POST
def forget(request, pk):
    flows.forget(get_object_or_404(Bringing, pk=pk))
    return redirect("exchange:data")
