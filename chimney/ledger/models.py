"""Records of answers given once, of devices let in, and of what was dropped but can still be taken
back.
"""

from datetime import timedelta

from django.db import models

from chimney.parts import clock


class Receipt(models.Model):
    """A form or tap that was taken in, so that the same one again does nothing; led_to: where its
    answer led.
    """

    key = models.CharField(max_length=64, primary_key=True)
    led_to = models.CharField(max_length=500, blank=True)
    at = models.DateTimeField(db_index=True)

    def __str__(self):
        return self.key


class Making(models.Model):
    """A file that takes longer to make than anybody waits: asked for, made beside the server,
    fetched.
    """

    class What(models.TextChoices):
        LOG = "log", "the whole log"
        POSITIVE = "positive", "the positive of a scan"

    class State(models.TextChoices):
        ASKED = "asked", "being made"
        MADE = "made", "ready"
        FAILED = "failed", "could not be made"

    what = models.CharField(max_length=20, choices=What)
    # Of what: the same twice is made once.
    of = models.JSONField(default=dict)
    # What it is called when it is fetched.
    name = models.CharField(max_length=120)
    state = models.CharField(max_length=10, choices=State, default=State.ASKED)
    trouble = models.CharField(max_length=300, blank=True)
    size_bytes = models.PositiveBigIntegerField(default=0)
    asked_at = models.DateTimeField()
    made_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-asked_at", "-pk"]

    def __str__(self):
        return self.name


class Device(models.Model):
    """A browser that was let in with the passphrase; putting it out ends its session."""

    session_key = models.CharField(max_length=40, unique=True)
    name = models.CharField(max_length=120)
    address = models.CharField(max_length=45)
    came_at = models.DateTimeField()
    seen_at = models.DateTimeField()

    class Meta:
        ordering = ["-seen_at"]

    def __str__(self):
        return self.name


class Kept(models.Manager):
    """Everything that was not dropped."""

    def get_queryset(self):
        return super().get_queryset().filter(dropped_at=None)


class Droppable(models.Model):
    """Dropped things leave every list at once and the database a day later, so that dropping can be
    undone.
    """

    LONGEST = timedelta(days=1)

    dropped_at = models.DateTimeField(null=True, blank=True, editable=False)
    objects = Kept()
    everything = models.Manager()  # noqa: DJ012 - a manager, and the second one, so that the first is the default

    class Meta:
        abstract = True

    def drop(self, at=None):
        """Off every list; what was dropped more than a day ago goes for good."""
        self.dropped_at = at or clock.now()
        self.save(update_fields=["dropped_at"])
        self.gone_for_good(
            type(self).everything.filter(dropped_at__lt=clock.now() - self.LONGEST)
        ).delete()

    @classmethod
    def gone_for_good(cls, rows):
        """Of rows dropped long ago, those that may go."""
        return rows

    def undrop(self):
        self.dropped_at = None
        self.save(update_fields=["dropped_at"])
