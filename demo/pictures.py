"""Pictures of the invented sheets: scenes drawn by chance, put on paper by the craft, and saved as
a scanner would.
"""

import random

import numpy as np

from chimney.logbook.models import Sheet
from chimney.parts import previews
from chimney.results.curves.craft import curve_of
from chimney.results.scans import craft, flows
from chimney.solar.craft import predict
from chimney.solar.models import Solargraph
from pinhole import sheet as papers
from pinhole.faults import FAULTS
from pinhole.imaging import render
from pinhole.projection import Pointing

WIDE, HIGH = 500, 400
# Verdicts see half stops; what the sheet got differs by a little more.
SPREAD_STOPS = 0.2
SCANNED = ("developed", "read")
# How far a can stood from where it was meant to: turned, leaned, askew [degrees].
OFF_DEG = (-7.0, 4.0, 1.5)
# Stretches of dull days a can goes through.
DULL_RUNS = 7


def scan_all(limit=None):
    """Scan every sheet that is dry, newest first; how many those were."""
    dry = Sheet.objects.filter(stage__in=SCANNED).select_related("paper", "verdict")
    sheets = list(dry.prefetch_related("exposures__camera")[:limit])
    for sheet in sheets:
        flows.bring(f"{sheet.code}.png", [previews.png(picture_of(sheet))])
    flows.work_off()
    return len(sheets)


def scan_cans():
    """Scan every solargraph that was scanned, as it came out of a can that stood a little off."""
    cans = Solargraph.objects.filter(sheet__stage="scanned").select_related(
        "sheet", "camera", "place"
    )
    for can in cans:
        first, last = can.days_of
        meant = can.stands[0][1]
        aim = Pointing(meant.azimuth_deg + OFF_DEG[0], meant.tilt_deg + OFF_DEG[1], OFF_DEG[2])
        drawn = predict(can.place, can.camera, aim, first, last, skyline=can.skyline)
        chance = np.random.default_rng(9)
        clear = chance.random((len(drawn.track.days), 48)) < 0.45
        for first in chance.integers(0, len(clear), DULL_RUNS):
            clear[first : first + chance.integers(3, 9)] = False
        shining = np.repeat(clear, len(drawn.track.minutes) // 48, axis=1)
        picture = render(
            drawn.trails,
            drawn.back,
            aim,
            drawn.skyline,
            widths_mm=drawn.lines.widths_mm,
            shining=shining,
        )
        flows.bring(f"{can.sheet.code}.png", [previews.png(255 - picture[:, ::-1])])
    flows.work_off()
    return len(cans)


def picture_of(sheet):
    """The codes that a scanner writes of a sheet."""
    chance = random.Random(f"{sheet.code} in the scanner")
    verdict = getattr(sheet, "verdict", None)
    stops = chance.gauss(-(verdict.stops_more if verdict else 0.0), SPREAD_STOPS)
    faults = [code for code in (verdict.faults if verdict else ()) if code in FAULTS]
    seed, exposure = chance.randrange(10**6), sheet.last_exposure
    made = papers.simulate(
        scene(sheet.title, seed),
        stops,
        curve_of(sheet.paper),
        medium=sheet.paper.kind,
        blur_px=1.4,
        fall_off=exposure and craft.fall_off((HIGH, WIDE), exposure),
        faults=faults,
        seed=seed,
    )
    return papers.scanned(made)


def scene(subject, seed):
    """A view of Rauholm as luminance over its metered middle: sky, sea or hill, and what stands
    there.
    """
    chance = np.random.default_rng([seed, *subject.encode()[:8]])
    y, x = np.mgrid[0:HIGH, 0:WIDE] / (HIGH - 1.0)
    skyline = chance.uniform(0.35, 0.5) + 0.03 * np.sin(x * chance.uniform(2, 5) + seed)
    logs = np.where(y < skyline, 2.0 - 0.8 * y, -0.6 + 0.5 * (y - skyline))
    logs = logs + 0.25 * _rough(chance) * np.where(y < skyline, 0.8, 1.4)
    for _ in range(chance.integers(1, 4)):
        logs = _built(logs, x, y, skyline, chance, round_top="kiln" in subject)
    return 2.0 ** (logs - logs[HIGH // 4 : -HIGH // 5, WIDE // 6 : -WIDE // 6].mean())


def _built(logs, x, y, skyline, chance, *, round_top):
    """A house, a kiln or a post, with its lit and its dark side, a door in it."""
    left, wide = chance.uniform(0.05, 1.0), chance.uniform(0.1, 0.28)
    top, foot = chance.uniform(0.12, 0.32), chance.uniform(0.6, 0.85)
    middle = left + wide / 2
    narrowing = wide * (0.3 * (foot - y) if round_top else 0 * y)
    inside = (np.abs(x - middle) < wide / 2 - narrowing) & (y > top) & (y < foot)
    if not round_top:
        inside |= (
            (y <= top) & (y > top - 0.12 + np.abs(x - middle)) & (np.abs(x - middle) < wide / 2)
        )
    lit = np.where(x < middle, chance.uniform(0.2, 1.2), chance.uniform(-1.8, -0.6))
    logs = np.where(inside, lit + 0.15 * np.sin(60 * y), logs)
    door = (np.abs(x - middle) < wide / 7) & (y > foot - 0.16) & (y < foot)
    return np.where(door, -2.6, logs)


def _rough(chance):
    waves = np.fft.rfft2(chance.normal(0, 1, (HIGH, WIDE)))
    down, across = np.fft.fftfreq(HIGH)[:, None], np.fft.rfftfreq(WIDE)[None]
    rough = np.fft.irfft2(waves / np.maximum(np.hypot(down, across), 0.004) ** 1.4, (HIGH, WIDE))
    return rough / rough.std()
