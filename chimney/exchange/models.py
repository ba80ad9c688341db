"""Records of what goes out and comes in: names of rows on any installation, logs brought in,
devices that send light.
"""

import uuid

from django.db import models


def _fresh():
    return uuid.uuid4().hex


class Installation(models.Model):
    """This one, by which its own rows are known elsewhere: one row."""

    key = models.CharField(max_length=32, default=_fresh)

    def __str__(self):
        return self.key


class Bringing(models.Model):
    """A log that was handed over: looked through, brought in, and perhaps taken out again; each of
    it beside the server.
    """

    class State(models.TextChoices):
        HANDED = "handed", "being looked through"
        REFUSED = "refused", "not taken in"
        LOOKED = "looked", "looked through, not brought in"
        COMING = "coming", "coming in"
        DONE = "done", "brought in"
        LEAVING = "leaving", "being taken out"
        UNDONE = "undone", "taken out again"

    UNDER_WAY = (State.HANDED, State.COMING, State.LEAVING)

    name = models.CharField(max_length=120)
    stored_as = models.CharField(max_length=80)
    state = models.CharField(max_length=10, choices=State, default=State.LOOKED)
    # [kind, new, same, other than here] of each, and what was renamed.
    counts = models.JSONField(default=list)
    renamed = models.JSONField(default=list)
    # Why it was refused, or stopped; how far it has come, in rows, of how many.
    trouble = models.CharField(max_length=400, blank=True)
    done_rows = models.PositiveIntegerField(default=0)
    of_rows = models.PositiveIntegerField(default=0)
    # Where it goes on after it was interrupted: {kind: pk of the last row that is there}.
    reached = models.JSONField(default=dict)
    looked_at = models.DateTimeField()
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-looked_at", "-pk"]

    def __str__(self):
        return self.name

    @property
    def is_under_way(self):
        return self.state in self.UNDER_WAY

    @property
    def percent(self):
        """Progress in per cent; None before anybody knows."""
        return round(100 * self.done_rows / self.of_rows) if self.of_rows else None

    @property
    def came(self):
        """Number of rows that came in: fewer than were new where others stand in the places of
        some.
        """
        return self.of_rows or self.new

    @property
    def new(self):
        """Number of its rows that are not here yet."""
        return sum(new for _, new, _, _ in self.counts)

    @property
    def told(self):
        """[(kind in words, new, same, other)] of kinds that it holds."""
        return [row for row in self.counts if any(row[1:])]


class Arrivals(models.Model):
    """Names, on every installation, of the rows of one kind that came together.

    uids: {pk, as JSON has keys: uid}. A row that was deleted since leaves its line.
    """

    kind = models.CharField(max_length=40)
    uids = models.JSONField(default=dict)
    bringing = models.ForeignKey(Bringing, models.CASCADE, related_name="arrivals")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["bringing", "kind"], name="one_list_a_kind"),
        ]

    def __str__(self):
        return f"{len(self.uids)} of {self.kind}"

    @property
    def by_pk(self):
        return {int(pk): uid for pk, uid in self.uids.items()}


class FeedToken(models.Model):
    """Token by which a sensor or a calendar is let in; only its digest is kept."""

    class To(models.TextChoices):
        LIGHT = "light", "sends light"
        CALENDAR = "calendar", "reads the calendar"

    to = models.CharField(max_length=10, choices=To, default=To.LIGHT)
    name = models.CharField(max_length=60)
    digest = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()
    revoked_at = models.DateTimeField(null=True)
    # What it said last, as an exposure value at ISO 100, and when.
    ev100 = models.FloatField(null=True)
    said_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-made_at"]

    def __str__(self):
        return self.name
