"""Places brought in from a map."""

import json
import math

from django import forms

from chimney.ledger.once import verb
from chimney.places import flows as places
from chimney.places.forms import PlaceForm
from chimney.places.models import Place

MOST_FEATURES, NEAR_DEG = 2000, 1e-4


@verb
def bring_places(text):
    """(how many came, [why others did not]): the places of a GeoJSON that are not here yet. Raises
    ValidationError for what is none.
    """
    came, left = 0, []
    for feature in _features(text):
        point, told = feature.get("geometry"), feature.get("properties") or {}
        if not isinstance(told, dict) or told.get("kind", "place") != "place":
            continue
        typed = _typed(point, told)
        if _is_here(typed):
            continue
        form = PlaceForm(typed)
        if form.is_valid():
            places.keep(form.save(commit=False))
            came += 1
        else:
            left.append(f"{typed['name'] or 'A place'}: {next(iter(form.errors.values()))[0]}")
    return came, left


def _features(text):
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise forms.ValidationError("That is no GeoJSON: it is cut short, or no JSON.") from error
    rows = found.get("features") if isinstance(found, dict) else None
    if not isinstance(rows, list) or not all(isinstance(row, dict) for row in rows):
        raise forms.ValidationError("That is JSON, but no collection of features.")
    if len(rows) > MOST_FEATURES:
        raise forms.ValidationError(f"More than {MOST_FEATURES} features are not taken in at once.")
    return rows


def _typed(point, told):
    """A feature as it would be typed."""
    at = point.get("coordinates") if isinstance(point, dict) else None
    good = isinstance(at, list) and all(isinstance(n, int | float) for n in at[:3])
    at = at if good and len(at) >= 2 else ["", ""]
    high = told.get("elevation_m", at[2] if len(at) > 2 else 0)
    return {
        "name": str(told.get("name") or "")[:60].replace("\0", ""),
        "latitude_deg": str(at[1]),
        "longitude_deg": str(at[0]),
        "elevation_m": str(high if isinstance(high, int | float) and math.isfinite(high) else 0),
        "zone": str(told.get("zone") or ""),
        "note": str(told.get("note") or "")[:500].replace("\0", ""),
    }


def _is_here(typed):
    """Whether that very place is here: the same name at the same spot."""
    if not typed["latitude_deg"]:
        return False
    at = float(typed["latitude_deg"]), float(typed["longitude_deg"])
    return any(
        abs(place.latitude_deg - at[0]) < NEAR_DEG and abs(place.longitude_deg - at[1]) < NEAR_DEG
        for place in Place.objects.filter(name__iexact=typed["name"])
    )
