"""The outline of a sheet over its scan, with corners to drag."""

from chimney.parts import svg

CORNER_NAMES = ("Upper left", "Upper right", "Lower right", "Lower left")
CORNER_PX = 9.0
# What a thumb hits where a phone shows the drawing at half.
CORNER_THUMB = 44.0


def outline(corners, wide, high):
    """A Drawing of the outline, corners as shares of it."""
    points = [(x * wide, y * high) for x, y in corners]
    frame = (svg.polygon(points, "crop-frame"),)
    return svg.Drawing(
        "The sheet", "where it lies on the scan", wide, high, frame, "over-picture", "sheet-outline"
    )


def grips(drawn, corners, *, live=False):
    """Its corners as handles."""
    handles = [
        svg.Handle(
            str(n),
            x * drawn.width,
            y * drawn.height,
            f"{name} corner",
            (svg.circle(0, 0, CORNER_THUMB, "reach"), svg.circle(0, 0, CORNER_PX, "grip")),
            value=f"{100 * x:.0f} % across, {100 * y:.0f} % down",
        )
        for n, (name, (x, y)) in enumerate(zip(CORNER_NAMES, corners, strict=True))
    ]
    return svg.handles(drawn, "corners", handles, live=live)
