"""Places of photographs: a point on the earth with its own clock, and views one comes back to."""

from zoneinfo import ZoneInfo

from django.core.exceptions import ValidationError
from django.db import models
from django.db.models.functions import Lower

from chimney.ledger.models import Droppable


class Place(models.Model):
    """A place with coordinates and the zone of its clock; one of them is home."""

    name = models.CharField(max_length=60)
    latitude_deg = models.FloatField()
    longitude_deg = models.FloatField()
    elevation_m = models.FloatField(default=0.0)
    zone = models.CharField(max_length=60)
    home = models.BooleanField(default=False)
    note = models.TextField(blank=True, max_length=2000)
    # The usual skyline there, which every can begins with: [[direction, height], ...] bare and in
    # leaf.
    horizon = models.JSONField(default=list, blank=True)
    leaf = models.JSONField(default=list, blank=True)
    # Cloud that is forecast there: [[epoch seconds, percent], ...], hour by hour.
    clouds = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ["-home", "name"]
        constraints = [models.UniqueConstraint(Lower("name"), name="place_name_once")]

    def __str__(self):
        return self.name

    @property
    def tz(self):
        return ZoneInfo(self.zone)

    @property
    def words(self):
        """ "57.10 N, 19.60 E"."""
        north, east = (
            "N" if self.latitude_deg >= 0 else "S",
            "E" if self.longitude_deg >= 0 else "W",
        )
        return f"{abs(self.latitude_deg):.2f} {north}, {abs(self.longitude_deg):.2f} {east}"


class View(Droppable):
    """A view to repeat: where one stands, which way one looks, when, and whether one still gets
    there.
    """

    place = models.ForeignKey(Place, models.CASCADE, related_name="views")
    subject = models.CharField(max_length=120)
    azimuth_deg = models.FloatField(null=True, blank=True)
    when = models.CharField(max_length=120, blank=True)
    access = models.CharField(max_length=300, blank=True)
    access_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["place", "subject"]

    def __str__(self):
        return f"{self.subject}, {self.place}"


def known_zone(name):
    try:
        ZoneInfo(name)
    except (KeyError, ValueError, OSError) as error:
        raise ValidationError(
            "That is no IANA time zone: write it like Europe/Stockholm."
        ) from error
