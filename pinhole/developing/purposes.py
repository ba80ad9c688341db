"""Purposes of the steps of a process: each says all of itself here, its caution too, which
defers to the safety data sheet and local rules. Common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

READY, CHECK = "ready", "check"
GLOVES = "Gloves and eye protection; the supplier's safety data sheet comes first."
ACID = "Acid goes into water. Chlorine bleach never meets acid or ammonia."
PEROXIDE = (
    "Peroxide stings in cuts: gloves, eyes. Used peroxide never goes into a closed bottle: it "
    "bursts."
)
FIXER = "Used fixer holds silver: disposal by local rules, never down the drain unasked."
ROOM = "The door opens from inside, and somebody knows you are in. No wet hands on anything mains."


@dataclass(frozen=True)
class Purpose:
    """name; choice: how a form offers it; caution: said at every such step that has none of its
    own, "" where nothing can hurt; is_ticked: done when somebody says so, without a time;
    goes_on_alone: nobody has to stand by; ends_dark: white light may come after it.
    """

    name: str
    choice: str
    caution: str
    is_ticked: bool = False
    goes_on_alone: bool = False
    ends_dark: bool = False


# To add one, name it here. One that is made ready stands before the first bath.
PURPOSES = {
    purpose.name: purpose
    for purpose in (
        Purpose(READY, "make ready, ticked", ROOM, is_ticked=True),
        Purpose("develop", "develop", GLOVES),
        Purpose("stop", "stop", ACID),
        Purpose("rinse", "rinse", ""),
        Purpose("fix", "fix", FIXER, ends_dark=True),
        Purpose("bleach", "bleach", PEROXIDE),
        Purpose("clear", "clear", ACID),
        Purpose("light", "expose again", "", ends_dark=True),
        Purpose("redevelop", "develop again", GLOVES),
        Purpose("wash", "wash, by itself", "", goes_on_alone=True),
        Purpose("dry", "dry, by itself", "", goes_on_alone=True),
        Purpose(CHECK, "something to tick", "", is_ticked=True),
    )
}


def choices() -> list[tuple[str, str]]:
    """(name, words) of each, as a form offers them."""
    return [(name, purpose.choice) for name, purpose in PURPOSES.items()]
