"""What happened to a sheet in the dark: the part that nobody logs and that explains uneven
results.
"""

from django.db import models

from chimney.kit.models import Developer
from chimney.logbook.models import Sheet


class Development(models.Model):
    sheet = models.OneToOneField(Sheet, models.CASCADE, related_name="development")
    developer = models.ForeignKey(Developer, models.PROTECT, related_name="developments")
    parts = models.FloatField(null=True, blank=True)
    seconds = models.FloatField()
    temperature_c = models.FloatField(null=True, blank=True)
    remarks = models.CharField(max_length=300, blank=True)
    developed_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]

    def __str__(self):
        return f"{self.sheet} in {self.developer}"

    @property
    def dilution(self):
        return f"1+{self.parts:g}" if self.parts else "as mixed"
