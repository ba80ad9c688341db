"""Words for what is done at the camera at hand, and for how long a hole was free."""

from dataclasses import dataclass

from pinhole import durations
from pinhole.exposure import LONGEST_S


@dataclass(frozen=True)
class AtCamera:
    """Handling of a camera: before the hole is opened, the tap after it is shut, what is true then,
    and how that is taken back; steps: all of it in its order.
    """

    before: str
    tap: str
    safe: str
    not_yet: str
    steps: tuple


HOLE = "hand or hat before the hole, open, wait, hand away"
SHUT_HOLE = "at zero a finger over the hole, then the flap shut and taped"
LENS = "hand before the lens, shutter or cap open, hand away"
SHUT_LENS = "at zero the hand before the lens, then shutter or cap shut"
SLIDE = AtCamera(
    before="First: flap shut, slide out, held flat and dry.",
    tap="Slide is in, turned",
    safe="Slide in and turned",
    not_yet="Slide is not in yet: undo",
    steps=(
        "flap shut",
        "slide out, held flat and dry",
        HOLE,
        SHUT_HOLE,
        "slide in, turned: bumps say exposed",
    ),
)
OWN_BACK = AtCamera(
    before="First: flap or tape over the hole, the camera where it stands, and steady.",
    tap="Taped shut for the way home",
    safe="Taped shut",
    not_yet="Not taped yet: undo",
    steps=(
        "flap shut",
        "camera where it stands, and steady",
        HOLE,
        SHUT_HOLE,
        "taped for the way home",
    ),
)


def at_camera(goes_straight_in, *, is_lens=False):
    """The AtCamera of a camera with its own back or a holder with its slide, with a lens or a
    hole.
    """
    handling = OWN_BACK if goes_straight_in else SLIDE
    if not is_lens:
        return handling
    first, ready, _, _, last = handling.steps
    before = handling.before.replace("flap or tape over the hole", "shutter or cap shut")
    return AtCamera(
        before=before.replace("flap shut", "shutter or cap shut"),
        tap=handling.tap.replace("Taped shut", "Shut"),
        safe=handling.safe.replace("Taped shut", "Shut"),
        not_yet=handling.not_yet.replace("taped", "shut"),
        steps=(
            first.replace("flap", "shutter or cap"),
            ready,
            LENS,
            SHUT_LENS,
            last.replace("taped", "shut"),
        ),
    )


def free_for(free_s, worth_s):
    """ "free for 1:02, worth 58 s of the light it was opened in"."""
    sentence = f"free for {durations.say(free_s)}"
    # Beyond a day in its first light it says nothing that stops do not say better.
    is_finite = worth_s is not None and worth_s <= LONGEST_S
    worth = is_finite and durations.say(worth_s)
    moved = worth and worth != durations.say(free_s)
    return f"{sentence}, worth {worth} of the light it was opened in" if moved else sentence


NOT_EMPTY = "That side is not empty: unload it first."


def pencilled(sheet):
    """Words for a code that stands on a sheet already."""
    return f"{sheet} is already pencilled on another sheet."
