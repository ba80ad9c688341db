"""Rows of the tables, and places as features on a map."""

from datetime import UTC, datetime

from django.db.models import OuterRef, Subquery

from chimney.darkroom.models import Development
from chimney.exchange.tables.catalogue import TABLES
from chimney.logbook.models import Exposure, Opening, Sheet
from chimney.places.models import Place, View
from chimney.solar.models import Solargraph

MODELS = {"sheets": Sheet, "exposures": Exposure, "runs": Development, "cans": Solargraph}


def _newest(rows, at):
    """Value in that field of the newest of the rows that belong to one."""
    return Subquery(rows.order_by("-pk").values(at)[:1])


_exposures = Exposure.objects.filter(sheet=OuterRef("pk"))
_developments = Development.objects.filter(sheet=OuterRef("pk"))
_openings = Opening.objects.filter(exposure=OuterRef("pk"))
# What stands in a table and hangs on other rows.
BESIDE = {
    "sheets": {
        "camera": _newest(_exposures, "camera__name"),
        "subject": _newest(_exposures, "subject"),
        "place": _newest(_exposures, "place__name"),
        "developer": _newest(_developments, "run__developer__name"),
    },
    "exposures": {
        "opened": Subquery(_openings.order_by("pk").values("opened_at")[:1]),
        "closed": _newest(_openings, "closed_at"),
    },
}
# A cell that begins so is a formula to a spreadsheet (common practice).
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def rows(name):
    """The headings of a table and then its rows, oldest first, as text."""
    table = next(one for one in TABLES if one.name == name)
    yield [heading for heading, _ in table.columns]
    found = MODELS[name].objects.annotate(**BESIDE.get(name, {})).order_by("pk")
    found = found.values_list(*(at for _, at in table.columns))
    for row in found.iterator(chunk_size=1000):
        yield [cell(value) for value in row]


def cell(value):
    """A value as text that no spreadsheet computes."""
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat(timespec="seconds")
    if isinstance(value, list):
        value = "; ".join(map(str, value))
    if isinstance(value, str) and value.startswith(FORMULA):
        return f"'{value}"
    return str(value)


def features():
    """GeoJSON (RFC 7946) of places, their views and cans."""
    found = [
        _feature(
            "place",
            p,
            p,
            {"name": p.name, "elevation_m": p.elevation_m, "zone": p.zone, "note": p.note},
        )
        for p in Place.objects.order_by("pk")
    ]
    for view in View.objects.select_related("place").order_by("pk"):
        told = {"name": view.subject, "place": view.place.name, "azimuth_deg": view.azimuth_deg}
        found.append(_feature("view", view, view.place, told | {"when": view.when}))
    for can in Solargraph.objects.select_related("place", "camera").order_by("pk"):
        told = {"name": can.name, "place": can.place.name, "camera": can.camera.name}
        told |= {name: getattr(can, name) for name in ("azimuth_deg", "tilt_deg", "roll_deg")}
        told |= {"first_day": can.first_day.isoformat(), "last_day": can.last_day.isoformat()}
        at = can if can.latitude_deg is not None else can.place
        found.append(_feature("can", can, at, told | {"spot": can.spot}))
    return {"type": "FeatureCollection", "features": found}


def _feature(kind, row, at, told):
    """A point: longitude first, as RFC 7946 has it."""
    point = {"type": "Point", "coordinates": [at.longitude_deg, at.latitude_deg]}
    return {
        "type": "Feature",
        "id": f"{kind}-{row.pk}",
        "geometry": point,
        "properties": {"kind": kind} | told,
    }
