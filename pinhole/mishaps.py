"""Mishaps of a sheet, as light and as density: in the camera, past the hole, in the dark. Their
looks are common practice.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from pinhole.ranges import Array

FAULT_CODES: tuple[str, ...] = (
    "leak",
    "fog",
    "age",
    "double",
    "stain",
    "uneven",
    "shake",
    "moved",
    "corners",
    "flare",
)
FAULT_CODES += ("finger", "wrong_side", "blank", "drips", "water", "dust", "curl", "over_hole")
# Light of a fog, over that of a metered middle.
FOG = 0.5


def in_the_camera(light: Array, faults: Sequence[str], chance: np.random.Generator) -> Array:
    """The scene's light as it falls on the paper with these faults, shape (height, width): doubled,
    shaken, moved, the wrong way round, shaded.

    light: above 0; faults: of FAULT_CODES; chance: numpy's random generator.
    """
    high, wide = light.shape
    if "double" in faults:
        light = light + 0.8 * np.roll(light, wide // 5, axis=1)[::-1]
    if "shake" in faults:
        light = _smeared(light, max(5, wide // 45))
    if "moved" in faults:
        upper = np.arange(high)[:, None] < high // 2
        light = np.where(upper, _smeared(light, max(9, wide // 20)), light)
    if "wrong_side" in faults:
        light = 0.2 * blurred(light[:, ::-1], 2.5)
    if "corners" in faults:
        light = light * 2.0 ** (-3 * _from_middle(light.shape) ** 2)
    if "over_hole" in faults:
        edge = wide * chance.uniform(0.3, 0.5)
        light = np.where(np.arange(wide)[None] < edge, 1e-6, light)
    return light if "blank" not in faults else np.full_like(light, 1e-6)


def past_the_hole(light: Array, faults: Sequence[str], chance: np.random.Generator) -> Array:
    """That light with what came past the hole: a leak's streak, fog all over, flare.

    light, faults, chance as in_the_camera().
    """
    high, wide = light.shape
    y, x = np.mgrid[0:high, 0:wide]
    if {"fog", "age"} & set(faults):
        light = light + FOG
    if "leak" in faults:
        crossing, lean = wide * chance.uniform(0.1, 0.9), chance.uniform(-0.3, 0.3)
        distance = (x - crossing - lean * y) / (0.04 * wide)
        light = light + 12 * np.exp(-(distance**2)) * np.exp(-y / (0.6 * high))
    if "flare" in faults:
        cy, cx = high * chance.uniform(0.1, 0.3), wide * chance.uniform(0.3, 0.7)
        away = np.hypot(y - cy, x - cx) / wide
        ring = np.exp(-(((away - 0.22) / 0.02) ** 2))
        light = light + 6 * np.exp(-((away / 0.12) ** 2)) + 1.5 * ring
    return light


def in_the_dark(
    density: Array, dmin: float, dmax: float, faults: Sequence[str], chance: np.random.Generator
) -> Array:
    """Densities with what development, drying and hands leave on them, and grain.

    density: of the sheet (height, width); dmin, dmax: of the paper; faults, chance as
    in_the_camera().
    """
    high, wide = density.shape
    y, x = np.mgrid[0:high, 0:wide]
    scale = dmax - dmin
    if "uneven" in faults:
        density = dmin + (density - dmin) * (0.75 + 0.35 * x / wide)
    if "stain" in faults:
        density = density + 0.12 * scale * (
            blurred(chance.normal(0, 1, density.shape), high / 8) > 0
        )
    if "finger" in faults:
        density = density - _fingers(x / wide, y / high, scale, chance)
    if "drips" in faults:
        for height in chance.uniform(0.1, 0.9, 3):
            density = density + 0.15 * scale * np.exp(-(((x / wide - height) / 0.012) ** 2)) * (
                y > high / 4
            )
    if "water" in faults:
        for _ in range(5):
            cy, cx, wide_at = chance.uniform(0, 1), chance.uniform(0, 1), chance.uniform(0.03, 0.09)
            away = np.hypot(y / high - cy, x / wide - cx)
            density = density + 0.12 * scale * np.exp(-(((away - wide_at) / 0.006) ** 2))
    if "dust" in faults:
        density = np.where(chance.random(density.shape) < 0.0015, dmin, density)
    if "curl" in faults:
        rim = _from_middle(density.shape) > 0.72
        density = np.where(rim, blurred(density, 4.0), density)
    return np.clip(density + chance.normal(0, 0.008, density.shape), 0, 3)


def _fingers(x: Array, y: Array, scale: float, chance: np.random.Generator) -> Array:
    """Three prints at the edges, ridge by ridge."""
    marks = np.zeros_like(x)
    for _ in range(3):
        cy, cx = chance.uniform(0, 1), chance.choice((0.04, 0.96))
        away = np.hypot((y - cy) / 0.07, (x - cx) / 0.05)
        marks = marks + 0.2 * scale * np.exp(-(away**4)) * (0.6 + 0.4 * np.sin(18 * away))
    return marks


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
    for axis in (0, 1):
        pad = [(reach, reach) if n == axis else (0, 0) for n in (0, 1)]
        padded = np.pad(image, pad, mode="edge")
        image = np.apply_along_axis(np.convolve, axis, padded, kernel, mode="valid")
    return image


def _smeared(image: Array, length: int) -> Array:
    """Moved sideways while it was taken."""
    return np.asarray(sum(np.roll(image, step, axis=1) for step in range(length)) / length)


def example_scene(seed: int, high: int = 160, wide: int = 200) -> Array:
    """A view invented by chance, luminance over its metered middle, shape (high, wide): sky,
    ground, a lit and a dark side of what stands there.

    seed: the same gives the same view.
    """
    chance = np.random.default_rng(seed)
    y, x = np.mgrid[0:high, 0:wide] / (high - 1.0)
    skyline = chance.uniform(0.35, 0.6) + 0.04 * np.sin(x * chance.uniform(2, 6))
    logs = np.where(y < skyline, 2.0 - y, -0.6 + 0.4 * y)
    logs = logs + 0.5 * blurred(chance.normal(0, 1, (high, wide)), 3.0) * 4
    for _ in range(chance.integers(1, 4)):
        left, across = chance.uniform(0, 1), chance.uniform(0.1, 0.35)
        top, foot = chance.uniform(0.1, 0.4), chance.uniform(0.6, 0.9)
        inside = (x > left) & (x < left + across) & (y > top) & (y < foot)
        side = np.where(x < left + across / 2, chance.uniform(0, 1.3), chance.uniform(-2.2, -0.7))
        logs = np.where(inside, side, logs)
    return 2.0 ** (logs - logs[high // 5 : -high // 5, wide // 6 : -wide // 6].mean())
