"""Named things that are owned: people, developers, meters, holders."""

from django.db import models
from django.db.models.functions import Lower

from chimney.parts import scales

# Sides of a holder, or sheets one after the other in a camera that is loaded directly.
LETTERS = "ABCDEFGH"


class InUse(models.QuerySet):
    def in_use(self):
        return self.filter(retired_at=None)


class Thing(models.Model):
    """A named thing that is retired rather than deleted, because old sheets still speak of it."""

    name = models.CharField(max_length=60)
    note = models.TextField(blank=True, max_length=2000)
    retired_at = models.DateTimeField(null=True, blank=True, editable=False)
    objects = InUse.as_manager()

    class Meta:
        abstract = True
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(
                Lower("name"),
                name="%(class)s_name_once",
                violation_error_message="This name is already taken.",
            )
        ]

    def __str__(self):
        return self.name


class Person(Thing):
    """Owner of a sheet, in a class or a club: a name and a period, never an account."""

    period = models.CharField(max_length=30, blank=True)


class Developer(Thing):
    """A developer, with its usual dilution and minutes."""

    parts = models.FloatField(null=True, blank=True)
    usual_s = models.FloatField()

    @property
    def dilution(self):
        return scales.dilution(self.parts)


class Meter(Thing):
    """A meter, and the ends of its scales."""

    class Kind(models.TextChoices):
        HAND = "hand", "hand meter"
        SPOT = "spot", "spot meter"
        PHONE = "phone", "phone"
        CAMERA = "camera", "another camera"

    kind = models.CharField(max_length=10, choices=Kind, default=Kind.HAND)
    lowest_iso = models.FloatField(default=6.0)
    last_f_number = models.FloatField(default=128.0)


class Holder(Thing):
    """Sides A and B for sheets of one size; a holder with a camera is that camera's own back and
    has one side.
    """

    size = models.CharField(max_length=20)
    camera = models.OneToOneField(
        "kit.Camera", models.CASCADE, null=True, blank=True, related_name="own_back"
    )

    @property
    def sides(self):
        """Letters of its sides, or of the sheets that lie one after the other in a camera."""
        return tuple(LETTERS[: self.camera.places]) if self.camera_id else ("A", "B")

    def place(self, letter):
        """Name of a side: "holder 4, side A", or the camera's own back, with its sheet if there are
        several.
        """
        if self.camera_id:
            return f"{self.name}, sheet {letter}" if len(self.sides) > 1 else self.name
        return f"{self.called}, side {letter}"

    @property
    def called(self):
        """Its name with what it is, once: "holder 2" for what is called 2 or Holder 2."""
        if self.camera_id:
            return self.name
        bare = self.name[6:].strip() if self.name.lower().startswith("holder") else self.name
        return f"holder {bare}".strip()
