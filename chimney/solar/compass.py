"""Where a compass points at a place, from the table that ships with the application."""

from functools import cache
from pathlib import Path

from pinhole import magnetic

TABLE = Path(__file__).parent / "wmm2025.cof"


@cache
def model():
    return magnetic.read_cof(TABLE.read_text())


def declination_deg(place, day):
    """How far east of true north a compass points there and then."""
    year = day.year + day.timetuple().tm_yday / 365.25
    return magnetic.declination_deg(model(), year, place.latitude_deg, place.longitude_deg, place.elevation_m)
