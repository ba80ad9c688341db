"""Logs that were asked for, worked off one after the other beside the server."""

from chimney.exchange.models import Bringing
from chimney.exchange.whole.flows.coming import come_in
from chimney.exchange.whole.flows.handing import look_through, refuse
from chimney.exchange.whole.flows.leaving import leave, stays
from chimney.exchange.whole.flows.trial import away_with

State = Bringing.State
WORK = {State.HANDED: look_through, State.COMING: come_in, State.LEAVING: leave}


def waiting():
    """The Bringing that is worked at next, or None."""
    rows = Bringing.objects.filter(state__in=Bringing.UNDER_WAY)
    return rows.order_by("looked_at", "pk").first()


def work(bringing, beat):
    """Do what it waits for. beat: called now and then while it goes on."""
    return WORK[bringing.state](bringing, beat)


def give_up(bringing, message):
    """It is let be as it stands, and why."""
    if bringing.reached:
        return stays(bringing, f"Not all of it came in, or went. {message}")
    away_with(bringing)
    let_be = stays if bringing.state == State.LEAVING else refuse
    return let_be(bringing, message)
