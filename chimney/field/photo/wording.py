"""A sheet beside what was foreseen of it, in words."""

from math import log2

from chimney.field.photo import craft
from chimney.parts.scales import size_of_stops

# Less than this between a sheet and what was foreseen is none [stops].
LEAST_DIFFERENCE = 1 / 3


def stops_given(exposure):
    """Stops of light by which an Exposure was given more than planned, within what is drawn."""
    if not exposure.effective_s or not exposure.planned_s:
        return 0.0
    return max(-9.0, min(9.0, round(log2(exposure.effective_s / exposure.planned_s), 2)))


def differs(page, scan, stops):
    """Words for how a Scan differs from what was foreseen with so many stops; "" without one."""
    away = page.scenery and scan and craft.difference(page.scenery, scan, stops)
    if not away:
        return ""
    sentence = "It got as much light as foreseen"
    if abs(away.stops) >= LEAST_DIFFERENCE:
        sense = "more" if away.stops > 0 else "less"
        sentence = f"It got {size_of_stops(abs(away.stops))} {sense} light than foreseen"
    if abs(away.corners) >= LEAST_DIFFERENCE:
        sense = "more" if away.corners > 0 else "less"
        sentence += f", its corners {size_of_stops(abs(away.corners))} {sense} beside that"
    return f"{sentence}."
