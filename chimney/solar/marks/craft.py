"""Calls of marks to the craft: how a can really stood, against how it was meant to."""

from dataclasses import dataclass

import numpy as np

from chimney.parts.scales import number
from chimney.solar.craft import predict, standard_offset_h
from pinhole import solargraph, sun
from pinhole.projection import Pointing

# Less than this of a turn is none, in words [degrees].
WORTH_DEG = 0.5
# More corners of a skyline than these are not offered.
MOST_DAYS_TO_MARK = 40
# A turn moves trails along themselves more than across: how much of it counts for dates (geometry,
# at middle latitudes).
ACROSS = 0.3


@dataclass(frozen=True)
class StoodFit:
    """fit: the craft's Fit; meant: the Pointing it was planned with; words: what came of it."""

    fit: solargraph.Fit
    meant: Pointing
    words: str

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


def on_paper(can, mark):
    """(x_mm, y_mm, what it lies on) of a mark on the upright positive, which shows left at the
    left.
    """
    half_across, half_high = can.camera.geometry.half_mm
    x = (2 * mark.across - 1) * half_across
    return x, (2 * mark.down - 1) * half_high, mark.on


def stood(can, marks):
    """The StoodFit of marks. Raises ValueError where they fix nothing."""
    first, _ = can.days_of
    meant = can.stands[0][1]
    fit = solargraph.fit_pointing(
        can.place.latitude_deg,
        can.place.longitude_deg,
        can.camera.geometry,
        [on_paper(can, mark) for mark in marks],
        utc_offset_h=standard_offset_h(can.place, first),
        start=meant,
    )
    return StoodFit(fit, meant, _told(fit, meant))


def next_time(can, fit):
    """The fields of the planner, from how it stood."""
    aim = {"azimuth_deg": f"{fit.azimuth_deg:.1f}", "tilt_deg": f"{fit.tilt_deg:.1f}"}
    return {"place": can.place_id, "camera": can.camera_id} | aim


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
