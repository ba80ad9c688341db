"""The sun against a camera: from which side it shines, and where the shadow falls of who stands
beside it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pinhole.ranges import Array, Numbers, checked

# Beyond the first of these angles from where a camera looks the sun counts as behind it, within the
# second as against it (common practice).
BEHIND_DEG, AGAINST_DEG = 120.0, 60.0
PERSON_MM, CAMERA_MM = 1750.0, 1000.0
# A sun lower than this throws a shadow without an end.
LOWEST_SHADOW_DEG = 0.1


@dataclass(frozen=True)
class Stance:
    """Stand of the sun to a camera. side: "behind", "side" or "against"; off_deg: sun's azimuth
    from the camera's, -180 to 180, right positive; shadow_mm: of the photographer on level ground
    (nan with the sun down); shadow_azimuth_deg; in_field: whether it falls within the camera's
    field.
    """

    side: str
    off_deg: float
    shadow_mm: float
    shadow_azimuth_deg: float
    in_field: bool


def stance(
    sun_azimuth_deg: float,
    sun_altitude_deg: float,
    camera_azimuth_deg: float,
    field_deg: float,
    *,
    person_mm: float = PERSON_MM,
    camera_mm: float = CAMERA_MM,
) -> Stance:
    """The Stance of the sun to a camera with a photographer beside it.

    sun_azimuth_deg, camera_azimuth_deg [any], sun_altitude_deg [-90 to 90], field_deg [above 0, at
    most 360]: whole angle across; person_mm, camera_mm: heights [above 0]. Scalars. Raises
    ValueError outside.
    Source: geometry; beyond 120 degrees off counts as behind, within 60 as against (common
    practice). The shadow shows where it lies ahead and reaches further than the camera sees down to
    the ground, about a camera's height.
    """
    off_azimuth = (
        float(checked("sun_azimuth_deg", sun_azimuth_deg)) - float(camera_azimuth_deg) + 180
    ) % 360 - 180
    altitude = float(checked("sun_altitude_deg", sun_altitude_deg, least=-90, most=90))
    half = float(checked("field_deg", field_deg, above=0, most=360)) / 2
    aside = abs(off_azimuth)
    side = "behind" if aside > BEHIND_DEG else "against" if aside < AGAINST_DEG else "side"
    shadow_azimuth = (float(sun_azimuth_deg) + 180) % 360
    length = float("nan")
    if altitude > LOWEST_SHADOW_DEG:
        length = float(person_mm / np.tan(np.radians(altitude)))
    depth = shadow_depth_deg(
        off_azimuth, altitude, 0.0, 2 * half, person_mm=person_mm, camera_mm=camera_mm
    )
    return Stance(side, off_azimuth, length, shadow_azimuth, bool(depth > 0))


def shadow_depth_deg(
    sun_azimuth_deg: Numbers,
    sun_altitude_deg: Numbers,
    camera_azimuth_deg: float,
    field_deg: float,
    *,
    person_mm: float = PERSON_MM,
    camera_mm: float = CAMERA_MM,
) -> Array:
    """Degrees of the sun from where that shadow leaves the picture, 0 or less where it does not
    fall into it; arguments, errors and source as stance(), the sun's place broadcast.
    """
    altitude = checked("sun_altitude_deg", sun_altitude_deg, least=-90, most=90)
    azimuth = checked("sun_azimuth_deg", sun_azimuth_deg) - float(camera_azimuth_deg)
    half = float(checked("field_deg", field_deg, above=0, most=360)) / 2
    # It reaches far enough with the sun lower than this; and lies on the other side of the sun.
    highest = np.degrees(np.arctan2(person_mm, camera_mm))
    shadow_off = np.abs(azimuth % 360 - 180)
    inside = np.minimum(half - shadow_off, highest - altitude)
    return np.asarray(np.minimum(inside, altitude - LOWEST_SHADOW_DEG))
