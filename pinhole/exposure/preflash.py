"""A pre-flash: an even exposure of the whole sheet before the picture, so weak that it hardly
shows, which lifts the shadows of a contrasty paper over its threshold.

Stops under the middle count from the exposure that the middle of a scene gets.
"""

from __future__ import annotations

from dataclasses import replace
from math import log2
from typing import TYPE_CHECKING

from pinhole.exposure.calculation import calculate, flash_left_stops
from pinhole.ranges import checked

if TYPE_CHECKING:
    from pinhole.exposure.calculation import Calculation


# The usual strengths in stops under the middle; weaker does nothing, stronger fogs (common
# practice).
STRENGTHS = (3, 4, 5)


def lift_stops(preflash_stops: float, shadow_stops: float) -> float:
    """Stops that a shadow gets more than without the flash.

    preflash_stops: the flash under the middle [stops, above 0]; shadow_stops: the shadow under the
    middle [stops, at least 0]. Returns a float. Raises ValueError outside. Source: exposures of one
    sheet add; the middle keeps what it had, so the picture gives so much less.
    """
    flash = float(checked("preflash_stops", preflash_stops, above=0))
    shadow = float(checked("shadow_stops", shadow_stops, least=0))
    return log2(2.0 ** (flash_left_stops(flash) - shadow) + 2.0**-flash) + shadow


def flash_s(calculation: Calculation) -> float | None:
    """Time to flash the sheet through the same hole [s], from an even white card before it of which
    the Calculation's reading is taken; None where it asks for no flash.

    Filter and compensation belong to the scene and are left out.
    Source: the time of the reading, 2 to the power of the strength shorter, through its school.
    """
    spec = calculation.specification
    if not spec.preflash_stops:
        return None
    card = replace(
        spec,
        preflash_stops=0.0,
        filter_stops=0.0,
        compensation_stops=-spec.preflash_stops,
    )
    return calculate(calculation.reading, card).exact_s
