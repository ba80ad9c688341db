"""Light as numbers: exposure value, lux, the sky by eye, light through a day, light that changes meanwhile."""

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import checked, plain
from pinhole.reciprocity import NoCorrection


@dataclass(frozen=True)
class Sky:
    """What the eye calls a sky, for a subject in the open. ev100: middle; sd_stops: how much such skies differ."""

    name: str
    words: str
    ev100: float
    sd_stops: float


@dataclass(frozen=True)
class Height:
    """How high the sun stands, or where the subject stands: stops of light less than under a high sun."""

    name: str
    words: str
    stops_less: float
    sd_stops: float


# Common practice, no source: EV 15 at ISO 100 is full sun, and cards on cameras go six stops down to heavy cloud.
SKIES = (
    Sky("sun", "full sun, sharp shadows", 15, 0.3),
    Sky("haze", "bright haze, soft shadows", 14, 0.5),
    Sky("bright", "bright cloud, no shadows", 13, 0.6),
    Sky("grey", "grey cloud", 12, 0.7),
    Sky("heavy", "heavy cloud or rain", 10, 1.0),
)
HEIGHTS = (
    Height("high", "sun high", 0, 0.2),
    Height("middle", "sun halfway up, or winter noon", 0.5, 0.3),
    Height("low", "sun low, a hand above the horizon", 2, 0.6),
    Height("shade", "subject in open shade", 3, 0.7),
)


def ev100_from_lux(lux, incident_constant=250):
    """Exposure value at ISO 100 of light falling on a flat receptor: log2(lux * 100 / C).

    lux [lx, above 0], incident_constant [lx s, above 0; ISO 2720 allows 240-400 for a flat receptor], broadcast.
    Raises ValueError outside. Source: ISO 2720:1974, E * t * S = C * N^2.
    """
    lux = checked("lux", lux, above=0)
    return plain(np.log2(lux * 100 / checked("incident_constant", incident_constant, above=0)))


def lux_from_ev100(ev100, incident_constant=250):
    """The inverse of ev100_from_lux: C 2^EV / 100, in lx.

    ev100 [at ISO 100], incident_constant [lx s, above 0], broadcast. Raises ValueError outside. Source: ISO 2720:1974.
    """
    return plain(checked("incident_constant", incident_constant, above=0) / 100 * 2 ** checked("ev100", ev100))


def metered_s(ev100, f_number, iso):
    """The time a meter shows: N^2 / 2^EV * 100 / ISO.

    ev100 [at ISO 100], f_number [above 0], iso [above 0], broadcast. Returns [s].
    Raises ValueError outside. Source: ISO 2720:1974; the additive system of ANSI PH2.5.
    """
    ev100 = checked("ev100", ev100)
    speed = checked("iso", iso, above=0) / 100
    with np.errstate(over="ignore", divide="ignore"):
        return plain(checked("f_number", f_number, above=0) ** 2 / np.exp2(ev100) / speed)


def ev100_at_iso(ev, iso):
    """EV at ISO 100 of a meter that shows `ev` while set to `iso`: ev - log2(iso / 100). Broadcast.

    Raises ValueError for iso not above 0. Source: ANSI PH2.5 additive system, EV = Bv + Sv.
    """
    return plain(checked("ev", ev) - np.log2(checked("iso", iso, above=0) / 100))


def by_eye(sky, height):
    """(ev100, sd_stops) of light judged by eye from a Sky and a Height. Source: common practice."""
    return sky.ev100 - height.stops_less, float(np.hypot(sky.sd_stops, height.sd_stops))


# log10 lux on level ground under a clear sky, as cubics of altitude / 90: lowest altitude, then the coefficients.
CLEAR_SKY = (
    (20.0, 3.74, 3.97, -4.07, 1.47),
    (5.0, 3.05, 13.28, -45.98, 64.33),
    (-0.8, 2.88, 22.26, -207.64, 1034.30),
    (-5.0, 2.88, 21.81, -258.11, -858.36),
    (-12.0, 2.70, 12.17, -431.69, -1899.83),
    (-18.0, 13.84, 262.72, 1447.42, 2797.93),
)


def clear_lux(altitude_deg):
    """Lux on level ground under a clear sky with the sun at that altitude, at night what is left at -18 degrees.

    altitude_deg [-90 to 90], any shape. Raises ValueError outside.
    Source: P. M. Janiczek, J. A. DeYoung, US Naval Observatory Circular 171 (1987), coefficients from memory.
    """
    altitude = checked("altitude_deg", altitude_deg, least=-90, most=90)
    x = np.maximum(altitude, CLEAR_SKY[-1][0]) / 90
    logs = np.full_like(x, np.nan)
    for lowest, a, b, c, d in reversed(CLEAR_SKY):
        logs = np.where(x * 90 >= lowest - 1e-9, a + x * (b + x * (c + x * d)), logs)
    return plain(10**logs)


def daylight_ev100(altitude_deg, stops_less=0.0):
    """EV at ISO 100 of incident daylight: a clear sky less so many stops of cloud.

    altitude_deg [-90 to 90], stops_less [at least 0, common practice by eye], broadcast. Raises ValueError outside.
    """
    return plain(ev100_from_lux(clear_lux(altitude_deg)) - checked("stops_less", stops_less, least=0))


# A rate below this fills no sheet, and an end later than this never comes.
LEAST_RATE, NEVER_S = 1e-300, 1e15


@dataclass(frozen=True)
class Course:
    """How fast light fills a sheet: rates [shares per second] at times_s, straight in the logarithm between them,
    constant before the first and after the last; both shape (n,). A sheet is full at 1.
    """

    times_s: np.ndarray
    rates: np.ndarray

    def share(self, from_s, to_s):
        """What light gives a sheet between two moments on the clock of times_s; 0 when they are out of order."""
        inside = self.times_s[(self.times_s > from_s) & (self.times_s < to_s)]
        knots = np.concatenate([[from_s], inside, [max(from_s, to_s)]])
        return float(_areas(np.diff(knots), np.log(self.rate(knots))).sum())

    def reach_s(self, from_s, share):
        """The moment at which light from from_s on has given that share [at least 0], on the clock of times_s; inf
        where it never does.
        """
        if share <= 0:
            return float(from_s)
        knots = np.concatenate([[from_s], self.times_s[self.times_s > from_s]])
        logs = np.log(self.rate(knots))
        sums = np.concatenate([[0.0], np.cumsum(_areas(np.diff(knots), logs))])
        at = int(np.searchsorted(sums, share)) - 1
        need, rate = share - sums[at], np.exp(logs[at])
        if at == len(knots) - 1:
            end = float(knots[at] + need / rate)
            return end if end < NEVER_S else np.inf
        slope = (logs[at + 1] - logs[at]) / (knots[at + 1] - knots[at])
        bend = slope * need / rate
        return float(knots[at] + need / rate * (np.log1p(bend) / bend if abs(bend) > 1e-9 else 1 - bend / 2))

    def leave_s(self, until_s, share):
        """The last moment from which light until until_s gives that share [at least 0]; -inf where none does.

        The same course run backwards, so that light is constant before the first point.
        """
        found = Course(-self.times_s[::-1], self.rates[::-1]).reach_s(-until_s, share)
        return -found

    def scaled(self, factor):
        """The same course, so many times as fast."""
        return Course(self.times_s, self.rates * factor)

    def rate(self, times_s):
        """Shares per second at times_s, any shape."""
        return np.exp(np.interp(times_s, self.times_s, np.log(self.rates)))


def _areas(lengths, logs):
    """Integrals of curves that are straight in the logarithm, piece by piece."""
    low, rise = np.exp(logs[:-1]), np.diff(logs)
    small = np.abs(rise) < 1e-9
    return lengths * low * np.where(small, 1 + rise / 2, np.expm1(rise) / np.where(small, 1, rise))


# A school bends the course at its knots; each stretch between two points is cut into so many.
STRETCHES = 96


def course(times_s, metered_s, school):
    """The Course of light that meters as metered_s [s, above 0, inf for none] at times_s [s, increasing], both (n,).

    school: one of pinhole.reciprocity; light that asks for the adjusted time T at a moment gives dt / T there.
    Raises ValueError outside. Source: additivity of exposure; that a school may be applied moment by moment is an
    assumption, exact where there is no correction.
    """
    times = np.atleast_1d(checked("times_s", times_s))
    metered = np.atleast_1d(checked("metered_s", np.minimum(metered_s, 1 / LEAST_RATE), above=0))
    if times.ndim != 1 or times.shape != metered.shape or not times.size or (np.diff(times) <= 0).any():
        raise ValueError("times_s must be strictly increasing, one metered time to each")
    if np.isnan(times).any() or np.isnan(metered).any():
        raise ValueError("times_s and metered_s must be numbers")
    if times.size > 1 and not isinstance(school, NoCorrection):
        fine = np.interp(np.arange((times.size - 1) * STRETCHES + 1) / STRETCHES, np.arange(times.size), times)
        times, metered = fine, np.exp(np.interp(fine, times, np.log(metered)))
    return Course(times, np.maximum(1 / np.atleast_1d(school.adjusted_s(metered)), LEAST_RATE))


@dataclass(frozen=True)
class Closing:
    """seconds from times_s[0] to the moment of closing; beyond_last: whether that lies past the last point known."""

    seconds: float
    beyond_last: bool


def closing(times_s, ev100, f_number, iso, reciprocity):
    """The Closing of an exposure that is opened at times_s[0].

    times_s [s, strictly increasing], ev100, both shape (n,), straight between points and constant after the last;
    f_number, iso [above 0]; reciprocity: a school. An end that never comes is inf, beyond the last point.
    Raises ValueError outside. Source: as course().
    """
    found = course(times_s, metered_s(np.atleast_1d(ev100), f_number, iso), reciprocity)
    end = found.reach_s(found.times_s[0], 1.0)
    return Closing(float(end - found.times_s[0]), bool(end > found.times_s[-1]))


def closing_time_s(times_s, ev100, f_number, iso):
    """The seconds from times_s[0] until the integral of dt / metered_s(ev100(t)) reaches 1; as closing()."""
    return closing(times_s, ev100, f_number, iso, NoCorrection()).seconds
