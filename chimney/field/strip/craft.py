"""A test strip as it was really exposed: what each band got, and what the right one says."""

from dataclasses import dataclass
from math import log2

from chimney.parts.scales import stops as say_stops
from pinhole import durations, exposure

# A hole that was shut within so much of a move was shut before it [s].
TOGETHER_S = 0.5


@dataclass(frozen=True)
class BandMade:
    """Bands of a strip that got the same: words for which; seconds of free hole; effect_stops
    against the calculation, and with its place counted; covered: whether the slide came over it.
    """

    words: str
    seconds: float
    effect_stops: float
    corrected_stops: float
    covered: bool


def bands_made(record):
    """The BandsMade of a Taken strip, least light first: what the slide did not come over before
    the hole was shut is one band, free to the end.
    """
    exposure = record.exposure
    free_s = exposure.given_s or exposure.planned_s
    covered = [band for band in record.bands[:-1] if band["pull_s"] <= free_s - TOGETHER_S]
    rows = [_band(n, band, band["pull_s"], exposure, True) for n, band in enumerate(covered, 1)]
    return [*rows, _rest(record.bands[len(covered) :], len(covered) + 1, free_s, exposure)]


def _band(number_of, band, seconds, exposure, covered):
    effect = _effect(exposure, seconds)
    lacks = band["effect_stops"] - band["corrected_stops"]
    return BandMade(f"{number_of}", seconds, effect, effect - lacks, covered)


def _rest(bands, first, free_s, exposure):
    """Those that were free to the end, their places counted in the middle of them."""
    rest = _band(first, bands[len(bands) // 2], free_s, exposure, False)
    if len(bands) == 1:
        return rest
    label = f"{first} to {first + len(bands) - 1}"
    return BandMade(label, rest.seconds, rest.effect_stops, rest.corrected_stops, False)


def _effect(exposure, seconds):
    """Stops of effect against the middle of the strip, from which its calculation is some off."""
    calculation = exposure.calculation
    return log2(calculation.school.metered_s(seconds) / calculation.metered_s)


def choices(bands):
    """[(place, words)] of the bands and of what lies between two neighbours."""
    single_bands = [
        (float(n), f"band {band.words}: {durations.say(band.seconds)}")
        for n, band in enumerate(bands)
    ]
    between = [
        (n + 0.5, f"between {bands[n].words} and {bands[n + 1].words}")
        for n in range(len(bands) - 1)
    ]
    return [(f"{place:g}", label) for place, label in sorted([*single_bands, *between])]


def stops_more(record, bands, place):
    """Stops that a whole sheet would have needed more than it got, to come out as that place of the
    strip [stops].
    """
    low, high = bands[int(place)], bands[min(int(place + 0.5), len(bands) - 1)]
    right = (low.corrected_stops + high.corrected_stops) / 2
    made = record.exposure
    return right - exposure.effect_stops(made.calculation, made.effective_s)


def said(place, bands):
    """ "band 2 is right" or "between bands 2 and 3"."""
    low = bands[int(place)]
    if place == int(place):
        return f"band {low.words} is right"
    return f"between bands {low.words} and {bands[int(place) + 1].words} it is right"


def rows(bands):
    """[(which, seconds, stops, stops with its place counted, what the slide did)] for a table."""
    return [
        (
            band.words,
            durations.say(band.seconds),
            say_stops(band.effect_stops),
            say_stops(band.corrected_stops),
            "" if band.covered else "free to the end",
        )
        for band in bands
    ]
