"""Calls to the craft for when a light comes back, or comes half way."""

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import cached_property

import numpy as np

from chimney.parts import clock
from chimney.parts.scales import size_of_stops
from chimney.places import craft as places
from pinhole import durations, light, sun

# The sun comes back as near as this, and is looked for so far ahead.
WITHIN_DEG, LOOKED_AHEAD = 3.0, timedelta(days=400)
# Days that lie further apart are of two seasons; less is no difference.
APART = timedelta(days=20)
EQUAL_STOPS = 1 / 8
# Of the days on which it passes one in so many is told.
PASSING_DAYS = 14
MIDDAY_H = 12


@dataclass(frozen=True)
class Then:
    """A light that is to come back: title and code, in words; place, moment, looks_deg (None where
    nobody said) and ev100 of it; metered_s: before reciprocity by school; verdict_stops: that it
    would have needed more; given_s: None where nothing was exposed; fields: of a plan for it;
    address: where it is from; sheet: or None.
    """

    title: str
    code: str
    place: object
    moment: datetime
    looks_deg: float | None
    ev100: float
    metered_s: float
    school: object
    fields: dict
    address: str
    verdict_stops: float = 0.0
    given_s: float | None = None
    sheet: object = None

    @cached_property
    def stood(self):
        """(azimuth, altitude) of the sun [degrees]."""
        return places.sun_at(self.place, self.moment)

    @cached_property
    def clear_ev100(self):
        return self.clear_under(self.stood)

    def clear_under(self, stands):
        """Exposure value at ISO 100 of a clear sky on its scene, with the sun at (azimuth,
        altitude).
        """
        azimuth, altitude = stands
        return float(light.scene_ev100(altitude, places.off_deg(azimuth, self.looks_deg)))

    def seconds(self, stops):
        """Time that one counts, in so much less light, corrected by its verdict."""
        metered_s = self.metered_s * 2.0 ** (stops + self.verdict_stops)
        return durations.countable_s(float(self.school.adjusted_s(metered_s)))


@dataclass(frozen=True)
class Comeback:
    """begins, ends, best: moments on the place's clock; off_deg: how far the sun stands from where
    it stood at the best; then: what comes back. Of many only a few are looked at closer.
    """

    begins: datetime
    ends: datetime
    best: datetime
    off_deg: float
    then: Then = field(compare=False, repr=False)

    @cached_property
    def stands(self):
        """(azimuth, altitude) of the sun at the best [degrees]."""
        return places.sun_at(self.then.place, self.best)

    @property
    def azimuth_deg(self):
        return self.stands[0]

    @property
    def altitude_deg(self):
        return self.stands[1]

    @cached_property
    def light_stops(self):
        """Stops that there is less light at the best."""
        return self.then.clear_ev100 - self.then.clear_under(self.stands)

    @property
    def seconds(self):
        """Time that the sheet would need."""
        return self.then.seconds(self.light_stops)

    @property
    def day(self):
        """ "Wed 17 Feb 2027"."""
        return f"{self.best:%a} {self.best.day} {self.best:%b %Y}"

    @property
    def hours(self):
        """ "12:08 to 12:19" on the place's clock, or one time."""
        first, last = f"{self.begins:%H:%M}", f"{self.ends:%H:%M}"
        return first if first == last else f"{first} to {last}"

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


def comebacks(then):
    """[Comeback] of the light of a Then, in order, from now on."""
    days, where = _asked(then)
    returns = sun.again(*where, *days, within_deg=WITHIN_DEG)
    rows = [
        _comeback(then, (returned.start_utc, returned.end_utc, returned.best_utc), returned.off_deg)
        for returned in returns
    ]
    return [row for row in rows if row.ends > clock.now()]


def today(then):
    """Today's first Comeback of a Then that is still to end, or None."""
    day = clock.now().astimezone(UTC).date()
    _, where = _asked(then)
    rows = (_returned(then, span) for span in sun.again(*where, day, day, within_deg=WITHIN_DEG))
    return next((row for row in rows if row.ends > clock.now()), None)


def halfway(then):
    """([Comeback] in the same direction at another height, [Comeback] at the same height in another
    direction), one in PASSING_DAYS, from now on.
    """
    days, where = _asked(then)
    return tuple(_some(then, found_days) for found_days in sun.passages(*where, *days))


def _some(then, passages):
    rows, last = [], None
    now = places.as_utc64(clock.now())
    for k in np.flatnonzero(passages.utc > now):
        day = passages.utc[k].astype("datetime64[D]")
        if last is None or (day - last).astype(int) >= PASSING_DAYS or day == last:
            last, stands = day, (passages.azimuth_deg[k], passages.altitude_deg[k])
            row = _comeback(then, (passages.utc[k],) * 3, _apart_deg(then.stood, stands))
            if row.off_deg > WITHIN_DEG:
                rows.append(row)
    return rows


def _asked(then):
    """((first day, last day), (moment, latitude, longitude)) of a search."""
    today = clock.now().astimezone(UTC).date()
    where = places.as_utc64(then.moment), then.place.latitude_deg, then.place.longitude_deg
    return (today, today + LOOKED_AHEAD), where


def _apart_deg(stood, stands):
    """Degrees between two places of the sun."""
    (a, h), (b, g) = np.radians(stood), np.radians(stands)
    cosine = np.sin(h) * np.sin(g) + np.cos(h) * np.cos(g) * np.cos(a - b)
    return float(np.degrees(np.arccos(np.clip(cosine, -1, 1))))


def seasons(rows):
    """The first, the nearest and the last of each season of Comebacks, in order."""
    runs = [[]]
    for row in rows:
        if runs[-1] and row.best - runs[-1][-1].best > APART:
            runs.append([])
        runs[-1].append(row)
    chosen = [(run[0], min(run, key=lambda row: row.off_deg), run[-1]) for run in runs if run]
    return list(dict.fromkeys(row for ends in chosen for row in ends))


def _returned(then, span):
    return _comeback(then, (span.start_utc, span.end_utc, span.best_utc), span.off_deg)


def _comeback(then, moments, off_deg):
    zone = then.place.tz
    return Comeback(*(places.from_utc64(moment, zone) for moment in moments), off_deg, then)
