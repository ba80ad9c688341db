"""Queries for sensors that are let in, and the light by them."""

import hashlib
from dataclasses import dataclass
from datetime import timedelta

from chimney.exchange.models import FeedToken
from chimney.parts import clock

# Older than this is no light of now; for so long a silent sensor is asked for on.
FRESH, WAITED_FOR = timedelta(minutes=1), timedelta(hours=2)


def digest(secret):
    return hashlib.sha256(secret.encode()).hexdigest()


def known(secret, to=FeedToken.To.LIGHT):
    """The FeedToken of a secret that is good for that, else None."""
    return FeedToken.objects.filter(digest=digest(secret), revoked_at=None, to=to).first()


def tokens(to=FeedToken.To.LIGHT):
    return list(FeedToken.objects.filter(revoked_at=None, to=to))


@dataclass(frozen=True)
class LightNow:
    """ev100 by the sensor of that name, so many seconds old."""

    name: str
    ev100: float
    age_s: int

    @property
    def ev(self):
        """Text of the EV as it is typed."""
        return f"{self.ev100:.1f}"


def light_now():
    """(the newest LightNow or None, whether one may still come)."""
    now = clock.now()
    token = FeedToken.objects.filter(revoked_at=None, said_at__gte=now - WAITED_FOR)
    token = token.order_by("-said_at").first()
    if token is None:
        return None, False
    age = now - token.said_at
    fresh = timedelta(0) <= age <= FRESH
    return (LightNow(token.name, token.ev100, age.seconds) if fresh else None), True
