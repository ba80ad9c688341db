"""Scans as scanners make them, of sheets that are not the reader's own: other curves, papers, beds
and scenes than it assumes.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
import skimage.data
from scipy import fft, ndimage, special

BEDS = ("", "white", "black")


@dataclass(frozen=True)
class Drawn:
    """A scan: codes uint8; truth: stops of light that the sheet needed more; corners (4, 2) of the
    sheet as x, y, clockwise from its top left; bed; rails: whether they kept a rim from the light.
    """

    codes: np.ndarray
    truth: float
    corners: np.ndarray
    bed: str
    rails: bool


@dataclass(frozen=True)
class PaperOfWorld:
    """A paper: kind of its curve, its range in stops, base, blackest, and the share of its scale
    where the metered tone lies when it is right.
    """

    kind: str
    range_stops: float
    base: float
    blackest: float
    right: float

    def shares(self, stops):
        """Shares of the scale that so much light over right makes."""
        if self.kind == "gompertz":
            # A long toe and a hard shoulder.
            def curve(x):
                return np.exp(-np.exp(-x))

            ends = -np.log(-np.log(0.04)), -np.log(-np.log(0.9))
            start = -np.log(-np.log(self.right))
        elif self.kind == "erf":
            curve = special.ndtr
            ends, start = special.ndtri([0.04, 0.9]), special.ndtri(self.right)
        else:
            # Straight between a short toe and a short shoulder.
            def curve(x):
                return 0.5 + np.arctan(2.2 * x) / (2 * np.arctan(2.2 * 1.9))

            grid = np.linspace(-1.9, 1.9, 400)
            ends = np.interp([0.04, 0.9], curve(grid), grid)
            start = np.interp(self.right, curve(grid), grid)
            x = start + np.asarray(stops) * (ends[1] - ends[0]) / self.range_stops
            return curve(np.clip(x, -1.9, 1.9))
        return curve(start + np.asarray(stops) * (ends[1] - ends[0]) / self.range_stops)

    def densities(self, stops, medium):
        share = self.shares(stops)
        share = 1 - share if medium == "positive" else share
        return self.base + (self.blackest - self.base) * share


def any_paper(chance):
    kind = ("gompertz", "erf", "straight")[chance.integers(3)]
    right = np.clip(chance.normal(0.42, 0.04), 0.3, 0.55)
    range_stops = float(np.clip(chance.lognormal(np.log(3.8), 0.22), 2.4, 5.5))
    return PaperOfWorld(
        kind, range_stops, chance.uniform(0.04, 0.13), chance.uniform(1.5, 2.15), right
    )


def fractal_scene(chance, high=150, wide=190):
    """Luminance over its middle: sky over land, as clouds are made, log-normal."""
    waves = np.hypot(np.fft.fftfreq(high)[:, None], np.fft.rfftfreq(wide)[None])
    waves[0, 0] = 1.0
    noise = fft.rfft2(chance.normal(size=(high, wide))) / waves ** chance.uniform(1.2, 1.9)
    field = fft.irfft2(noise, (high, wide))
    field = (field - field.mean()) / field.std()
    stops = field * chance.uniform(0.7, 1.5)
    horizon = int(high * chance.uniform(0.25, 0.7))
    stops[:horizon] = 0.4 * stops[:horizon] + chance.uniform(0.8, 2.4)
    if chance.random() < 0.4:
        # Something dark stands in it.
        left, top = chance.integers(0, wide - 50), chance.integers(0, high - 60)
        stops[top : top + 60, left : left + 45] -= chance.uniform(1, 2.5)
    return 2.0**stops


# Photographs in the public domain that a package ships: light, and no model of anything here.
PHOTOGRAPHS = ("coffee", "chelsea", "rocket", "gravel", "grass")


def photographs():
    """[luminance] of photographs, as small as the other scenes."""
    every = []
    for name in PHOTOGRAPHS:
        codes = np.atleast_3d(getattr(skimage.data, name)()).astype(np.float64) / 255
        light = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
        grey = light[..., :3].mean(axis=2)
        small = cv2.resize(grey, (190, 150), interpolation=cv2.INTER_AREA)
        every.append(np.maximum(small, 0.004))
    return every


def metered(scene):
    """The scene over what a meter says that is pointed at its middle."""
    high, wide = scene.shape
    middle = scene[high // 5 : high - high // 5, wide // 5 : wide - wide // 5]
    return scene / middle.mean()


def draw(chance, paper, *, scene=None, stops=None, medium="negative", bed=None, key_sd=0.3, **more):
    """A Drawn sheet. stops: over what was right, drawn if None; key_sd: how far the meter's middle
    lies off the scene's; more: wedge, fog, rails as they are wished.
    """
    scene = fractal_scene(chance) if scene is None else scene
    over = chance.normal(0, 0.8) if stops is None else stops
    light = np.log2(metered(scene)) + over + chance.normal(0, key_sd)
    light = ndimage.gaussian_filter(2.0**light, chance.uniform(0.4, 1.5))
    rails = bool(more.get("rails", chance.random() < 0.6))
    deep = round(chance.uniform(0.015, 0.04) * min(scene.shape)) if rails else 0
    if rails:
        light[:deep], light[-deep:], light[:, :deep], light[:, -deep:] = 1e-5, 1e-5, 1e-5, 1e-5
    light = light + more.get("fog", 0.0)
    if more.get("leak"):
        light = light + leaked(chance, light.shape)
    density = paper.densities(np.log2(np.maximum(light, 1e-5)), medium)
    density = density + chance.normal(0, chance.uniform(0.004, 0.02), density.shape)
    scale = 2.2
    # As fine as a scan is: nothing here needs more than single precision.
    density = density.astype(np.float32)
    density = cv2.resize(density, None, fx=scale, fy=scale, interpolation=cv2.INTER_LINEAR)
    bed = BEDS[chance.integers(3)] if bed is None else bed
    reflected, corners = _on_bed(chance, 10.0**-density, bed, wedge=more.get("wedge", False))
    # Stray light of the scanner, its curve and its noise.
    reflected = reflected * (1 - 0.004) + chance.uniform(0, 0.004)
    share = np.where(
        reflected <= 0.0031308, 12.92 * reflected, 1.055 * reflected ** (1 / 2.4) - 0.055
    )
    codes = 255 * share * chance.uniform(0.98, 1.0)
    codes += chance.normal(0, 0.8, share.shape)
    codes = np.clip(np.round(codes), 0, 255).astype(np.uint8)
    return Drawn(codes, -over, corners, bed, rails)


def leaked(chance, shape):
    """Light, in middles of the scene, of a slit at an edge: a fan that begins there, is brightest
    there, and strays from the upright by up to a third of its length.
    """
    turned = chance.random() < 0.5
    high, wide = shape[::-1] if turned else shape
    down, along = np.mgrid[0:high, 0:wide] / [[[high]], [[wide]]]
    begins, strays = chance.uniform(0.1, 0.9), chance.uniform(-0.33, 0.33)
    spread = chance.uniform(0.015, 0.05) + chance.uniform(0.0, 0.08) * down
    fan = np.exp(-0.5 * ((along - begins - strays * down) / spread) ** 2)
    light = chance.uniform(0.8, 6.0) * fan * np.exp(-down / chance.uniform(0.25, 0.9))
    light = light[::-1] if chance.random() < 0.5 else light
    return light.T if turned else light


def _on_bed(chance, sheet, bed, *, wedge):
    """(reflectances of the scan, corners of the sheet): laid on its bed askew and off the
    middle.
    """
    high, wide = sheet.shape
    whole = np.array([[0, 0], [wide - 1, 0], [wide - 1, high - 1], [0, high - 1]], float)
    if not bed:
        # Cut to the sheet, a little askew of it.
        cut = [int(chance.integers(0, 4)) for _ in range(4)]
        return sheet[cut[0] : high - cut[1], cut[2] : wide - cut[3]], whole - [cut[2], cut[0]]
    level = chance.uniform(0.94, 0.99) if bed == "white" else chance.uniform(0.001, 0.007)
    left, top, right, foot = (int(side) for side in chance.integers(12, 90, 4))
    right += 70 if wedge else 0
    turn = np.radians(chance.uniform(-4, 4))
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    corners = whole @ spin.T
    corners += [left + 20, top + 20] - corners.min(axis=0)
    size = (int(corners[:, 0].max()) + right + 20, int(corners[:, 1].max()) + foot + 20)
    onto = cv2.getPerspectiveTransform(whole.astype(np.float32), corners.astype(np.float32))
    plain = {"flags": cv2.INTER_LINEAR, "borderMode": cv2.BORDER_CONSTANT}
    laid = cv2.warpPerspective(sheet, onto, size, borderValue=-1.0, **plain)
    mask = cv2.warpPerspective(np.ones_like(sheet), onto, size, borderValue=0.0, **plain)
    laid = np.where(mask > 0.99, laid, level)
    if wedge:
        for n, density in enumerate(np.linspace(0.05, 1.95, 10)):
            y = 25 + n * 22
            laid[y : y + 22, size[0] - 60 : size[0] - 30] = 10.0**-density
    return np.maximum(laid, 1e-4), corners


def draw_by_spots(chance, paper, *, medium="negative", scene=None, **more):
    """A Drawn sheet that was metered as the middle of its darkest and its brightest part, each half
    a stop beside the ends of the scene.
    """
    scene = fractal_scene(chance) if scene is None else scene
    high, wide = scene.shape
    inner = np.log2(metered(scene)[high // 16 : -high // 16, wide // 16 : -wide // 16])
    spots = np.percentile(inner, (4, 96)) + chance.normal(0, 0.5, 2)
    over = chance.normal(0, 0.8)
    how = {"medium": medium, "scene": scene, "key_sd": 0.0} | more
    return replace(draw(chance, paper, stops=over - spots.mean(), **how), truth=-over)
