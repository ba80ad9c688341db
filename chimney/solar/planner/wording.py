"""The facts behind the planner's sentence."""

import numpy as np

from chimney.parts.scales import number
from chimney.solar.craft import darkening
from chimney.solar.wording import say_day
from pinhole import sun


def facts(prediction, *, moving=False):
    """[(term, words)] behind the sentence; while it moves, without what takes longest."""
    darkens = ("darkens", "as soon as it rests") if moving else _darkens(prediction)
    return [*_facts_of_days(prediction.survey), darkens]


def fine_facts(prediction):
    """[(term, words)] for who wants to know where the lines lie and how wide they are."""
    return [*_facts_of_place(prediction.survey), *_facts_of_lines(prediction)]


def _facts_of_days(survey):
    if survey.first_on_paper:
        first, last = survey.first_on_paper, survey.last_on_paper
        yield "first and last", f"{say_day(first)} {first.year}, {say_day(last)} {last.year}"
    if not np.isnan(survey.share_on_paper):
        share = f"{100 * survey.share_on_paper:.0f} % of its time above the skyline"
        yield "the sun is on the paper for", share


def _facts_of_place(survey):
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
        narrowest, widest = (f"{width:.2f}" for width in lines.width_mm)
        wide = narrowest if narrowest == widest else f"{narrowest} to {widest}"
        yield "a line is wide", f"{wide} mm: the disc of {sun.DISC_DEG}° and the hole"
    gaps = lines.gaps_mm[np.isfinite(lines.gaps_mm)]
    if gaps.size:
        phrase = f"{gaps.min():.2f} to {gaps.max():.2f} mm at noon: clear days touch"
        dull = lines.opens_after
        if dull is None:
            yield "from day to day", f"{phrase}, and no spell of dull days parts them"
        else:
            spell = "one dull day" if dull == 1 else f"{dull} dull days"
            yield "from day to day", f"{phrase}; {spell} between them can leave a gap"


# How a trail darkens, up to so many minutes of clear sun at f/200 on one place; a single clear day
# gives about two, and that is seen (common practice).
DARKENING_WORDS = (
    (0.3, "too pale"),
    (0.8, "thin"),
    (60, "good"),
    (np.inf, "dense, colours may turn"),
)


def _darkens(prediction):
    rests = darkening(prediction)
    dark = next(phrase for limit, phrase in DARKENING_WORDS if rests.usual_min < limit)
    crowded = rests.most_min > 1.2 * rests.usual_min
    crowd_words = f", {number(rests.most_min, 2)} where lines crowd" if crowded else ""
    return "darkens", (
        f"{dark}: the sun rests {number(rests.usual_min, 2)} min on a place{crowd_words}, "
        "reckoned at f/200; a clear day gives about 2"
    )


def eclipse_name(eclipse, place):
    """ "Eclipse 12 Aug 2026"."""
    day = eclipse.greatest.astimezone(place.tz)
    return f"Eclipse {day.day} {day:%b %Y}"


def eclipse_words(eclipse, place):
    """ "12 August 2026: the moon covers 81 % of the sun, 19:07 to 20:26, most at 19:58" of an
    Eclipse, by the place's clock.
    """
    begins, greatest, ends = (
        moment.astimezone(place.tz) for moment in (eclipse.begins, eclipse.greatest, eclipse.ends)
    )
    return (
        f"{greatest.day} {greatest:%B %Y}: the moon covers {round(100 * eclipse.share)} % of the "
        f"sun, {begins:%H:%M} to {ends:%H:%M}, most at {greatest:%H:%M}"
    )
