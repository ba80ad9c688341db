"""Light as numbers: exposure value, lux, seconds on a meter, the lux of a clear sky."""

from __future__ import annotations

import numpy as np

from pinhole.ranges import ArrayLike, Numbers, checked, plain


def ev100_from_lux(lux: Numbers, incident_constant: float = 250) -> Numbers:
    """Exposure value at ISO 100 of light falling on a flat receptor: log2(lux * 100 / C).

    lux [lx, above 0], incident_constant [lx s, above 0; ISO 2720 allows 240-400 for a flat
    receptor], broadcast.
    Raises ValueError outside. Source: ISO 2720:1974, E * t * S = C * N^2.
    """
    lux = checked("lux", lux, above=0)
    return plain(np.log2(lux * 100 / checked("incident_constant", incident_constant, above=0)))


def lux_from_ev100(ev100: float, incident_constant: float = 250) -> float:
    """The inverse of ev100_from_lux: C 2^EV / 100, in lx.

    ev100 [at ISO 100], incident_constant [lx s, above 0], broadcast. Raises ValueError outside.
    Source: ISO 2720:1974.
    """
    return plain(
        checked("incident_constant", incident_constant, above=0)
        / 100
        * 2 ** checked("ev100", ev100)
    )


def metered_s(ev100: Numbers, f_number: float, iso: float) -> Numbers:
    """The time a meter shows: N^2 / 2^EV * 100 / ISO.

    ev100 [at ISO 100], f_number [above 0], iso [above 0], broadcast. Returns [s].
    Raises ValueError outside. Source: ISO 2720:1974; the additive system of ANSI PH2.5.
    """
    ev100 = checked("ev100", ev100)
    speed = checked("iso", iso, above=0) / 100
    with np.errstate(over="ignore", divide="ignore"):
        return plain(checked("f_number", f_number, above=0) ** 2 / np.exp2(ev100) / speed)


def ev100_at_iso(ev: float, iso: float) -> float:
    """EV at ISO 100 of a meter that shows `ev` while set to `iso`: ev - log2(iso / 100). Broadcast.

    Raises ValueError for iso not above 0. Source: ANSI PH2.5 additive system, EV = Bv + Sv.
    """
    return plain(checked("ev", ev) - np.log2(checked("iso", iso, above=0) / 100))


# log10 lux on level ground under a clear sky, as cubics of altitude / 90: lowest altitude, then the
# coefficients.
CLEAR_SKY = (
    (20.0, 3.74, 3.97, -4.07, 1.47),
    (5.0, 3.05, 13.28, -45.98, 64.33),
    (-0.8, 2.88, 22.26, -207.64, 1034.30),
    (-5.0, 2.88, 21.81, -258.11, -858.36),
    (-12.0, 2.70, 12.17, -431.69, -1899.83),
    (-18.0, 13.84, 262.72, 1447.42, 2797.93),
)


def clear_lux(altitude_deg: ArrayLike) -> Numbers:
    """Lux on level ground under a clear sky with the sun at that altitude, at night what is left at
    -18 degrees.

    altitude_deg [-90 to 90], any shape. Raises ValueError outside.
    Source: P. M. Janiczek, J. A. DeYoung, US Naval Observatory Circular 171 (1987), coefficients
    from memory.
    """
    altitude = checked("altitude_deg", altitude_deg, least=-90, most=90)
    x = np.maximum(altitude, CLEAR_SKY[-1][0]) / 90
    logs = np.full_like(x, np.nan)
    for lowest, a, b, c, d in reversed(CLEAR_SKY):
        logs = np.where(x * 90 >= lowest - 1e-9, a + x * (b + x * (c + x * d)), logs)
    return plain(10**logs)
