"""Queries for how one's own eye judges."""

from chimney.results.models import Trial
from chimney.results.training import craft

# As far back as an eye is taken from.
NEWEST_TRIALS = 40


def eye():
    """The craft.Eye of the newest trials whose sheet could be read."""
    rows = Trial.objects.exclude(true_fault__in=("fog", "double"))[:NEWEST_TRIALS]
    return craft.eye([trial.off_stops for trial in rows])


def count():
    """The number of trials so far."""
    return Trial.objects.count()


def last():
    """The newest Trial, or None."""
    return Trial.objects.first()
