"""Scans and verdicts: what people see when they look at a sheet."""

from django.db import models

from chimney.kit.models import Paper
from chimney.logbook.models import Sheet
from pinhole import verdicts
from pinhole.faults import FAULTS


class Toned(models.Model):
    """Steps from a scan to a positive, in the order of the fields."""

    # A copy on a light table: light passed through, so that densities are relative only.
    transmitted = models.BooleanField(default=False)
    inverted = models.BooleanField(default=True)
    mirrored = models.BooleanField(default=True)
    quarters = models.PositiveSmallIntegerField(default=0)
    low_percent = models.FloatField(default=0.5)
    high_percent = models.FloatField(default=99.5)
    gamma = models.FloatField(default=1.0)
    # Levels of each colour by itself, as a solargraph wants them.
    by_channel = models.BooleanField(default=False)
    # What colours are multiplied by against green, and how far they stand off grey.
    red_percent = models.FloatField(default=100.0)
    blue_percent = models.FloatField(default=100.0)
    saturation_percent = models.FloatField(default=100.0)
    straighten_deg = models.FloatField(default=0.0)
    # What is cut off on each side of the positive, of its width or height.
    crop_left = models.FloatField(default=0.0)
    crop_right = models.FloatField(default=0.0)
    crop_top = models.FloatField(default=0.0)
    crop_bottom = models.FloatField(default=0.0)

    class Meta:
        abstract = True


class ToneSetting(Toned):
    """A way of making positives that was kept by name, for whole groups of scans."""

    name = models.CharField(max_length=60, unique=True)

    class Meta:
        ordering = ["name"]

    def __str__(self):
        return self.name


class ScannedWedge(models.Model):
    """A step wedge or grey card as a scanner wrote it, by which scans of the same settings are
    read.
    """

    name = models.CharField(max_length=60, unique=True)
    # [[code of 255, density], ...]
    steps = models.JSONField()
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["-made_at", "-pk"]

    def __str__(self):
        return self.name


# A positive of so many pixels is made within a second.
AT_ONCE_PX = 8_000_000


class Scan(Toned):
    """A sheet's picture as the scanner wrote it: the original lies in the folder under its checksum
    and is never changed; how its positive is made is kept beside it.
    """

    class State(models.TextChoices):
        WAITING = "waiting", "waits to be looked through"
        READY = "ready", "ready"
        BROKEN = "broken", "cannot be read"

    sheet = models.ForeignKey(Sheet, models.SET_NULL, null=True, blank=True, related_name="scans")
    name = models.CharField(max_length=200)
    sha256 = models.CharField(max_length=64, unique=True)
    suffix = models.CharField(max_length=5)
    size_bytes = models.BigIntegerField()
    width = models.PositiveIntegerField(null=True)
    height = models.PositiveIntegerField(null=True)
    bits = models.PositiveSmallIntegerField(null=True)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    trouble = models.CharField(max_length=300, blank=True)
    wedge = models.ForeignKey(ScannedWedge, models.SET_NULL, null=True, blank=True)
    # Where its sheet lies: [[x, y], ...] of its corners as shares of the scan, clockwise from the
    # top left, once somebody dragged them; None: as they are found.
    corners = models.JSONField(null=True, blank=True)
    came_at = models.DateTimeField()

    class Meta:
        ordering = ["-came_at", "-pk"]

    def __str__(self):
        return self.name

    @property
    def is_large(self):
        """True if its positive takes longer than anybody waits."""
        return (self.width or 0) * (self.height or 0) > AT_ONCE_PX

    @property
    def made_words(self):
        """Words for how its positive is made."""
        steps = ["inverted" if self.inverted else "as it is"]
        steps += ["mirrored"] if self.mirrored else []
        steps += ["turned"] if self.quarters else []
        steps += ["straightened"] if self.straighten_deg else []
        cut = self.crop_left + self.crop_right + self.crop_top + self.crop_bottom
        return ", ".join([*steps, "cut"] if cut else steps)


class InboxFile(models.Model):
    """A file of the inbox as it was when it was looked at last; sha256: of what was taken in, empty
    for what is no scan; trouble: why it was not taken.
    """

    name = models.CharField(max_length=255, unique=True)
    size_bytes = models.BigIntegerField()
    changed_ns = models.BigIntegerField()
    sha256 = models.CharField(max_length=64, blank=True)
    trouble = models.CharField(max_length=300, blank=True)
    seen_at = models.DateTimeField()

    class Meta:
        ordering = ["-seen_at", "name"]

    def __str__(self):
        return self.name

    @property
    def mark(self):
        """Mark that changes when somebody writes to it."""
        return self.size_bytes, self.changed_ns


class Preview(models.Model):
    """A Scan made small: as it was scanned, and its positive at the size of a stamp; JPEG."""

    scan = models.OneToOneField(Scan, models.CASCADE, related_name="preview")
    jpeg = models.BinaryField()
    thumb = models.BinaryField()
    # The craft's SheetTones of it, once they were asked for.
    tones = models.JSONField(null=True)
    # Where a photo let one foresee its sheet: how it differs, and its tones beside their light.
    beside_photo = models.JSONField(null=True)

    def __str__(self):
        return f"preview of {self.scan}"


class PaperTones(models.Model):
    """Teachings of the judged scans of a paper about its curve: the craft's Known as data."""

    # Reckoned from sheets, and so anew when they go elsewhere.
    IS_RECKONED = True

    paper = models.OneToOneField(Paper, models.CASCADE, related_name="tones")
    data = models.JSONField()
    sheets = models.PositiveIntegerField()

    def __str__(self):
        return f"{self.paper} by {self.sheets} scans"


class Trial(models.Model):
    """A simulated sheet that was judged in training: what was said, and what was true."""

    seed = models.PositiveIntegerField()
    medium = models.CharField(max_length=10)
    said_stops = models.FloatField()
    true_stops = models.FloatField()
    said_fault = models.CharField(max_length=12, blank=True)
    true_fault = models.CharField(max_length=12, blank=True)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.said_stops:+.1f} for {self.true_stops:+.1f}"

    @property
    def off_stops(self):
        return self.said_stops - self.true_stops


class Verdict(models.Model):
    """Stops of light that the sheet needed more, in whatever words; faults ticked; counted: whether
    it teaches.
    """

    class Source(models.TextChoices):
        HAND = "hand", "looked at"
        LADDER = "ladder", "held beside a ladder"
        SCAN = "scan", "as its scan says"
        PHOTO = "photo", "beside the photo of its scene"

    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="verdict")
    stops_more = models.FloatField()
    faults = models.JSONField(default=list, blank=True)
    remarks = models.CharField(max_length=300, blank=True)
    left_out = models.BooleanField(default=False)
    source = models.CharField(max_length=10, choices=Source, default=Source.HAND)
    # Of a test strip: which band was right, from 0, or halfway between two as 1.5.
    band = models.FloatField(null=True, blank=True)
    judged_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.sheet}: {self.stops_more:+.1f}"

    @property
    def found(self):
        return [FAULTS[code] for code in self.faults if code in FAULTS]

    @property
    def sense(self):
        return verdicts.sense(self.sheet.paper.kind, self.stops_more)
