"""Queries of the places."""

from chimney.places.models import Place


def home():
    """The Place that is home, or None."""
    return Place.objects.filter(home=True).first()
