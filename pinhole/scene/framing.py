r"""The field of a pinhole camera laid over the photo of another camera that stands where it does.

    photo's pixel --its focal length--> direction --turn, tilt, roll--> the pinhole's paper

A photo looks along azimuth 0, level; the Pointing of the pinhole is told against it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.projection import Back, Pointing
from pinhole.ranges import Array, Numbers, checked

# Diagonal of the frame that equivalent focal lengths are told for (CIPA DCG-001, from memory).
FRAME_DIAGONAL_MM = 43.27


@dataclass(frozen=True)
class PhotoLens:
    """Photo of a camera without distortion: wide_px, high_px; focal_px: its focal length. Raises
    ValueError unless all are above 0.
    """

    wide_px: float
    high_px: float
    focal_px: float

    def __post_init__(self) -> None:
        for name in ("wide_px", "high_px", "focal_px"):
            checked(name, getattr(self, name), above=0)

    @property
    def field_deg(self) -> tuple[float, float]:
        """(across, high) that it sees [degrees]. Source: geometry."""
        half = np.array([self.wide_px, self.high_px]) / 2
        across, high = 2 * np.degrees(np.arctan(half / self.focal_px))
        return float(across), float(high)

    def place(self, azimuth_deg: Numbers, altitude_deg: Numbers) -> tuple[Array, Array]:
        """(x_px, y_px) from its upper left corner of directions [degrees], any shape; nan for what
        lies behind it. Source: central projection.
        """
        azimuth, altitude = np.radians(azimuth_deg), np.radians(altitude_deg)
        ahead = np.cos(altitude) * np.cos(azimuth)
        with np.errstate(divide="ignore", invalid="ignore"):
            scale = np.where(ahead > 0, self.focal_px / ahead, np.nan)
        x = self.wide_px / 2 + scale * np.cos(altitude) * np.sin(azimuth)
        return np.asarray(x), np.asarray(self.high_px / 2 - scale * np.sin(altitude))

    def direction(self, x_px: Numbers, y_px: Numbers) -> tuple[Array, Array]:
        """(azimuth_deg, altitude_deg) of places in it, any shape: the inverse of place()."""
        right = (np.asarray(x_px, float) - self.wide_px / 2) / self.focal_px
        up = (self.high_px / 2 - np.asarray(y_px, float)) / self.focal_px
        azimuth = np.degrees(np.arctan(right))
        return azimuth, np.degrees(np.arctan2(up, np.hypot(1.0, right)))


@dataclass(frozen=True)
class Standpoint:
    """Place of the pinhole against the camera of the photo, whose axes it is told in: right_m,
    up_m, ahead_m; away_m: how far from the pinhole lies what is framed, far away where nothing is
    told. Raises ValueError unless that is farther than the two are apart.
    """

    right_m: float = 0.0
    up_m: float = 0.0
    ahead_m: float = 0.0
    away_m: float = float("inf")

    def __post_init__(self) -> None:
        apart = np.linalg.norm([self.right_m, self.up_m, self.ahead_m])
        if not self.away_m > apart:
            raise ValueError("away_m must be more than the two cameras are apart")

    @property
    def shift(self) -> Array:
        """(right, up, ahead) as shares of what is framed, (3,)."""
        return np.array([self.right_m, self.up_m, self.ahead_m]) / self.away_m

    def turned(self, turn_deg: float) -> Standpoint:
        """The same Standpoint against a photo that looks so much further to the right [degrees]."""
        turn = np.radians(turn_deg)
        right = self.right_m * np.cos(turn) - self.ahead_m * np.sin(turn)
        ahead = self.right_m * np.sin(turn) + self.ahead_m * np.cos(turn)
        return Standpoint(float(right), self.up_m, float(ahead), self.away_m)

    def in_photo(self, azimuth_deg: Numbers, altitude_deg: Numbers) -> tuple[Array, Array]:
        """(azimuth_deg, altitude_deg) in which the photo has what the pinhole sees in those
        directions, any shape. Source: geometry; all lies on a sphere about the pinhole.
        """
        return _angles(_vectors(azimuth_deg, altitude_deg) + self.shift)

    def in_pinhole(self, azimuth_deg: Numbers, altitude_deg: Numbers) -> tuple[Array, Array]:
        """Directions in which the pinhole sees what the photo has there: the inverse."""
        rays, shift = _vectors(azimuth_deg, altitude_deg), self.shift
        along = rays @ shift
        length = along + np.sqrt(along**2 - shift @ shift + 1.0)
        return _angles(rays * length[..., None] - shift)


def _vectors(azimuth_deg: Numbers, altitude_deg: Numbers) -> Array:
    """Unit vectors (right, up, ahead) of directions, (..., 3)."""
    azimuth, altitude = np.broadcast_arrays(np.radians(azimuth_deg), np.radians(altitude_deg))
    level = np.cos(altitude)
    parts = (level * np.sin(azimuth), np.sin(altitude), level * np.cos(azimuth))
    return np.stack(parts, axis=-1)


def _angles(vectors: Array) -> tuple[Array, Array]:
    right, up, ahead = np.moveaxis(vectors, -1, 0)
    azimuth = np.degrees(np.arctan2(right, ahead))
    return np.asarray(azimuth), np.degrees(np.arctan2(up, np.hypot(right, ahead)))


# Both stand in one place, or what is framed is far away.
SAME_STAND = Standpoint()


def lens_of(wide_px: int, high_px: int, equivalent_mm: float) -> PhotoLens:
    """The PhotoLens of a whole photo by the focal length that sees as much on 35 mm film.

    equivalent_mm [mm, above 0], as Exif has it. Raises ValueError outside. Source: equal angles
    across the diagonal (CIPA DCG-001, from memory).
    """
    equivalent = float(checked("equivalent_mm", equivalent_mm, above=0))
    return PhotoLens(
        wide_px, high_px, equivalent / FRAME_DIAGONAL_MM * float(np.hypot(wide_px, high_px))
    )


def outline_px(
    lens: PhotoLens,
    back: Back,
    pointing: Pointing,
    points: int = 24,
    *,
    stand: Standpoint = SAME_STAND,
) -> tuple[Array, Array]:
    """(x_px, y_px) of the paper's edge in a photo, walked once around, (4 points,) each; nan behind
    it. pointing, stand: of the pinhole against the photo. Source: back.outline(), place().
    """
    return lens.place(*stand.in_photo(*pointing.sky(*back.outline(points))))


def seen_at(
    lens: PhotoLens,
    back: Back,
    pointing: Pointing,
    wide: int,
    high: int,
    *,
    stand: Standpoint = SAME_STAND,
) -> tuple[Array, Array, Array]:
    """(x_px, y_px, fall-off [stops]) of a photo for each place of a print, (high, wide) each:
    upright and the right way round.

    wide, high [at least 2]; stand: of the pinhole. nan for what lies behind the photo. Source:
    sight(), sky() and place().
    """
    half_across, half_high = back.half_mm
    # Turned upright the emulsion shows the scene mirrored: a print does not.
    x_mm = np.linspace(-half_across, half_across, int(checked("wide", wide, least=2)))
    y_mm = np.linspace(-half_high, half_high, int(checked("high", high, least=2)))
    x_mm, y_mm = np.meshgrid(x_mm, y_mm)
    x_px, y_px = lens.place(*stand.in_photo(*pointing.sky(*back.sight(x_mm, y_mm))))
    return x_px, y_px, np.asarray(back.fall_off_stops(x_mm, y_mm))
