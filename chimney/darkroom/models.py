"""Records of the dark room: the part that nobody logs and that explains uneven results."""

from django.db import models
from django.utils.functional import cached_property

from chimney.darkroom.catalogue import cautions
from chimney.darkroom.catalogue.processes import Process
from chimney.kit.models import Developer, Paper, Thing
from chimney.logbook.models import Sheet
from chimney.parts import scales
from pinhole import developing


class OwnProcess(Thing):
    """A process of one's own, or one of the starting set as one has changed it: then with its
    key.
    """

    key = models.CharField(max_length=40, unique=True)
    kinds = models.JSONField(default=list)
    vessels = models.JSONField(default=list)
    together = models.BooleanField(default=False)
    by_eye = models.BooleanField(default=False)
    steps_data = models.JSONField()

    @property
    def process(self):
        """The same as the starting set has it."""
        return Process(
            self.key,
            self.name,
            tuple(self.kinds),
            (),
            tuple(self.vessels),
            developing.from_data(self.steps_data),
            self.together,
            self.by_eye,
            self.note,
        )


class Vessel(Thing):
    """A vessel for developing, by its inside: a tray or drawer by length and width, a tank by its
    diameter, a drum by what its maker says it takes.
    """

    class Kind(models.TextChoices):
        TRAY = "tray", "tray"
        TANK = "tank", "round tank, sheets standing"
        DRUM = "drum", "drum that is rolled"
        DRAWERS = "drawers", "three drawers or boxes"
        CAMERA = "camera", "the camera itself"

    kind = models.CharField(max_length=10, choices=Kind, default=Kind.TRAY)
    width_mm = models.FloatField(null=True, blank=True)
    height_mm = models.FloatField(null=True, blank=True)
    diameter_mm = models.FloatField(null=True, blank=True)
    high_mm = models.FloatField(null=True, blank=True)
    holds = models.PositiveSmallIntegerField(default=1)
    most_ml = models.FloatField(null=True, blank=True)


class SafeLight(Thing):
    """A lamp that papers are handled under."""


class LightTest(models.Model):
    """Test of a lamp by a coin on a scrap: uncovered for growing times, the coin left a mark from
    one of them on.
    """

    light = models.ForeignKey(SafeLight, models.CASCADE, related_name="tests")
    paper = models.ForeignKey(Paper, models.CASCADE, related_name="light_tests")
    distance_mm = models.FloatField()
    times_s = models.JSONField()
    # The first time at which the coin shows; None where it shows at none.
    shows_s = models.FloatField(null=True, blank=True)
    tested_at = models.DateTimeField()

    class Meta:
        ordering = ["-tested_at", "-pk"]

    def __str__(self):
        return f"{self.light}, {self.paper}"

    @property
    def safe_s(self):
        """The longest time that left no mark; 0 where even the first did."""
        clean = [time for time in self.times_s if self.shows_s is None or time < self.shows_s]
        return max(clean, default=0.0)


class Bath(models.Model):
    """A working bath: what went into it, when, and how much paper it has room for."""

    class Purpose(models.TextChoices):
        DEVELOP = "develop", "developer"
        STOP = "stop", "stop bath"
        FIX = "fix", "fixer"
        BLEACH = "bleach", "peroxide bleach"
        CLEAR = "clear", "citric acid"

    name = models.CharField(max_length=60)
    purpose = models.CharField(max_length=10, choices=Purpose, default=Purpose.DEVELOP)
    developer = models.ForeignKey(
        Developer, models.PROTECT, null=True, blank=True, related_name="baths"
    )
    parts = models.FloatField(null=True, blank=True)
    volume_ml = models.FloatField()
    went_in = models.CharField(max_length=300, blank=True)
    capacity_m2 = models.FloatField()
    lasts_days = models.FloatField()
    mixed_at = models.DateTimeField()
    thrown_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-mixed_at", "-pk"]

    def __str__(self):
        return self.name

    @property
    def dilution(self):
        return scales.dilution(self.parts)

    @property
    def away(self):
        """Advice on its disposal."""
        return cautions.AWAY[self.purpose]


class TopUp(models.Model):
    """So much concentrate poured into a working bath."""

    bath = models.ForeignKey(Bath, models.CASCADE, related_name="top_ups")
    concentrate_ml = models.FloatField()
    poured_at = models.DateTimeField()
    # What the bath was before, so that a slip can be taken back.
    parts_before = models.FloatField(null=True, blank=True)
    volume_before_ml = models.FloatField()

    class Meta:
        ordering = ["pk"]


class Run(models.Model):
    """Sheets that go through one process; its steps are kept as they were then. One that was only
    logged afterwards has no taps.
    """

    process_key = models.CharField(max_length=40, blank=True)
    process_name = models.CharField(max_length=60)
    steps_data = models.JSONField()
    developer = models.ForeignKey(Developer, models.PROTECT, related_name="runs")
    parts = models.FloatField(null=True, blank=True)
    vessel = models.ForeignKey(Vessel, models.SET_NULL, null=True, blank=True)
    baths = models.ManyToManyField(Bath, blank=True, related_name="runs")
    light = models.ForeignKey(SafeLight, models.SET_NULL, null=True, blank=True)
    # How long the paper may lie open under that light, as far as it was tested.
    safe_s = models.FloatField(null=True, blank=True)
    by_eye = models.BooleanField(default=False)
    temperature_c = models.FloatField(null=True, blank=True)
    remarks = models.CharField(max_length=300, blank=True)
    timed = models.BooleanField(default=True)
    # Whether sheets are developed in the camera they were exposed in.
    in_camera = models.BooleanField(default=False)
    began_at = models.DateTimeField()
    white_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return self.process_name

    @property
    def dilution(self):
        return scales.dilution(self.parts)

    @cached_property
    def steps(self):
        """Its Steps as they were when it began."""
        return developing.from_data(self.steps_data)

    @property
    def clock_began_s(self):
        return self.began_at.timestamp()


class LaneTap(models.Model):
    """A tap on a run, at the moment it was made, however late it came."""

    run = models.ForeignKey(Run, models.CASCADE, related_name="taps")
    lane = models.PositiveSmallIntegerField()
    word = models.CharField(max_length=10)
    more_s = models.FloatField(default=0.0)
    at = models.DateTimeField()

    class Meta:
        ordering = ["pk"]

    def __str__(self):
        return f"{self.word} {self.at:%H:%M:%S}"


class Development(models.Model):
    """A sheet's way through a run: sheets of one lane go together. seconds: in the developer, once
    that is known; developed_at: when it was dry and waited to be read.
    """

    run = models.ForeignKey(Run, models.CASCADE, related_name="developments")
    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="development")
    lane = models.PositiveSmallIntegerField(default=0)
    seconds = models.FloatField(null=True, blank=True)
    # When it left its holder, by which it is laid back if it was never developed.
    taken_at = models.DateTimeField()
    developed_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.sheet} in {self.run.developer}"


class Print(models.Model):
    """A contact print of a paper negative: a sheet of its own, printed under a lamp."""

    negative = models.ForeignKey(Sheet, models.CASCADE, related_name="prints")
    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="printed")
    lamp = models.CharField(max_length=60, blank=True)
    lamp_mm = models.FloatField(default=0.0)
    distance_mm = models.FloatField()
    # Every band in all; one time is a print, several are a test strip.
    times_s = models.JSONField()
    best_s = models.FloatField(null=True, blank=True)
    printed_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"print of {self.negative}"

    @property
    def is_strip(self):
        return len(self.times_s) > 1
