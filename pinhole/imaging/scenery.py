"""Views that nobody saw: sky with clouds, water or grass, distance, houses, trees, their shadows,
invented by chance and lit by one sun. All are in stops over grass in the sun, as things lie beside
each other by common practice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np

from pinhole.ranges import Array

# Side of the surface that repeats, and how much rougher it is from octave to octave.
SURFACE_CELLS, ROUGHNESS = 256, 1.35
HAZE_STOPS, CLOUD_STOPS, SHADE_STOPS, DARKEST_STOPS = 2.0, 2.8, -1.8, -7.0
SHORE, MEADOW, YARD = "shore", "meadow", "yard"
# Words of a subject that say what is there.
NAMES = {
    SHORE: ("shore", "harbour", "jetty", "slip", "boat", "tidal"),
    YARD: ("kiln", "house", "loft", "barn", "door", "wall", "stairs"),
}


@dataclass(frozen=True)
class _Stage:
    """x, y: places across and down in heights of the view, (high, wide); horizon, sun: where they
    lie down and across; chance: draws all; surface: a square about 0 with an sd of 1.
    """

    x: Array
    y: Array
    horizon: float
    sun: float
    chance: np.random.Generator
    surface: Array

    @property
    def wide(self) -> float:
        """Width of the view."""
        return float(self.x[0, -1])

    @property
    def depth(self) -> Array:
        """Distance of the ground that is seen at each place, 1 at half a height under the
        horizon.
        """
        return np.float32(0.5) / np.maximum(self.y - self.horizon, 0.008)

    def rough(self, across: Array, down: Array, layer: int = 0) -> Array:
        """The surface at (across, down) [cells]; another part of it for each layer."""
        cells = [_around(place + 61 * layer) for place in (across, down)]
        return _picked(self.surface, cells[0], cells[1], cv2.BORDER_WRAP)

    def between(self, low: float, high: float) -> float:
        """A number by chance."""
        return float(self.chance.uniform(low, high))


def view(seed: int, high: int, wide: int, subject: str = "") -> Array:
    """Luminance of an invented view over its metered middle, shape (high, wide), above 0.

    seed: the same gives the same view, at any size; subject: words for it, which may name a kiln, a
    harbour, a house.
    """
    chance = np.random.default_rng([seed, *subject.encode()[:8]])
    y, x = (np.mgrid[0:high, 0:wide] / (high - 1.0)).astype(np.float32)
    horizon, sun = chance.uniform(0.36, 0.5), chance.uniform(0, wide / high)
    stage = _Stage(x, y, float(horizon), float(sun), chance, _surface(chance))
    kind = _kind(subject, chance)
    sky = _sky(stage)
    ground = _water(stage, sky) if kind == SHORE else _meadow(stage)
    stops = _hills(stage, np.where(y < stage.horizon, sky, ground))
    for part in _parts(kind, subject, chance):
        stops = part(stage, stops)
    light = np.float64(2.0) ** np.maximum(stops, DARKEST_STOPS)
    # A meter adds up light, not stops.
    return np.asarray(light / light[high // 5 : -high // 5, wide // 6 : -wide // 6].mean())


def _surface(chance: np.random.Generator) -> Array:
    waves = np.fft.rfft2(chance.normal(0, 1, (SURFACE_CELLS, SURFACE_CELLS)))
    down, across = np.fft.fftfreq(SURFACE_CELLS)[:, None], np.fft.rfftfreq(SURFACE_CELLS)[None]
    rough = np.fft.irfft2(waves / np.maximum(np.hypot(down, across), 0.004) ** ROUGHNESS)
    return np.asarray(rough / rough.std(), np.float32)


def _around(cells: Array) -> Array:
    """The cells, going round: as np.mod has them, in a tenth of its time."""
    return np.asarray(cells - SURFACE_CELLS * np.floor(cells / SURFACE_CELLS))


def _picked(values: Array, across: Array, down: Array, border: int) -> Array:
    """Values at places between the pixels; border: what lies beyond."""
    columns, rows = np.asarray(across, np.float32), np.asarray(down, np.float32)
    table = np.asarray(values, np.float32)
    picked = cv2.remap(table, columns, rows, cv2.INTER_LINEAR, borderMode=border)
    return np.asarray(picked)


def _kind(subject: str, chance: np.random.Generator) -> str:
    words = subject.lower()
    named = (kind for kind, names in NAMES.items() if any(name in words for name in names))
    return next(named, str(chance.choice([SHORE, MEADOW, YARD])))


def _parts(
    kind: str, subject: str, chance: np.random.Generator
) -> list[Callable[[_Stage, Array], Array]]:
    """Things that stand in a view, the farthest first."""
    trees = [_tree] * int(chance.integers(1, 5))
    if kind == SHORE:
        return [_slip]
    if kind == MEADOW:
        return [*trees, _tree, *[_house] * int(chance.integers(0, 2))]
    if "kiln" in subject.lower():
        return [*trees, *[_kiln] * (3 if "three" in subject else int(chance.integers(1, 3)))]
    return [*trees[1:], *[_house] * int(chance.integers(1, 3))]


def _soft(values: Array, low: float, high: float) -> Array:
    """0 below low, 1 above high, and smooth between."""
    share = np.clip((values - low) / (high - low), 0, 1)
    return np.asarray(share * share * (3 - 2 * share))


def _sky(stage: _Stage) -> Array:
    """Sky and clouds, which lie flatter and closer towards the horizon."""
    up = np.maximum(stage.horizon - stage.y, 0.0)
    near_sun = np.exp(-np.hypot(stage.x - stage.sun, stage.y) * 1.8)
    blue = HAZE_STOPS - 1.1 * np.sqrt(up / stage.horizon) + 1.2 * near_sun
    distance = 1 / (up + 0.12)
    across, down = (
        11 * (stage.x - stage.wide / 2) * distance + stage.between(0, SURFACE_CELLS),
        7 * distance,
    )
    cover, bulk = stage.between(-0.6, 0.9), stage.rough(across, down)
    beside = stage.rough(across + 2.5 * np.sign(stage.sun - stage.x), down - 2.5)
    thick = _soft(bulk, cover, cover + 1.1)
    clouds = CLOUD_STOPS + 0.35 * (bulk - beside) - 0.5 * thick * _soft(thick, 0.6, 1.0)
    return np.asarray(blue + thick * (clouds - blue))


def _hills(stage: _Stage, stops: Array) -> Array:
    """Ridges one behind the other, paler the farther they are."""
    wood = -1.3 + 0.4 * stage.rough(250 * stage.x, 330 * stage.y, 1)
    for share in (0.75, 0.45, 0.2)[: stage.chance.integers(1, 4)]:
        row = np.full_like(stage.x, stage.between(0, SURFACE_CELLS))
        line = stage.rough(40 * stage.x, row) + 0.12 * stage.rough(400 * stage.x, row, 2)
        top = stage.horizon - stage.between(0.02, 0.09) * (1.3 - share) * (1 + 0.5 * line)
        ridge = share * HAZE_STOPS * 0.8 + (1 - share) * wood
        stops = np.where((stage.y > top) & (stage.y <= stage.horizon), ridge, stops)
    return stops


def _meadow(stage: _Stage) -> Array:
    """Grass in tufts with a path, and the shadows of clouds on it."""
    distance = 0.5 * stage.depth
    across = (stage.x - stage.wide / 2) * distance
    sharp = np.minimum(1, 8 * (stage.y - stage.horizon))
    tufts = stage.rough(90 * across, 60 * distance, 3)
    tufts = tufts + 0.8 * stage.rough(420 * across, 130 * distance + 40 * stage.y, 4)
    blades = stage.rough(700 * stage.x, 160 * stage.y, 5) * _soft(stage.y, stage.horizon, 1.0)
    shade = 1.3 * _soft(stage.rough(5 * across, 6 * distance, 6), 0.5, 1.1)
    grass = -0.25 + 0.42 * tufts * sharp + 0.5 * blades
    runs = stage.between(-0.5, 0.5) + stage.between(-0.4, 0.4) * np.sin(2.2 * distance)
    path = np.abs(across - runs) < 0.045 + 0.01 * tufts
    return np.where(path, 0.75 + 0.2 * tufts, grass) - shade


def _water(stage: _Stage, sky: Array) -> Array:
    """Water: the sky upside down in ripples, the glitter of the sun, stones at its edge."""
    distance, below = 0.5 * stage.depth, np.maximum(stage.y - stage.horizon, 0.0)
    across = (stage.x - stage.wide / 2) * distance
    ripples = stage.rough(160 * across, 120 * distance, 3)
    ripples = ripples + 0.6 * stage.rough(60 * across, 520 * distance, 4)
    rows = np.clip(stage.horizon - below + 0.03 * ripples * (1 + 4 * below), 0, 1)
    high = len(stage.y) - 1
    mirrored = _picked(sky, stage.x * high, rows * high, cv2.BORDER_REPLICATE)
    beside = np.abs(stage.x - stage.sun + 0.02 * ripples) / (0.05 + 0.5 * below)
    glitter = 2.2 * np.exp(-(beside**2)) * _soft(ripples, 0.2, 1.4)
    water = mirrored - 1.1 - below + 0.35 * ripples + glitter
    edge = stage.between(0.84, 1.05) + 0.03 * stage.rough(50 * stage.x, 20 * stage.y, 5)
    stones = 0.6 * stage.rough(230 * stage.x, 310 * stage.y, 6) - 0.6
    return np.where(stage.y > edge, stones + 0.4 * stage.rough(90 * stage.x, 90 * stage.y), water)


def _slip(stage: _Stage, stops: Array) -> Array:
    """A slip or a jetty that runs out into the water, of stone or boards, with posts."""
    distance = stage.depth
    reach, offset = stage.between(1.6, 4.0), stage.between(-0.25, 0.25) * stage.wide
    side = np.sign(offset) or 1.0
    middle = (stage.x - stage.wide / 2) * distance - offset
    deck = (np.abs(middle) < 0.28) & (distance < reach) & (stage.y > stage.horizon)
    wall = (side * middle < 0) & (side * middle > -0.33) & (distance < reach) & ~deck
    boards = (
        0.7
        + 0.35 * stage.rough(400 * middle, 30 * distance, 2)
        - 0.7 * (np.mod(distance, 0.12) < 0.012)
    )
    stops = np.where(wall, SHADE_STOPS + 0.3 * stage.rough(300 * stage.x, 40 * stage.y, 1), stops)
    stops = np.where(deck, boards, stops)
    for away in np.linspace(reach, 0.9, 4):
        foot = stage.horizon + 0.5 / away
        post = stage.wide / 2 + (offset - 0.27 * side) / away
        stands = (np.abs(stage.x - post) < 0.016 / away) & (stage.y < foot)
        stands &= stage.y > foot - 0.24 / away
        lit = np.where((stage.x - post) * (stage.sun - post) > 0, 0.3, SHADE_STOPS - 0.6)
        stops = np.where(stands, lit, stops)
    return stops


def _shaded(
    stage: _Stage, stops: Array, foot: float, sides: tuple[float, float], length: float
) -> Array:
    """The same with the shadow of what stands between two sides, away from the sun."""
    left, right = sides
    lies = stage.y - foot
    away = np.sign((left + right) / 2 - stage.sun) * lies * 1.6
    inside = (lies > 0) & (lies < length) & (stage.x > left + away) & (stage.x < right + away)
    return np.where(inside, np.minimum(stops, 0.3 * stops + SHADE_STOPS), stops)


def _tree(stage: _Stage, stops: Array) -> Array:
    """A tree or a bush: leaves lit from one side, its shadow."""
    high = stage.between(0.06, 0.34)
    foot, middle = stage.horizon + high * stage.between(0.1, 0.5), stage.between(0, stage.wide)
    broad, crown = high * stage.between(0.3, 0.6), foot - 0.6 * high
    stops = _shaded(stage, stops, foot, (middle - broad, middle + broad), 0.35 * high)
    trunk = np.abs(stage.x - middle) < 0.02 * high + 0.002
    stops = np.where(trunk & (stage.y > crown) & (stage.y < foot), -2.2, stops)
    leaves = stage.rough(300 * stage.x + 99 * middle, 300 * stage.y, 1)
    edge = np.hypot((stage.x - middle) / broad, (stage.y - crown) / (0.42 * high))
    edge = edge + 0.16 * leaves + 0.12 * stage.rough(70 * stage.x, 70 * stage.y, 2)
    side = np.sign(stage.sun - middle) * (stage.x - middle) / broad - (stage.y - crown) / high
    return np.where(edge < 0.92, -1.5 + 0.8 * side + 0.55 * leaves, stops)


def _house(stage: _Stage, stops: Array) -> Array:
    """A house with a gable: one side in the sun, windows, a door, its shadow."""
    wide, high = stage.between(0.28, 0.46), stage.between(0.18, 0.28)
    left, foot = stage.between(0, stage.wide - 0.3), stage.horizon + stage.between(0.1, 0.26)
    middle, up = left + wide / 2, (foot - stage.y) / high
    half = np.abs(stage.x - middle) / wide
    stops = _shaded(stage, stops, foot, (left, left + wide), 0.5 * high)
    grain = 0.18 * stage.rough(120 * stage.x, 700 * stage.y, 1)
    grain = grain + 0.12 * stage.rough(500 * stage.x, 500 * stage.y, 2)
    corner = middle + wide * stage.between(-0.3, 0.3)
    to_sun = (stage.x - corner) * (stage.sun - middle) > 0
    wall = np.where(to_sun, stage.between(0.5, 1.4), SHADE_STOPS + stage.between(0, 0.8)) + grain
    roof = stage.between(-1.2, -0.1) + 0.4 * to_sun + 0.25 * np.sin(260 * stage.y) + grain
    roofed = (up >= 1) & (up < 1.7) & (half < 0.54 * (1.7 - up) / 0.7)
    stops = np.where((half < 0.5) & (up > 0) & (up < 1), wall, np.where(roofed, roof, stops))
    pane = (np.abs(half - 0.28) < 0.05) & (np.abs(up - 0.6) < 0.14)
    stops = np.where(pane, -2.4 + 0.5 * stage.rough(30 * stage.x, 30 * stage.y), stops)
    return np.where((half < 0.07) & (up > 0) & (up < 0.5), -2.9 + grain, stops)


def _kiln(stage: _Stage, stops: Array) -> Array:
    """A kiln of stone: round, narrower at the top, with a dark mouth and its shadow."""
    wide, high = stage.between(0.26, 0.42), stage.between(0.3, 0.44)
    left, foot = stage.between(0.02, stage.wide - 0.3), stage.horizon + stage.between(0.14, 0.3)
    middle, up = left + wide / 2, (foot - stage.y) / high
    across = (stage.x - middle) / wide / (1 - 0.3 * np.clip(up, 0, 1) ** 2)
    stops = _shaded(stage, stops, foot, (left, left + wide), 0.6 * high)
    course = np.mod(14 * up, 1) < 0.16
    joint = np.mod(9 * np.arcsin(np.clip(2 * across, -1, 1)) + 0.5 * np.floor(14 * up), 1) < 0.1
    stones = 0.35 * stage.rough(260 * stage.x, 260 * stage.y, 1) - 0.8 * (course | joint)
    turned = 2 * across * np.sign(stage.sun - middle)
    wall = 0.2 + 1.3 * turned - 0.9 * turned**2 + stones
    stops = np.where((np.abs(across) < 0.5) & (up > 0) & (up < 1), wall, stops)
    arch = np.hypot(across / 0.15, (up - 0.22) / 0.2)
    mouth = (up > 0) & ((arch < 1) | ((np.abs(across) < 0.15) & (up < 0.22)))
    return np.where(mouth, -4.0 + 2.2 * _soft(arch, 0.7, 1.0), stops)
