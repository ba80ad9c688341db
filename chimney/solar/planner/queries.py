"""Initial values of the planner: the usual ones, those of a place, and long skylines."""

from chimney.kit.catalogue import backs
from chimney.kit.models import Camera
from chimney.ledger.keys import row_key
from chimney.places import craft as places
from chimney.places import queries as place_queries
from chimney.places.models import Place
from chimney.solar.craft import solstices
from chimney.solar.forms import say_points
from chimney.solar.models import LongSkyline, Record, Solargraph

# What marks the key of a long skyline in an address.
SKYLINE_MARK = "@"
POINTING = ("azimuth_deg", "tilt_deg", "roll_deg")


def measured(place):
    record = Record.objects.filter(place=row_key(place)).first()
    return [("measured", f"measured: {record.name}")] if record else []


def usable_cameras():
    """Cameras that may hang in the sun: a lens burns."""
    return Camera.objects.in_use().exclude(back__in=backs.lenses())


def usual():
    """Initial values of a new plan: home, a can, the noon sun, solstice to solstice."""
    place, usable = place_queries.chosen_or_home(None), usable_cameras()
    last = Solargraph.objects.order_by("-pk").values_list("camera", flat=True).first()
    camera = (
        usable.filter(pk=last).first()
        or next((camera for camera in usable if camera.back_kind.hangs_first), None)
        or usable.first()
    )
    if place is None or camera is None:
        return {}
    return {
        "place": str(place.pk),
        "camera": str(camera.pk),
        "azimuth_deg": "180" if place.latitude_deg >= 0 else "0",
    } | next_solstices(place)


def next_solstices(place):
    """First and last day from the coming solstice to the one after it, as a form has them."""
    first, last = solstices(places.today(place))
    return {"first_day": first.isoformat(), "last_day": last.isoformat()}


def skyline_of(place):
    row = Place.objects.filter(pk=row_key(place)).first()
    if row is None:
        return {}
    return {"horizon": say_points(row.horizon), "leaf": say_points(row.leaf)}


def whole(text):
    """The skyline that an address means; nothing for a key that is not kept here."""
    if not str(text).startswith(SKYLINE_MARK):
        return text
    row = LongSkyline.objects.filter(pk=str(text)[1:17]).first()
    return row.text if row else ""


def planned():
    """Cans with their place, camera and sheet."""
    return Solargraph.objects.select_related("place", "camera", "sheet")


def can(key):
    """The can of that number, or None."""
    return Solargraph.objects.filter(pk=row_key(key)).first()


def next_year(can):
    """The fields of the planner for a can that is put out once more: as it really stood, on the
    same days of the next year in which they are still to come.
    """
    stood, today = can.stood, places.today(can.place)
    years = max(0, today.year - can.first_day.year)
    years += _years_on(can.first_day, years) < today
    days = {
        name: _years_on(getattr(can, name), years).isoformat() for name in ("first_day", "last_day")
    }
    # As finely as it is known.
    pointing = {name: f"{getattr(stood, name):.1f}" for name in POINTING}
    return fields_of(can) | pointing | days


def _years_on(day, years):
    """The same day so many years later, the last of February for a leap day."""
    try:
        return day.replace(year=day.year + years)
    except ValueError:
        return day.replace(year=day.year + years, day=28)


def fields_of(can):
    """The fields of the planner as they are kept with a can."""

    def clock(minute):
        return "" if minute is None else f"{minute // 60:02d}:{minute % 60:02d}"

    return {
        "place": str(can.place_id),
        "camera": str(can.camera_id),
        "azimuth_deg": f"{can.azimuth_deg:g}",
        "tilt_deg": f"{can.tilt_deg:g}",
        "roll_deg": f"{can.roll_deg:g}",
        "wall_deg": f"{can.wall_deg:g}" if can.wall_deg else "",
        "first_day": can.first_day.isoformat(),
        "last_day": can.last_day.isoformat(),
        "kind": can.kind,
        "from_time": clock(can.open_from),
        "to_time": clock(can.open_to),
        "horizon": say_points(can.horizon),
        "leaf": say_points(can.leaf),
        "upper": say_points(can.upper),
        "climate": can.climate,
        "water": "on" if can.water else "",
    }
