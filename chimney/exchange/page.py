"""The state of the page of one's own data."""

from django.http import HttpResponse
from django.shortcuts import render

from chimney import beside, copies
from chimney.exchange.feed import queries as feed
from chimney.exchange.feed.forms import TokenForm
from chimney.exchange.models import Bringing, FeedToken
from chimney.exchange.tables.catalogue import TABLES
from chimney.exchange.tables.forms import MapForm
from chimney.ledger.models import Making


def data(request, form, *, status=200, fresh=None, token_form=None, map_form=None):
    """form: of a log; fresh: (token, its secret) of one that was just made, told once; token_form,
    map_form: what was typed in them.
    """
    shown = {"form": form, "bringings": Bringing.objects.all()[:20], "tables": TABLES}
    for to in FeedToken.To:
        typed = token_form if token_form and token_form.to == to else TokenForm(to)
        shown |= {f"{to}_tokens": feed.tokens(to), f"{to}_form": typed}
    shown |= {"fresh": fresh, "written": Making.objects.filter(what=Making.What.LOG).first()}
    shown |= {"map_form": map_form or MapForm(), "copies": copies.state()}
    return render(request, "exchange/data.html", shown, status=status)


NOBODY = (
    "Nothing is at work beside the server, so it waits: start Chimney by make run, or let "
    "manage.py work do it once."
)


def nobody_at_work():
    """What to do where nothing is at work beside the server; empty where something is."""
    return "" if beside.is_alive() else NOBODY


def brought(request, bringing):
    """The whole page; to one that waits how far it has come, and itself anew when that is done."""
    shown = {"bringing": bringing, "nobody": nobody_at_work()}
    if not request.htmx:
        return render(request, "exchange/brought.html", shown)
    if bringing.is_under_way:
        return render(request, "exchange/_under_way.html", shown)
    return HttpResponse(headers={"HX-Refresh": "true"})
