"""A box camera of card as a flat net: a body that holds the paper at its back, and a lid with the
hole, whose skirt over the body keeps light out.

Card is folded about the middle of its thickness: what lies inside a fold is half a card nearer.
"""

from __future__ import annotations

from dataclasses import dataclass

from pinhole.ranges import checked

# Room for a sheet to go in, and for the lid to slide over the body [mm]. Common practice.
SHEET_ROOM_MM, SLIDE_MM = 2.0, 0.8
# Width of a flap that is glued, and the longest skirt of a lid [mm]. Common practice.
FLAP_MM, LONGEST_SKIRT_MM = 12.0, 40.0
# A window in the lid, over which the pinhole plate is taped [mm].
WINDOW_MM = 8.0

Point = tuple[float, float]


@dataclass(frozen=True)
class Panel:
    """Part between folds. outline: corners in the flat net [mm]; parent: name of the panel that it
    is folded from, about the line of hinge, a right angle toward the inside; "" for the one that
    stays.
    """

    name: str
    outline: tuple[Point, ...]
    parent: str = ""
    hinge: tuple[Point, Point] | None = None


@dataclass(frozen=True)
class Net:
    """One piece of card. panels; dots: (name, place) of marks for sighting; window: middle of the
    opening for the hole, None where there is none; card_mm: thickness.
    """

    name: str
    panels: tuple[Panel, ...]
    card_mm: float
    dots: tuple[tuple[str, Point], ...] = ()
    window: Point | None = None

    @property
    def folds(self) -> tuple[tuple[Point, Point], ...]:
        """Lines to score and fold."""
        return tuple(panel.hinge for panel in self.panels if panel.hinge)

    @property
    def cuts(self) -> tuple[tuple[Point, Point], ...]:
        """Lines to cut: every edge that is no fold and is no part of one."""
        edges = [
            edge
            for panel in self.panels
            for edge in zip(panel.outline, (*panel.outline[1:], panel.outline[0]), strict=True)
        ]
        return tuple(edge for edge in edges if not any(_lies_on(edge, f) for f in self.folds))


def box(
    depth_mm: float,
    sheet_mm: tuple[float, float],
    visible_mm: tuple[float, float],
    card_mm: float = 1.0,
) -> tuple[Net, Net]:
    """(body, lid) of a box in which the paper lies depth_mm behind the hole.

    depth_mm: hole to paper [15 to 400 mm]; sheet_mm, visible_mm: width and height of the cut sheet
    and of what is seen of it [mm]; card_mm: thickness of the card [0.2 to 4 mm]. Raises ValueError
    outside. Source: geometry of a folded plate; room and flaps are common practice.
    """
    depth = float(checked("depth_mm", depth_mm, least=15, most=400))
    card = float(checked("card_mm", card_mm, least=0.2, most=4))
    wide, high = (side + SHEET_ROOM_MM for side in sheet_mm)
    body = _tray("body", wide + card, high + card, depth + card / 2, card)
    inner = [side + 2 * card + SLIDE_MM for side in (wide, high)]
    skirt = min(depth, LONGEST_SKIRT_MM) + card / 2
    lid = _tray("lid", inner[0] + card, inner[1] + card, skirt, card)
    return _dotted(body, visible_mm), _windowed(lid)


def _tray(name: str, wide: float, high: float, wall: float, card: float) -> Net:
    """A floor of wide x high between its folds, four walls about it, flaps at the side walls."""
    x, y = wide / 2, high / 2
    corners = ((-x, -y), (x, -y), (x, y), (-x, y))
    panels = [Panel("floor", corners)]
    names = ("bottom", "right", "top", "left")
    outward = ((0.0, -1.0), (1.0, 0.0), (0.0, 1.0), (-1.0, 0.0))
    for n, side in enumerate(names):
        start, end = corners[n], corners[(n + 1) % 4]
        far_end, far_start = _moved(end, outward[n], wall), _moved(start, outward[n], wall)
        panels.append(Panel(side, (start, end, far_end, far_start), "floor", (start, end)))
        if side in ("left", "right"):
            panels += _flaps(side, (start, far_start), (end, far_end), card)
    return Net(name, tuple(panels), card)


def _flaps(
    side: str, low: tuple[Point, Point], high: tuple[Point, Point], card: float
) -> list[Panel]:
    """Flaps at both ends of a wall, a little narrower than it at either end."""
    flaps = []
    for n, (near, far) in enumerate((low, high)):
        other = (high, low)[n][0]
        away = _direction(other, near)
        along = _direction(near, far)
        inner = _moved(_moved(near, along, 1.5 * card), away, FLAP_MM)
        outer = _moved(_moved(far, along, -1.5 * card), away, FLAP_MM)
        flaps.append(Panel(f"{side} flap {n + 1}", (near, far, outer, inner), side, (near, far)))
    return flaps


def _dotted(body: Net, visible_mm: tuple[float, float]) -> Net:
    """The body with dots over the edges of what is seen: on its top for across, at its left for up
    and down. They lie in the plane of the paper, so close to the fold as the card lets them.
    """
    half_wide, half_high = visible_mm[0] / 2, visible_mm[1] / 2
    back_y, back_x = body.panels[0].outline[2][1], body.panels[0].outline[0][0]
    from_fold = body.card_mm / 2
    across = [
        (f"top {n + 1}", (x, back_y + from_fold)) for n, x in enumerate((-half_wide, half_wide))
    ]
    upright = [
        (f"left {n + 1}", (back_x - from_fold, y)) for n, y in enumerate((-half_high, half_high))
    ]
    return Net(body.name, body.panels, body.card_mm, (*across, *upright), None)


def _windowed(lid: Net) -> Net:
    """The lid with its window in the middle, and the dots in the hole's plane to sight over."""
    front_y, front_x = lid.panels[0].outline[2][1], lid.panels[0].outline[0][0]
    from_fold = lid.card_mm / 2
    dots = (("top", (0.0, front_y + from_fold)), ("left", (front_x - from_fold, 0.0)))
    return Net(lid.name, lid.panels, lid.card_mm, dots, (0.0, 0.0))


def _moved(point: Point, way: Point, by: float) -> Point:
    return point[0] + way[0] * by, point[1] + way[1] * by


def _direction(start: Point, end: Point) -> Point:
    length = ((end[0] - start[0]) ** 2 + (end[1] - start[1]) ** 2) ** 0.5
    return (end[0] - start[0]) / length, (end[1] - start[1]) / length


def _lies_on(edge: tuple[Point, Point], fold: tuple[Point, Point]) -> bool:
    """True if both ends of an edge lie on the line of a fold, between its ends."""
    way = _direction(*fold)
    length = ((fold[1][0] - fold[0][0]) ** 2 + (fold[1][1] - fold[0][1]) ** 2) ** 0.5
    for point in edge:
        off = point[0] - fold[0][0], point[1] - fold[0][1]
        along, aside = off[0] * way[0] + off[1] * way[1], off[0] * way[1] - off[1] * way[0]
        if abs(aside) > 1e-6 or not -1e-6 <= along <= length + 1e-6:
            return False
    return True
