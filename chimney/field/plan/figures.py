"""Drawing of how sure a time is, along the clock."""

from math import log2

from chimney.parts import svg
from chimney.parts.scales import stops as say_stops
from pinhole import durations

BAND_WIDTH, BAND_HIGH, BAND_TOP, BAND_BASE = 400.0, 92.0, 6.0, 44.0
BAND_EDGE = 34.0
# Least reach of the drawing either way [stops].
LEAST_REACH = 1.0


def band(calculation):
    """A Drawing of the range that holds the right time nine times in ten, on a scale of stops.

    calculation: a pinhole.exposure.Calculation.
    """
    exact_s = calculation.exact_s
    low, high = (log2(seconds / exact_s) for seconds in (calculation.low_s, calculation.high_s))
    reach = max(LEAST_REACH, -low, high) * 1.12

    def x(off):
        return BAND_WIDTH / 2 + off / reach * (BAND_WIDTH / 2 - BAND_EDGE)

    shapes = [
        svg.rect(x(low), BAND_TOP, x(high) - x(low), BAND_BASE - BAND_TOP, "band band-frame"),
        svg.line(0.0, BAND_BASE, BAND_WIDTH, BAND_BASE, "axis-strong"),
    ]
    for off in _marks(reach):
        seconds = durations.countable_s(exact_s * 2.0**off)
        planned = off == 0
        top = BAND_TOP - 4 if planned else BAND_BASE - 6
        words = "planned" if planned else f"{say_stops(off)} stop"
        shapes += [
            svg.line(x(off), top, x(off), BAND_BASE + 6, "planned" if planned else "measure"),
            svg.text(x(off), BAND_BASE + 24, durations.say(seconds), "strong", "middle"),
            svg.text(x(off), BAND_BASE + 42, words, "label", "middle"),
        ]
    ends = (durations.say(durations.countable_s(exact_s * 2.0**off)) for off in (low, high))
    words = f"nine times in ten between {' and '.join(ends)}"
    return svg.Drawing(
        "How sure it is", words, BAND_WIDTH, BAND_HIGH, tuple(shapes), "how-sure-band"
    )


def _marks(reach):
    """Stops that are written: a few, further apart where the doubt is wide."""
    step = 0.5 if reach < 1.6 else 1.0 if reach < 3.2 else 2.0
    count = min(2, int(reach / step))
    return [step * n for n in range(-count, count + 1)]
