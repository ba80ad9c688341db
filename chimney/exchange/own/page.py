"""The state of the page of one's own data."""

from django.shortcuts import render

from chimney import copies
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
    context = {"form": form, "bringings": Bringing.objects.all()[:20], "tables": TABLES}
    for to in FeedToken.To:
        typed = token_form if token_form and token_form.to == to else TokenForm(to)
        context |= {f"{to}_tokens": feed.tokens(to), f"{to}_form": typed}
    context |= {"fresh": fresh, "written": Making.objects.filter(what=Making.What.LOG).first()}
    context |= {"map_form": map_form or MapForm(), "copies": copies.state()}
    return render(request, "exchange/data.html", context, status=status)
