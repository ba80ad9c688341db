"""Failings of cameras: the usual cause and the remedy. Common practice."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Failing:
    """code, what is seen, the usual cause, the remedy."""

    code: str
    words: str
    cause: str
    remedy: str


UNRINSED = "unrinsed"
FAILINGS = (
    Failing(
        "leak",
        "light leaks in",
        "lid, seam or slide",
        "tape the seam, felt or foam under the lid, then test again",
    ),
    Failing(
        "burr",
        "burr or thick hole",
        "drilled or pierced and not sanded",
        "sand both sides, turn on the needle",
    ),
    Failing(
        "shiny",
        "shiny inside",
        "bare metal or gloss paint",
        "matt black inside, sprayed with ventilation",
    ),
    Failing("lid", "loose lid", "worn rim, weak tape", "rubber band, new tape, a weight"),
    Failing(
        "shake",
        "it shakes",
        "a light camera, wind, a stiff shutter",
        "weight on it, hand before the hole at opening",
    ),
    Failing(
        "clogged",
        "hole clogged",
        "paint, dust, a sheet before it",
        "blow, never poke; look against the light",
    ),
    Failing(
        UNRINSED,
        "to be rinsed",
        "a sheet was developed in it",
        "plain water, three times, and dry",
    ),
    Failing("other", "something else", "to be found", "write it down"),
)
FAILING_BY_CODE = {failing.code: failing for failing in FAILINGS}
TIGHT = "tight"

# The test, in the order it is done (common practice).
PROTOCOL = (
    "In the dark, a lamp inside the closed camera: look for light at seams, lid and shutter.",
    "Load a scrap of paper, cover the hole, leave the camera in full sun for half an "
    "hour, each side to the sun.",
    "Develop the scrap. White for a negative paper: tight. Grey or streaks: find where "
    "by their place.",
)
