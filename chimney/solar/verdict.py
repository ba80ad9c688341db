"""What a can will draw, in one sentence with its remedy, and the facts behind it."""

from dataclasses import dataclass

import numpy as np

from chimney.parts.scales import compass, number
from pinhole import pointing, solargraph, sun

# Below this share of its time the sun is hardly on the paper.
LITTLE = 0.35
# Days of trails that make a band; a year is when emulsion begins to rot (common practice).
ROTS_DAYS = 366


@dataclass(frozen=True)
class Verdict:
    """headline: a finding; sentence: what is wrong and its remedy; remedy_tilt: to be taken, or None."""

    headline: str
    sentence: str
    remedy_tilt: float | None = None


def of(seen, name):
    """The Verdict of a flows.View."""
    survey = seen.survey
    if survey.days_on_paper == 0:
        return _nothing(seen, name)
    if seen.minutes:
        return _window(seen, name)
    over = solargraph.spans(seen.track.days, seen.look.noon_over_top)
    if over:
        return _over(seen, name, over)
    if survey.share_on_paper < LITTLE:
        share = round(100 * survey.share_on_paper)
        return Verdict(
            f"{name} sees little of the sun",
            f"Only {share} % of its time lies on the paper: turn it to the {_noon_side(seen)}, or take a wider can.",
        )
    if survey.days > ROTS_DAYS:
        return Verdict(f"{name} stays out too long", "Emulsion rots after about a year: bring it home before.")
    kept = (
        "the whole climb of the sun"
        if survey.days > 150
        else f"all {survey.days} days"
        if survey.days > 1
        else "the day"
    )
    lean = f"Leaning back {number(seen.pointing.tilt_deg, 3)}°, no" if seen.pointing.tilt_deg > 0 else "No"
    return Verdict(f"{name} will keep {kept}", f"{lean} noon goes over the top.")


def _nothing(seen, name):
    if not seen.track.up.any():
        return Verdict(f"{name} will see no sun", "The sun stays below the horizon all these days: take other days.")
    if not seen.look.counted.any():
        return Verdict(
            f"{name} will see no sun",
            "The skyline hides it all these days, or the hole is shut then: lower the skyline, or other times.",
        )
    if seen.pointing.tilt_deg < -30:
        return Verdict(f"{name} looks at the ground", "No sun reaches its paper: lean it back.")
    return Verdict(f"{name} looks past the sun", f"No sun reaches its paper: turn it towards the {_noon_side(seen)}.")


def _window(seen, name):
    day = int(np.argmax(seen.look.on_paper.any(axis=1)))
    at = seen.track.minutes[seen.look.on_paper[day]]
    if len(seen.track.days) > 1 and seen.minutes[0] == seen.minutes[1]:
        return Verdict(
            f"{name} will draw a figure of eight",
            f"On {seen.survey.days_on_paper} of {seen.survey.days} days the sun at that clock time lies on the paper.",
        )
    times = f"{at[0] // 60:02d}:{at[0] % 60:02d} to {at[-1] // 60:02d}:{at[-1] % 60:02d}"
    open_for = seen.look.counted[day].sum()
    whole = (
        "all the while"
        if len(at) == open_for
        else f"{len(at) * (seen.track.minutes[1] - seen.track.minutes[0])} minutes of it"
    )
    return Verdict(
        f"{name} has the sun in the frame, {whole}", f"From {times} on the standard clock on the first such day."
    )


def _over(seen, name, over):
    days = "; ".join(f"{_day(first)} to {_day(last)}" if first != last else _day(first) for first, last in over[:3])
    tilt = pointing.least_tilt_deg(seen.track, seen.back, seen.pointing.azimuth_deg, seen.pointing.roll_deg)
    sideways = "east or west"
    if tilt is None or tilt <= seen.pointing.tilt_deg:
        return Verdict(f"{name} loses its noons", f"From {days} noon passes over the top: face it {sideways}.")
    wedge = pointing.wedge_mm(seen.camera.focal_mm, tilt)
    return Verdict(
        f"{name} loses {seen.survey.days_noon_over_top} noons over the top",
        f"From {days} noon passes over the top: lean it back {number(tilt, 3)}°, which is a {wedge:.0f} mm wedge under "
        f"a {number(seen.camera.focal_mm)} mm {'can' if seen.camera.back == 'can' else 'box'}, or face it {sideways}.",
        tilt,
    )


def _noon_side(seen):
    azimuth = float(np.median(seen.track.noon_azimuth_deg))
    return {"N": "north", "S": "south"}.get(compass(azimuth)[0], "noon sun")


def _day(day):
    return f"{day.day} {day:%B}"


def facts(seen):
    """[(term, words)] behind the sentence."""
    survey, lines = seen.survey, seen.lines
    found = [("days out", str(survey.days)), ("with the sun on the paper", str(survey.days_on_paper))]
    if survey.first_on_paper:
        first, last = survey.first_on_paper, survey.last_on_paper
        found.append(("first and last", f"{_day(first)} {first.year}, {_day(last)} {last.year}"))
    if not np.isnan(survey.share_on_paper):
        found.append(("of its time above the skyline", f"{100 * survey.share_on_paper:.0f} %"))
    if not np.isnan(survey.y_min_mm):
        # y grows toward camera-up, and a high sun lies low.
        low, high = -survey.y_max_mm, -survey.y_min_mm
        found.append(("on the paper", f"{low:.1f} to {high:.1f} mm below its middle, as it lies"))
    found.append(("a line is wide", f"{lines.width_mm:.2f} mm: the disc of {sun.DISC_DEG}° and the hole"))
    gaps = lines.gaps_mm[np.isfinite(lines.gaps_mm)]
    if gaps.size:
        apart = solargraph.spans(seen.track.days[:-1], lines.apart)
        words = f"{gaps.min():.2f} to {gaps.max():.2f} mm at noon"
        merged = (
            "; lines merge into a band all along"
            if not apart
            else "; apart " + ", ".join(f"{_day(a)} to {_day(b)}" for a, b in apart[:3])
        )
        found.append(("from day to day", words + merged))
    ratio = solargraph.darkening(seen.look, seen.camera.f_number, seen.sunshine)
    dark = "too pale" if ratio < 0.15 else "thin" if ratio < 0.5 else "good" if ratio < 4 else "dense, colours may turn"
    found.append(("darkens", f"{number(ratio, 2)} times a usual ninety days at f/200: {dark}"))
    return found
