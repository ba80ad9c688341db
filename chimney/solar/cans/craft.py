"""Stands of a can while it was out, and their results."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from math import atan2, degrees, hypot

import numpy as np

from chimney.places import craft as places
from chimney.solar.craft import declination_deg, predict
from pinhole import solargraph
from pinhole.solargraph import weathering as weather


def predictions_of(can):
    """The Predictions of a kept solargraph, one for each way it stood, in their order."""
    first, last = can.days_of
    stands = [(max(first, day), aim) for day, aim in can.stands if day <= last]
    ends = [*(day - timedelta(days=1) for day, _ in stands[1:]), last]
    return [
        _prediction(can, aim, day, end)
        for (day, aim), end in zip(stands, ends, strict=True)
        if day <= end
    ]


def whole_survey(predictions):
    """The Survey of a can over all its stands."""
    return solargraph.summed_together(tuple(prediction.trails for prediction in predictions))


def noons_of(predictions):
    """Number of noons that lie on the paper over all stands of a can."""
    return sum(int(prediction.trails.noon_on_paper.sum()) for prediction in predictions)


@dataclass(frozen=True)
class Weathering:
    """harms: [the craft's Harm] of its days; days: how many; year_share: of the time for which
    emulsion lasted elsewhere.
    """

    harms: list
    days: int
    year_share: float


def weathering(can):
    """The Weathering that a can's days may bring to its paper."""
    first, last = can.days_of
    days = np.arange(np.datetime64(first), np.datetime64(last) + 1)
    place = can.place
    harms = weather.harms(place.latitude_deg, place.elevation_m, days, can.climate)
    return Weathering(harms, len(days), len(days) / weather.EMULSION_DAYS)


def measured_stand(can, compass_deg=None, sun_ahead=None, day=None):
    """Direction that a can was found to face: by a compass along its axis, or by the clock time
    when the sun stood straight before it on that day, today if none is given; None where neither
    was read.
    """
    day = day or can.today
    if compass_deg is not None:
        return float((compass_deg + declination_deg(can.place, day)) % 360)
    if sun_ahead is None:
        return None
    return places.sun_at(can.place, datetime.combine(day, sun_ahead, can.place.tz))[0]


def _prediction(can, aim, first_day, last_day):
    minutes = (
        None
        if can.open_from is None
        else (can.open_from, can.open_to if can.open_to is not None else can.open_from)
    )
    return predict(
        can.place,
        can.camera,
        aim,
        first_day,
        last_day,
        skyline=can.skyline,
        minutes=minutes,
        wall_deg=can.wall_deg,
    )


def way_to(can):
    """(metres, direction in degrees) from its place to a can; None for one that has no spot."""
    if not can.has_spot:
        return None
    east, north = places.away_km(can.place, *can.where)
    return 1000 * hypot(east, north), degrees(atan2(east, north)) % 360
