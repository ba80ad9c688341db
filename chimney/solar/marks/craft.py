"""Calls of marks to the craft: how a can really stood, against how it was meant to."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from chimney.parts import previews
from chimney.parts.scales import number
from chimney.results.placing import craft as placing
from chimney.solar.craft import predict, standard_offset_h
from pinhole import solargraph, sun
from pinhole.projection import Pointing
from pinhole.scans.place import UNIT_SQUARE, projective, upright

# Less than this of a turn is none, in words [degrees].
WORTH_DEG = 0.5
# More corners of a skyline than these are not offered.
MOST_DAYS_TO_MARK = 40
# A turn moves trails along themselves more than across: how much of it counts for dates (geometry,
# at middle latitudes).
ACROSS = 0.3


@dataclass(frozen=True)
class StoodFit:
    """fit: the craft's Fit; meant: the Pointing it was left with; words: what came of it; trouble:
    why that is not so, or "".
    """

    fit: solargraph.Fit
    meant: Pointing
    words: str
    trouble: str = ""

    @property
    def residuals(self):
        """Words for how far each mark lies off."""
        return [f"{abs(distance):.1f} mm" for distance in self.fit.residuals_mm]


def days_to_mark(can):
    """Days whose trails stand out: the first, the last, and solstices between."""
    first, last = can.days_of
    days = {first, last}
    for year in range(first.year, last.year + 1):
        for moment in sun.seasons(year)[1::2]:
            day = moment.astype("datetime64[D]").astype(object)
            if first < day < last:
                days.add(day)
    return sorted(days)


def points_to_mark(can):
    """The corners of its skyline, as they were typed: [(direction, height)]."""
    return [(float(azimuth) % 360, float(height)) for azimuth, height, *_ in can.horizon][
        :MOST_DAYS_TO_MARK
    ]


@dataclass(frozen=True)
class Laid:
    """Place of the paper on the upright positive: corners (4, 2) as shares of it, clockwise from
    its top left.
    """

    corners: np.ndarray

    @classmethod
    def of(cls, scan):
        """The Laid of a Scan that was looked through: as somebody dragged its corners, else found;
        its picture shows left at the left.
        """
        array = previews.array_of(scan.preview.jpeg)
        shares = np.array(placing.as_shares(placing.place_of(scan, array), array.shape))
        if scan.mirrored:
            shares = shares[[1, 0, 3, 2]] * [-1, 1] + [1, 0]
        for _ in range(scan.quarters):
            # A quarter clockwise: what was below left is above left.
            shares = np.roll(np.stack([1 - shares[:, 1], shares[:, 0]], axis=1), 1, axis=0)
        return cls(shares)

    def on_paper(self, across, down):
        """(along, down) as shares of the paper of a place on the picture."""
        along, below = projective(self.corners, UNIT_SQUARE, (across, down))
        return float(along), float(below)

    def cut(self, picture):
        """The paper alone of the upright positive, set upright."""
        size = np.array([picture.shape[1] - 1, picture.shape[0] - 1])
        grey = picture.mean(axis=2) if picture.ndim == 3 else picture
        return upright(grey, self.corners * size, max(grey.shape))

    def on_picture(self, along, down):
        """(across, down) on the picture of places on the paper, as shares, (n,) each."""
        return projective(UNIT_SQUARE, self.corners, (along, down))


def on_paper(can, mark, laid):
    """(x_mm, y_mm, what it lies on) of a mark on the upright positive, on which the paper lies
    as Laid.
    """
    half_across, half_high = can.camera.geometry.half_mm
    along, down = laid.on_paper(mark.across, mark.down)
    return (2 * along - 1) * half_across, (2 * down - 1) * half_high, mark.on


def is_in_span(can, mark):
    """True if the can was out on the day whose trail a mark lies on."""
    first, last = can.days_of
    return not isinstance(mark.on, date) or first <= mark.on <= last


def stood(can, marks, laid):
    """The StoodFit of marks on a picture on which the paper is Laid. Raises ValueError where they
    fix nothing.
    """
    first, _ = can.days_of
    meant = can.left
    fit = solargraph.fit_pointing(
        can.place.latitude_deg,
        can.place.longitude_deg,
        can.camera.geometry,
        [on_paper(can, mark, laid) for mark in marks],
        utc_offset_h=standard_offset_h(can.place, first),
        start=meant,
    )
    return StoodFit(fit, meant, _told(fit, meant), "" if fit.told else _trouble(fit, marks))


def _trouble(fit, marks):
    """Reason for which nothing follows from the marks, in words."""
    if fit.lies and fit.suspects:
        return (
            f"The marks fit a picture that is {fit.lies}: turn it on its page, or see whether two "
            "corners of the skyline are swapped."
        )
    if fit.suspects:
        worst = max(fit.suspects, key=lambda n: abs(fit.residuals_mm[n]))
        distance = f"{abs(fit.residuals_mm[worst]):.0f} mm"
        return (
            f"Mark {worst + 1} ({marks[worst].words}) lies {distance} from where the others would "
            "have it: take it away, or mark it again."
        )
    if all(isinstance(mark.on, date) for mark in marks):
        return "Trails alone tell no direction: mark the horizon, or a corner of the skyline."
    return (
        f"These marks tell the direction to {number(fit.azimuth_sd, 2)}° only: mark places that "
        "lie further apart, or a corner of the skyline."
    )


def next_time(fit):
    """The fields of the planner that say how it stood."""
    aim = {"azimuth_deg": f"{fit.azimuth_deg:.1f}", "tilt_deg": f"{fit.tilt_deg:.1f}"}
    return aim | {"roll_deg": f"{fit.roll_deg:.1f}"}


def predicted(can, fit):
    """The Prediction of the can as it stood."""
    first, last = can.days_of
    return predict(can.place, can.camera, fit.pointing, first, last, skyline=can.skyline)


def meant(can):
    """The Prediction of the can as it was planned, under the weather it was looked at with."""
    first, last = can.days_of
    sky = {"skyline": can.skyline, "weather": can.climate}
    return predict(can.place, can.camera, can.pointing, first, last, **sky)


@dataclass(frozen=True)
class DullWeather:
    """spans: [words of each run of dull days]; told_days: of how many days the picture tells."""

    spans: list
    told_days: int
    dull_days: int


def dull(prediction, fit, positive):
    """The DullWeather that the gaps in the picture date; positive: codes of the whole upright
    positive, grey or in colours.
    """
    light = positive.mean(axis=2) if positive.ndim == 3 else positive
    doubt = min(20.0, float(np.hypot(fit.azimuth_sd * ACROSS, fit.tilt_sd)))
    found = solargraph.dull_days(prediction.trails, prediction.back, light, doubt)
    days = sum(span.days for span in found.spans)
    return DullWeather([_dated(span) for span in found.spans], int(found.told.sum()), days)


def _dated(span):
    """ "3 to 9 May 2026, give or take 2 days"."""
    sure = max(1, round(span.give_or_take_days))
    if span.first == span.last:
        span_words = f"{span.first:%-d %b %Y}"
    elif (span.first.year, span.first.month) == (span.last.year, span.last.month):
        span_words = f"{span.first.day} to {span.last:%-d %b %Y}"
    else:
        span_words = f"{span.first:%-d %b} to {span.last:%-d %b %Y}"
    return f"{span_words}, give or take {sure} {'day' if sure == 1 else 'days'}"


def _told(fit, meant):
    """ "It stood 7 degrees left of the plan and leaned 4 further back: ..." """
    turned = (fit.azimuth_deg - meant.azimuth_deg + 180) % 360 - 180
    leaned = fit.tilt_deg - meant.tilt_deg
    sentences = []
    if abs(turned) >= WORTH_DEG:
        side = "right" if turned > 0 else "left"
        sentences.append(f"stood {number(abs(turned), 2)}° to the {side} of what was meant")
    if abs(leaned) >= WORTH_DEG:
        direction = "further back" if leaned > 0 else "further forward"
        sentences.append(f"leaned {number(abs(leaned), 2)}° {direction}")
    if abs(fit.roll_deg - meant.roll_deg) >= 2 * WORTH_DEG:
        sentences.append(f"hung {number(abs(fit.roll_deg - meant.roll_deg), 2)}° askew")
    if not sentences:
        return "It stood as it was meant to."
    joined = (
        sentences[0] if len(sentences) == 1 else f"{', '.join(sentences[:-1])} and {sentences[-1]}"
    )
    return f"It {joined}."
