"""Faults a sheet may show: what they look like, the usual cause, the remedy. Each says all of
itself here, the mark too that it leaves on a made-up sheet. Common practice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TypeAlias

from pinhole.faults import marks
from pinhole.ranges import Array

# Light of a fog, over that of a metered middle.
FOG = 0.5
Mark: TypeAlias = Callable[[Array, marks.Chance], Array]


@dataclass(frozen=True)
class Fault:
    """cause: the likeliest; others: further ones, in order of likelihood; check: what tells them
    apart; misleads: the sheet's density says nothing about the exposure, so it teaches no EI;
    failing: what it says of the camera, by the code of such a failing.

    in_camera, past_hole, in_dark: the mark it leaves on the scene's light, on the light with what
    comes beside the hole, on the density, as pinhole.faults.marks has them; stray_light: over that
    of a metered middle, all over the sheet and under its rails too.
    """

    code: str
    words: str
    cause: str
    remedy: str
    misleads: bool = False
    failing: str = ""
    others: tuple[str, ...] = ()
    check: str = ""
    in_camera: Mark | None = None
    past_hole: Mark | None = None
    in_dark: Mark | None = None
    stray_light: float = 0.0


# To add one, name it here.
_ALL = (
    Fault(
        "leak",
        "leak streaks",
        "light at the lid or a seam",
        "tape the seam; test in the sun, hole covered",
        misleads=True,
        failing="leak",
        others=("the slide or its trap", "the pinhole plate not lying flat"),
        check="the same streak on the next sheet is the camera, on one holder alone the holder",
        past_hole=marks.streaked,
    ),
    Fault(
        "fog",
        "fog all over",
        "safelight too near or too long, or old paper",
        "coin test under your red light",
        misleads=True,
        others=("old or warm-stored paper", "the packet opened in light"),
        check="fog under the rails too is paper or dark room; clean rails: the camera",
        stray_light=FOG,
    ),
    Fault(
        "double",
        "double image",
        "the side was exposed twice",
        "turn the slide after each exposure",
        misleads=True,
        others=("the slide not turned after the first", "a camera opened again by mistake"),
        check="two skylines at an angle: two stands; at the same angle: the flap was opened twice",
        in_camera=marks.doubled,
    ),
    Fault(
        "stain",
        "stain",
        "tired or staining developer, short stop",
        "fresh bath, full stop bath",
        others=("fixer used up", "wash too short"),
        check="brown and even is the developer; patches are the fixer or the wash",
        in_dark=marks.stained,
    ),
    Fault(
        "uneven",
        "uneven development",
        "sheet not under at once, or not rocked",
        "slide in at once, rock from the start",
        others=("too little bath over the sheet", "sheets sticking together"),
        check="a straight edge is the bath that came late; waves are rocking that stopped",
        in_dark=marks.late,
    ),
    Fault(
        "shake",
        "shake",
        "wind, or the shutter",
        "hand before the hole at opening; shelter the camera",
        failing="shake",
        others=("a light camera in wind", "a soft tripod or ground"),
        check="everything doubled the same way is the camera; only leaves or people is the subject",
        in_camera=marks.shaken,
    ),
    Fault(
        "moved",
        "the subject moved",
        "wind in leaves, people",
        "a calmer subject or a brighter hour",
        check="what stands still is sharp: then it was not the camera",
        in_camera=marks.moved,
    ),
    Fault(
        "corners",
        "dark corners",
        "wide flat back, burr or thick hole",
        "thin and sand the hole, or accept the falling off",
        failing="burr",
        others=("the holder shading the corners", "paper bowed away"),
        check="even on all four corners is geometry; on one or two, something stood in the way",
        in_camera=marks.shaded,
    ),
    Fault(
        "flare",
        "flare or halo",
        "sun on the hole, shiny inside",
        "shade the hole; matt black inside",
        failing="shiny",
        others=("dust or glass before the hole", "a scratched plate"),
        check="lines that point to the sun are bounces inside; a halo about a window is the hole",
        past_hole=marks.haloed,
    ),
    Fault(
        "finger",
        "finger marks",
        "wet or oily hands",
        "wash and dry, hold the edges",
        check="ridges or drops at the edges, sharp and pale",
        in_dark=marks.fingers,
    ),
    Fault(
        "wrong_side",
        "emulsion the wrong way",
        "loaded face down",
        "the shinier side, the inward curl, faces the hole",
        misleads=True,
        check="faint, flat and the right way round: the light came through the base",
        in_camera=marks.reversed_through_base,
    ),
    Fault(
        "blank",
        "blank",
        "hole never free, or slide in",
        "slide out before the flap",
        misleads=True,
        others=(
            "paper loaded over the hole",
            "developer used up",
            "the packet of fresh paper taken for exposed",
        ),
        check="a scrap in room light turns black: the bath is good, and no light came",
        in_camera=marks.shut,
    ),
    Fault(
        "drips",
        "drips and runs",
        "bath that ran back over the sheet",
        "let it drip by one corner",
        others=("tongs carried from bath to bath",),
        check="tracks that run one way, and end in a drop",
        in_dark=marks.dripped,
    ),
    Fault(
        "water",
        "water marks",
        "dried with drops on it",
        "a wiped sheet, a drop of wetting agent",
        check="rings with a sharp rim, seen from aslant",
        in_dark=marks.ringed,
    ),
    Fault(
        "dust",
        "dust and hairs",
        "dust on the paper or on the scanner's glass",
        "brush the holder; wipe the glass",
        others=("dust on the hole: then it is large and soft",),
        check="turn the sheet on the glass: what stays where it was is the scanner's",
        in_dark=marks.dusty,
    ),
    Fault(
        "curl",
        "curl",
        "fibre dried too fast or on one side",
        "flatten in a book, bone dry",
        check="unsharp at the rim of the scan alone",
        in_dark=marks.curled,
    ),
    Fault(
        "over_hole",
        "paper over the hole",
        "the paper's edge reached before the hole",
        "cut it shorter, mark its ends on the wall",
        misleads=True,
        check="a pale wedge or nothing at all, with a straight edge",
        in_camera=marks.covered,
    ),
    Fault(
        "age",
        "fogged by age or heat",
        "paper kept warm or long",
        "cooler; a little restrainer, or print it as a base",
        misleads=True,
        check="the rails are grey too, the coin test is clean",
        stray_light=FOG,
    ),
)
FAULTS = {fault.code: fault for fault in _ALL}


def choices() -> list[tuple[str, str]]:
    """(code, words) of each, as a form offers them."""
    return [(code, fault.words) for code, fault in FAULTS.items()]
