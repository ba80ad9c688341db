"""From how a finished sheet looks to how much more light it needed, in the sense right for its
medium.

A negative too dark had too much light; a direct positive or a reversal too dark had too little
(common practice: people mix this up).
"""

from __future__ import annotations

from dataclasses import dataclass

from pinhole import media

# How a sheet looks, darkest last: code, words, how many stops of light away from right. Common
# practice.
LOOKS = (
    ("far_pale", "far too pale", -2.0),
    ("pale", "too pale", -1.0),
    ("bit_pale", "a bit pale", -0.5),
    ("right", "right", 0.0),
    ("bit_dark", "a bit dark", 0.5),
    ("dark", "too dark", 1.0),
    ("far_dark", "far too dark", 2.0),
)


@dataclass(frozen=True)
class Appearance:
    """code, words; stops_more: how many stops more light such a sheet needed, negative for less."""

    code: str
    words: str
    stops_more: float


def looks(medium: str) -> tuple[Appearance, ...]:
    """Every Look of a medium, from palest to darkest.

    medium: one of media.MEDIA. Raises ValueError for another.
    """
    darker = media.medium(medium).darkening_sense
    return tuple(Appearance(code, label, -darker * away) for code, label, away in LOOKS)


def sense(medium: str, stops_more: float) -> str:
    """Sense of a verdict, "pale", "dark" or "right", given how many stops more light the sheet
    needed.
    """
    if abs(stops_more) < 1e-9:
        return "right"
    return "dark" if stops_more * media.medium(medium).darkening_sense < 0 else "pale"
