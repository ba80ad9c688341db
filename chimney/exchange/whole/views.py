from django.http import JsonResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils import timezone
from django.views.decorators.http import require_POST

from chimney.exchange.models import Bringing
from chimney.exchange.whole import catalogue, flows
from chimney.ledger import makings
from chimney.ledger.models import Making
from chimney.parts import clock, waiting


@require_POST
def write(request):
    """The whole log with its pictures is to be written as a ZIP, beside the server."""
    name = f"chimney-{timezone.localdate(clock.now())}.zip"
    return redirect("hearth:making", makings.ask(Making.What.LOG, name).pk)


def schema(request):
    return JsonResponse(catalogue.schema(), content_type="application/schema+json")


def brought(request, pk):
    """Page of what a log would do, does or did."""
    bringing = get_object_or_404(Bringing, pk=pk)
    pages, context = ("exchange/brought.html", "exchange/_under_way.html"), {"bringing": bringing}
    return waiting.answer(request, *pages, context, waits=bringing.is_under_way)


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
