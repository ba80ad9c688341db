"""Backs of cameras: each says all of itself here, behind one interface. The geometry is the
craft's.
"""

from collections.abc import Iterator
from math import pi
from typing import Any, ClassVar, Protocol

from chimney.parts import sizes
from pinhole import projection
from pinhole.solargraph import can

# Measures of a hole, which a lens has not.
HOLE_FIELDS: tuple[str, ...] = ("diameter_mm", "diameter_sd_mm", "measured_on", "wall_mm")
HOLE_FIELDS += ("opening_mm", "opening_depth_mm")
FIRST_BACK = "flat"


class BackKind(Protocol):
    """Kind of back. name, and choice as a form offers it; depth_words: what its depth is called;
    fields: measures that it asks for and that not every back has; noun: what such a camera is, in a
    word; along_words: how the length of its paper is meant.

    is_lens: it has a lens instead of a hole, which burns when it faces the sun; has_rails: they
    cover the rim of its paper; takes_round: a round sheet fits; is_round: its body is a cylinder
    whose wall holds the paper; stands: the paper stands on its floor, so that it may lie above the
    hole or below; hangs_first: it is what a solargraph is usually made in.
    """

    name: ClassVar[str]
    choice: ClassVar[str]
    depth_words: ClassVar[str]
    fields: ClassVar[tuple[str, ...]]
    noun: ClassVar[str]
    along_words: ClassVar[str]
    is_lens: ClassVar[bool]
    has_rails: ClassVar[bool]
    takes_round: ClassVar[bool]
    is_round: ClassVar[bool]
    stands: ClassVar[bool]
    hangs_first: ClassVar[bool]

    @classmethod
    def geometry(cls, camera: Any) -> projection.Back:
        """The back as the craft computes it. Raises ValueError for paper that cannot lie there."""
        ...

    @classmethod
    def limits(
        cls, depth_mm: float, length_mm: float, visible_mm: float
    ) -> Iterator[tuple[str, str]]:
        """(field, words) of each reason why paper of that length cannot lie in it."""
        ...


class Flat:
    name: ClassVar[str] = "flat"
    choice: ClassVar[str] = "flat back"
    depth_words: ClassVar[str] = "Depth: hole to paper"
    fields: ClassVar[tuple[str, ...]] = (*HOLE_FIELDS, "body_mm")
    noun: ClassVar[str] = "box"
    along_words: ClassVar[str] = "wide"
    is_lens: ClassVar[bool] = False
    has_rails: ClassVar[bool] = True
    takes_round: ClassVar[bool] = True
    is_round: ClassVar[bool] = False
    stands: ClassVar[bool] = False
    hangs_first: ClassVar[bool] = False

    @classmethod
    def geometry(cls, camera: Any) -> projection.Back:
        visible = _visible_mm(camera)
        if sizes.is_round(camera.size):
            return projection.RoundBack(camera.depth_mm, min(visible), min(visible))
        return projection.FlatBack(camera.depth_mm, *visible)

    @classmethod
    def limits(
        cls, depth_mm: float, length_mm: float, visible_mm: float
    ) -> Iterator[tuple[str, str]]:
        return iter(())


class Arc(Flat):
    """Paper along a curve: not longer than the way around."""

    name = "arc"
    choice = "curved back about the hole"
    depth_words = "Radius: hole to paper"
    fields = HOLE_FIELDS
    along_words = "along the wall"
    takes_round = False
    way_words: ClassVar[str] = "half turn"
    # So much stays free on either side of a hole in the wall.
    clear_mm: ClassVar[float] = 0.0

    @classmethod
    def geometry(cls, camera: Any) -> projection.Back:
        return projection.ArcBack(camera.depth_mm, *_visible_mm(camera))

    @classmethod
    def limits(
        cls, depth_mm: float, length_mm: float, visible_mm: float
    ) -> Iterator[tuple[str, str]]:
        around_mm = pi * depth_mm
        trim_mm = length_mm - around_mm + 2 * cls.clear_mm
        if length_mm > around_mm:
            longer = f"{length_mm:g} mm along the wall is more than the {cls.way_words}"
            yield "cut", f"{longer} of {around_mm:.0f} mm."
        elif trim_mm > 0:
            covers = f"The paper would cover the hole: trim {trim_mm:.0f} mm"
            yield "cut", f"{covers}, so that {cls.clear_mm:g} mm stay free."
        elif visible_mm > around_mm:
            yield "visible", f"No more than {around_mm:.0f} mm can be seen."


class Can(Arc):
    name = "can"
    choice = "can: hole in the wall, paper round the far wall"
    depth_words = "Inner diameter"
    fields = (*HOLE_FIELDS, "height_mm", "offset_mm")
    noun = "can"
    has_rails = False
    is_round = True
    stands = True
    hangs_first = True
    way_words = "circumference"
    clear_mm = can.CLEAR_MM

    @classmethod
    def geometry(cls, camera: Any) -> projection.Back:
        return projection.CanBack(camera.depth_mm, *_visible_mm(camera), camera.offset_mm)


class Lens(Flat):
    name = "lens"
    choice = "a lens instead of a hole"
    depth_words = "Focal length"
    fields = ("marked_f_number", "apertures", "extension_mm", "body_mm")
    is_lens = True


def _visible_mm(camera: Any) -> tuple[float, float]:
    """Width and height of its paper that light reaches [mm]."""
    return camera.visible_width_mm, camera.visible_height_mm


# In the order in which they are offered. To add one, write such a class and name it here.
BACK_KINDS: dict[str, type[BackKind]] = {kind.name: kind for kind in (Flat, Can, Arc, Lens)}


def choices() -> list[tuple[str, str]]:
    """(name, words) of each, as a form offers them."""
    return [(name, kind.choice) for name, kind in BACK_KINDS.items()]


def asking(field: str) -> list[str]:
    """Names of the backs that ask for a measure; none for one that belongs to every back."""
    return [name for name, kind in BACK_KINDS.items() if field in kind.fields]


def special_fields() -> set[str]:
    """Measures that not every back has."""
    return {field for kind in BACK_KINDS.values() for field in kind.fields}


def lenses() -> list[str]:
    """Names of the backs that have a lens."""
    return [name for name, kind in BACK_KINDS.items() if kind.is_lens]
