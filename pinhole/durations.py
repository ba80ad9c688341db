"""Times as people write, say and count them."""

from __future__ import annotations

import math
import re

DAY_S = 86_400.0
NUMBER = r"\d+(?:\.\d+)?"
UNITS_PATTERN = re.compile(
    rf"(?:(?P<h>{NUMBER})\s*h(?:rs?|ours?)?)?\s*"
    rf"(?:(?P<m>{NUMBER})\s*(?:m(?:ins?|inutes?)?|'))?\s*"
    rf"(?:(?P<s>{NUMBER})\s*(?:s(?:ecs?|econds?)?|\")?)?"
)
FRACTION = re.compile(r"(\d+)\s*/\s*(\d+)\s*s?")
EXAMPLES = "write it like 18, 1/4, 2m, 2:30 or 1h 5m"

# A moment that is shorter is no time that is counted: third stops, as shutters and meters have them
# (common practice).
THIRDS_S = (0.1, 0.125, 0.16, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.8, 1, 1.3, 1.6, 2, 2.5, 3.2, 4)
# People count in these steps (common practice): (up to seconds, step in seconds).
ROUNDING_STEPS = ((30, 1), (120, 5), (1200, 15), (math.inf, 60))


def parse_s(text: str) -> float:
    """Seconds from a time as people write it: `18`, `1/4`, `1.5 s`, `2m`, `2m30`, `2:30`,
    `1:02:30`, `1h 5m`.

    text: str; a decimal comma is a decimal point. Returns float [s].
    Raises ValueError with an example when the text is no time; a time of zero is read, not judged.
    """
    text = text.strip().lower().replace(",", ".").replace("′", "'").replace("″", '"')
    if len(text) > 40:
        raise ValueError(f"That is too long for a time: {EXAMPLES}.")
    if fraction := FRACTION.fullmatch(text):
        numerator, under = map(int, fraction.groups())
        if under == 0:
            raise ValueError(f"Nothing can be divided by 0: {EXAMPLES}.")
        return numerator / under
    if ":" in text:
        return _from_colons(text)
    match = UNITS_PATTERN.fullmatch(text)
    if not text or not match or not any(match.groups()):
        raise ValueError(f"That is not a time: {EXAMPLES}.")
    hours, minutes, seconds = (float(part or 0) for part in match.groups())
    return hours * 3600 + minutes * 60 + seconds


def _from_colons(text: str) -> float:
    parts = text.split(":")
    if len(parts) > 3 or not all(re.fullmatch(r"\d{1,4}", part.strip()) for part in parts):
        raise ValueError(f"That is not a time: {EXAMPLES}.")
    numbers = [int(part) for part in parts]
    if any(number > 59 for number in numbers[1:]):
        raise ValueError("After a colon only 0 to 59 can stand.")
    seconds = 0
    for number in numbers:
        seconds = seconds * 60 + number
    return float(seconds)


def say(seconds: float) -> str:
    """The time as people say it: `0.25 s`, `1.6 s`, `55 s`, `2 min`, `2:30`, `1 h 5 min`.

    seconds: float [s], at least 0. Returns str that parse_s reads back, to the second below an hour
    and to the minute above; below 10 s one decimal, below 1 s two significant figures. A time
    without end is said as such.
    """
    if math.isinf(seconds):
        return "no end"
    if seconds < 9.95:
        return f"{seconds:.2g} s" if seconds < 1 else f"{round(seconds, 1):g} s"
    whole_s = math.floor(seconds + 0.5)
    if whole_s < 60:
        return f"{whole_s} s"
    if whole_s < 3600:
        minutes, rest = divmod(whole_s, 60)
        return f"{minutes}:{rest:02d}" if rest else f"{minutes} min"
    hours, minutes = divmod(math.floor(seconds / 60 + 0.5), 60)
    return f"{hours} h {minutes} min" if minutes else f"{hours} h"


def countable_s(seconds: float) -> float:
    """The nearest time a person can count: third stops below 4 s, 1 s steps to 30 s, 5 s to 2 min,
    15 s to 20 min, then minutes.

    seconds: float [s], above 0; a time without end stays one. Returns float [s], above 0.
    Source: common practice.
    """
    if math.isinf(seconds):
        return math.inf
    if seconds < THIRDS_S[-1]:
        return _third_stop_s(seconds)
    step = next(step for limit, step in ROUNDING_STEPS if seconds <= limit)
    return math.floor(seconds / step + 0.5) * float(step)


def _third_stop_s(seconds: float) -> float:
    """The nearest third stop, by its usual name where it has one."""
    if seconds <= THIRDS_S[0]:
        return 2.0 ** (round(3 * math.log2(seconds)) / 3) if seconds > 0 else THIRDS_S[0]
    return float(min(THIRDS_S, key=lambda third_s: abs(math.log2(seconds / third_s))))
