"""Places, views and cans brought in from a map."""

import math

from django import forms

from chimney.exchange.tables.forms import can_form
from chimney.kit.models import Camera
from chimney.ledger.once import verb
from chimney.parts import plain_json
from chimney.places import flows as places
from chimney.places.forms import PlaceForm, ViewForm
from chimney.places.models import Place, View
from chimney.solar.cans import flows as cans
from chimney.solar.models import Solargraph
from chimney.solar.planner import flows as planner

MOST_FEATURES, NEAR_DEG = 2000, 1e-4


@verb
def bring_map(text):
    """(how many came, [why others did not]): the features of a GeoJSON that are not here yet,
    places first, because the others stand at one. A can comes as a plan: its sheet is no matter of
    a map. Raises ValidationError for what is none.
    """
    came, left = 0, []
    feature_faults = [(feature, _told(feature)) for feature in _features(text)]
    for kind in ("place", "view", "can"):
        for feature, fault in feature_faults:
            if fault.get("kind", "place") != kind:
                continue
            wrong = _bring(kind, feature.get("geometry"), fault)
            came += wrong is None
            if wrong:
                left.append(f"{_text(fault, 'name', 60) or f'A {kind}'}: {wrong}")
    return came, left


def _bring(kind, point, properties):
    """Fault of a feature; empty where it is here already, None where it came in."""
    if kind == "place":
        return _place(point, properties)
    place = _named(Place, properties, "place")
    if place is None:
        return "Its place is not here."
    return _view(place, properties) if kind == "view" else _can(place, point, properties)


def _place(point, properties):
    if wrong := _no_point(point):
        return wrong
    typed = _as_typed(point, properties)
    if _is_here(typed):
        return ""
    form = PlaceForm(typed)
    if not form.is_valid():
        return _first(form)
    places.keep(form.save(commit=False))
    return None


def _view(place, properties):
    subject, azimuth = _text(properties, "name", 120), _number(properties, "azimuth_deg")
    if place.views.filter(subject__iexact=subject).exists():
        return ""
    typed = {"subject": subject, "azimuth_deg": azimuth, "when": _text(properties, "when", 120)}
    form = ViewForm(typed, instance=View(place=place))
    if not form.is_valid():
        return _first(form)
    places.keep_view(form.save(commit=False))
    return None


def _can(place, point, properties):
    """A can is one of the cameras."""
    camera = _named(Camera, properties, "camera")
    if camera is None:
        return "Its camera is not here."
    form = can_form(place, camera, properties)
    if not form.is_valid():
        return _first(form)
    cleaned, name = form.cleaned_data, _text(properties, "name", 60)
    days = {"first_day": cleaned["first_day"], "last_day": cleaned["last_day"]}
    if Solargraph.objects.filter(place=place, name=name, **days).exists():
        return ""
    row = cleaned["camera"], cleaned["azimuth_deg"], cleaned["tilt_deg"]
    (can,) = planner.keep([row], cleaned, None)
    spot = _spot(point)
    if spot and abs(spot[1]) <= 90 and abs(spot[0]) <= 180:
        cans.set_spot(can, spot[1], spot[0])
    can.name, can.spot = name or can.name, _text(properties, "spot", 200)
    can.save(update_fields=["name", "spot"])
    return None


def _features(text):
    try:
        document = plain_json.loads(text)
    except ValueError as error:
        raise forms.ValidationError("That is no GeoJSON: it is cut short, or no JSON.") from error
    rows = document.get("features") if isinstance(document, dict) else None
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise forms.ValidationError("That is JSON, but no collection of features.")
    if len(rows) > MOST_FEATURES:
        raise forms.ValidationError(f"More than {MOST_FEATURES} features are not taken in at once.")
    return rows


def _told(feature):
    """The properties of a feature; none that is no record."""
    properties = feature.get("properties")
    return (
        properties
        if isinstance(properties, dict)
        else {"kind": "place" if properties is None else "odd"}
    )


def _first(form):
    return next(iter(form.errors.values()))[0]


def _text(properties, name, longest):
    value = properties.get(name)
    return str("" if value is None else value).replace("\0", "")[:longest].strip()


def _is_number(value):
    """True and false count as no numbers."""
    good = isinstance(value, int | float) and not isinstance(value, bool)
    return good and math.isfinite(value)


def _number(properties, name):
    """Number as it would be typed; empty for what is none."""
    value = properties.get(name)
    return f"{value}" if _is_number(value) else ""


def _named(model, properties, name):
    return model.objects.filter(name__iexact=_text(properties, name, 60)).first()


def _no_point(shape):
    """Reason in words why a shape is no place; empty for a point."""
    kind = shape.get("type", "Point") if isinstance(shape, dict) else None
    if not isinstance(kind, str) or shape.get("coordinates", []) == []:
        return "It lies nowhere on the map: its shape is empty."
    if kind != "Point":
        return f"It is drawn as a {kind[:20]}, and a place here is a point: mark its middle."
    if _spot(shape) is None:
        return "Its point has no longitude and latitude in numbers."
    return ""


def _spot(point):
    """The numbers of a point, or None."""
    coordinates = point.get("coordinates") if isinstance(point, dict) else None
    good = isinstance(coordinates, list) and len(coordinates) >= 2
    good = good and all(map(_is_number, coordinates[:3]))
    return coordinates if good else None


def _as_typed(point, properties):
    """A place as it would be typed."""
    spot = _spot(point) or ["", ""]
    high = properties.get("elevation_m", spot[2] if len(spot) > 2 else 0)
    return {
        "name": _text(properties, "name", 60),
        "latitude_deg": str(spot[1]),
        "longitude_deg": str(spot[0]),
        "elevation_m": str(high if _is_number(high) else 0),
        "zone": _text(properties, "zone", 60),
        "note": _text(properties, "note", 500),
    }


def _is_here(typed):
    """True if that very place is here: the same name at the same spot."""
    if not typed["latitude_deg"]:
        return False
    spot = float(typed["latitude_deg"]), float(typed["longitude_deg"])
    return any(
        abs(place.latitude_deg - spot[0]) < NEAR_DEG
        and abs(place.longitude_deg - spot[1]) < NEAR_DEG
        for place in Place.objects.filter(name__iexact=typed["name"])
    )
