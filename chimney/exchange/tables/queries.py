"""Rows of the tables, and places as features on a map."""

from datetime import UTC, datetime

from django.db.models import F, OuterRef, Subquery

from chimney.darkroom.models import Development
from chimney.exchange.tables.catalogue import TABLES
from chimney.logbook.models import Exposure, Sheet
from chimney.places.models import Place, View
from chimney.solar.models import Solargraph

MODELS = {"sheets": Sheet, "exposures": Exposure, "runs": Development, "cans": Solargraph}


def _newest(rows, field):
    """Value in that field of the newest of the rows that belong to one."""
    return Subquery(rows.order_by("-pk").values(field)[:1])


_exposures = Exposure.objects.filter(sheet=OuterRef("pk"))
_developments = Development.objects.filter(sheet=OuterRef("pk"))
# What stands in a table and hangs on other rows.
ANNOTATIONS = {
    "sheets": {
        "camera": _newest(_exposures, "camera__name"),
        "subject": _newest(_exposures, "subject"),
        "place": _newest(_exposures, "place__name"),
        "developer": _newest(_developments, "run__developer__name"),
    },
    "exposures": {
        "opened": F("opening_row__opened_at"),
        "closed": F("opening_row__closed_at"),
    },
}
# A cell that begins so is a formula to a spreadsheet (common practice).
FORMULA = ("=", "+", "-", "@", "\t", "\r")


def rows(name):
    """The headings of a table and then its rows, oldest first, as text."""
    table = next(each_table for each_table in TABLES if each_table.name == name)
    yield [heading for heading, _ in table.columns]
    records = MODELS[name].objects.annotate(**ANNOTATIONS.get(name, {})).order_by("pk")
    records = records.values_list(*(column for _, column in table.columns))
    for row in records.iterator(chunk_size=1000):
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
    shapes = [
        _feature(
            "place",
            p,
            p,
            {"name": p.name, "elevation_m": p.elevation_m, "zone": p.zone, "note": p.note},
        )
        for p in Place.objects.order_by("pk")
    ]
    for view in View.objects.select_related("place").order_by("pk"):
        properties = {
            "name": view.subject,
            "place": view.place.name,
            "azimuth_deg": view.azimuth_deg,
        }
        shapes.append(_feature("view", view, view.place, properties | {"when": view.when}))
    for can in Solargraph.objects.select_related("place", "camera").order_by("pk"):
        properties = {"name": can.name, "place": can.place.name, "camera": can.camera.name}
        properties |= {name: getattr(can, name) for name in ("azimuth_deg", "tilt_deg", "roll_deg")}
        properties |= {"first_day": can.first_day.isoformat(), "last_day": can.last_day.isoformat()}
        place = can if can.latitude_deg is not None else can.place
        shapes.append(_feature("can", can, place, properties | {"spot": can.spot}))
    return {"type": "FeatureCollection", "features": shapes}


def _feature(kind, row, place, properties):
    """A point: longitude first, as RFC 7946 has it."""
    point = {"type": "Point", "coordinates": [place.longitude_deg, place.latitude_deg]}
    return {
        "type": "Feature",
        "id": f"{kind}-{row.pk}",
        "geometry": point,
        "properties": {"kind": kind} | properties,
    }
