"""Film speeds: the preferred numbers, a meter that does not go low enough, and the same light at
another speed.
"""

from __future__ import annotations

import numpy as np

from pinhole import optics
from pinhole.ranges import Numbers, checked, plain

# ISO preferred numbers (ISO 3, R10) as ISO 5800 and ISO 12232 use them, over the decades that paper
# and film need.
SPEEDS = tuple(
    round(step * 10.0**decade, 2)
    for decade in range(-1, 4)
    for step in (1, 1.2, 1.6, 2, 2.5, 3, 4, 5, 6, 8)
)


def equivalent_s(
    seconds: Numbers,
    *,
    from_f_number: Numbers,
    to_f_number: Numbers,
    from_iso: Numbers,
    to_iso: Numbers,
    stops: float = 0,
) -> Numbers:
    """The same light on the paper: seconds * (N_to / N_from)^2 * (ISO_from / ISO_to) * 2^stops.

    seconds [s, above 0], f-numbers and speeds [above 0], stops [any]; all broadcast. Returns [s].
    Raises ValueError outside. Source: ISO 2720:1974. Reciprocity is not in it.
    """
    seconds = checked("seconds", seconds, above=0)
    aperture = optics.meter_factor(to_f_number, from_f_number)
    speed = checked("from_iso", from_iso, above=0) / checked("to_iso", to_iso, above=0)
    return plain(seconds * aperture * speed * 2 ** checked("stops", stops))


def meter_setting(
    ei: float, f_number: float, *, lowest_iso: float, last_f_number: float
) -> tuple[float, float]:
    """(iso, factor): what to set a meter to for this EI, and what its reading at its last f-number
    is multiplied by.

    ei, f_number, lowest_iso, last_f_number [above 0], scalars. A meter that goes low enough is set
    to the EI itself, else to its lowest ISO. Raises ValueError outside. Source: ISO 2720:1974, as
    equivalent_s.
    """
    ei = float(checked("ei", ei, above=0))
    last_f_number = float(checked("last_f_number", last_f_number, above=0))
    iso = max(ei, float(checked("lowest_iso", lowest_iso, above=0)))
    return iso, equivalent_s(
        1, from_f_number=last_f_number, to_f_number=f_number, from_iso=iso, to_iso=ei
    )


def nearest_speed(ei: float) -> float:
    """The ISO preferred speed nearest in stops. ei [above 0]. Raises ValueError outside. Source:
    ISO 3, R10.
    """
    away = np.abs(np.log2(np.array(SPEEDS) / checked("ei", ei, above=0)))
    return SPEEDS[int(np.argmin(away))]
