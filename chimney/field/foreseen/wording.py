"""A sheet beside what was foreseen of it, in words."""

from math import log2, sqrt
from statistics import fmean, stdev

from chimney.parts.scales import size_of_stops

# Less than this between a sheet and what was foreseen is none [stops].
LEAST_DIFFERENCE = 1 / 3
# So many sheets speak of a camera's corners, if their mean is so many times surer than chance
# (common practice).
LEAST_CORNERS, SURE_TIMES = 3, 2.0


def stops_given(exposure):
    """Stops of light by which an Exposure was given more than planned, within what is drawn."""
    if not exposure.effective_s or not exposure.planned_s:
        return 0.0
    return max(-9.0, min(9.0, round(log2(exposure.effective_s / exposure.planned_s), 2)))


def differs(beside, given):
    """Words for how a sheet differs from what was foreseen with so many stops more than planned;
    beside: as data, or None.
    """
    if not beside:
        return ""
    stops, corners = beside["stops"] - given, beside["corners"] or 0.0
    sentence = "It got as much light as foreseen"
    if abs(stops) >= LEAST_DIFFERENCE:
        sense = "more" if stops > 0 else "less"
        sentence = f"It got {size_of_stops(abs(stops))} {sense} light than foreseen"
    if abs(corners) >= LEAST_DIFFERENCE:
        sense = "more" if corners > 0 else "less"
        sentence += f", its corners {size_of_stops(abs(corners))} {sense} beside that"
    return f"{sentence}."


def verdict(beside):
    """(words, stops that it needed more) of a sheet; None without a picture of it."""
    if not beside:
        return None
    more = -round(beside["stops"], 1)
    if abs(more) < LEAST_DIFFERENCE:
        return "Judge it so: the same again", more
    much = size_of_stops(abs(more))
    return f"Judge it so: {much} {'more' if more > 0 else 'less'} next time", more


def of_corners(camera, corners):
    """Words for what the sheets of a camera say of its corners; "" where they say nothing surely.
    corners [stops]: that each got more than foreseen.
    """
    if len(corners) < LEAST_CORNERS:
        return ""
    mean, doubt = fmean(corners), stdev(corners) / sqrt(len(corners))
    if abs(mean) < max(LEAST_DIFFERENCE, SURE_TIMES * doubt):
        return ""
    much, by = size_of_stops(abs(mean)), f"by {len(corners)} sheets beside their photos"
    if mean < 0:
        return f"The corners of {camera} get {much} less than its hole and back explain, {by}."
    return f"The corners of {camera} get {much} more than its hole and back explain, {by}."
