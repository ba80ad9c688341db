"""Places by name, offline, from a table that ships with the application."""

import gzip
import unicodedata
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from urllib.parse import urlencode

from timezonefinder import TimezoneFinder

TABLE = Path(__file__).parent / "gazetteer.tsv.gz"
MOST_PLACES_FOUND = 8
USUAL_ZONE = "Europe/London"


@dataclass(frozen=True)
class Town:
    name: str
    country: str
    latitude_deg: float
    longitude_deg: float
    zone: str

    @property
    def query(self):
        """Initial values of the form of a new place, as the query of its address."""
        names = ("name", "latitude_deg", "longitude_deg", "zone")
        return urlencode({name: getattr(self, name) for name in names})


def find(words):
    """Up to MOST_PLACES_FOUND places whose name begins with the words, then those that contain
    them; the largest first.
    """
    folded = _folded(words)
    if len(folded) < 2:
        return []
    begins = [row for row in _table() if row[0].startswith(folded)][:MOST_PLACES_FOUND]
    inside = (row for row in _table() if folded in row[0] and not row[0].startswith(folded))
    towns = begins + [
        row for row, _ in zip(inside, range(MOST_PLACES_FOUND - len(begins)), strict=False)
    ]
    return [
        Town(name, country, float(lat), float(lon), zone)
        for _, name, country, lat, lon, zone in towns
    ]


@cache
def town_of(zone):
    """The largest Town of an IANA zone; of a zone without one that of USUAL_ZONE."""
    of_zone = {row[-1]: row for row in reversed(_table())}
    _, name, country, latitude, longitude, zone = of_zone.get(zone) or of_zone[USUAL_ZONE]
    return Town(name, country, float(latitude), float(longitude), zone)


def zone_at(latitude_deg, longitude_deg):
    """The IANA zone of a point, at sea that of its longitude."""
    return _finder().timezone_at(lat=latitude_deg, lng=longitude_deg) or "UTC"


@cache
def _finder():
    return TimezoneFinder()


@cache
def _table():
    with gzip.open(TABLE, "rt", encoding="utf-8") as lines:
        rows = [line.rstrip("\n").split("\t") for line in lines]
    return [(_folded(row[0]), *row) for row in rows]


def _folded(name):
    """Without case and accents, so that malmo finds Malmö."""
    plain = unicodedata.normalize("NFKD", name.strip().casefold())
    return "".join(letter for letter in plain if not unicodedata.combining(letter))
