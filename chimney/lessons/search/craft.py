"""A question to the log as one speaks it: what of it is a month, a verdict, an amount, a fault, and
the words that are left.
"""

import re
from dataclasses import dataclass, field

from chimney.parts.scales import VULGAR, many_stops, parse_stops
from pinhole.faults import FAULTS

MONTH_NAMES: tuple[str, ...] = ("January", "February", "March", "April", "May", "June", "July")
MONTH_NAMES += ("August", "September", "October", "November", "December")
# Words for a verdict, and the sense of a sheet that they mean.
SENSES = {"too dark": "dark", "dark": "dark", "too pale": "pale", "pale": "pale"}
SENSES |= {"too light": "pale", "right": "right", "not read": "none"}
SIGNS = "".join(VULGAR)
AMOUNT = re.compile(
    rf"(?<!\w)(half a|an?|one|two|[+-]?\d[\d./ {SIGNS}]*|[+-]?[{SIGNS}])"
    r"\s*stops?\b(?:\s+(more|less)\b)?",
    re.IGNORECASE,
)
NAMED_AMOUNTS = {"half a": 0.5, "a": 1.0, "an": 1.0, "one": 1.0, "two": 2.0}
ASKED_YEARS = range(1900, 2100)
MOST_WORDS, MOST_ASKED_STOPS = 8, 10
# Words that say nothing of a sheet.
IDLE_WORDS = {"the", "in", "of", "a", "an", "and", "with", "on", "at", "from", "sheet", "sheets"}


@dataclass(frozen=True)
class Spoken:
    """Question understood: words to look for everywhere; month and year of the exposure; sense of
    the verdict; stops more that it wanted; codes of faults, one of which it shows.
    """

    words: tuple[str, ...] = ()
    month: int | None = None
    year: int | None = None
    sense: str = ""
    stops_more: float | None = None
    faults: tuple[str, ...] = field(default=())

    @property
    def chips(self):
        """Each part as it was understood, in words."""
        if self.month:
            yield f"exposed in {MONTH_NAMES[self.month - 1]}"
        if self.year:
            yield f"exposed in {self.year}"
        if self.sense:
            label = {"right": "right", "none": "not read"}.get(self.sense)
            yield label or f"too {self.sense}"
        if self.stops_more is not None:
            yield f"wanted {many_stops(self.stops_more)}"
        yield from (FAULTS[code].words for code in self.faults)
        yield from (f"“{word}”" for word in self.words)


def understand(text):
    """The Spoken of a line that somebody typed; whatever is no month, verdict, amount or fault is
    looked for as a word.
    """
    rest, stops_more = _amount(" ".join(text.split()))
    rest, sense = _sense(rest)
    words, month, year, faults = [], None, None, ()
    for word in rest.split()[:MOST_WORDS]:
        bare = word.strip(",.;:?!").lower()
        if not bare or bare in IDLE_WORDS:
            continue
        if (named := _month(bare)) and month is None:
            month = named
        elif bare.isascii() and bare.isdigit() and int(bare) in ASKED_YEARS and year is None:
            year = int(bare)
        elif (shown := _faults(bare)) and not faults:
            faults = shown
        else:
            words.append(word.strip(",;:?!"))
    return Spoken(tuple(words), month, year, sense, stops_more, faults)


def _amount(text):
    """(the text without it, stops more)."""
    match = AMOUNT.search(text)
    if not match:
        return text, None
    number = match[1].strip().lower()
    try:
        stops = NAMED_AMOUNTS[number] if number in NAMED_AMOUNTS else parse_stops(number)
    except ValueError:
        return text, None
    if abs(stops) > MOST_ASKED_STOPS:
        return text, None
    sign = -1 if (match[2] or "").lower() == "less" else 1
    return f"{text[: match.start()]} {text[match.end() :]}", sign * stops


def _sense(text):
    for words, sense in SENSES.items():
        match = re.search(rf"\b{words}\b", text, re.IGNORECASE)
        if match:
            return f"{text[: match.start()]} {text[match.end() :]}", sense
    return text, ""


def _month(word):
    if len(word) < 3:
        return None
    names = (n for n, name in enumerate(MONTH_NAMES, 1) if name.lower().startswith(word))
    return next(names, None)


def _faults(word):
    """Codes of faults that are called so: by their code or by a word of their name."""
    if len(word) < 3:
        return ()
    return tuple(
        code
        for code, fault in FAULTS.items()
        if word == code or word.rstrip("s") in [part.rstrip("s") for part in fault.words.split()]
    )
