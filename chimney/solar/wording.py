"""What a can will draw, in one sentence with its remedy, and the facts behind it."""

from dataclasses import dataclass

import numpy as np

from chimney.parts.scales import compass, number
from chimney.solar.craft import Cure, darkening, wedge_mm
from chimney.solar.craft import cure as cure_of
from chimney.solar.craft import fates as fates_of
from pinhole import solargraph, sun
from pinhole.solargraph import noons
from pinhole.solargraph.noons import HANGING_DEG

# Below this share of its time the sun is hardly on the paper.
LITTLE = 0.35
# Days of trails that make a band; a year is when emulsion begins to rot (common practice).
ROTS_DAYS = 366


@dataclass(frozen=True)
class Advice:
    """headline: a finding; sentence: what is wrong and what cures it; cure: what is applied by one
    tap, or None.
    """

    headline: str
    sentence: str
    cure: Cure | None = None


def advice(prediction, name):
    """The Advice on a craft.Prediction."""
    survey = prediction.survey
    if survey.days_on_paper == 0:
        return _nothing(prediction, name)
    if prediction.minutes:
        return _window(prediction, name)
    fates = fates_of(prediction)
    lost = (fates != noons.ON) & (fates != noons.DOWN)
    if lost.any():
        return _lost(prediction, name, fates, lost)
    if survey.share_on_paper < LITTLE:
        share = round(100 * survey.share_on_paper)
        return Advice(
            f"{name} sees little of the sun",
            f"Only {share} % of its time lies on the paper: a wider can sees more.",
        )
    if survey.days > ROTS_DAYS:
        return Advice(
            f"{name} stays out too long", "Emulsion rots after about a year: bring it home before."
        )
    return Advice(f"{name} will keep {_kept(survey, fates)}", _all_kept(prediction, fates))


def _kept(survey, fates):
    if (fates == noons.DOWN).any():
        return "every noon with a sun"
    if survey.days > 150:
        return "the whole climb of the sun"
    return f"all {survey.days} days" if survey.days > 1 else "the day"


def _all_kept(prediction, fates):
    count, tilt = int((fates == noons.ON).sum()), prediction.pointing.tilt_deg
    if not count:
        return "The sun stands below the horizon at noon all these days."
    which = "Its noon lies" if count == 1 else f"All {count} noons lie"
    lean = f", leaning back {number(tilt, 3)}°" if tilt > 0 else ""
    hidden = _hidden_noons(prediction)
    behind = f" The skyline hides {hidden} of them." if hidden else ""
    return f"{which} on the paper{lean}.{behind}"


def _hidden_noons(prediction):
    track = prediction.track
    line = np.where(
        prediction.skyline.leafy(track.days),
        prediction.skyline.altitude_deg(track.noon_azimuth_deg, True),
        prediction.skyline.altitude_deg(track.noon_azimuth_deg),
    )
    return int(((track.noon_altitude_deg > 0) & (track.noon_altitude_deg <= line)).sum())


def on_purpose(prediction, name):
    """What a guess on purpose is told: what it will see, and no advice."""
    survey = prediction.survey
    share = 0 if np.isnan(survey.share_on_paper) else round(100 * survey.share_on_paper)
    return Advice(
        f"{name} is a guess on purpose",
        f"{share} % of the sun's time and {int(prediction.trails.noon_on_paper.sum())} of "
        f"{survey.days} noons fall on its paper. Let it.",
    )


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
    ground = prediction.pointing.tilt_deg < -30
    headline = f"{name} looks {'at the ground' if ground else 'past the sun'}"
    found = None if prediction.minutes else cure_of(prediction)
    if found is None:
        towards = "lean it back" if ground else f"turn it towards the {_noon_side(prediction)}"
        return Advice(headline, f"No sun reaches its paper: {towards}.")
    how, then = _how(prediction, found), _then(prediction, found)
    return Advice(headline, f"No sun reaches its paper: {how}. {then}", found)


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


# What is said of noons that are lost: how many of them, and of some days that noon does so.
LOST = {
    noons.OVER: ("over the top", "passes over the top"),
    noons.UNDER: ("below its picture", "stands below the picture"),
    noons.SIDE: ("past its side", "passes beside the paper"),
    noons.BEHIND: ("behind it", "stands behind the can"),
}


def _lost(prediction, name, fates, lost):
    """Noons that are not on the paper: which, why, and what cures it."""
    kinds = sorted(LOST, key=lambda kind: -int((fates == kind).sum()))
    kinds = [kind for kind in kinds if (fates == kind).any()]
    count, above = int(lost.sum()), int((fates != noons.DOWN).sum())
    said = f"{count} noon{'s' if count > 1 else ''}"
    headline = f"{name} loses {said} {LOST[kinds[0]][0]}"
    if count == above and above > 1:
        headline = f"{name} keeps no noon"
    happens = "; ".join(_when(prediction, fates == kind, LOST[kind][1]) for kind in kinds)
    happens = happens[0].upper() + happens[1:]
    found = cure_of(prediction)
    if found is None:
        return Advice(headline, f"{happens}. No way to stand keeps more of them with this paper.")
    how, then = _how(prediction, found), _then(prediction, found)
    return Advice(headline, f"{happens}: {how}. {then}", found)


def _when(prediction, flags, does):
    spans = solargraph.spans(prediction.track.days, flags)
    days = ", ".join(
        f"{_day(first)} to {_day(last)}" if first != last else _day(first)
        for first, last in spans[:3]
    )
    more = " and later" if len(spans) > 3 else ""
    return f"{'on' if spans[0][0] == spans[0][1] else 'from'} {days}{more} noon {does}"


def _how(prediction, found):
    """What to do, in words."""
    stand, now = found.stand, prediction.pointing
    least, most, tilt = (
        number(degrees, 3) for degrees in (stand.least_deg, stand.most_deg, stand.pointing.tilt_deg)
    )
    room = f"take {tilt}°"
    if stand.steady:
        room = f"{tilt}° leaves {HANGING_DEG:g}° for hanging it off"
    turned = stand.pointing.azimuth_deg != now.azimuth_deg
    upright = "hang it upright, " if stand.pointing.roll_deg != now.roll_deg else ""
    if turned:
        azimuth = stand.pointing.azimuth_deg
        way = f"{upright}turn it to {azimuth:.0f}° {compass(azimuth)}"
        if stand.least_deg <= 0 <= stand.most_deg and stand.pointing.tilt_deg == 0:
            return f"{way} and stand it straight"
        return f"{way} and lean it back {least}° to {most}°; {room}"
    if now.tilt_deg > stand.most_deg:
        return f"{upright}lean it back no more than {most}°; {room}"
    if stand.least_deg <= now.tilt_deg:
        return f"{upright}lean it back {tilt}°"
    return f"{upright}lean it back {least}°{_wedge(prediction.camera, stand.least_deg)}; {room}"


def _wedge(camera, tilt_deg):
    wedge = wedge_mm(camera, tilt_deg)
    if not wedge:
        return ""
    deep, what = number(camera.length_mm), "can" if camera.back == "can" else "box"
    return f", which is a {wedge:.0f} mm wedge under a {deep} mm {what}"


def _then(prediction, found):
    """What it gives and what it costs."""
    kept = found.stand.noons
    noons_said = f"All {kept} noons" if kept == found.noons else f"{kept} of {found.noons} noons"
    noons_said = "The noon" if found.noons == 1 else noons_said
    before, after = prediction.survey.share_on_paper, found.share
    share = f"{100 * after:.0f} % of the sun's time instead of {100 * np.nan_to_num(before):.0f} %"
    land = "" if found.landscape else " The landscape falls off the sheet."
    return f"{noons_said} then, and {share}.{land}"


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
    if np.isfinite(lines.usual_mm):
        least, most = (f"{width:.2f}" for width in lines.width_mm)
        wide = least if least == most else f"{least} to {most}"
        yield "a line is wide", f"{wide} mm: the disc of {sun.DISC_DEG}° and the hole"
    gaps = lines.gaps_mm[np.isfinite(lines.gaps_mm)]
    if gaps.size:
        words = f"{gaps.min():.2f} to {gaps.max():.2f} mm at noon: clear days touch"
        dull = lines.opens_after
        if dull is None:
            yield "from day to day", f"{words}, and no spell of dull days parts them"
        else:
            spell = "one dull day" if dull == 1 else f"{dull} dull days"
            yield "from day to day", f"{words}; {spell} between them can leave a gap"


# How a trail darkens, up to so many minutes of clear sun at f/200 on one place; a single clear day
# gives about two, and that is seen (common practice).
DARKENS = ((0.3, "too pale"), (0.8, "thin"), (60, "good"), (np.inf, "dense, colours may turn"))


def _darkens(prediction):
    found = darkening(prediction)
    dark = next(words for limit, words in DARKENS if found.usual_min < limit)
    crowded = found.most_min > 1.2 * found.usual_min
    most = f", {number(found.most_min, 2)} where lines crowd" if crowded else ""
    return "darkens", (
        f"{dark}: the sun rests {number(found.usual_min, 2)} min on a place{most}, "
        "reckoned at f/200; a clear day gives about 2"
    )
