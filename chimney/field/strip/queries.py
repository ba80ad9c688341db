"""Queries of test strips."""

from chimney.field.models import Taken


def strips():
    """Takings of test strips, with the sheet, its paper and its verdict."""
    relations = "exposure__sheet__paper", "exposure__sheet__verdict"
    return Taken.objects.select_related(*relations).exclude(bands=[])
