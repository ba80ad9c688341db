"""What the planner begins with: what is usual, what a place has, and skylines that are long."""

import hashlib

from chimney.kit.models import Camera
from chimney.parts import clock
from chimney.places import flows as places
from chimney.places.models import Place
from chimney.solar.craft import solstices
from chimney.solar.forms import say_points
from chimney.solar.models import LongSkyline, Record, Solargraph

# A longer skyline stands in the address by its key.
LONGEST_IN_ADDRESS, MARK = 160, "@"


def measured(place):
    known = (
        Record.objects.filter(place=place).first()
        if str(place or "").isdecimal() and len(str(place)) < 18
        else None
    )
    return [("measured", f"measured: {known.name}")] if known else []


def usual():
    """What a new plan starts from: home, a can, the noon sun, solstice to solstice."""
    place = places.home() or Place.objects.first()
    usable = Camera.objects.in_use().exclude(back=Camera.Shape.LENS)
    last = Solargraph.objects.order_by("-pk").values_list("camera", flat=True).first()
    camera = (
        usable.filter(pk=last).first()
        or usable.filter(back=Camera.Shape.CAN).first()
        or usable.first()
    )
    if place is None or camera is None:
        return {}
    first, last = solstices(places.today(place))
    return {
        "place": str(place.pk),
        "camera": str(camera.pk),
        "azimuth_deg": "180" if place.latitude_deg >= 0 else "0",
        "first_day": first.isoformat(),
        "last_day": last.isoformat(),
    }


def skyline_of(place):
    found = (
        Place.objects.filter(pk=place).first()
        if str(place or "").isdecimal() and len(str(place)) < 18
        else None
    )
    if found is None:
        return {}
    return {"horizon": say_points(found.horizon), "leaf": say_points(found.leaf)}


def short(text):
    """What stands in an address for a skyline: itself, or the key it is kept under."""
    if len(text) <= LONGEST_IN_ADDRESS:
        return text
    key = hashlib.sha256(text.encode()).hexdigest()[:16]
    LongSkyline.objects.update_or_create(key=key, defaults={"text": text, "at": clock.now()})
    return f"{MARK}{key}"


def whole(text):
    """The skyline that an address means; nothing for a key that is not kept here."""
    if not str(text).startswith(MARK):
        return text
    found = LongSkyline.objects.filter(pk=str(text)[1:17]).first()
    return found.text if found else ""
