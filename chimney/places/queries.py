"""Queries of the places."""

from chimney.places.models import Place, View


def home():
    """The Place that is home, or None."""
    return Place.objects.filter(home=True).first()


def places():
    """Every place with the views one comes back to."""
    return Place.objects.prefetch_related("views")


def any_place():
    """True if there is a place."""
    return Place.objects.exists()


def chosen_or_home(key):
    """The Place of that number, else home, else any."""
    chosen = Place.objects.filter(pk=key).first() if key else home()
    return chosen or Place.objects.first()


def views():
    """Views one comes back to, with their places."""
    return View.objects.select_related("place")
