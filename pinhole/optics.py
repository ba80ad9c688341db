"""The geometry of a pinhole: f-number, meter factor, best diameter, field and fall-off of a flat back.

    wall          paper
     |              |
---- o ----------- -+-  axis         F = focal length, hole to paper
     |<---- F ---->|                d = diameter of the hole, N = F / d
"""

import numpy as np

from pinhole.ranges import checked, plain

# The last f-number on the scale of many hand meters (common practice).
METER_F_NUMBER = 128
# Rayleigh's constant as usually quoted (Phil. Mag. 31, 1891, from memory).
RAYLEIGH = 1.9


def f_number(focal_mm, diameter_mm):
    """N = F / d. focal_mm, diameter_mm [mm, above 0], broadcast. Raises ValueError outside. Source: definition."""
    focal = checked("focal_mm", focal_mm, above=0)
    return plain(focal / checked("diameter_mm", diameter_mm, above=0))


def meter_factor(f_number, meter_f_number=METER_F_NUMBER):
    """What a time read at the meter's f-number is multiplied by: (N / N_meter)^2.

    f_number, meter_f_number [above 0], broadcast. Raises ValueError outside.
    Source: image illuminance goes with 1 / N^2 (ISO 2720:1974).
    """
    ratio = checked("f_number", f_number, above=0) / checked("meter_f_number", meter_f_number, above=0)
    return plain(ratio**2)


def best_diameter_mm(focal_mm, wavelength_nm=550, constant=RAYLEIGH):
    """The sharpest hole: constant * sqrt(F * wavelength), in mm.

    focal_mm [mm, above 0], wavelength_nm [nm, above 0], constant [above 0; 1.9 Rayleigh, sqrt(2) Petzval], broadcast.
    Raises ValueError outside. Source: Lord Rayleigh, On pin-hole photography, Phil. Mag. 31 (1891), from memory.
    Holds for a subject far away.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    wavelength_mm = checked("wavelength_nm", wavelength_nm, above=0) * 1e-6
    return plain(checked("constant", constant, above=0) * np.sqrt(focal * wavelength_mm))


def field_deg(focal_mm, size_mm):
    """The angle a flat back of that size sees: 2 atan(size / 2F), in degrees.

    focal_mm, size_mm [mm, above 0], broadcast. Raises ValueError outside. Source: geometry.
    """
    half = checked("size_mm", size_mm, above=0) / 2
    return plain(2 * np.degrees(np.arctan2(half, checked("focal_mm", focal_mm, above=0))))


def fall_off_stops(focal_mm, off_axis_mm):
    """How many stops less light a point of a flat back gets than its middle: -log2 cos^4.

    focal_mm [mm, above 0], off_axis_mm [mm, at least 0], broadcast. Raises ValueError outside.
    Source: cos^4 law, textbook optics; a hole in an infinitely thin wall.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    off_axis = checked("off_axis_mm", off_axis_mm, least=0)
    return plain(2 * np.log2(1 + (off_axis / focal) ** 2))


def diameter_stops(diameter_mm, sd_mm):
    """The standard deviation of the time, in stops, that comes from measuring the hole: 2 sd / (d ln 2).

    diameter_mm [mm, above 0], sd_mm [mm, at least 0], broadcast. Raises ValueError outside.
    Source: first-order propagation through N^2; good below 10 % of d.
    """
    diameter = checked("diameter_mm", diameter_mm, above=0)
    return plain(2 * checked("sd_mm", sd_mm, least=0) / (diameter * np.log(2)))
