"""Processes to start from. Times and habits: common practice, all editable."""

from dataclasses import dataclass, replace

from chimney.darkroom.catalogue.steps import (
    CAMERA,
    DAY,
    FIBRE_DRY,
    FIX,
    FIX_ON,
    FLATTEN,
    HELD_SO_FAR,
    HOUR,
    LID_TRIED,
    RC_DRY,
    RC_WASH,
    SHORT_WASH,
    SOAKS,
    STOP,
    WATER_STOP,
    developer,
    inside,
    ready,
    reversal,
    trays,
)
from pinhole.developing import Step

SOUPS = ("coffee", "film")


@dataclass(frozen=True)
class Process:
    """key; name; kinds: of paper that it suits; bases: of paper, all if empty; vessels: kinds of
    vessel it is done in, the usual one first; steps; together: whether sheets usually go at once;
    by_eye: whether the developer is usually ended by eye; why: what it is good for.
    """

    key: str
    name: str
    kinds: tuple
    bases: tuple
    vessels: tuple
    steps: tuple
    together: bool = False
    by_eye: bool = False
    why: str = ""
    # A word in the name of the developers that it is for; the kitchen's own are for no other.
    soup: str = ""

    def develops_in(self, name):
        """True if a developer of that name is one for it."""
        name = name.lower()
        return self.soup in name if self.soup else not any(word in name for word in SOUPS)

    def suits(self, paper):
        """True if it is meant for such paper."""
        return paper.kind in self.kinds and (not self.bases or paper.base in self.bases)


DRAWERS = (
    "Three drawers or boxes over a drip tray, lids on; struts keep the fabric off wet paper. "
    "Screen face down and outside, sound on."
)

ALL = (
    Process(
        "rc-trays",
        "RC negative in trays",
        ("negative",),
        ("rc",),
        ("tray", "drawers"),
        trays(
            developer(60, 90, remark="Rock gently; until it stops building."),
            STOP,
            FIX,
            FIX_ON,
            RC_WASH,
            RC_DRY,
        ),
        why="Quick and forgiving; what most paper negatives go through.",
    ),
    Process(
        "fibre-trays",
        "fibre negative in trays",
        ("negative",),
        ("fibre",),
        ("tray", "drawers"),
        trays(
            developer(90, 150, remark="Rock gently; fibre builds more slowly than RC."),
            STOP,
            FIX,
            FIX_ON,
            SOAKS,
            FIBRE_DRY,
            FLATTEN,
        ),
        why="The base soaks: longer baths, a long wash, a day to dry.",
    ),
    Process(
        "positive-trays",
        "direct positive in trays",
        ("positive",),
        (),
        ("tray",),
        trays(
            developer(60, 180, remark="1+10 to 1+15, room temperature and not cold."),
            replace(STOP, most_s=30),
            replace(FIX, least_s=60, most_s=60, remark="Non-hardening fixer."),
            SOAKS,
            FIBRE_DRY,
            FLATTEN,
        ),
        by_eye=True,
        why="Fibre base, one of a kind: the sheet is the picture.",
    ),
    Process(
        "positive-drum",
        "direct positive in a drum or tank",
        ("positive",),
        (),
        ("drum", "tank"),
        trays(
            developer(60, 180, light="closed", remark="Roll without a rest."),
            inside(replace(STOP, most_s=30)),
            inside(replace(FIX, least_s=60, most_s=90, remark="Non-hardening fixer.")),
            SOAKS,
            FIBRE_DRY,
            FLATTEN,
            first=ready(
                f"{LID_TRIED} Then the light may come on, and the screen with it.",
                "dark",
            ),
        ),
        together=True,
        why="40 to 100 ml for two 4x5 in sheets. Room light while it rolls.",
    ),
    Process(
        "positive-drawers",
        "direct positive in drawers or a tent",
        ("positive",),
        (),
        ("drawers", "tray"),
        trays(
            developer(60, 180, light="dark", remark="By the clock alone: nothing is seen."),
            inside(replace(STOP, most_s=30), "dark"),
            inside(replace(FIX, most_s=120), "dark"),
            SOAKS,
            FIBRE_DRY,
            FLATTEN,
            first=ready(DRAWERS),
        ),
        why="No dark room wanted: a changing tent and three vessels with lids.",
    ),
    Process(
        "rc-drawers",
        "RC negative in drawers or a tent",
        ("negative",),
        ("rc",),
        ("drawers", "tray"),
        trays(
            developer(60, 90, light="dark", remark="By the clock alone: nothing is seen."),
            inside(STOP, "dark"),
            inside(FIX, "dark"),
            FIX_ON,
            RC_WASH,
            RC_DRY,
            first=ready(DRAWERS),
        ),
        why="No dark room wanted: a changing tent and three vessels with lids.",
    ),
    Process(
        "coffee-fix",
        "coffee developer, then fixer",
        ("negative", "positive"),
        (),
        ("tray",),
        trays(
            developer(
                240, 420, remark="By eye; it stains with time, and is uneven on plain skies."
            ),
            WATER_STOP,
            FIX,
            FIX_ON,
            SHORT_WASH,
            RC_DRY,
        ),
        by_eye=True,
        why="From the kitchen shelf; slower and softer than a bought developer.",
        soup="coffee",
    ),
    Process(
        "coffee-salt",
        "coffee developer, then strong salt",
        ("negative",),
        (),
        ("tray",),
        trays(
            developer(
                240, 420, remark="By eye; it stains with time, and is uneven on plain skies."
            ),
            WATER_STOP,
            Step(
                "Strong salt",
                "fix",
                HOUR,
                DAY,
                HOUR,
                remark=f"As much table salt as dissolves. {HELD_SO_FAR}",
            ),
            SHORT_WASH,
            RC_DRY,
        ),
        by_eye=True,
        why="No fixer at all: scan it soon.",
        soup="coffee",
    ),
    Process(
        "reversal-tank",
        "reversal to a positive, in a tank",
        ("reversal",),
        (),
        ("tank", "drum", "tray"),
        reversal(
            (
                ready(
                    "In the dark: emulsion inward, lid on. Peroxide and acid measured and apart.",
                    "dark",
                ),
            ),
            "closed",
            "tank",
        ),
        together=True,
        why="Negative paper becomes a positive; no fixer is needed.",
    ),
    Process(
        "reversal-camera",
        "reversal to a positive, in the camera",
        ("reversal",),
        (),
        ("camera",),
        reversal(CAMERA, "closed", "camera"),
        together=True,
        why="Developed where it was taken, through a light-trapped filler.",
    ),
    Process(
        "film-tank",
        "sheet film in a tank",
        ("film",),
        (),
        ("tank", "drum"),
        trays(
            Step(
                "Developer",
                "develop",
                360,
                480,
                30,
                10,
                light="closed",
                remark="The maker's time for your developer and temperature first.",
            ),
            inside(replace(STOP, least_s=30, most_s=30)),
            inside(replace(FIX, least_s=300, most_s=300, beat_s=30)),
            replace(SHORT_WASH, least_s=600, most_s=600),
            replace(RC_DRY, least_s=2 * HOUR),
            first=ready(
                "In total darkness, screen off: emulsion inward, lid on and tried. No red light is "
                "safe for film.",
                "dark",
            ),
        ),
        together=True,
        why="Total darkness until the lid is on, then room light.",
        soup="film",
    ),
    Process(
        "contact-print",
        "contact print in trays",
        ("negative",),
        (),
        ("tray",),
        trays(
            developer(60, 90, remark="A print is judged in white light: keep to the time."),
            STOP,
            FIX,
            FIX_ON,
            RC_WASH,
            RC_DRY,
        ),
        why="The positive of a paper negative, judged by the clock so that the strip holds.",
    ),
)
BY_KEY = {process.key: process for process in ALL}
