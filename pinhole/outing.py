"""A day of shots laid one after the other along the light: when each opens and closes, and what
does not fit.
"""

from dataclasses import dataclass

from pinhole import light
from pinhole.exposure import Specification
from pinhole.light import dusk
from pinhole.ranges import checked

# Slide in, holder turned, slide out: between two sheets in one camera (common practice).
CHANGE_S = 90.0
DAY_S = 86_400.0


@dataclass(frozen=True)
class SheetWanted:
    """One sheet wanted: its exposure.Specification; clock_stops: so many stops of the clock more
    than it asks for; stops_less: light its subject lacks.
    """

    specification: Specification
    clock_stops: float = 0.0
    stops_less: float = 0.0


@dataclass(frozen=True)
class ShotWanted:
    """A shot wanted. start_s: when to begin setting up, on the clock of the light; set_up_s; lanes:
    one tuple of SheetsWanted for each camera, which goes through them one after the other while the
    other cameras do theirs.
    """

    start_s: float
    set_up_s: float
    lanes: tuple


@dataclass(frozen=True)
class Placement:
    """A shot in the day. begins_s, opens_s, ends_s; sheets: per lane ((opens_s, closes_s,
    short_stops), ...), shut when full or when it is dark; waits_s: how much later it begins than
    wanted; beyond: whether it ends after the last point of light that is known.
    """

    begins_s: float
    opens_s: float
    ends_s: float
    sheets: tuple
    waits_s: float
    beyond: bool


def schedule(wants, times_s, ev100, dark_s=None):
    """A Placement for each ShotWanted, in the order given; the photographer does one shot after
    another, the earliest first.

    wants: ShotsWanted; times_s [s, strictly increasing], ev100 [EV at ISO 100]: the light, shape
    (n,), as light.course; dark_s: when it is dark on the same clock, a day after the last point if
    None.
    Raises ValueError outside. Source: dusk.prospect for each exposure, from the moment it opens.
    """
    placed, free = {}, float("-inf")
    dark_s = times_s[-1] + DAY_S if dark_s is None else dark_s
    for place in sorted(range(len(wants)), key=lambda n: (wants[n].start_s, n)):
        want = wants[place]
        begins = max(want.start_s, free)
        opens = begins + float(checked("set_up_s", want.set_up_s, least=0))
        lanes = tuple(tuple(_lane(lane, opens, times_s, ev100, dark_s)) for lane in want.lanes)
        free = max((closes for lane in lanes for _, closes, _ in lane), default=opens)
        placed[place] = Placement(
            begins, opens, free, lanes, begins - want.start_s, free > times_s[-1]
        )
    return tuple(placed[n] for n in range(len(wants)))


def _lane(sheets, opens, times_s, ev100, dark_s):
    for sheet in sheets:
        prospect = dusk.prospect(_course(sheet, times_s, ev100), opens, dark_s)
        yield opens, prospect.closes_s, prospect.short_stops
        opens = prospect.closes_s + CHANGE_S


def _course(sheet, times_s, ev100):
    """The light.Course by which a sheet wanted fills; a stop more on the clock lets it fill half as
    fast.
    """
    asked = sheet.specification
    stops = sheet.stops_less + asked.filter_stops + asked.compensation_stops
    metered = light.metered_s(ev100 - stops, asked.f_number, asked.ei)
    return light.course(times_s, metered, asked.school).scaled(2.0**-sheet.clock_stops)
