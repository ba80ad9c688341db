"""Sentences on what a can will draw, with the remedy."""

from dataclasses import dataclass, replace

import numpy as np

from chimney.parts.scales import compass, number
from chimney.solar.advising.craft import Cure, kept_out, stand_of
from chimney.solar.advising.craft import cure as cure_of
from chimney.solar.advising.craft import fates as fates_of
from chimney.solar.wording import say_spans, wedge_under
from pinhole import solargraph
from pinhole.solargraph import noons
from pinhole.solargraph.noons import HANGING_DEG

# Below this share of its time the sun is hardly on the paper.
LITTLE = 0.35
# A thinner plate that brings less of the sun's time is not worth a new hole.
WORTH_SHARE = 0.1
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
    advised = _advised(prediction, name)
    return replace(advised, sentence=advised.sentence + _kept_out(prediction))


def _kept_out(prediction):
    """ " The opening at the plate keeps ... off" where that matters, else ""."""
    share = kept_out(prediction)
    if share < WORTH_SHARE:
        return ""
    _, cause = prediction.camera.cut_off_deg
    cure = "a wider opening" if "opening" in cause else "a thinner plate"
    return (
        f" {cause[0].upper()}{cause[1:]} keeps {round(100 * share)} % of the sun's time off its "
        f"paper: {cure} lets it in."
    )


def _advised(prediction, name):
    survey = prediction.survey
    if survey.days_on_paper == 0:
        return _nothing(prediction, name)
    if prediction.minutes:
        return _window(prediction, name)
    fates = fates_of(prediction)
    lost = (fates != noons.ON) & ~np.isin(fates, noons.UNSEEN)
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
    if np.isin(fates, noons.UNSEEN).any():
        return "every noon with a sun"
    if survey.days > 150:
        return "the whole climb of the sun"
    return f"all {survey.days} days" if survey.days > 1 else "the day"


def _all_kept(prediction, fates):
    count, tilt = int((fates == noons.ON).sum()), prediction.pointing.tilt_deg
    hidden = int((fates == noons.HIDDEN).sum())
    if not count:
        below = "skyline" if hidden else "horizon"
        return f"The sun stands below the {below} at noon all these days."
    subject_words = "Its noon lies" if count == 1 else f"All {count} noons lie"
    lean = f", leaning back {number(tilt, 3)}°" if tilt > 0 else ""
    behind = f" The skyline hides {hidden} more." if hidden else ""
    return f"{subject_words} on the paper{lean}.{behind}{_room(prediction, count)}"


def _room(prediction, count):
    """Words for how far off it may hang."""
    stand, tilt = stand_of(prediction), prediction.pointing.tilt_deg
    lowest, highest = number(stand.least_deg, 3), number(stand.most_deg, 3)
    them, some = ("them", "some") if count > 1 else ("it", "it")
    if min(tilt - stand.least_deg, stand.most_deg - tilt) >= HANGING_DEG:
        return f" Leans from {lowest}° to {highest}° keep {them}."
    safer = f"; {number(stand.pointing.tilt_deg, 3)}° is safer" if stand.steady else ""
    return (
        f" Leans from {lowest}° to {highest}° keep {them}: hung {HANGING_DEG:g}° off the can may "
        f"lose {some}{safer}."
    )


def advice_on(can, prediction, survey, noons_on_paper):
    """The Advice on a kept can: nothing is advised any more to one that hangs no longer, and a
    guess on purpose is let. survey, noons_on_paper: over all the ways it stood.
    """
    if can.kind == can.Kind.GUESS:
        return on_purpose(prediction, str(can))
    if can.stage in ("planned", "out"):
        return advice(prediction, str(can))
    share = 0 if np.isnan(survey.share_on_paper) else round(100 * survey.share_on_paper)
    stood = "found to stand" if can.was_measured or len(can.stands) > 1 else "planned to stand"
    stood = "read off its picture" if can.is_read else stood
    noons_said = "1 noon" if noons_on_paper == 1 else f"{noons_on_paper} noons"
    return Advice(
        f"What {can} will have drawn",
        f"{survey.days} days, the sun on the paper on {survey.days_on_paper} of them and for "
        f"{share} % of its time; {noons_said}, as it was {stood}.",
    )


def on_purpose(prediction, name):
    """Words for a guess on purpose: what it will see, and no advice."""
    survey = prediction.survey
    share = 0 if np.isnan(survey.share_on_paper) else round(100 * survey.share_on_paper)
    return Advice(
        f"{name} is a guess on purpose",
        f"{share} % of the sun's time and {int(prediction.trails.noon_on_paper.sum())} of "
        f"{survey.days} noons fall on its paper.",
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
    cure = cure_of(prediction)
    if cure is None:
        towards = "lean it back" if ground else f"turn it towards the {_noon_side(prediction)}"
        return Advice(headline, f"No sun reaches its paper: {towards}.")
    how, then = _how(prediction, cure), _then(prediction, cure)
    return Advice(headline, f"No sun reaches its paper: {how}. {then}", cure)


def _eight(prediction, name):
    """A figure of eight, whole or cut off, and what cures that."""
    counted, on_paper = prediction.trails.counted.any(axis=1), prediction.survey.days_on_paper
    total, days = int(counted.sum()), prediction.survey.days
    hidden = f" On {days - total} more it stands too low." if days > total else ""
    if on_paper == total:
        return Advice(
            f"{name} will draw a figure of eight",
            f"On {on_paper} of {days} days the sun at that clock time lies on the paper.{hidden}",
        )
    lost = solargraph.spans(
        prediction.track.days, counted & ~prediction.trails.on_paper.any(axis=1)
    )
    happens = f"On {total - on_paper} of {days} days, {say_spans(lost)}, it misses the paper"
    headline, cure = f"{name} will cut its figure of eight off", cure_of(prediction)
    if cure is None:
        return Advice(headline, f"{happens}. No way to stand keeps more of it with this paper.")
    whole_words = (
        "It is whole" if cure.stand.count == total else f"{cure.stand.count} days are on it"
    )
    sentence = f"{happens}: {_how(prediction, cure)}. {whole_words} then.{hidden}"
    return Advice(headline, sentence, cure)


def _window(prediction, name):
    if prediction.is_eight:
        return _eight(prediction, name)
    day = int(np.argmax(prediction.trails.on_paper.any(axis=1)))
    minutes = prediction.track.minutes[prediction.trails.on_paper[day]]
    times = " to ".join(f"{edge // 60:02d}:{edge % 60:02d}" for edge in (minutes[0], minutes[-1]))
    open_for = prediction.trails.counted[day].sum()
    is_whole = (
        "all the while"
        if len(minutes) == open_for
        else f"{len(minutes) * (prediction.track.minutes[1] - prediction.track.minutes[0])} "
        "minutes of it"
    )
    return Advice(
        f"{name} has the sun in the frame, {is_whole}",
        f"From {times} on the standard clock on the first such day.",
    )


# What is said of noons that are lost: how many of them, and of some days that noon does so.
LOST = {
    noons.OVER: ("over the top", "passes over the top"),
    noons.UNDER: ("below its picture", "stands below the picture"),
    noons.SIDE: ("past its side", "passes beside the paper"),
    noons.BEHIND: ("behind it", "stands behind the can"),
    noons.KEPT_OUT: ("beyond what its hole lets in", "comes too much from aside for the hole"),
}


def _lost(prediction, name, fates, lost):
    """Noons that are not on the paper: which, why, and what cures it."""
    kinds = sorted(LOST, key=lambda kind: -int((fates == kind).sum()))
    kinds = [kind for kind in kinds if (fates == kind).any()]
    count, above = int(lost.sum()), int((~np.isin(fates, noons.UNSEEN)).sum())
    sentence = f"{count} noon{'s' if count > 1 else ''}"
    headline = f"{name} loses {sentence} {LOST[kinds[0]][0]}"
    if count == above and above > 1:
        headline = f"{name} keeps no noon"
    happens = "; ".join(_when(prediction, fates == kind, LOST[kind][1]) for kind in kinds)
    happens = happens[0].upper() + happens[1:]
    cure = cure_of(prediction)
    if cure is None:
        return Advice(headline, f"{happens}. No way to stand keeps more of them with this paper.")
    how, then = _how(prediction, cure), _then(prediction, cure)
    return Advice(headline, f"{happens}: {how}. {then}", cure)


def _when(prediction, flags, does):
    spans = solargraph.spans(prediction.track.days, flags)
    begins = "on" if spans[0][0] == spans[0][1] else "from"
    return f"{begins} {say_spans(spans)} noon {does}"


def _how(prediction, cure):
    """Words for what to do."""
    stand, now = cure.stand, prediction.pointing
    lowest, highest, tilt = (
        number(degrees, 3) for degrees in (stand.least_deg, stand.most_deg, stand.pointing.tilt_deg)
    )
    # The wedge is that of the lean that is advised.
    wedge = wedge_under(prediction, stand.pointing.tilt_deg)
    room = f"take {tilt}°{wedge}"
    if stand.steady:
        room = f"{tilt}°{wedge} still works if it hangs {HANGING_DEG:g}° off"
    turned = stand.pointing.azimuth_deg != now.azimuth_deg
    upright = "hang it upright, " if stand.pointing.roll_deg != now.roll_deg else ""
    if turned:
        azimuth = stand.pointing.azimuth_deg
        turn_words = f"{upright}turn it to {azimuth:.0f}° {compass(azimuth)}"
        if stand.least_deg <= 0 <= stand.most_deg and stand.pointing.tilt_deg == 0:
            return f"{turn_words} and stand it straight"
        return f"{turn_words} and lean it back {lowest}° to {highest}°; {room}"
    if now.tilt_deg > stand.most_deg:
        return f"{upright}lean it back no more than {highest}°; {room}"
    if stand.least_deg <= now.tilt_deg:
        return f"{upright}lean it back {tilt}°{wedge}"
    return f"{upright}lean it back {lowest}° to {highest}°; {room}"


def _then(prediction, cure):
    """Words for what it gives and what it costs."""
    count = cure.stand.count
    noons_said = f"All {count} noons" if count == cure.total else f"{count} of {cure.total} noons"
    noons_said = "The noon" if cure.total == 1 else noons_said
    hidden = int((fates_of(prediction) == noons.HIDDEN).sum())
    noons_said += f" that the skyline lets in (it hides {hidden})" if hidden else ""
    before, after = prediction.survey.share_on_paper, cure.share
    share = f"{100 * after:.0f} % of the sun's time instead of {100 * np.nan_to_num(before):.0f} %"
    land = "" if cure.landscape else " The landscape falls off the sheet."
    return f"{noons_said} then, and {share}.{land}"


def _noon_side(prediction):
    azimuth = float(np.median(prediction.track.noon_azimuth_deg))
    return {"N": "north", "S": "south"}.get(compass(azimuth)[0], "noon sun")
