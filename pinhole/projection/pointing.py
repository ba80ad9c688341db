"""Directions as vectors, and the way that a camera points."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, Numbers, checked, plain


@dataclass(frozen=True)
class Pointing:
    """Stand of a camera: azimuth first, then tilt (up positive, about r), then roll (clockwise
    positive, about f).

    azimuth_deg [from true north clockwise, any], tilt_deg [-90 to 90], roll_deg [any]. Raises
    ValueError outside. The whole camera turns: a tilted can leans.
    """

    azimuth_deg: float
    tilt_deg: float = 0
    roll_deg: float = 0

    def __post_init__(self) -> None:
        checked("azimuth_deg", self.azimuth_deg)
        checked("tilt_deg", self.tilt_deg, least=-90, most=90)
        checked("roll_deg", self.roll_deg)

    def axes(self) -> tuple[Array, Array, Array]:
        """(r, u, f) as unit vectors (east, north, up), shape (3,) each. Source: rotation
        matrices.
        """
        r, u, f = axes_of(np.array([self.azimuth_deg, self.tilt_deg, self.roll_deg], float))
        return r, u, f

    def seen(self, azimuth_deg: Numbers, altitude_deg: Numbers) -> tuple[Array, Array, Array]:
        """(along r, along u, along f) of unit vectors to sky directions; azimuth_deg [any],
        altitude_deg [-90 to 90].

        Shapes broadcast. Raises ValueError outside.
        """
        azimuth = np.radians(checked("azimuth_deg", azimuth_deg))
        altitude = np.radians(checked("altitude_deg", altitude_deg, least=-90, most=90))
        azimuth, altitude = np.broadcast_arrays(azimuth, altitude)
        return self.turned(directions(azimuth, altitude))

    def turned(self, sky: Array) -> tuple[Array, Array, Array]:
        """(along r, along u, along f) of unit vectors (east, north, up), shape (3, ...)."""
        right, up, out = (np.tensordot(axis, sky, axes=1) for axis in self.axes())
        return right, up, out

    def sky(self, right_deg: Numbers, up_deg: Numbers) -> tuple[Numbers, Numbers]:
        """(azimuth_deg, altitude_deg) of directions in the camera's frame, as Back.outline gives
        them.

        right_deg [from f toward r], up_deg [above that level, -90 to 90]; shapes broadcast. The
        inverse of seen().
        """
        right, up = np.broadcast_arrays(np.radians(right_deg), np.radians(up_deg))
        r, u, f = self.axes()
        level = np.cos(up)
        parts = level * np.sin(right), np.sin(up), level * np.cos(right)
        east, north, above = (parts[0] * r[n] + parts[1] * u[n] + parts[2] * f[n] for n in range(3))
        return plain(np.degrees(np.arctan2(east, north)) % 360), plain(
            np.degrees(np.arctan2(above, np.hypot(east, north)))
        )


def axes_of(stands_deg: Array) -> Array:
    """(r, u, f) of cameras as unit vectors (east, north, up), shape (3, 3, ...).

    stands_deg: azimuth, tilt and roll [degrees], (3, ...). Source: rotation matrices.
    """
    azimuth, tilt, roll = np.radians(stands_deg)
    nothing = np.zeros_like(azimuth)
    ahead = np.stack([np.sin(azimuth), np.cos(azimuth), nothing])
    right = np.stack([np.cos(azimuth), -np.sin(azimuth), nothing])
    above = np.stack([nothing, nothing, nothing + 1.0])
    f = np.cos(tilt) * ahead + np.sin(tilt) * above
    u = np.cos(tilt) * above - np.sin(tilt) * ahead
    return np.stack(
        [np.cos(roll) * right - np.sin(roll) * u, np.sin(roll) * right + np.cos(roll) * u, f]
    )


def tilted(
    sky: Array, azimuth_deg: float, tilts_deg: Array, roll_deg: float = 0.0
) -> tuple[Array, Array, Array]:
    """(along r, along u, along f), shape (m, n) each, of n unit vectors sky, shape (3, n), for a
    camera that stands in m tilts [degrees, shape (m,)]: Pointing.turned() for each, at once.
    """
    level = Pointing(azimuth_deg).turned(sky)
    tilt, roll = np.radians(tilts_deg)[:, None], np.radians(roll_deg)
    out = np.cos(tilt) * level[2] + np.sin(tilt) * level[1]
    above = np.cos(tilt) * level[1] - np.sin(tilt) * level[2]
    if not roll_deg:
        return np.broadcast_to(level[0], out.shape), above, out
    right, up = np.cos(roll) * level[0] - np.sin(roll) * above, np.sin(roll) * level[0]
    return right, up + np.cos(roll) * above, out


def directions(azimuth: Numbers, altitude: Numbers) -> Array:
    """Unit vectors (east, north, up) of azimuth and altitude in radians of one shape (...): shape
    (3, ...).
    """
    level = np.cos(altitude)
    return np.stack([level * np.sin(azimuth), level * np.cos(azimuth), np.sin(altitude)])
