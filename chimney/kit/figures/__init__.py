"""Drawings of a camera."""

from chimney.kit.figures.blur import blur
from chimney.kit.figures.camera import (
    CURVE_STEPS,
    Layout,
    fall_off,
    layout_of,
    section,
    side,
    unrolled,
)
from chimney.kit.figures.grips import pulled, to_blur, to_section
from chimney.kit.figures.outline import outline

__all__ = [
    "CURVE_STEPS",
    "Layout",
    "blur",
    "fall_off",
    "layout_of",
    "outline",
    "pulled",
    "section",
    "side",
    "to_blur",
    "to_section",
    "unrolled",
]
