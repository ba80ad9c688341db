"""The state of the page of one's own data."""

from django.shortcuts import render

from chimney import copies
from chimney.exchange.feed import queries as feed
from chimney.exchange.feed.forms import TokenForm
from chimney.exchange.models import Bringing
from chimney.exchange.tables.catalogue import TABLES
from chimney.exchange.tables.forms import MapForm


def data(request, form, *, status=200, fresh=None, token_form=None, map_form=None):
    """form: of a log; fresh: (token, its secret) of one that was just made, told once; token_form,
    map_form: what was typed in them.
    """
    shown = {"form": form, "bringings": Bringing.objects.all()[:20], "tables": TABLES}
    shown |= {"tokens": feed.tokens(), "fresh": fresh, "token_form": token_form or TokenForm()}
    shown |= {"map_form": map_form or MapForm(), "copies": copies.state()}
    return render(request, "exchange/data.html", shown, status=status)


def brought(request, bringing):
    return render(request, "exchange/brought.html", {"bringing": bringing})
