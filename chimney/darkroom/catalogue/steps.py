"""Steps that many processes share, with their usual times. Common practice, all editable."""

from dataclasses import replace

from chimney.darkroom.catalogue import cautions
from pinhole.developing import Step, checked_steps, purposes

LID_TRIED = "In total darkness: emulsion inward, edges apart, lid on and tried."
HELD_SO_FAR = "It has held so far; nobody knows for how long."

HOUR, DAY = 3600.0, 86400.0


def ready(words="", light="red"):
    return Step(
        "Make ready",
        "ready",
        light=light,
        remark=words
        or "Gloves on, baths poured in their order, lids off, lamp tested with a coin, "
        "door shut and open from inside. Wet hands stay on the wet side.",
    )


STOP = Step("Stop bath", "stop", 10, 20, 5, 5, remark="It ends the developer at once.")
VINEGAR = replace(STOP, name="Vinegar, 1+4", least_s=15, most_s=30)
WATER_STOP = Step("Water", "stop", 30, 60, 5, 5, remark="Fresh for every few sheets.")
FIX = Step("Fix", "fix", 120, 120, 10, 10, remark="Face down at first; then keep it moving.")
FIX_ON = Step("Fix again", "fix", 180, 180, 20, 10, light="white", remark="White light is allowed.")
SOAKS = Step(
    "Wash: three soaks of 20 min",
    "wash",
    3600,
    3600,
    1200,
    light="white",
    remark="Fresh water at each call.",
)
RUNNING = Step("Wash, running", "wash", 3600, 3600, light="white")
SHORT_WASH = Step("Wash", "wash", 600, 600, 120, light="white")
RC_WASH = Step("Wash", "wash", 120, 300, 60, light="white", remark="RC paper takes up little.")
RC_DRY = Step("Dry", "dry", HOUR, 4 * HOUR, light="white", remark="Hang it by a corner.")
FIBRE_DRY = Step(
    "Dry", "dry", DAY, DAY, light="white", remark="Face up on a clean screen or towel."
)
FLATTEN = Step("Flatten in a book", "dry", DAY, 3 * DAY, light="white", remark="Bone dry first.")
# The slide keeps the sheet dark until the filler is on, and the camera after.
CAMERA = (
    Step("Slide shut", "ready", light="closed", remark="Feel that it sits to its end."),
    Step("Pinhole plate off", "ready", light="closed", caution=cautions.BLADE),
    Step("Filler on", "ready", light="closed", remark="Light-trapped, and held to the body."),
    Step(
        "Slide open", "ready", light="closed", remark="The sheet lies free; nothing opens any more."
    ),
)
RINSE_CAMERA = Step(
    "Rinse the camera",
    "check",
    light="white",
    remark="Plain water, three times, and dry it: what is left in it marks the next sheet. It is "
    "not loaded before this is ticked.",
)


def reversal(first, light, vessel):
    """Develop, bleach away what developed, expose what is left, develop that."""
    moved = "turn it over" if vessel == "tank" else "swing it"
    remark = f"To completion; {moved} at each call."
    return checked_steps(
        (
            *first,
            Step("First developer", "develop", 60, 90, 10, 5, light=light, remark=remark),
            Step("Rinse", "rinse", 30, 60, 10, light=light),
            *_bleaching(light),
            Step("Rinse well", "rinse", 60, 120, 15, light=light),
            Step(
                f"Sheet out of the {vessel}",
                "check",
                light="white",
                remark="By its edges; what was dark is bleached, so light does no harm now.",
            ),
            Step(
                "White light", "light", 60, 60, light="white", remark="Both sides, a bright lamp."
            ),
            Step(
                "Second developer", "redevelop", 60, 120, 10, light="white", remark="Until black."
            ),
            Step("Last rinse", "rinse", 120, 300, 30, light="white"),
            *((RINSE_CAMERA,) if vessel == "camera" else ()),
            RC_DRY,
        )
    )


def _bleaching(light):
    """A step that is repeated until no dark is left."""
    acid, bleach = {"caution": purposes.ACID}, {"caution": purposes.PEROXIDE}
    look = "Is any dark left? Then bleach once more."
    return (
        Step("Citric acid", "clear", 30, 30, 10, light=light, **acid),
        Step("Peroxide bleach", "bleach", 60, 75, 10, light=light, **bleach),
        Step("Citric acid again", "clear", 30, 30, 10, light=light, again=1, remark=look, **acid),
    )


def trays(develop, *rest, first=None):
    return checked_steps((first or ready(), develop, *rest))


def developer(least, most, **more):
    return Step("Developer", "develop", least, most, **{"beat_s": 5, "drip_s": 10} | more)


def inside(step, light="closed"):
    return replace(step, light=light)
