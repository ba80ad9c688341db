"""What a can will draw, in one sentence with its remedy, and the facts behind it."""

from dataclasses import dataclass

import numpy as np

from chimney.parts.scales import compass, number
from chimney.solar.craft import wedge_mm
from pinhole import solargraph, sun
from pinhole.solargraph import pointing

# Below this share of its time the sun is hardly on the paper.
LITTLE = 0.35
# Days of trails that make a band; a year is when emulsion begins to rot (common practice).
ROTS_DAYS = 366


@dataclass(frozen=True)
class Advice:
    """headline: a finding; sentence: what is wrong and its remedy; remedy_tilt: to be taken, or
    None.
    """

    headline: str
    sentence: str
    remedy_tilt: float | None = None


def advice(prediction, name):
    """The Advice on a craft.Prediction."""
    survey = prediction.survey
    if survey.days_on_paper == 0:
        return _nothing(prediction, name)
    if prediction.minutes:
        return _window(prediction, name)
    over = solargraph.spans(prediction.track.days, prediction.trails.noon_over_top)
    if over:
        return _over(prediction, name, over)
    if survey.share_on_paper < LITTLE:
        share = round(100 * survey.share_on_paper)
        return Advice(
            f"{name} sees little of the sun",
            f"Only {share} % of its time lies on the paper: turn it to the "
            f"{_noon_side(prediction)}, or take a wider can.",
        )
    if survey.days > ROTS_DAYS:
        return Advice(
            f"{name} stays out too long", "Emulsion rots after about a year: bring it home before."
        )
    kept = (
        "the whole climb of the sun"
        if survey.days > 150
        else f"all {survey.days} days"
        if survey.days > 1
        else "the day"
    )
    lean = (
        f"Leaning back {number(prediction.pointing.tilt_deg, 3)}°, no"
        if prediction.pointing.tilt_deg > 0
        else "No"
    )
    return Advice(f"{name} will keep {kept}", f"{lean} noon goes over the top.")


def _nothing(prediction, name):
    if not prediction.track.up.any():
        return Advice(
            f"{name} will see no sun",
            "The sun stays below the horizon all these days: take other days.",
        )
    if not prediction.trails.counted.any():
        return Advice(
            f"{name} will see no sun",
            "The skyline hides it all these days, or the hole is shut then: lower the "
            "skyline, or other times.",
        )
    if prediction.pointing.tilt_deg < -30:
        return Advice(f"{name} looks at the ground", "No sun reaches its paper: lean it back.")
    return Advice(
        f"{name} looks past the sun",
        f"No sun reaches its paper: turn it towards the {_noon_side(prediction)}.",
    )


def _window(prediction, name):
    day = int(np.argmax(prediction.trails.on_paper.any(axis=1)))
    at = prediction.track.minutes[prediction.trails.on_paper[day]]
    if len(prediction.track.days) > 1 and prediction.minutes[0] == prediction.minutes[1]:
        return Advice(
            f"{name} will draw a figure of eight",
            f"On {prediction.survey.days_on_paper} of {prediction.survey.days} days the "
            "sun at that "
            "clock time lies on the paper.",
        )
    times = f"{at[0] // 60:02d}:{at[0] % 60:02d} to {at[-1] // 60:02d}:{at[-1] % 60:02d}"
    open_for = prediction.trails.counted[day].sum()
    whole = (
        "all the while"
        if len(at) == open_for
        else f"{len(at) * (prediction.track.minutes[1] - prediction.track.minutes[0])} "
        "minutes of it"
    )
    return Advice(
        f"{name} has the sun in the frame, {whole}",
        f"From {times} on the standard clock on the first such day.",
    )


def _over(prediction, name, over):
    days = "; ".join(
        f"{_day(first)} to {_day(last)}" if first != last else _day(first)
        for first, last in over[:3]
    )
    tilt = pointing.least_tilt_deg(
        prediction.track,
        prediction.back,
        prediction.pointing.azimuth_deg,
        prediction.pointing.roll_deg,
    )
    sideways = "east or west"
    if tilt is None or tilt <= prediction.pointing.tilt_deg:
        return Advice(
            f"{name} loses its noons", f"From {days} noon passes over the top: face it {sideways}."
        )
    camera, wedge = prediction.camera, wedge_mm(prediction.camera, tilt)
    noons = prediction.survey.days_noon_over_top
    lost = "1 noon" if noons == 1 else f"{noons} noons"
    deep, is_can = number(camera.length_mm), camera.back == "can"
    return Advice(
        f"{name} loses {lost} over the top",
        f"From {days} noon passes over the top: lean it back {number(tilt, 3)}°, which "
        f"is a {wedge:.0f} mm wedge under "
        f"a {deep} mm {'can' if is_can else 'box'}, or face it {sideways}.",
        tilt,
    )


def _noon_side(prediction):
    azimuth = float(np.median(prediction.track.noon_azimuth_deg))
    return {"N": "north", "S": "south"}.get(compass(azimuth)[0], "noon sun")


def _day(day):
    return f"{day.day} {day:%B}"


def facts(prediction):
    """[(term, words)] behind the sentence."""
    return [*_facts_of_days(prediction.survey), *_facts_of_lines(prediction), _darkens(prediction)]


def _facts_of_days(survey):
    yield "days out", str(survey.days)
    yield "with the sun on the paper", str(survey.days_on_paper)
    if survey.first_on_paper:
        first, last = survey.first_on_paper, survey.last_on_paper
        yield "first and last", f"{_day(first)} {first.year}, {_day(last)} {last.year}"
    if not np.isnan(survey.share_on_paper):
        yield "of the sun's time above the skyline", f"{100 * survey.share_on_paper:.0f} %"
    if not np.isnan(survey.y_min_mm):
        # y grows toward camera-up, and a high sun lies low.
        low, high = -survey.y_max_mm, -survey.y_min_mm
        yield "on the paper, as it lies", f"from {_from_middle(low)} to {_from_middle(high)}"


def _from_middle(below_mm):
    """ "20.5 mm above the middle"."""
    return f"{abs(below_mm):.1f} mm {'below' if below_mm >= 0 else 'above'} the middle"


def _facts_of_lines(prediction):
    lines = prediction.lines
    disc = f"the disc of {sun.DISC_DEG}° and the hole"
    yield "a line is wide", f"{lines.width_mm:.2f} mm: {disc}"
    gaps = lines.gaps_mm[np.isfinite(lines.gaps_mm)]
    if gaps.size:
        apart = solargraph.spans(prediction.track.days[:-1], lines.apart)
        words = f"{gaps.min():.2f} to {gaps.max():.2f} mm at noon"
        spans = ", ".join(f"{_day(a)} to {_day(b)}" for a, b in apart[:3])
        merged = f"; apart {spans}" if apart else "; lines merge into a band all along"
        yield "from day to day", words + merged


# How a trail darkens, up to so many times a usual one (common practice).
DARKENS = ((0.15, "too pale"), (0.5, "thin"), (4, "good"), (np.inf, "dense, colours may turn"))


def _darkens(prediction):
    ratio = solargraph.darkening(prediction.trails, prediction.camera.f_number, prediction.sunshine)
    dark = next(words for limit, words in DARKENS if ratio < limit)
    return "darkens", f"{number(ratio, 2)} times a usual ninety days at f/200: {dark}"
