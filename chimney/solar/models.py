"""Cans out there: how each stands, what happened to it, and every look at the sheet since it came
home.
"""

from django.db import models

from chimney.kit.models import Camera
from chimney.ledger.models import Droppable
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.places.models import Place
from pinhole.projection import Pointing
from pinhole.solargraph import skyline


class Solargraph(Droppable):
    """A can that is planned, out, home or scanned; its sheet says which."""

    class Kind(models.TextChoices):
        SPAN = "span", "days to a year"
        RISE = "rise", "sunrise, a few hours"
        SET = "set", "sunset, a few hours"
        EIGHT = "eight", "one clock time on many days"
        ECLIPSE = "eclipse", "an eclipse, by its times"
        GUESS = "guess", "a guess on purpose"

    class Mounting(models.TextChoices):
        HIDDEN = "hidden", "hidden and camouflaged"
        LABELLED = "labelled", "plainly labelled, with purpose and contact"
        HIGH = "high", "out of reach"
        OTHER = "other", "otherwise: indoors, under plants, on the move"

    name = models.CharField(max_length=60)
    camera = models.ForeignKey(Camera, models.PROTECT, related_name="solargraphs")
    place = models.ForeignKey(Place, models.PROTECT, related_name="solargraphs")
    sheet = models.OneToOneField(
        Sheet, models.SET_NULL, null=True, blank=True, related_name="solargraph"
    )
    # Whether the sheet was cut and loaded when it was put out, and goes when that is taken back.
    loaded_by_it = models.BooleanField(default=False)
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.SPAN)
    azimuth_deg = models.FloatField()
    tilt_deg = models.FloatField(default=0.0)
    roll_deg = models.FloatField(default=0.0)
    # How far that leans back which it is fixed to.
    wall_deg = models.FloatField(default=0.0)
    first_day = models.DateField()
    last_day = models.DateField()
    # Minutes of the day on the place's standard clock, for kinds that are open only then.
    open_from = models.PositiveSmallIntegerField(null=True, blank=True)
    open_to = models.PositiveSmallIntegerField(null=True, blank=True)
    horizon = models.JSONField(default=list, blank=True)
    leaf = models.JSONField(default=list, blank=True)
    # What hangs over it: heights from which on the sky is hidden.
    upper = models.JSONField(default=list, blank=True)
    # The likeness of a year that it was looked at with.
    climate = models.CharField(max_length=10, default="coast")
    water = models.BooleanField(default=False)
    # How it stood when it was put out, where that was measured; azimuth and tilt are the plan's.
    stood_azimuth_deg = models.FloatField(null=True, blank=True)
    stood_tilt_deg = models.FloatField(null=True, blank=True)
    # Read off the picture that came: what it tells of itself is surer than what was left.
    read_azimuth_deg = models.FloatField(null=True, blank=True)
    read_tilt_deg = models.FloatField(null=True, blank=True)
    read_roll_deg = models.FloatField(null=True, blank=True)
    read_azimuth_sd = models.FloatField(null=True, blank=True)
    read_tilt_sd = models.FloatField(null=True, blank=True)
    # Places that were marked for it, as in the address of their page.
    marks = models.JSONField(default=list, blank=True)
    spot = models.CharField(max_length=200, blank=True)
    latitude_deg = models.FloatField(null=True, blank=True)
    longitude_deg = models.FloatField(null=True, blank=True)
    mounting = models.CharField(max_length=10, choices=Mounting, default=Mounting.LABELLED)
    contact = models.CharField(max_length=120, blank=True)
    permission = models.CharField(max_length=120, blank=True)
    check_days = models.PositiveSmallIntegerField(default=60)
    photo = models.BinaryField(null=True, blank=True)
    opened_at = models.DateTimeField(null=True, blank=True)
    closed_at = models.DateTimeField(null=True, blank=True)
    # When the can was opened in dim light for its scan.
    light_from = models.DateTimeField(null=True, blank=True)
    fixed_at = models.DateTimeField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()

    class Meta:
        ordering = ["last_day", "pk"]

    def __str__(self):
        return self.name

    @property
    def stage(self):
        """ "planned", "out", "home", "scanned", "lost" or "spoiled"."""
        return self.sheet.stage if self.sheet else "planned"

    @property
    def pointing(self):
        return Pointing(self.azimuth_deg, self.tilt_deg, self.roll_deg)

    @property
    def stood(self):
        """The Pointing it stood with: as its picture says, else as measured, and as planned where
        nothing was.
        """
        if self.is_read:
            return Pointing(self.read_azimuth_deg, self.read_tilt_deg, self.read_roll_deg)
        return self.left

    @property
    def left(self):
        """The Pointing it was left with: as measured, and as planned where nothing was."""
        azimuth, tilt = self.stood_azimuth_deg, self.stood_tilt_deg
        return Pointing(
            self.azimuth_deg if azimuth is None else azimuth,
            self.tilt_deg if tilt is None else tilt,
            self.roll_deg,
        )

    @property
    def is_read(self):
        """True if its picture said how it stood."""
        return None not in (self.read_azimuth_deg, self.read_tilt_deg, self.read_roll_deg)

    @property
    def was_measured(self):
        return self.stood_azimuth_deg is not None or self.stood_tilt_deg is not None

    @property
    def stands(self):
        """[(first day, Pointing)]: as it was left, and as it stands since it was turned."""
        stands = [(self.days_of[0], self.stood)]
        for event in reversed(self.events.all()):
            if event.azimuth_deg is not None or event.tilt_deg is not None:
                before = stands[-1][1]
                azimuth = before.azimuth_deg if event.azimuth_deg is None else event.azimuth_deg
                tilt = before.tilt_deg if event.tilt_deg is None else event.tilt_deg
                day = event.at.astimezone(self.place.tz).date()
                stands.append((day, Pointing(azimuth, tilt, self.roll_deg)))
        return stands

    @property
    def undoable(self):
        """Its events that can be taken back: of those by which it was gone or there, the last."""
        events = self.events.all()
        moves = [event for event in events if event.kind in Event.MOVES]
        last = max(moves, key=lambda event: event.pk, default=None)
        return [event for event in events if event == last or event not in moves]

    @property
    def skyline(self):
        lines = (map(tuple, points) for points in (self.horizon, self.leaf, self.upper))
        return skyline.at(self.place.latitude_deg, *lines)

    @property
    def has_spot(self):
        """True if it is known where exactly it hangs."""
        return self.latitude_deg is not None and self.longitude_deg is not None

    @property
    def where(self):
        """(latitude, longitude) of the spot, else of the place."""
        return (
            (self.latitude_deg, self.longitude_deg)
            if self.has_spot
            else (self.place.latitude_deg, self.place.longitude_deg)
        )

    @property
    def today(self):
        return clock.now().astimezone(self.place.tz).date()

    @property
    def days_of(self):
        """(first, last) day that count: those that happened, and of what is still to come those
        that are planned.
        """
        opened, closed = (
            moment and moment.astimezone(self.place.tz).date()
            for moment in (self.opened_at, self.closed_at)
        )
        first = opened or self.first_day
        last = closed or (max(self.last_day, self.today) if opened else self.last_day)
        return first, max(first, last)

    @property
    def days_passed(self):
        first, last = self.days_of
        return max(0, ((last if self.closed_at else self.today) - first).days)

    @property
    def light_lux_min(self):
        """All the light the unfixed sheet has seen since it came home."""
        return sum(look.minutes * look.lux for look in self.looks.all())

    @property
    def light_s(self):
        """Time that the sheet has been out of the dark, while it is being scanned."""
        return (clock.now() - self.light_from).total_seconds() if self.light_from else 0.0

    @property
    def days_to_go(self):
        return (self.last_day - self.today).days

    @property
    def progress(self):
        """Share of its time that has passed, 0 to 1."""
        days = self.days_passed + max(0, self.days_to_go)
        return min(1.0, self.days_passed / days) if days else 1.0


class Event(models.Model):
    """Event of a can: a check, or what befell it."""

    class Kind(models.TextChoices):
        CHECK = "check", "checked: hole free, tight, as it was"
        TURNED = "turned", "turned or leaning otherwise"
        WET = "wet", "wet inside"
        MISSING = "missing", "not there"
        FOUND = "found", "found again"
        OTHER = "other", "something else"

    solargraph = models.ForeignKey(Solargraph, models.CASCADE, related_name="events")
    kind = models.CharField(max_length=10, choices=Kind, default=Kind.CHECK)
    words = models.CharField(max_length=200, blank=True)
    # How it stands since it was turned.
    azimuth_deg = models.FloatField(null=True, blank=True)
    tilt_deg = models.FloatField(null=True, blank=True)
    at = models.DateTimeField()

    # By these it is gone, or there again.
    MOVES = (Kind.MISSING, Kind.FOUND)

    class Meta:
        ordering = ["-at", "-pk"]


class Look(models.Model):
    """One look at the unfixed sheet: how long and in how much light."""

    solargraph = models.ForeignKey(Solargraph, models.CASCADE, related_name="looks")
    minutes = models.FloatField()
    lux = models.FloatField()
    words = models.CharField(max_length=120, blank=True)
    at = models.DateTimeField()

    class Meta:
        ordering = ["-at", "-pk"]


class Record(models.Model):
    """Days of sunshine as they were measured at a place: [[ISO date, hours], ...]."""

    place = models.OneToOneField(Place, models.CASCADE, related_name="record")
    name = models.CharField(max_length=120)
    rows = models.JSONField(default=list)
    came_at = models.DateTimeField()


class LongSkyline(models.Model):
    """A skyline too long for an address, which knows it by its key: the same skyline has the same
    key.
    """

    key = models.CharField(max_length=16, primary_key=True)
    text = models.TextField()
    at = models.DateTimeField()

    def __str__(self):
        return self.key
