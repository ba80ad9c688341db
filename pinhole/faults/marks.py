"""Marks that faults leave on a sheet: as light in the camera, as light past the hole, as density.
Their looks are common practice.

Each takes an image (height, width) and numpy's random generator, and gives the image with the mark:
of the scene's light as it falls on the paper, above 0; of the light with what came beside the hole,
over that of a metered middle; of the density as a share of the paper's scale, 0 its base.
"""

from __future__ import annotations

from typing import TypeAlias

import cv2
import numpy as np

from pinhole.ranges import Array

Chance: TypeAlias = np.random.Generator
# As good as no light.
NO_LIGHT = 1e-6


def doubled(light: Array, chance: Chance) -> Array:
    """A second view over the first."""
    return light + 0.8 * np.roll(light, light.shape[1] // 5, axis=1)[::-1]


def shaken(light: Array, chance: Chance) -> Array:
    """All of it moved a little."""
    return _smeared(light, max(5, light.shape[1] // 45))


def moved(light: Array, chance: Chance) -> Array:
    """Its upper half moved, and nothing else."""
    high, wide = light.shape
    upper = np.arange(high)[:, None] < high // 2
    return np.where(upper, _smeared(light, max(9, wide // 20)), light)


def reversed_through_base(light: Array, chance: Chance) -> Array:
    """The other way round, faint and soft."""
    return 0.2 * blurred(light[:, ::-1], 2.5)


def shaded(light: Array, chance: Chance) -> Array:
    """Three stops less at the corners."""
    return light * 2.0 ** (-3 * _from_middle(light.shape) ** 2)


def covered(light: Array, chance: Chance) -> Array:
    """No light on one side, with a straight edge."""
    edge = light.shape[1] * chance.uniform(0.3, 0.5)
    return np.where(np.arange(light.shape[1])[None] < edge, NO_LIGHT, light)


def shut(light: Array, chance: Chance) -> Array:
    """No light at all."""
    return np.full_like(light, NO_LIGHT)


def streaked(light: Array, chance: Chance) -> Array:
    """A streak from the upper edge."""
    y, x = _places(light)
    crossing, lean = chance.uniform(0.1, 0.9), chance.uniform(-0.3, 0.3)
    tall = light.shape[0] / light.shape[1]
    distance = (x - crossing - lean * tall * y) / 0.04
    return light + 12 * np.exp(-(distance**2)) * np.exp(-y / 0.6)


def haloed(light: Array, chance: Chance) -> Array:
    """A bright spot with a ring about it."""
    high, wide = light.shape
    y, x = _places(light)
    cy, cx = chance.uniform(0.1, 0.3), chance.uniform(0.3, 0.7)
    away = np.hypot((y - cy) * high / wide, x - cx)
    ring = np.exp(-(((away - 0.22) / 0.02) ** 2))
    return light + 6 * np.exp(-((away / 0.12) ** 2)) + 1.5 * ring


def late(share: Array, chance: Chance) -> Array:
    """Weaker where the bath came late."""
    return share * (0.75 + 0.35 * _places(share)[1])


def stained(share: Array, chance: Chance) -> Array:
    """Patches."""
    return share + 0.12 * (blurred(chance.normal(0, 1, share.shape), share.shape[0] / 8) > 0)


def fingers(share: Array, chance: Chance) -> Array:
    """Three prints at the edges, ridge by ridge."""
    y, x = _places(share)
    for _ in range(3):
        cy, cx = chance.uniform(0, 1), chance.choice((0.04, 0.96))
        away = np.hypot((y - cy) / 0.07, (x - cx) / 0.05)
        share = share - 0.2 * np.exp(-(away**4)) * (0.6 + 0.4 * np.sin(18 * away))
    return share


def dripped(share: Array, chance: Chance) -> Array:
    """Tracks that run one way."""
    y, x = _places(share)
    for across in chance.uniform(0.1, 0.9, 3):
        share = share + 0.15 * np.exp(-(((x - across) / 0.012) ** 2)) * (y > 1 / 4)
    return share


def ringed(share: Array, chance: Chance) -> Array:
    """Rings where drops dried."""
    y, x = _places(share)
    for _ in range(5):
        cy, cx, wide = chance.uniform(0, 1), chance.uniform(0, 1), chance.uniform(0.03, 0.09)
        away = np.hypot(y - cy, x - cx)
        share = share + 0.12 * np.exp(-(((away - wide) / 0.006) ** 2))
    return share


def dusty(share: Array, chance: Chance) -> Array:
    """Pale points."""
    return np.where(chance.random(share.shape) < 0.0015, 0.0, share)


def curled(share: Array, chance: Chance) -> Array:
    """Unsharp at the rim."""
    return np.where(_from_middle(share.shape) > 0.72, blurred(share, 4.0), share)


def _places(image: Array) -> tuple[Array, Array]:
    """(down, across) of each place, as shares of the sides."""
    y, x = np.mgrid[0 : image.shape[0], 0 : image.shape[1]]
    return y / image.shape[0], x / image.shape[1]


def _from_middle(shape: tuple[int, int]) -> Array:
    """Distance of each place from the middle, 1 at a corner."""
    y, x = np.mgrid[0 : shape[0], 0 : shape[1]]
    return np.hypot((y / (shape[0] - 1) - 0.5) * 2, (x / (shape[1] - 1) - 0.5) * 2) / 2**0.5


def blurred(image: Array, sd_px: float) -> Array:
    """A Gaussian of that width, edges held; light is kept.

    image: (height, width); sd_px [px]. Source: the normal distribution, sampled and summed to 1.
    """
    if sd_px < 0.3:
        return np.asarray(image, float)
    reach = int(np.ceil(3 * sd_px))
    kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sd_px) ** 2)
    kernel /= kernel.sum()
    return cv2.sepFilter2D(
        np.asarray(image, float), cv2.CV_64F, kernel, kernel, borderType=cv2.BORDER_REPLICATE
    )


def _smeared(image: Array, length: int) -> Array:
    """Moved sideways while it was taken."""
    return np.asarray(sum(np.roll(image, step, axis=1) for step in range(length)) / length)
