"""The thread from the box to the lesson: sheet, loading, exposure, opening."""

import math

from django.db import models
from django.db.models import F, Q
from django.utils.functional import cached_property

from chimney.kit.models import LETTERS, Box, Camera, Developer, Holder, Paper, Person
from chimney.logbook.stages import RULES, Stage
from chimney.places.models import Place
from pinhole import clock as craft_clock
from pinhole import exposure as craft


class Sheet(models.Model):
    """One sheet of paper, known by the code pencilled on its back. Its stage is written by
    logbook.flows alone.
    """

    Stage = Stage

    class Purpose(models.TextChoices):
        OBJECT = "object", "the sheet itself, to be looked at"
        SCAN = "scan", "a scan of it"
        PRINT = "print", "a contact print of it"

    code = models.CharField(max_length=20, unique=True)
    paper = models.ForeignKey(Paper, models.PROTECT)
    size = models.CharField(max_length=20)
    stage = models.CharField(max_length=10, choices=Stage, default=Stage.BOXED)
    box = models.ForeignKey(Box, models.SET_NULL, null=True, blank=True, related_name="cut")
    person = models.ForeignKey(
        Person, models.SET_NULL, null=True, blank=True, related_name="sheets"
    )
    note = models.CharField(max_length=300, blank=True)
    # Empty: what its medium is usually made for.
    purpose = models.CharField(max_length=10, choices=Purpose, blank=True)
    # Exposed under a lamp, behind a negative, and in no camera.
    is_print = models.BooleanField(default=False)
    # Whether a room above has a picture of it.
    is_pictured = models.BooleanField(default=False)
    cut_at = models.DateTimeField()
    # What it was, and when, before it was given up as spoiled or lost.
    was = models.CharField(max_length=10, blank=True)
    given_up_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["stage", "-id"], name="sheet_by_stage")]

    def __str__(self):
        return self.code

    @property
    def last_exposure(self):
        """The newest exposure; reads what was prefetched, so that lists ask once."""
        return max(self.exposures.all(), key=lambda exposure: exposure.pk, default=None)

    @property
    def open_loading(self):
        if hasattr(self, "lies"):
            return self.lies and self.lying
        return self.loadings.filter(unloaded_at=None).first()

    @property
    def title(self):
        """Title of what is on it, as far as that is known."""
        exposure = self.last_exposure
        if exposure:
            return exposure.title
        return "contact print" if self.is_print else ""

    @property
    def meant_for(self):
        """Its Purpose: as said, else a positive for itself and a negative for its scan."""
        itself = self.is_print or self.paper.medium.is_positive
        usual = Sheet.Purpose.OBJECT if itself else Sheet.Purpose.SCAN
        return Sheet.Purpose(self.purpose or usual)

    @property
    def in_a_can(self):
        """True if it is, or was, a solargraph: put out, never timed and never developed."""
        return RULES[self.stage].in_a_can


class Loading(models.Model):
    """A sheet in a side of a holder, from putting in to taking out."""

    sheet = models.ForeignKey(Sheet, models.CASCADE, related_name="loadings")
    holder = models.ForeignKey(Holder, models.PROTECT, related_name="loadings")
    side = models.CharField(max_length=1, choices=[(letter, letter) for letter in LETTERS])
    loaded_at = models.DateTimeField()
    unloaded_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["holder", "side"],
                condition=Q(unloaded_at=None),
                name="one_open_loading_a_side",
            ),
            models.UniqueConstraint(
                fields=["sheet"], condition=Q(unloaded_at=None), name="a_sheet_lies_in_one_side"
            ),
        ]

    def __str__(self):
        return f"{self.sheet} in {self.where}"

    @property
    def where(self):
        return self.holder.place(self.side)


class Exposure(models.Model):
    """One exposure of a sheet, with every number of its calculation kept, so that editing the kit
    never changes the past.
    """

    class Slip(models.TextChoices):
        NONE = "", "nothing slipped"
        SLIDE_IN = "slide_in", "the dark slide was never pulled"
        SLIDE_OUT = "slide_out", "the slide was not back in before moving"

    class EiFrom(models.TextChoices):
        LEARNED = "learned", "learned from your own sheets"
        BOX = "box", "starting EI of the paper"
        TYPED = "typed", "typed for this sheet"

    sheet = models.ForeignKey(Sheet, models.CASCADE, related_name="exposures")
    camera = models.ForeignKey(Camera, models.PROTECT, related_name="exposures")
    loading = models.ForeignKey(Loading, models.SET_NULL, null=True, related_name="exposures")
    developer = models.ForeignKey(Developer, models.SET_NULL, null=True, blank=True)
    subject = models.CharField(max_length=120, blank=True)
    # Where it was made and which way the camera looked, as far as that was said.
    place = models.ForeignKey(Place, models.PROTECT, "exposures", null=True, blank=True)
    azimuth_deg = models.FloatField(null=True, blank=True)
    # Its calculation as plain data, read by `calculation`.
    calculation_data = models.JSONField()
    ei_from = models.CharField(max_length=10, choices=EiFrom)
    planned_s = models.FloatField()
    given_s = models.FloatField(null=True, blank=True)
    # What changing light made of that, in seconds of its first light; empty where it stood still.
    worth_s = models.FloatField(null=True, blank=True)
    # Light expected while it is open: [[seconds after opening, metered seconds], ...].
    forecast = models.JSONField(default=list, blank=True)
    # When it is dark, if the light was reckoned on so far.
    dark_at = models.DateTimeField(null=True, blank=True)
    hand_s = models.PositiveSmallIntegerField(default=0)
    # Whether its sheet was cut and loaded by the same tap, and goes when that is taken back.
    loaded_by_it = models.BooleanField(default=False)
    is_strip = models.BooleanField(default=False)
    slide_back_at = models.DateTimeField(null=True, blank=True)
    slip = models.CharField(max_length=10, choices=Slip, blank=True)
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.sheet} in {self.camera}"

    @cached_property
    def calculation(self):
        """The calculation as it was then; it never changes after."""
        return craft.from_data(self.calculation_data)

    @property
    def goes_straight_in(self):
        """True if its sheet lies in the camera itself, without a holder and its slide."""
        return bool(self.loading and self.loading.holder.camera_id)

    @property
    def effective_s(self):
        """The seconds that count for what the sheet received."""
        return self.given_s if self.worth_s is None else self.worth_s

    @property
    def light_changes(self):
        return bool(self.forecast or self.rereads.all())

    @property
    def dark_s(self):
        """Moment of darkness in epoch seconds; inf where that is not reckoned with."""
        return self.dark_at.timestamp() if self.dark_at else math.inf

    @property
    def opening(self):
        return getattr(self, "opening_row", None)

    @property
    def title(self):
        return self.subject or "no subject noted"


class Photo(models.Model):
    """Photo of the scene of an exposure, as a small JPEG."""

    exposure = models.OneToOneField(Exposure, models.CASCADE, related_name="photo")
    jpeg = models.BinaryField()
    came_at = models.DateTimeField()

    def __str__(self):
        return f"Photo of {self.exposure}"


class Opening(models.Model):
    """The hole of a camera free, from the flap up to the flap down. A covered hole is still an
    opening.
    """

    exposure = models.OneToOneField(Exposure, models.CASCADE, related_name="opening_row")
    camera = models.ForeignKey(Camera, models.PROTECT)
    opened_at = models.DateTimeField()
    closed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["camera"], condition=Q(closed_at=None), name="one_running_opening_a_camera"
            ),
            models.CheckConstraint(
                condition=Q(closed_at=None) | Q(closed_at__gte=F("opened_at")),
                name="closed_after_opened",
            ),
        ]

    def __str__(self):
        return f"{self.camera} from {self.opened_at:%H:%M:%S}"

    @property
    def covered(self):
        return next((cover for cover in self.covers.all() if cover.uncovered_at is None), None)

    def free_from(self, now):
        """Moment at which the hand before the hole goes away, if that is still to come."""
        covers = [
            c for c in self.covers.all() if c.uncovered_at and c.covered_at <= now < c.uncovered_at
        ]
        return None if self.covered else min((c.uncovered_at for c in covers), default=None)

    def tally(self, now):
        """The craft's Tally of the log, on the clock of epoch seconds."""
        return craft_clock.tally(self.moments(), now.timestamp())

    def moments(self):
        """The log for the craft's clock, in epoch seconds, as it was written."""
        happened = [(self.opened_at.timestamp(), "opened")]
        for cover in sorted(self.covers.all(), key=lambda cover: cover.pk or 0):
            happened.append((cover.covered_at.timestamp(), "covered"))
            if cover.uncovered_at:
                happened.append((cover.uncovered_at.timestamp(), "uncovered"))
        if self.closed_at:
            happened.append((self.closed_at.timestamp(), "closed"))
        return happened

    def open_s(self, now):
        return self.tally(now).open_s


class Cover(models.Model):
    """The hole covered for a moment, as for a passer-by."""

    opening = models.ForeignKey(Opening, models.CASCADE, related_name="covers")
    covered_at = models.DateTimeField()
    uncovered_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["opening"], condition=Q(uncovered_at=None), name="covered_once_at_a_time"
            ),
        ]


class Reread(models.Model):
    """A second reading while the hole is open: what the sheet would be metered at by then, and what
    that moved.
    """

    exposure = models.ForeignKey(Exposure, models.CASCADE, related_name="rereads")
    at = models.DateTimeField()
    said = models.CharField(max_length=120)
    metered_s = models.FloatField()
    stops = models.FloatField()
    # Empty where one of the two ends does not come.
    moved_s = models.FloatField(null=True)

    class Meta:
        ordering = ["at", "pk"]

    @property
    def ev100(self):
        """Reading as an exposure value at ISO 100; None where a time has no end."""
        calculation = self.exposure.calculation
        if not (math.isfinite(calculation.metered_s) and math.isfinite(self.metered_s)):
            return None
        return calculation.reading.ev100 + math.log2(calculation.metered_s / self.metered_s)
