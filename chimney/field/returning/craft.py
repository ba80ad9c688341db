"""Calls to the craft for when the light of a sheet comes back."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from chimney.field.light.craft import lit_at
from chimney.parts import clock
from chimney.parts.scales import size_of_stops
from chimney.places import craft as places
from pinhole import durations, light, sun

# The sun comes back as near as this, and is looked for so far ahead.
WITHIN_DEG, LOOKED_AHEAD = 3.0, timedelta(days=400)
# Days that lie further apart are of two seasons; less is no difference.
APART = timedelta(days=20)
EQUAL_STOPS = 1 / 8


@dataclass(frozen=True)
class Comeback:
    """begins, ends, best: moments on the place's clock; off_deg: how far the sun stands from where
    it stood at the best; light_stops: how much less light there is then; seconds: that the sheet
    would need.
    """

    begins: datetime
    ends: datetime
    best: datetime
    off_deg: float
    light_stops: float
    seconds: float

    @property
    def day(self):
        """ "Wed 17 Feb 2027"."""
        return f"{self.best:%a} {self.best.day} {self.best:%b %Y}"

    @property
    def hours(self):
        """ "12:08 to 12:19" on the place's clock."""
        return f"{self.begins:%H:%M} to {self.ends:%H:%M}"

    @property
    def light(self):
        """Words for how much light there is then beside what there was."""
        if abs(self.light_stops) < EQUAL_STOPS:
            return "as bright"
        much = size_of_stops(self.light_stops)
        return f"{much} {'less' if self.light_stops > 0 else 'more'}"

    @property
    def stamp(self):
        """Its best moment as it stands in an address."""
        return int(self.best.timestamp())


def stood(exposure):
    """(azimuth, altitude) of the sun when the hole of an Exposure was opened [degrees]."""
    return places.sun_at(exposure.place, exposure.opening.opened_at)


def comebacks(exposure, stops_more):
    """[Comeback] of the light of an Exposure with a place and an opening, in order, from now on;
    stops_more: by its verdict.
    """
    place, opened = exposure.place, exposure.opening.opened_at
    today = clock.now().astimezone(UTC).date()
    returns = sun.again(
        places.as_utc64(opened),
        place.latitude_deg,
        place.longitude_deg,
        today,
        today + LOOKED_AHEAD,
        within_deg=WITHIN_DEG,
    )
    bright_ev = _clear_ev100(exposure, opened)
    rows = [_comeback(exposure, returned, bright_ev, stops_more) for returned in returns]
    return [row for row in rows if row.ends > clock.now()]


def seasons(rows):
    """The first, the nearest and the last of each season of Comebacks, in order."""
    runs = [[]]
    for row in rows:
        if runs[-1] and row.best - runs[-1][-1].best > APART:
            runs.append([])
        runs[-1].append(row)
    chosen = [(run[0], min(run, key=lambda row: row.off_deg), run[-1]) for run in runs if run]
    return list(dict.fromkeys(row for ends in chosen for row in ends))


def _comeback(exposure, returned, bright_ev, stops_more):
    place = exposure.place
    begins, ends, best = (
        places.from_utc64(moment, place.tz)
        for moment in (returned.start_utc, returned.end_utc, returned.best_utc)
    )
    stops = bright_ev - _clear_ev100(exposure, best)
    seconds = _seconds(exposure, stops + stops_more)
    return Comeback(begins, ends, best, returned.off_deg, stops, seconds)


def _clear_ev100(exposure, moment):
    """Exposure value at ISO 100 of a clear sky at a moment on its scene."""
    lit = lit_at(exposure.place, moment, looks_deg=exposure.azimuth_deg)
    return float(light.scene_ev100(lit.altitude_deg, lit.off_deg))


def _seconds(exposure, stops):
    """Time that one counts, for so many stops more than the sheet was given, by its own school."""
    school = exposure.calculation.specification.school
    metered_s = float(school.metered_s(exposure.effective_s)) * 2.0**stops
    return durations.countable_s(float(school.adjusted_s(metered_s)))
