"""Pictures: a pinhole found and measured, its edge as a person drew it, what may come out of a can,
and views that nobody saw.

The library that searches pictures is large: it is loaded when a picture comes.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any

from pinhole.imaging.bounds import UnusableError
from pinhole.ranges import Array

if TYPE_CHECKING:
    from pinhole.imaging.hole import Hole
    from pinhole.imaging.outline import Outline
    from pinhole.projection.back import Back
    from pinhole.projection.pointing import Pointing
    from pinhole.solargraph.skyline import Skyline
    from pinhole.solargraph.tracing import Trails

__all__ = ["UnusableError", "from_points", "measure", "render", "view"]


def measure(picture: Array, mm_per_px: float) -> Hole:
    """The hole.Hole in a picture; arguments, errors and source as hole.measure."""
    from pinhole.imaging import hole

    return hole.measure(picture, mm_per_px)


def from_points(points_px: Sequence[tuple[float, float]], mm_per_px: float) -> Outline:
    """The outline.Outline through points; arguments, errors and source as outline.from_points."""
    from pinhole.imaging import outline

    return outline.from_points(points_px, mm_per_px)


def render(trails: Trails, back: Back, pointing: Pointing, skyline: Skyline, **how: Any) -> Array:
    """The picture of what may come out of a can; arguments and source as preview.render."""
    from pinhole.imaging import preview

    return preview.render(trails, back, pointing, skyline, **how)


def view(seed: int, high: int, wide: int, subject: str = "") -> Array:
    """Luminance of an invented view; arguments and source as scenery.view."""
    from pinhole.imaging import scenery

    return scenery.view(seed, high, wide, subject)
