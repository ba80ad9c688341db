"""Lessons in words, and what they would change."""

import math
from datetime import date

from chimney.lessons.craft import EYE_PRIOR_SD, LOW_SUN, own_exponent
from chimney.lessons.models import Finding
from chimney.parts.scales import number, size_of_stops
from pinhole import durations, light
from pinhole.lessons import PRIOR_SD, least_of

# Where an exponent is looked at in stops [s].
LONG_S = 600.0
# From how many stops of lengthening on a long time is told.
TOLD_STOPS = 1 / 3
# More sheets than these nobody makes for an answer.
MOST_SHEETS = 40


def sentence(finding):
    """A Finding as a lesson; what is not clear says so."""
    return SENTENCES[finding.kind](finding)


def _long_times(finding):
    paper, exponent = finding.paper, own_exponent(finding.paper)
    if exponent is None:
        direction = "too little" if finding.mean > 0 else "too much"
        size = size_of_stops(changes_stops(finding))
        long_words = f"by {size} at {durations.say(LONG_S)}{_unclear(finding)}"
        return f"The table of {paper} gives {direction} at long times, {long_words}."
    result = f"exponent {number(exponent + finding.mean, 3)} ({_ends(finding, exponent)})"
    if not finding.is_clear:
        return f"Long times of {paper}: {result}, which may still be {number(exponent, 3)}."
    if finding.mean > 0:
        from_s = 2 ** (TOLD_STOPS / finding.mean)
        beyond = f"Beyond {durations.say(durations.countable_s(from_s))} " if from_s < 7200 else ""
        does = f"{paper} does need more" if beyond else f"{paper} needs more"
        return f"{beyond}{does}: {result}."
    return f"{paper} needs less at long times than its school says: {result}."


def _ends(finding, exponent):
    return f"{number(exponent + finding.low, 3)} to {number(exponent + finding.high, 3)}"


def _camera(finding):
    camera = finding.camera
    if not finding.is_clear:
        return f"{camera}: nothing that its measured hole does not explain, so far."
    direction = "slow" if finding.mean > 0 else "fast"
    if camera.is_lens:
        return f"{camera} is {size_of_stops(finding.mean)} {direction}."
    was = camera.diameter_mm
    now = was * 2 ** (-finding.mean / 2)
    hole = f"its hole may be {number(now, 2)}, not {number(was, 2)} mm: measure it again"
    return f"{camera} is {size_of_stops(finding.mean)} {direction}: {hole}."


def _light(finding):
    low = finding.of == LOW_SUN
    if not finding.is_clear:
        source = "what its colour asks for" if low else "what a meter says"
        return f"{finding.of.capitalize()}: {source} is enough, as far as your sheets say."
    direction, size = "more" if finding.mean > 0 else "less", size_of_stops(finding.mean)
    if low:
        return f"In low sun give {size} {direction} than its colour alone asks for."
    return f"Under cloud give {size} {direction} than a meter says."


def _process(finding):
    process_name = f"{finding.of[:1].upper()}{finding.of[1:]}"
    if not finding.is_clear:
        return f"{process_name}: no different from what its papers usually go through, so far."
    direction = "more" if finding.mean > 0 else "less"
    return (
        f"{process_name} asks for {size_of_stops(finding.mean)} {direction} than the usual process."
    )


def _eye(finding):
    named = light.SKY_BY_NAME.get(finding.of)
    sky = named.words.partition(",")[0] if named else finding.of
    if not finding.is_clear:
        return f"What you call {sky} is what the table calls so, as far as your sheets say."
    direction = "darker" if finding.mean > 0 else "brighter"
    return (
        f"What you call {sky} is {size_of_stops(finding.mean)} {direction} than the table has it."
    )


def _box(finding):
    """Of a box that somebody noted, or of the sheets since a day."""
    paper, day = finding.paper, since(finding.of)
    subject = f"Since {around(day)} {paper}" if day else f"The newest box of {paper}"
    if not finding.is_clear:
        return f"{subject} may be as it was before."
    direction = "more" if finding.mean > 0 else "less"
    return f"{subject} wants {size_of_stops(finding.mean)} {direction}."


def _filter(finding):
    subject = f"A filter of {size_of_stops(float(finding.of))}"
    if not finding.is_clear:
        return f"{subject} takes what it is said to take, as far as your sheets say."
    direction = "more" if finding.mean > 0 else "less"
    return f"{subject} takes {size_of_stops(finding.mean)} {direction} than it is said to."


def since(name):
    """The day since when, of the name of a box that nobody noted; None of any other."""
    _, is_since, day = name.partition(" since ")
    return date.fromisoformat(day) if is_since else None


def around(day):
    """ "the end of October" and the like: no sheet tells the day."""
    third = "beginning" if day.day <= 10 else "middle" if day.day <= 20 else "end"
    return f"the {third} of {day:%B}"


def _unclear(finding):
    return "" if finding.is_clear else ", perhaps"


SENTENCES = {
    Finding.Kind.EXPONENT: _long_times,
    Finding.Kind.CAMERA: _camera,
    Finding.Kind.LIGHT: _light,
    Finding.Kind.PROCESS: _process,
    Finding.Kind.EYE: _eye,
    Finding.Kind.BOX: _box,
    Finding.Kind.FILTER: _filter,
}


def changes_stops(finding):
    """Stops that the next plans would change by."""
    return finding.mean * (math.log2(LONG_S) if finding.kind == Finding.Kind.EXPONENT else 1.0)


def more_sheets(finding):
    """Number of further sheets that would make it clear if it is as it looks; None if none
    would.
    """
    if finding.is_clear or abs(finding.mean) <= least_of(finding.kind):
        return None
    prior = EYE_PRIOR_SD if finding.kind == Finding.Kind.EYE else PRIOR_SD[finding.kind]
    precision = 1 / finding.sd**2 - 1 / prior**2
    precision_needed = (finding.bar / finding.mean) ** 2 - 1 / prior**2
    if precision <= 0:
        return None
    sheets_more = math.ceil(finding.sheets * (precision_needed / precision - 1))
    return max(1, sheets_more) if sheets_more <= MOST_SHEETS else None
