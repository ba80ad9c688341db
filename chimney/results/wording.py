"""The verdict as one sentence in the trade's language, the sense right for the medium."""

from chimney.parts.scales import size_of_stops
from pinhole import verdicts

WHY = {
    ("negative", "pale"): "the shadows are empty",
    ("negative", "dark"): "the skies are blocked",
    ("positive", "pale"): "the highlights are gone",
    ("positive", "dark"): "it came out dark",
}


def sentence(medium, stops_more):
    """ "Two stops more next time: the shadows are empty" and the like."""
    look = verdicts.sense(medium, stops_more)
    if look == "right":
        return "The same again: the exposure is right."
    size = size_of_stops(stops_more)
    why = WHY["negative" if verdicts.DARKENS[medium] > 0 else "positive", look]
    return f"{size[0].upper()}{size[1:]} {'more' if stops_more > 0 else 'less'} next time: {why}."


def rule(medium):
    """The sense, said where the verdict is given, because people mix it up."""
    if verdicts.DARKENS[medium] > 0:
        return "A negative too dark had too much light."
    return "A positive too dark had too little light."
