"""The geometry of a pinhole: f-number, meter factor, best diameter, field and fall-off of a flat
back.

wall          paper
     |              |
---- o ----------- -+-  axis         F = focal length, hole to paper
     |<---- F ---->|                d = diameter of the hole, N = F / d
"""

from __future__ import annotations

import numpy as np

from pinhole.ranges import Numbers, checked, plain

# The last f-number on the scale of many hand meters (common practice).
METER_F_NUMBER = 128
# Rayleigh's constant as usually quoted (Phil. Mag. 31, 1891, from memory).
RAYLEIGH = 1.9


def f_number(focal_mm: Numbers, diameter_mm: float) -> float:
    """N = F / d. focal_mm, diameter_mm [mm, above 0], broadcast. Raises ValueError outside. Source:
    definition.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    return plain(focal / checked("diameter_mm", diameter_mm, above=0))


def meter_factor(f_number: float, meter_f_number: float = METER_F_NUMBER) -> float:
    """Factor for a time read at the meter's f-number: (N / N_meter)^2.

    f_number, meter_f_number [above 0], broadcast. Raises ValueError outside.
    Source: image illuminance goes with 1 / N^2 (ISO 2720:1974).
    """
    ratio = checked("f_number", f_number, above=0) / checked(
        "meter_f_number", meter_f_number, above=0
    )
    return plain(ratio**2)


def bellows_f_number(marked_f_number: float, focal_mm: float, extension_mm: float) -> float:
    """The f-number a lens really has when it stands `extension_mm` before the paper: marked *
    extension / F.

    marked_f_number, focal_mm, extension_mm [above 0], broadcast. Raises ValueError outside.
    Source: textbook optics; the bellows factor of the time is the square of extension / F.
    """
    marked = checked("marked_f_number", marked_f_number, above=0)
    extension = checked("extension_mm", extension_mm, above=0)
    return plain(marked * extension / checked("focal_mm", focal_mm, above=0))


def best_diameter_mm(
    focal_mm: float, wavelength_nm: float = 550, constant: float = RAYLEIGH
) -> float:
    """The sharpest hole: constant * sqrt(F * wavelength), in mm.

    focal_mm [mm, above 0], wavelength_nm [nm, above 0], constant [above 0; 1.9 Rayleigh, sqrt(2)
    Petzval], broadcast.
    Raises ValueError outside. Source: Lord Rayleigh, On pin-hole photography, Phil. Mag. 31 (1891),
    from memory. Holds for a subject far away.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    wavelength_mm = checked("wavelength_nm", wavelength_nm, above=0) * 1e-6
    return plain(checked("constant", constant, above=0) * np.sqrt(focal * wavelength_mm))


def field_deg(focal_mm: float, size_mm: float) -> float:
    """The angle a flat back of that size sees: 2 atan(size / 2F), in degrees.

    focal_mm, size_mm [mm, above 0], broadcast. Raises ValueError outside. Source: geometry.
    """
    half = checked("size_mm", size_mm, above=0) / 2
    return plain(2 * np.degrees(np.arctan2(half, checked("focal_mm", focal_mm, above=0))))


def fall_off_stops(focal_mm: float, off_axis_mm: float) -> float:
    """Stops of light that a point of a flat back gets less than its middle: -log2 cos^4.

    focal_mm [mm, above 0], off_axis_mm [mm, at least 0], broadcast. Raises ValueError outside.
    Source: cos^4 law, textbook optics; a hole in an infinitely thin wall.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    off_axis = checked("off_axis_mm", off_axis_mm, least=0)
    return plain(2 * np.log2(1 + (off_axis / focal) ** 2))


def diameter_stops(diameter_mm: float, sd_mm: float) -> float:
    """The standard deviation of the time, in stops, that comes from measuring the hole: 2 sd / (d
    ln 2).

    diameter_mm [mm, above 0], sd_mm [mm, at least 0], broadcast. Raises ValueError outside.
    Source: first-order propagation through N^2; good below 10 % of d.
    """
    diameter = checked("diameter_mm", diameter_mm, above=0)
    return plain(2 * checked("sd_mm", sd_mm, least=0) / (diameter * np.log(2)))


# Rules for the best hole, d = constant * sqrt(F lambda): name, constant, where it is from (all from
# memory).
BEST_RULES = (
    ("Rayleigh", RAYLEIGH, "Lord Rayleigh, Phil. Mag. 31 (1891), as usually quoted"),
    ("Petzval", 2**0.5, "Petzval's sqrt(2 F lambda)"),
    ("Young", 2.0, "M. Young, The Physics Teacher 27 (1989): F = radius^2 / lambda"),
)


def blur_mm(focal_mm: float, diameter_mm: float, wavelength_nm: float = 550) -> float:
    """Width of a far point of light on the paper, in mm; its inverse is lines per mm.

    focal_mm, diameter_mm [mm, above 0], wavelength_nm [nm, above 0], broadcast. Raises ValueError
    outside.
    Source: the hole's own width and the Airy disc 2.44 lambda F / d, added in squares, a common
    approximation. It is smallest at d = 1.56 sqrt(F lambda), between Petzval's rule and Rayleigh's.
    """
    focal = checked("focal_mm", focal_mm, above=0)
    diameter = checked("diameter_mm", diameter_mm, above=0)
    airy = 2.44 * checked("wavelength_nm", wavelength_nm, above=0) * 1e-6 * focal / diameter
    return plain(np.hypot(diameter, airy))


def wall_field_deg(diameter_mm: float, wall_mm: float) -> float:
    """The whole angle at which the hole's own tube cuts the field: 2 atan(d / t).

    diameter_mm, wall_mm [mm, above 0], broadcast. Raises ValueError outside. Source: geometry.
    """
    diameter = checked("diameter_mm", diameter_mm, above=0)
    return plain(2 * np.degrees(np.arctan2(diameter, checked("wall_mm", wall_mm, above=0))))


def opening_field_deg(opening_mm: float, depth_mm: float) -> float:
    """The whole angle that a big hole of that width lets through, its rim that far before or behind
    the pinhole.

    opening_mm, depth_mm [mm, above 0], broadcast. Raises ValueError outside. Source: geometry; a
    plate inside the box is cut on the scene's side, a plate outside on the paper's, by the same
    angle.
    """
    half = checked("opening_mm", opening_mm, above=0) / 2
    return plain(2 * np.degrees(np.arctan2(half, checked("depth_mm", depth_mm, above=0))))


def sighting_dots_mm(
    focal_mm: float, size_mm: float, body_mm: float, room_mm: float
) -> tuple[float, float]:
    """(back, aside): the two rear dots stand `back` behind the front dot and `aside` either side of
    the axis.

    rear left .           . rear right      the line from the right rear dot through the front
                    `.     .'                   dot is the left edge of the scene, and so on
                       `o'   front dot over the pinhole

    focal_mm, size_mm (of the paper that way) [mm, above 0]; body_mm: room behind the front dot;
    room_mm: room either side [mm, above 0]. Scalars. Raises ValueError outside. Source: similar
    triangles, aside / back = size / 2F, so that a body longer or shorter than F serves as well.
    """
    slope = float(checked("size_mm", size_mm, above=0) / 2 / checked("focal_mm", focal_mm, above=0))
    body, room = (
        float(checked("body_mm", body_mm, above=0)),
        float(checked("room_mm", room_mm, above=0)),
    )
    back = min(body, room / slope)
    return back, back * slope
