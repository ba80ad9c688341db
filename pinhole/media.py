"""Media: the kinds of sheet that light draws on. Each says all of itself here, in one line of the
table. Common practice.
"""

from __future__ import annotations

from dataclasses import dataclass

# A paper that nothing of one's own was exposed on: what the box says may be a stop off.
UNTRIED_SD_STOPS = 1.0
# Film is rated by its maker to a standard (ISO 6); what is left is one's own developing.
RATED_SD_STOPS = 1 / 6


@dataclass(frozen=True)
class Medium:
    """Kind of sheet: name, and choice as a form offers it.

    darkening_sense: +1 where more light makes the finished sheet darker, -1 where it makes it
    paler; range_stops: the scene it holds, until its own range is known; untried_sd_stops: how far
    its starting EI may be off; metering: how to meter for it, by what it forgives.
    is_timed: it is metered, timed and developed; one that is not lies in a can for days and darkens
    by itself. is_printed_from: paper is laid under it for a contact print; is_printed_on: it is
    such paper. is_blind_loaded: no light at all is safe, so that it is loaded beforehand.
    """

    name: str
    choice: str
    darkening_sense: int
    range_stops: float
    metering: str
    untried_sd_stops: float = UNTRIED_SD_STOPS
    is_timed: bool = True
    is_printed_from: bool = False
    is_printed_on: bool = True
    is_blind_loaded: bool = False

    @property
    def is_positive(self) -> bool:
        """True if the sheet itself is the picture: more light makes it paler."""
        return self.darkening_sense < 0


# To add one, name it here.
MEDIA = {
    medium.name: medium
    for medium in (
        Medium(
            "negative",
            "paper negative",
            +1,
            # ISO R 110, as makers give it for grade 2 (ISO 6846; from memory).
            3.7,
            "Meter the middle of the scene. A dense negative still scans: when in doubt give +1/2.",
            is_printed_from=True,
        ),
        Medium(
            "positive",
            "direct positive paper",
            -1,
            4.0,
            "Contrasty paper: meter the middle, or hold the sunlit highlights with -2/3.",
        ),
        Medium(
            "reversal",
            "reversal-processed paper",
            -1,
            4.5,
            "Meter the highlights you want to keep: what bleaches out is gone.",
        ),
        Medium(
            "film",
            "sheet film",
            +1,
            9.0,
            "Meter the shadows you want to keep; film forgives more than paper.",
            untried_sd_stops=RATED_SD_STOPS,
            is_printed_on=False,
            is_blind_loaded=True,
        ),
        Medium(
            "solargraph",
            "solargraph paper",
            +1,
            12.0,
            "",
            is_timed=False,
            is_printed_on=False,
        ),
    )
}


def medium(name: str) -> Medium:
    """The Medium of that name. Raises ValueError for another."""
    if name not in MEDIA:
        raise ValueError(f"medium must be one of {', '.join(MEDIA)}")
    return MEDIA[name]


def choices() -> list[tuple[str, str]]:
    """(name, words) of each, as a form offers them."""
    return [(name, kind.choice) for name, kind in MEDIA.items()]


def timed() -> list[str]:
    """Names of those that are metered, timed and developed."""
    return [name for name, kind in MEDIA.items() if kind.is_timed]
