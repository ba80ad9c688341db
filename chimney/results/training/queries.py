"""Queries for how one's own eye judges."""

from chimney.results.models import Trial
from chimney.results.training import craft

# As far back as an eye is taken from.
NEWEST_TRIALS = 40


def _readable():
    return Trial.objects.exclude(true_fault__in=("fog", "double"))


def eye(medium=None):
    """The craft.Eye of the newest trials whose sheet could be read; of one medium, or of all."""
    rows = _readable().filter(medium=medium) if medium else _readable()
    return craft.eye([trial.off_stops for trial in rows[:NEWEST_TRIALS]])


def eyes():
    """{medium: its Eye}: who sees a negative too dark may see a positive right."""
    return {medium: eye(medium) for medium in craft.TRAINED_MEDIA}


def count():
    """The number of trials so far."""
    return Trial.objects.count()


def last():
    """The newest Trial, or None."""
    return Trial.objects.first()
