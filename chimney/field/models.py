"""A day out, the shots wanted on it, and what was made of each."""

from django.db import models
from django.utils.functional import cached_property

from chimney.kit.models import Camera, Developer, Paper
from chimney.ledger.models import Droppable
from chimney.logbook.models import Exposure
from chimney.places.models import Place, View
from pinhole import light, reciprocity, shake


class Outing(Droppable):
    """A day at a place with the sky and the wind expected there."""

    name = models.CharField(max_length=80)
    place = models.ForeignKey(Place, models.PROTECT, related_name="outings")
    day = models.DateField()
    sky = models.CharField(
        max_length=10, choices=[(sky.name, sky.words) for sky in light.SKIES], default="haze"
    )
    wind = models.CharField(
        max_length=10, choices=[(wind.code, wind.words) for wind in shake.WINDS], default="still"
    )
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["-day", "-pk"]

    def __str__(self):
        return self.name

    @cached_property
    def sky_changes(self):
        """Its SkyChanges, read once: a day is asked for its sky at every moment of its light."""
        return list(self.skies.all())

    def sky_at(self, moment):
        """The light.Sky of a moment: the one seen last until then, else the one expected."""
        changes = [change for change in self.sky_changes if change.at <= moment]
        name = max(changes, key=lambda change: (change.at, change.pk)).sky if changes else self.sky
        return light.SKY_BY_NAME[name]


class SkyChange(models.Model):
    """The sky of a day out as it was seen from a moment on, until it changed again."""

    outing = models.ForeignKey(Outing, models.CASCADE, related_name="skies")
    at = models.DateTimeField()
    sky = models.CharField(max_length=10, choices=[(sky.name, sky.words) for sky in light.SKIES])

    class Meta:
        ordering = ["at", "pk"]

    def __str__(self):
        return f"{self.get_sky_display()} from {self.at:%H:%M}"


class Shot(Droppable):
    """A shot to be exposed: camera, paper and how it is rated, school, filter, compensation and
    sheets, which every page that tells a time for it reads; on an outing it has an hour and a
    direction.

    reading: what the meter said, as it was typed, by the names of the reading's fields; empty while
    nothing was metered.
    """

    class Sheets(models.TextChoices):
        SINGLE = "single", "one sheet"
        BRACKET = "bracket", "a bracket of three"
        SCHOOLS = "schools", "one without reciprocity, one with"
        STRIP = "strip", "a test strip on one sheet"

    class By(models.TextChoices):
        EFFECT = "effect", "stops of effect"
        CLOCK = "clock", "stops of the clock"

    outing = models.ForeignKey(Outing, models.CASCADE, null=True, blank=True, related_name="shots")
    view = models.ForeignKey(View, models.SET_NULL, null=True, blank=True)
    beside = models.ForeignKey("self", models.SET_NULL, null=True, blank=True, related_name="pairs")
    subject = models.CharField(max_length=120)
    camera = models.ForeignKey(Camera, models.CASCADE)
    paper = models.ForeignKey(Paper, models.CASCADE)
    # Empty: the one that the paper went into last.
    developer = models.ForeignKey(Developer, models.SET_NULL, null=True, blank=True)
    # Empty: the paper's own.
    school = models.CharField(max_length=10, choices=reciprocity.choices, blank=True)
    # Of a lens: what it is set to; empty: its widest.
    aperture = models.FloatField(null=True, blank=True)
    ei_from = models.CharField(
        max_length=10, choices=Exposure.EiFrom, default=Exposure.EiFrom.LEARNED
    )
    ei = models.FloatField(null=True, blank=True)
    filter_stops = models.FloatField(default=0.0)
    compensation_stops = models.FloatField(default=0.0)
    preflash_stops = models.FloatField(default=0.0)
    hand_s = models.PositiveSmallIntegerField(default=0)
    reckon = models.BooleanField(default=True)
    note = models.CharField(max_length=300, blank=True)
    reading = models.JSONField(default=dict, blank=True)
    starts_at = models.DateTimeField(null=True, blank=True)
    set_up_s = models.FloatField(default=300.0)
    azimuth_deg = models.FloatField(null=True, blank=True)
    shade = models.BooleanField(default=False)
    sheets = models.CharField(max_length=10, choices=Sheets, default=Sheets.SINGLE)
    bracket_stops = models.FloatField(default=1.0)
    bracket_by = models.CharField(max_length=10, choices=By, default=By.EFFECT)
    bands = models.PositiveSmallIntegerField(default=5)
    done = models.BooleanField(default=False)
    kept_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["done", "-id"], name="shots_to_do")]

    def __str__(self):
        return self.subject

    @property
    def wanted(self):
        """Number of sheets that it takes."""
        return {self.Sheets.BRACKET: 3, self.Sheets.SCHOOLS: 2}.get(self.sheets, 1)

    @property
    def steps_made(self):
        """Numbers of its sheets that are exposed; one whose slide was never pulled is still to
        do.
        """
        return {
            record.step
            for record in self.taken.all()
            if record.exposure.slip != Exposure.Slip.SLIDE_IN
        }

    @classmethod
    def gone_for_good(cls, rows):
        """Rows that no exposed sheet points to: a sheet of a dropped shot still tells which it
        was.
        """
        return rows.filter(taken=None)


class ScenePhoto(models.Model):
    """A photo of a scene that is to be exposed, made small: what its camera said of the exposure,
    the spots that were metered in it, how the pinhole points against it, and what came of it.
    """

    jpeg = models.BinaryField()
    wide_px = models.PositiveSmallIntegerField()
    high_px = models.PositiveSmallIntegerField()
    # What it says of its exposure, as an exposure value at ISO 100; empty where it says none.
    set_ev100 = models.FloatField(null=True, blank=True)
    said = models.CharField(max_length=80, blank=True)
    equivalent_mm = models.FloatField(null=True, blank=True)
    taken_at = models.DateTimeField(null=True, blank=True)
    facing_deg = models.FloatField(null=True, blank=True)
    # Where it was taken, where that was wished; and the view that it is of.
    latitude_deg = models.FloatField(null=True, blank=True)
    longitude_deg = models.FloatField(null=True, blank=True)
    view = models.ForeignKey(
        View, models.SET_NULL, null=True, blank=True, related_name="scene_photos"
    )
    # A mark that tells phones apart and names none.
    phone = models.CharField(max_length=16, blank=True)
    is_night = models.BooleanField(default=False)
    # Shares from the left and from the top of shadow, middle and highlight.
    spots = models.JSONField(default=list, blank=True)
    turn_deg = models.FloatField(default=0.0)
    tilt_deg = models.FloatField(default=0.0)
    upright = models.BooleanField(default=False)
    # Where the pinhole stands against the phone, and how far away lies what is framed.
    right_cm = models.FloatField(default=0.0)
    lower_cm = models.FloatField(default=0.0)
    nearer_cm = models.FloatField(default=0.0)
    away_m = models.FloatField(null=True, blank=True)
    camera = models.ForeignKey(Camera, models.SET_NULL, null=True, blank=True)
    paper = models.ForeignKey(Paper, models.SET_NULL, null=True, blank=True)
    # Exposure values at ISO 100 of its middle spot: by the photo, and by a meter beside it.
    middle_ev100 = models.FloatField(null=True, blank=True)
    meter_ev100 = models.FloatField(null=True, blank=True)
    # The same put right by what was known of its phone, and how sure that is.
    corrected_ev100 = models.FloatField(null=True, blank=True)
    sd_stops = models.FloatField(default=1.0)
    exposure = models.OneToOneField(
        Exposure, models.SET_NULL, null=True, blank=True, related_name="scene_photo"
    )
    came_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"Photo of {self.came_at:%d %b, %H:%M}"


class Taken(models.Model):
    """One exposure made of a shot: the how manieth of its sheets, and the bands if it was a test
    strip.

    made_shot, shot_before: what opening the hole did to the shot, so that it can be taken back.
    """

    shot = models.ForeignKey(Shot, models.CASCADE, related_name="taken")
    exposure = models.OneToOneField(Exposure, models.CASCADE, related_name="taken")
    words = models.CharField(max_length=60, blank=True)
    bands = models.JSONField(default=list, blank=True)
    step = models.PositiveSmallIntegerField(default=0)
    made_shot = models.BooleanField(default=False)
    shot_before = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]


class Pocketed(models.Model):
    """An event that came home in a pocket sheet, so that the same file twice doubles nothing."""

    event = models.CharField(max_length=40, unique=True)
    exposure = models.OneToOneField(Exposure, models.CASCADE, null=True)
    came_at = models.DateTimeField()
