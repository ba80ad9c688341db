"""The sun over a place in words."""

from chimney.parts.templatetags.said import there
from chimney.places import craft
from pinhole import sun


def sun_over(place, moment):
    """(how high the sun stands, why light is not judged by eye then or ""); (None, "") without a
    place.
    """
    if place is None:
        return None, ""
    altitude_deg = craft.sun_at(place, moment)[1]
    return altitude_deg, "" if altitude_deg >= sun.RISE_DEG else _sun_is_down(place, moment)


def _sun_is_down(place, moment):
    coming = craft.next_rise(place, moment)
    when = f" The sun is up again {there(coming)}." if coming else ""
    return (
        f"The sun is down at {place}, and no eye tells how dark it is. Meter what light there is, "
        f"or lamps.{when}"
    )


def taken(name):
    """Words for a name that another place has."""
    return f"There is already a place called {name}."
