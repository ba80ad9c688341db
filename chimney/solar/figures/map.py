"""The cans of a place from above: where each is, which way it looks, how far it is to go."""

import numpy as np

from chimney.parts import svg
from chimney.parts.scales import compass, number
from chimney.places import craft as places
from pinhole.projection import directions

MAP_SIZE, LIST_W = 300.0, 120.0
# A place whose cans have no spots yet is drawn so far around.
LEAST_REACH_KM = 0.15
BARS_KM = (0.01, 0.1, 1, 10, 100, 1000, 10_000, 40_000)


# Cans without a spot stand so far from the middle, so many degrees apart.
MAP_RING, RING_DEG = 42, 40


class _Ground:
    """Ground of the plan of a place: its own spot in the middle, true to scale."""

    def __init__(self, place, cans):
        self.place = place
        away = [places.away_km(place, *can.where) for can in cans]
        self.reach = max(1.15 * float(np.abs(away).max()), LEAST_REACH_KM)
        self.scale = 130.0 / self.reach

    def places_of(self, cans):
        """[(x, y)] of cans; those without a spot stand in a ring around the place."""
        homeless = [can for can in cans if not can.has_spot]
        return [
            self._ring(homeless.index(can)) if can in homeless else self._at(can.where)
            for can in cans
        ]

    def _ring(self, n):
        turn = np.radians(RING_DEG * n)
        out = MAP_RING * (1 + n // (360 // RING_DEG))
        return MAP_SIZE / 2 + out * float(np.sin(turn)), MAP_SIZE / 2 - out * float(np.cos(turn))

    def _at(self, where):
        east, north = places.away_km(self.place, *where)
        return MAP_SIZE / 2 + east * self.scale, MAP_SIZE / 2 - north * self.scale

    def where(self, x, y):
        """(latitude, longitude) of a place on the plan."""
        north, east = (MAP_SIZE / 2 - y) / self.scale, (x - MAP_SIZE / 2) / self.scale
        return places.beside(self.place, east, north)


def map_of(place, cans):
    """A Drawing of the plan: each can with the way it looks, and the place itself."""
    ground = _Ground(place, cans)
    shapes = [
        svg.rect(0.0, 0.0, MAP_SIZE + LIST_W, MAP_SIZE, "sky"),
        svg.text(MAP_SIZE / 2, 14.0, "N", "label strong", "middle"),
        svg.line(MAP_SIZE / 2 - 6, MAP_SIZE / 2, MAP_SIZE / 2 + 6, MAP_SIZE / 2, "axis"),
        svg.line(MAP_SIZE / 2, MAP_SIZE / 2 - 6, MAP_SIZE / 2, MAP_SIZE / 2 + 6, "axis"),
    ]
    boxes = []
    for can, (x, y) in zip(cans, ground.places_of(cans), strict=True):
        aim = directions(np.radians(can.stood.azimuth_deg), 0.0)
        shapes += [
            svg.line(x, y, x + 22 * float(aim[0]), y - 22 * float(aim[1]), "ray"),
            svg.circle(x, y, 5, "here"),
        ]
        label_y = y + 5
        while any(abs(x - a) < 110 and abs(label_y - b) < 17 for a, b in boxes):
            label_y += 17
        boxes.append((x, label_y))
        shapes.append(svg.text(x + 10, label_y, str(can), "label"))
    shapes += _bar(ground)
    label = "; ".join(f"{can} looks {compass(can.stood.azimuth_deg)}" for can in cans)
    return svg.Drawing(
        "Where the cans are", label, MAP_SIZE + LIST_W, MAP_SIZE, tuple(shapes), "map"
    )


def _bar(ground):
    bar = next(m for m in BARS_KM if m * ground.scale >= 24 or m == BARS_KM[-1])
    yield svg.line(10.0, MAP_SIZE - 12, 10 + bar * ground.scale, MAP_SIZE - 12, "measure")
    label = f"{number(bar * 1000)} m" if bar < 1 else f"{number(bar)} km"
    yield svg.text(10.0, MAP_SIZE - 18, label, "label")


def spots(place, cans):
    """A Handle on each can, dragged to its spot."""
    ground = _Ground(place, cans)
    return [
        svg.Handle(
            f"can{can.pk}",
            *spot,
            f"The spot of {can}",
            (svg.circle(0, 0, 9, "grip"),),
            value="{:.5f}, {:.5f}".format(*ground.where(*spot)),
        )
        for can, spot in zip(cans, ground.places_of(cans), strict=True)
    ]


def spot_at(place, cans, x, y):
    """(latitude, longitude) of a can that was dragged to x, y on the plan of those cans."""
    return _Ground(place, cans).where(x, y)
