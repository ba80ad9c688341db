"""Places and the views one comes back to."""

from django.core.exceptions import ValidationError

from chimney.ledger.once import current, verb
from chimney.places.models import Place, View
from chimney.places.wording import taken


@verb
def keep(place):
    """Keep a place; the first one, or one that says so, is home. Raises ValidationError where its
    name is taken.
    """
    if Place.objects.filter(name__iexact=place.name).exclude(pk=place.pk).exists():
        raise ValidationError(taken(place.name))
    place.home = place.home or not Place.objects.exclude(pk=place.pk).filter(home=True).exists()
    if place.home:
        Place.objects.exclude(pk=place.pk).update(home=False)
    place.save()
    return place


@verb
def keep_view(view):
    """Keep a view to repeat."""
    current(view.place)
    if view.pk:
        current(view)
    view.save()
    return view


@verb
def drop_view(view):
    """Nobody comes back to it."""
    current(view).drop()


@verb
def undrop_view(view):
    """Somebody does."""
    current(view, View.everything.all()).undrop()
