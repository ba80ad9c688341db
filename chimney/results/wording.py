"""The verdict as one sentence in the trade's language, the sense right for the medium."""

import math

from chimney import folder
from chimney.parts.scales import many_stops, size_of_stops, stops, tenths
from pinhole import media, verdicts

# Beyond that many sd nine in ten chances are against luck.
SURE = 1.645
WHY = {
    ("negative", "pale"): "the shadows are empty",
    ("negative", "dark"): "the skies are blocked",
    ("positive", "pale"): "the highlights are gone",
    ("positive", "dark"): "it came out dark",
}


def arrived(scan, *, new):
    """Words for what becomes of a scan that was sent."""
    if not new:
        return "it was here already, so nothing was kept twice"
    return f"it waits for {scan.sheet}" if scan.sheet else "match it to its sheet"


def cut_short(uploads, taken_in, error):
    """Words for what a folder that took no more let in, and for what to do."""
    trouble = folder.trouble(error)
    why = f"{trouble.wrong} {trouble.todo}" if trouble else f"The folder says: {error}."
    first_lost = uploads[taken_in].name
    return f"{taken_in} of {len(uploads)} are kept, {first_lost} and what follows not. {why}"


def sentence(medium, stops_more):
    """ "Two stops more next time: the shadows are empty" and the like."""
    look = verdicts.sense(medium, stops_more)
    if look == "right":
        return "The same again: the exposure is right."
    size = size_of_stops(stops_more)
    why = WHY["positive" if media.medium(medium).is_positive else "negative", look]
    return f"{size[0].upper()}{size[1:]} {'more' if stops_more > 0 else 'less'} next time: {why}."


def between(judgement):
    """ "−½ to +1½ stops", nine chances in ten, of a Judgement, in halves."""
    low, high = (
        round(2 * (judgement.stops_more + sign * SURE * judgement.sd_stops)) / 2 for sign in (-1, 1)
    )
    return f"{stops(low)} to {many_stops(high)}"


def two_spots(judgement, exposure):
    """Words for how far apart darkest and brightest were metered and are on the sheet, or ""."""
    metered = exposure and exposure.calculation.reading.spots_stops
    if metered is None:
        return ""
    least = "at least " if judgement.spread_is_least else ""
    return (
        f"You metered {size_of_stops(metered)} from its darkest to its brightest part; "
        f"here they lie {least}{size_of_stops(judgement.spread_stops)} apart"
    )


def at_least(sentence):
    """ "At least two stops more next time" of a sentence whose tones end there."""
    return f"At least {sentence[:1].lower()}{sentence[1:]}"


# Less of a lean than this nobody sees [stops].
LEAN_STOPS = 0.15


def lean_of(eye):
    """ "asks for half a stop too much" and the like, of an Eye."""
    if abs(eye.bias_stops) <= LEAN_STOPS:
        return "is right on the whole"
    direction = "much" if eye.bias_stops > 0 else "little"
    return f"asks for {size_of_stops(eye.bias_stops)} too {direction}"


def rule(medium):
    """The sense, said where the verdict is given, because people mix it up."""
    if media.medium(medium).is_positive:
        return "A positive too dark had too little light."
    return "A negative too dark had too much light."


def done(sheet, *, printed):
    """Words for what is still to do with a dry sheet, by its purpose; nothing before it is dry."""
    if sheet.stage not in ("developed", "read") or sheet.is_print:
        return ""
    if sheet.meant_for == sheet.Purpose.OBJECT:
        return "It is itself the picture: done when it is judged."
    if sheet.meant_for == sheet.Purpose.PRINT:
        return f"Made for a contact print: {'printed' if printed else 'to be printed'}."
    return f"Made for its scan: {'it is here' if sheet.is_pictured else 'to be brought in'}."


def corners(found, camera):
    """ "-0.9 stops, give or take 0.7; Plank computes -1.2" of a corners.Corners."""
    computed = f"{camera} computes {tenths(found.computed_stops)}"
    if math.isnan(found.measured_stops):
        return f"at the end of the scale; {computed}"
    size = f"{tenths(found.measured_stops)} stops, give or take {abs(found.sd_stops):.1f}"
    surely = found.more_stops > max(0.5, SURE * found.sd_stops)
    return f"{size}; {computed}{': look for a thick plate' if surely else ''}"
