"""Faults a sheet may show: what they look like, the usual cause, the remedy. Common practice."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Fault:
    """misleads: the sheet's density says nothing about the exposure, so it teaches no EI; failing:
    what it says of the camera, by the code of kit.catalogue.failings.
    """

    code: str
    words: str
    cause: str
    remedy: str
    misleads: bool = False
    failing: str = ""


FAULTS = (
    Fault(
        "leak",
        "leak streaks",
        "light at the lid or a seam",
        "tape the seam; test in the sun, hole covered",
        True,
        "leak",
    ),
    Fault(
        "fog",
        "fog all over",
        "safelight too near or too long, or old paper",
        "coin test under your red light",
        True,
    ),
    Fault(
        "double",
        "double image",
        "the side was exposed twice",
        "turn the slide after each exposure",
        True,
    ),
    Fault(
        "stain", "stain", "tired or staining developer, short stop", "fresh bath, full stop bath"
    ),
    Fault(
        "uneven",
        "uneven development",
        "sheet not under at once, or not rocked",
        "slide in at once, rock from the start",
    ),
    Fault(
        "shake",
        "shake",
        "wind, or the shutter",
        "hand before the hole at opening; shelter the camera",
        failing="shake",
    ),
    Fault(
        "moved",
        "the subject moved",
        "wind in leaves, people",
        "a calmer subject or a brighter hour",
    ),
    Fault(
        "corners",
        "dark corners",
        "wide flat back, burr or thick hole",
        "thin and sand the hole, or accept the falling off",
        failing="burr",
    ),
    Fault(
        "flare",
        "flare or halo",
        "sun on the hole, shiny inside",
        "shade the hole; matt black inside",
        failing="shiny",
    ),
    Fault("finger", "finger marks", "wet or oily hands", "wash and dry, hold the edges"),
    Fault(
        "wrong_side",
        "emulsion the wrong way",
        "loaded face down",
        "the shinier side, the inward curl, faces the hole",
        True,
    ),
    Fault("blank", "blank", "hole never free, or slide in", "slide out before the flap", True),
)
BY_CODE = {fault.code: fault for fault in FAULTS}
