"""Sensors let in and put out, and what they say."""

import secrets

from chimney.exchange.feed.queries import digest
from chimney.exchange.models import FeedToken
from chimney.ledger.once import current, setting, verb
from chimney.parts import clock
from chimney.parts.refusal import Refused

MOST_TOKENS = 20


@verb
def let_in(name, to=FeedToken.To.LIGHT):
    """(FeedToken, its secret, which is told this once)."""
    if FeedToken.objects.filter(revoked_at=None).count() >= MOST_TOKENS:
        raise Refused(f"More than {MOST_TOKENS} are too many.", "To your data", "exchange:data")
    secret = secrets.token_urlsafe(24)
    return FeedToken.objects.create(
        name=name, to=to, digest=digest(secret), made_at=clock.now()
    ), secret


@verb
def put_out(token):
    token = current(token)
    token.revoked_at = token.revoked_at or clock.now()
    token.save(update_fields=["revoked_at"])
    return token


@setting
def say(token, ev100):
    """The light as it is now, by that sensor."""
    FeedToken.objects.filter(pk=token.pk).update(ev100=ev100, said_at=clock.now())
