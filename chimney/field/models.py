"""Shots wanted: a plan kept for later, as it was typed."""

from django.db import models

from chimney.kit.models import Camera, Paper
from chimney.logbook.models import Exposure


class Shot(models.Model):
    """A kept plan; `typed` is what stood in its form. It is done when an exposure was made of it."""

    subject = models.CharField(max_length=120)
    camera = models.ForeignKey(Camera, models.CASCADE)
    paper = models.ForeignKey(Paper, models.CASCADE)
    typed = models.JSONField()
    exposure = models.OneToOneField(Exposure, models.SET_NULL, null=True, related_name="shot")
    done = models.BooleanField(default=False)
    kept_at = models.DateTimeField()

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["done", "-id"], name="shots_to_do")]

    def __str__(self):
        return self.subject
