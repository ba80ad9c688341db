"""Calls of solargraphs to the craft: the sun over a place, looked at through a camera."""

from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from functools import cache, lru_cache

import numpy as np
from pygeomag import GeoMag

from chimney.places.craft import standard_offset_h
from pinhole import projection, solargraph, sun
from pinhole.solargraph import climate, pointing
from pinhole.solargraph.eclipses import covered, eclipses
from pinhole.solargraph.skyline import Skyline

# No wedge holds a camera that leans more.
STEEPEST_WEDGE_DEG = 80
# Longer spans are sampled more coarsely, so that memory is bounded; the tracks used last are kept.
FINE_MIN, COARSE_MIN, COARSE_FROM_DAYS, KEPT_TRACKS = 2, 10, 400, 4
# What was drawn last is kept too: a page and what is changed beside its drawing ask for it again.
KEPT_DRAWN = 2


@lru_cache(maxsize=KEPT_TRACKS)
def _track(latitude_deg, longitude_deg, first_day, last_day, offset_h, step_min):
    return solargraph.track(
        latitude_deg, longitude_deg, first_day, last_day, utc_offset_h=offset_h, step_min=step_min
    )


def track(place, first_day, last_day):
    """The sun over a place from first to last day, kept so that a drag does not compute it anew."""
    return _track(*_track_key(place, first_day, last_day))


def _track_key(place, first_day, last_day):
    """Arguments of _track, by which it is kept."""
    step = FINE_MIN if (last_day - first_day).days < COARSE_FROM_DAYS else COARSE_MIN
    offset_h = standard_offset_h(place, first_day)
    return place.latitude_deg, place.longitude_deg, first_day, last_day, offset_h, step


@lru_cache(maxsize=KEPT_DRAWN)
def _drawn(key, back, aim, line, minutes, hole_mm):
    """(Trails, their Survey, their Lines) of the Track of a key."""
    trails = solargraph.trails(_track(*key), back, aim, line, minutes)
    return trails, solargraph.summed(trails), solargraph.lines(trails, back, aim, hole_mm)


@dataclass(frozen=True)
class Prediction:
    """Prediction of what one can will draw: the question, its Track, Trails, Survey, Lines, and how
    the sun shone.
    """

    place: object
    camera: object
    back: projection.Back
    pointing: projection.Pointing
    skyline: Skyline
    minutes: tuple | None
    track: solargraph.Track
    trails: solargraph.Trails
    survey: solargraph.Survey
    lines: solargraph.Lines
    sunshine: np.ndarray
    # How far that leans back which it is fixed to.
    wall_deg: float = 0.0

    @property
    def first_day(self):
        """The first of its days."""
        return self.track.days[0].astype(date)

    @property
    def is_eight(self):
        """True if it is open at one clock time on many days."""
        return bool(self.minutes) and self.minutes[0] == self.minutes[1] and self.survey.days > 1


def predict(
    place,
    camera,
    aim,
    first_day,
    last_day,
    *,
    skyline,
    minutes=None,
    weather="clear",
    sunshine=None,
    wall_deg=0.0,
):
    """The Prediction for a camera that stands so. aim: a Pointing; minutes: (from, to) of the day
    if it is open only then.
    """
    sun_track, back = track(place, first_day, last_day), camera.geometry
    if minutes:
        # To the nearest sample, so that one clock time is one sample a day.
        step = int(sun_track.minutes[1] - sun_track.minutes[0])
        minutes = tuple(round(minute / step) * step % solargraph.DAY_MIN for minute in minutes)
    key = _track_key(place, first_day, last_day)
    trails, survey, lines = _drawn(key, back, aim, skyline, minutes, camera.diameter_mm)
    shone = sunshine
    if shone is None or len(shone) != len(sun_track.days):
        shone = climate.sunshine(weather_of(weather), place.latitude_deg, sun_track.days)
    return Prediction(
        place=place,
        camera=camera,
        back=back,
        pointing=aim,
        skyline=skyline,
        minutes=minutes,
        track=sun_track,
        trails=trails,
        survey=survey,
        lines=lines,
        sunshine=shone,
        wall_deg=wall_deg,
    )


def weather_of(code):
    return next(
        (known_climate for known_climate in climate.CLIMATES if known_climate.code == code),
        climate.CLIMATES[0],
    )


def darkening(prediction):
    """The craft's Darkening of its trails under the weather that was chosen."""
    camera = prediction.camera
    return solargraph.darkening(
        prediction.trails,
        prediction.back,
        prediction.pointing,
        camera.f_number,
        camera.diameter_mm,
        prediction.sunshine,
    )


def eclipses_at(place, first, last):
    """(Eclipse, ...) that a place sees from first to last."""
    years = (
        _eclipses(place.latitude_deg, place.longitude_deg, year)
        for year in range(first.year, last.year + 1)
    )
    return tuple(
        eclipse for year in years for eclipse in year if first <= eclipse.greatest.date() <= last
    )


def bites(prediction):
    """[(number of the day, share covered at each of its samples)] of the eclipses in a Prediction's
    days whose sun lands on the paper meanwhile.
    """
    place, track = prediction.place, prediction.track
    offset = timedelta(hours=standard_offset_h(place, prediction.first_day))
    ends = (day.astype(date) for day in (track.days[0], track.days[-1]))
    rows = []
    for eclipse in eclipses_at(place, *ends):
        n = (eclipse.greatest + offset).date() - prediction.first_day
        if 0 <= n.days < len(track.days):
            shares = _covered(place.latitude_deg, place.longitude_deg, eclipse, n.days, prediction)
            if (prediction.trails.on_paper[n.days] & (shares > 0)).any():
                rows.append((n.days, shares))
    return rows


def _covered(latitude_deg, longitude_deg, eclipse, n, prediction):
    """Share covered at each sample of the day of that number, 0 outside of the Eclipse."""
    day = datetime.combine(prediction.first_day + timedelta(days=n), time(), UTC)
    start = day - timedelta(hours=standard_offset_h(prediction.place, prediction.first_day))
    minutes = prediction.track.minutes
    first, last = ((end - start) / timedelta(minutes=1) for end in (eclipse.begins, eclipse.ends))
    lasts, shares = (minutes >= first) & (minutes <= last), np.zeros(len(minutes))
    shares[lasts] = _shares(latitude_deg, longitude_deg, start, tuple(minutes[lasts].tolist()))
    return shares


@lru_cache(maxsize=16)
def _shares(latitude_deg, longitude_deg, start, minutes):
    return covered(latitude_deg, longitude_deg, start, minutes)


@lru_cache(maxsize=64)
def _eclipses(latitude_deg, longitude_deg, year):
    # Dragging a can about changes no place, and comparing spans hardly a year.
    return tuple(eclipses(latitude_deg, longitude_deg, date(year, 1, 1), date(year, 12, 31)))


def best(prediction, goal, first_day):
    """The pointing.Best for a goal: "span", "noons", "landscape", "year", "rise" or "set". Raises
    ValueError where there is no such sun.
    """
    place, sun_track, minutes, wanted_samples = (
        prediction.place,
        prediction.track,
        prediction.minutes,
        None,
    )
    if goal == "year":
        sun_track = track(place, date(first_day.year, 1, 1), date(first_day.year, 12, 31))
    if goal in ("rise", "set"):
        sun_track, minutes = track(place, first_day, first_day), None
        wanted_samples = _three_hours(sun_track, goal)
    return pointing.best(
        sun_track,
        prediction.back,
        horizon=prediction.skyline,
        minutes=minutes,
        wanted=wanted_samples,
        roll_deg=prediction.pointing.roll_deg,
        noons=goal == "noons",
        landscape=goal == "landscape",
    )


def _three_hours(sun_track, end):
    """The samples of the first or the last three hours of a day's sun. Raises ValueError where it
    neither rises nor sets.
    """
    samples = np.flatnonzero(sun_track.up[0])
    if not samples.size or samples.size == sun_track.up.shape[1]:
        state = "up" if samples.size else "down"
        raise ValueError(f"the sun stays {state} all that day")
    reach = int(180 / (sun_track.minutes[1] - sun_track.minutes[0]))
    wanted_samples = np.zeros_like(sun_track.up)
    wanted_samples[0, samples[:reach] if end == "rise" else samples[-reach:]] = True
    return wanted_samples


@cache
def _solstices_of(year):
    return [moment.astype(datetime).date() for moment in sun.seasons(year)[[1, 3]]]


def solstices(today):
    """(first, last): from the solstice that comes next to the one after it, by their UTC dates."""
    moments = [*_solstices_of(today.year), *_solstices_of(today.year + 1)]
    coming = [day for day in moments if day >= today]
    return coming[0], coming[1] if len(coming) > 1 else coming[0]


def openings(place, days, minute):
    """[(day, moment on the place's own clock)] for one time of the standard clock: summer time
    shifts what is read.
    """
    offset = timedelta(hours=standard_offset_h(place, days[0]))
    starts = [
        datetime.combine(day, time(), UTC) - offset + timedelta(minutes=minute) for day in days
    ]
    return [(day, start.astimezone(place.tz)) for day, start in zip(days, starts, strict=True)]


@cache
def _magnetic_model():
    """The World Magnetic Model of 2025, whose table ships with the package."""
    return GeoMag(coefficients_file="wmm/WMM_2025.COF")


def declination_deg(place, day):
    """Degrees east of true north that a compass points there and then; within the model's five
    years the drift is in it, before and after them the nearest end stands.
    """
    model = _magnetic_model()
    year = day.year + day.timetuple().tm_yday / 365.25
    first, last = model.life_span
    field = model.calculate(
        glat=place.latitude_deg,
        glon=place.longitude_deg,
        alt=place.elevation_m / 1000,
        time=min(max(year, first), last),
    )
    return field.d


def wedge_mm(prediction, tilt_deg):
    """Height of a wedge that leans a Prediction's camera so, on what it is fixed to, forward as
    high as back; None for leans that no wedge holds. What stands on the wedge is the camera's
    length along its axis: a can's diameter, a box's body.
    """
    of_wedge_deg = tilt_deg - prediction.wall_deg
    if abs(of_wedge_deg) > STEEPEST_WEDGE_DEG:
        return None
    return abs(pointing.wedge_mm(prediction.camera.length_mm, of_wedge_deg))
