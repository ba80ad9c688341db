"""Faults a sheet may show: what they look like, the usual cause, the remedy. Common practice."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Fault:
    """cause: the likeliest; others: further ones, in order of likelihood; check: what tells them
    apart; misleads: the sheet's density says nothing about the exposure, so it teaches no EI;
    failing: what it says of the camera, by the code of kit.catalogue.failings.
    """

    code: str
    words: str
    cause: str
    remedy: str
    misleads: bool = False
    failing: str = ""
    others: tuple = ()
    check: str = ""


FAULTS = (
    Fault(
        "leak",
        "leak streaks",
        "light at the lid or a seam",
        "tape the seam; test in the sun, hole covered",
        True,
        "leak",
        others=("the slide or its trap", "the pinhole plate not lying flat"),
        check="the same streak on the next sheet is the camera, on one holder alone the holder",
    ),
    Fault(
        "fog",
        "fog all over",
        "safelight too near or too long, or old paper",
        "coin test under your red light",
        True,
        others=("old or warm-stored paper", "the packet opened in light"),
        check="fog under the rails too is paper or dark room; clean rails: the camera",
    ),
    Fault(
        "double",
        "double image",
        "the side was exposed twice",
        "turn the slide after each exposure",
        True,
        others=("the slide not turned after the first", "a camera opened again by mistake"),
        check="two skylines at an angle: two stands; at the same angle: the flap was opened twice",
    ),
    Fault(
        "stain",
        "stain",
        "tired or staining developer, short stop",
        "fresh bath, full stop bath",
        others=("fixer used up", "wash too short"),
        check="brown and even is the developer; patches are the fixer or the wash",
    ),
    Fault(
        "uneven",
        "uneven development",
        "sheet not under at once, or not rocked",
        "slide in at once, rock from the start",
        others=("too little bath over the sheet", "sheets sticking together"),
        check="a straight edge is the bath that came late; waves are rocking that stopped",
    ),
    Fault(
        "shake",
        "shake",
        "wind, or the shutter",
        "hand before the hole at opening; shelter the camera",
        failing="shake",
        others=("a light camera in wind", "a soft tripod or ground"),
        check="everything doubled the same way is the camera; only leaves or people is the subject",
    ),
    Fault(
        "moved",
        "the subject moved",
        "wind in leaves, people",
        "a calmer subject or a brighter hour",
        others=(),
        check="what stands still is sharp: then it was not the camera",
    ),
    Fault(
        "corners",
        "dark corners",
        "wide flat back, burr or thick hole",
        "thin and sand the hole, or accept the falling off",
        failing="burr",
        others=("the holder shading the corners", "paper bowed away"),
        check="even on all four corners is geometry; on one or two, something stood in the way",
    ),
    Fault(
        "flare",
        "flare or halo",
        "sun on the hole, shiny inside",
        "shade the hole; matt black inside",
        failing="shiny",
        others=("dust or glass before the hole", "a scratched plate"),
        check="lines that point to the sun are bounces inside; a halo about a window is the hole",
    ),
    Fault(
        "finger",
        "finger marks",
        "wet or oily hands",
        "wash and dry, hold the edges",
        others=(),
        check="ridges or drops at the edges, sharp and pale",
    ),
    Fault(
        "wrong_side",
        "emulsion the wrong way",
        "loaded face down",
        "the shinier side, the inward curl, faces the hole",
        True,
        others=(),
        check="faint, flat and the right way round: the light came through the base",
    ),
    Fault(
        "blank",
        "blank",
        "hole never free, or slide in",
        "slide out before the flap",
        True,
        others=(
            "paper loaded over the hole",
            "developer used up",
            "the packet of fresh paper taken for exposed",
        ),
        check="a scrap in room light turns black: the bath is good, and no light came",
    ),
    Fault(
        "drips",
        "drips and runs",
        "bath that ran back over the sheet",
        "let it drip by one corner",
        others=("tongs carried from bath to bath",),
        check="tracks that run one way, and end in a drop",
    ),
    Fault(
        "water",
        "water marks",
        "dried with drops on it",
        "a wiped sheet, a drop of wetting agent",
        check="rings with a sharp rim, seen from aslant",
    ),
    Fault(
        "dust",
        "dust and hairs",
        "dust on the paper or on the scanner's glass",
        "brush the holder; wipe the glass",
        others=("dust on the hole: then it is large and soft",),
        check="turn the sheet on the glass: what stays where it was is the scanner's",
    ),
    Fault(
        "curl",
        "curl",
        "fibre dried too fast or on one side",
        "flatten in a book, bone dry",
        check="unsharp at the rim of the scan alone",
    ),
    Fault(
        "over_hole",
        "paper over the hole",
        "the paper's edge reached before the hole",
        "cut it shorter, mark its ends on the wall",
        True,
        check="a pale wedge or nothing at all, with a straight edge",
    ),
    Fault(
        "age",
        "fogged by age or heat",
        "paper kept warm or long",
        "cooler; a little restrainer, or print it as a base",
        True,
        check="the rails are grey too, the coin test is clean",
    ),
)
FAULT_BY_CODE = {fault.code: fault for fault in FAULTS}
