"""What people see when they look at a sheet."""

from django.db import models

from chimney.logbook.models import Sheet
from chimney.results.catalogue.faults import BY_CODE
from pinhole import verdicts


class Verdict(models.Model):
    """How many stops more light the sheet needed, in whatever words; faults ticked; counted:
    whether it teaches.
    """

    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="verdict")
    stops_more = models.FloatField()
    faults = models.JSONField(default=list, blank=True)
    remarks = models.CharField(max_length=300, blank=True)
    left_out = models.BooleanField(default=False)
    judged_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.sheet}: {self.stops_more:+.1f}"

    @property
    def found(self):
        return [BY_CODE[code] for code in self.faults if code in BY_CODE]

    @property
    def sense(self):
        return verdicts.sense(self.sheet.paper.kind, self.stops_more)
