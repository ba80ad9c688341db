"""A process: what is done to a sheet in the dark, step by step, and what must hold of its steps.

A process is a tuple of Steps. Those before the first bath are done once for a whole run; every
sheet goes through the others by itself.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, fields, replace
from math import isfinite
from typing import Any

from pinhole.developing.purposes import PURPOSES, READY

# Which light a sheet may lie in: "closed" is room light round a vessel that is shut.
LIGHTS = ("dark", "red", "closed", "white")
# No step takes longer than a week: a print pressed in a book [s].
LONGEST_STEP_S = 7 * 86400.0
STEPS_VERSION = 1


@dataclass(frozen=True)
class Step:
    """name; purpose, of PURPOSES; least_s, most_s: how long, 0 for what is ticked [s]; beat_s: how
    often the bath is moved, 0 for not at all [s]; drip_s: how much of its end it drips [s]; light,
    of LIGHTS; again: how many steps back one may go from here, 0 for none; remark; caution.

    Raises ValueError for a purpose, a light or a time that no step can have.
    """

    name: str
    purpose: str
    least_s: float = 0.0
    most_s: float = 0.0
    beat_s: float = 0.0
    drip_s: float = 0.0
    light: str = "red"
    again: int = 0
    remark: str = ""
    caution: str = ""

    def __post_init__(self) -> None:
        if self.purpose not in PURPOSES:
            raise ValueError(f"a purpose must be one of {', '.join(PURPOSES)}")
        if self.light not in LIGHTS:
            raise ValueError(f"a light must be one of {', '.join(LIGHTS)}")
        times = self.least_s, self.most_s, self.beat_s, self.drip_s
        if not all(isfinite(time) and 0 <= time <= LONGEST_STEP_S for time in times):
            raise ValueError(f"{self.name}: a time must be between 0 and a week")
        if self.is_ticked and (self.least_s or self.most_s):
            raise ValueError(f"{self.name} is ticked and has no time")
        if not self.is_ticked and not 0 < self.least_s <= self.most_s:
            raise ValueError(f"{self.name} must have a time above 0, the longer one last")
        if self.drip_s >= self.most_s > 0:
            raise ValueError(f"{self.name} cannot drip for its whole time")

    @property
    def is_ticked(self) -> bool:
        """True if it is done when somebody says so, whatever the clock says."""
        return PURPOSES[self.purpose].is_ticked

    @property
    def goes_on_alone(self) -> bool:
        """True if nobody has to stand by."""
        return PURPOSES[self.purpose].goes_on_alone


def checked_steps(steps: Sequence[Step]) -> tuple[Step, ...]:
    """The steps as a tuple, if they make a process.

    Raises ValueError where there is no step or no developer, where something is made ready after
    the first bath, where a step goes back further than its sheet came, and where white light comes
    before a fixer or a second exposure; a sheet may be taken out in it right before that exposure.
    """
    steps = tuple(steps)
    if not steps:
        raise ValueError("a process must have at least one step")
    wet = first_wet(steps)
    if any(step.purpose == READY for step in steps[wet:]):
        raise ValueError("what is made ready must stand before the first bath")
    if not any(step.purpose == "develop" for step in steps):
        raise ValueError("a process must have a step that develops")
    for number, step in enumerate(steps):
        if not 0 <= step.again <= max(0, number - wet):
            raise ValueError(f"{step.name} goes back further than its sheet came")
    safe = next((n for n, step in enumerate(steps) if PURPOSES[step.purpose].ends_dark), None)
    white = white_from(steps)
    taken_out = safe is not None and white == safe - 1 and steps[safe].purpose == "light"
    taken_out = taken_out and steps[white].is_ticked
    if white < len(steps) and (safe is None or white < safe) and not taken_out:
        raise ValueError(f"white light at {steps[white].name} would come before the fixer")
    return steps


def first_wet(steps: Sequence[Step]) -> int:
    """The place of the first step that each sheet goes through by itself."""
    return next((n for n, step in enumerate(steps) if step.purpose != READY), len(steps))


def white_from(steps: Sequence[Step]) -> int:
    """The place of the first step in white light; the number of steps if there is none."""
    return next((n for n, step in enumerate(steps) if step.light == "white"), len(steps))


def in_shut_vessel(steps: Sequence[Step], lid_on: Step) -> tuple[Step, ...]:
    """The steps in a tank or a drum: dark until its lid is on, as the words lid_on say, and room
    light round it after.

    What lay open in red light lies in it; what was white stays white.
    """
    wet = first_wet(steps)
    first = tuple(replace(step, light="dark") for step in steps[:wet])
    first = first or (Step("Make ready", READY, light="dark"),)
    last = replace(first[-1], remark=f"{first[-1].remark} {lid_on}".strip())
    shut = (replace(s, light="closed") if s.light in ("red", "dark") else s for s in steps[wet:])
    return (*first[:-1], last, *shut)


def open_in_red(steps: Sequence[Step]) -> Step | None:
    """The first Step in which a sheet lies open in red light, or None: nothing that sees red goes
    into such a process.
    """
    return next((step for step in steps if step.light == "red" and not step.is_ticked), None)


def total_s(steps: Sequence[Step], *, alone: bool = True) -> tuple[float, float]:
    """(least, most) that the steps take one after the other, each once [s].

    alone: whether what goes on without anybody counts too. Source: their sum.
    """
    counted = [step for step in steps if alone or not step.goes_on_alone]
    return sum(step.least_s for step in counted), sum(step.most_s for step in counted)


def to_data(steps: Sequence[Step]) -> dict[str, Any]:
    """The steps as plain data of STEPS_VERSION, to be kept."""
    return {"version": STEPS_VERSION, "steps": [asdict(step) for step in steps]}


def from_data(data: dict[str, Any]) -> tuple[Step, ...]:
    """The Steps of kept data. Raises ValueError for another version or what is no step."""
    if data.get("version") != STEPS_VERSION:
        raise ValueError(f"steps must be of version {STEPS_VERSION}")
    names = {field.name for field in fields(Step)}
    return tuple(
        Step(**{key: value for key, value in step.items() if key in names})
        for step in data["steps"]
    )
