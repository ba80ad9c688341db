"""Pictures: a pinhole found and measured, its edge as a person drew it, and what may come out of a
can.

The library that searches pictures is large: it is loaded when a picture comes.
"""

from pinhole.imaging.bounds import UnusableError

__all__ = ["UnusableError", "from_points", "measure", "render"]


def measure(picture, mm_per_px):
    """The hole.Hole in a picture; arguments, errors and source as hole.measure."""
    from pinhole.imaging import hole

    return hole.measure(picture, mm_per_px)


def from_points(points_px, mm_per_px):
    """The outline.Outline through points; arguments, errors and source as outline.from_points."""
    from pinhole.imaging import outline

    return outline.from_points(points_px, mm_per_px)


def render(trails, back, pointing, skyline, **how):
    """The picture of what may come out of a can; arguments and source as preview.render."""
    from pinhole.imaging import preview

    return preview.render(trails, back, pointing, skyline, **how)
