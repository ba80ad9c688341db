"""Calls of the dark room to the craft: runs as lanes, baths as what is left of their lives."""

from dataclasses import dataclass

from chimney.darkroom.models import Bath
from chimney.darkroom.wording import LID_ON
from chimney.logbook.models import Sheet
from chimney.parts import sizes
from chimney.parts.scales import number
from pinhole import chemistry, developing, durations

MM2_PER_M2 = 1e6
# How much longer a tap on "longer" asks for, and at least (common practice).
LONGER_SHARE, LEAST_LONGER_S = 0.25, 15.0


def lanes_of(run, also=()):
    """The Lanes of a run after its taps; developments and taps are read as they were fetched; also:
    taps that came since.
    """
    rows = [*run.taps.all(), *also]
    taps = [developing.Tap(row.at.timestamp(), row.lane, row.word, row.more_s) for row in rows]
    numbers = [development.lane for development in run.developments.all()]
    count = 1 + max([*numbers, *(tap.lane for tap in taps)], default=0)
    return developing.lanes(run.steps, taps, count, run.clock_began_s)


def in_developer_s(run, lane):
    """Time that the sheets of a lane lay in the first developer, once they are out of it [s]; None
    before.
    """
    out_s = lane.visits[-1].from_s if lane.visits else 0.0
    return developing.given_s(run.steps, lane, "develop", out_s) or None


def area_m2(sheet_sizes):
    """The paper of sheets of these sizes [m2]."""
    sides = map(sizes.parse, sheet_sizes)
    return sum(width * height for width, height in sides) / MM2_PER_M2


@dataclass(frozen=True)
class BathState:
    """bath; area_m2: what went through it; age_days; used: how much of its life is over, 1 is
    tired; longer: by what its times grow; runs: pks of those that it served.
    """

    bath: Bath
    area_m2: float
    age_days: float
    used: float
    longer: float
    runs: frozenset

    @property
    def is_tired(self):
        """True if it is to be thrown away rather than used."""
        return self.used >= 1

    @property
    def used_percent(self):
        return round(100 * self.used)

    @property
    def by_age(self):
        """True if its age tells more than its area."""
        return self.age_days / self.bath.lasts_days > self.area_m2 / self.bath.capacity_m2

    @property
    def words(self):
        """Sentence on its state."""
        reason = "by its age" if self.by_age else "by the paper that went through it"
        if self.is_tired:
            return f"tired {reason}: throw it away"
        if self.longer > 1.02 and self.bath.purpose == Bath.Purpose.DEVELOP:
            percent = number(100 * (self.longer - 1), 2)
            return f"{self.used_percent} % used {reason}: {percent} % longer"
        return f"{self.used_percent} % used {reason}"


def bath_state(bath, through, now):
    """The BathState of a bath; through: [(run's pk, size of a sheet or None)] of what went through
    it.
    """
    went = area_m2(size for _, size in through if size)
    age = max(0.0, (now - bath.mixed_at).total_seconds()) / durations.DAY_S
    used = chemistry.used_up(went, bath.capacity_m2, age, bath.lasts_days)
    served = frozenset(run for run, _ in through)
    return BathState(bath, went, age, used, chemistry.longer(used), served)


def least_ml(vessel, sheets):
    """Volume that covers these sheets in that vessel [ml]; None for a vessel of unknown size."""
    if not sheets:
        return None
    short, long = sorted(sizes.parse(sheets[0].size))
    if vessel.kind in (vessel.Kind.TRAY, vessel.Kind.DRAWERS) and vessel.width_mm:
        return chemistry.tray_ml(vessel.width_mm, vessel.height_mm)
    if vessel.kind == vessel.Kind.TANK and vessel.diameter_mm:
        return chemistry.tank_ml(vessel.diameter_mm, short)
    if vessel.kind == vessel.Kind.DRUM:
        return chemistry.drum_ml(short * long, len(sheets))[0]
    return None


def longer_s(step):
    """Time that one tap leaves a sheet longer in a step [s]."""
    return max(LEAST_LONGER_S, 5 * round(LONGER_SHARE * step.most_s / 5))


def in_vessel(steps, vessel):
    """The steps as they are done in a vessel: one with a lid is dark until it is on."""
    if vessel is None or vessel.kind not in (vessel.Kind.TANK, vessel.Kind.DRUM):
        return steps
    lies_open = any(step.light == "red" for step in steps if not step.is_ticked)
    return developing.in_shut_vessel(steps, LID_ON) if lies_open else steps


def with_longer(steps, factor):
    """The steps with the developer's times grown by a tired bath."""
    if factor <= 1.02:
        return steps
    return tuple(_grown(step, factor) if step.purpose == "develop" else step for step in steps)


def _grown(step, factor):
    data = developing.to_data([step])["steps"][0]
    shortest_s, longest_s = (5.0 * round(time * factor / 5) for time in (step.least_s, step.most_s))
    return developing.Step(**data | {"least_s": shortest_s, "most_s": longest_s})


def still_there(development):
    """True if its sheet still goes through the run and was not given up meanwhile."""
    return development.sheet.stage in (Sheet.Stage.DEVELOPING, Sheet.Stage.DEVELOPED)
