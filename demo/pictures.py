"""Pictures of the invented sheets: views by chance, put on paper by the craft, and saved as a
scanner would.
"""

import random

import numpy as np

from chimney.ledger.once import together
from chimney.logbook.models import Sheet
from chimney.parts import previews
from chimney.results.curves.craft import curve_of
from chimney.results.scans import craft, flows
from chimney.solar.craft import predict
from chimney.solar.models import Solargraph
from demo import photos
from pinhole import sheet as papers
from pinhole.faults import FAULTS
from pinhole.imaging import render, view
from pinhole.projection import Pointing

WIDE, HIGH = 500, 400
# Verdicts see half stops; what the sheet got differs by a little more.
SPREAD_STOPS = 0.2
SCANNED = ("developed", "read")
# So many of the newest were photographed before they were exposed.
PHOTOS = 4
# How far a can stood from where it was meant to: turned, leaned, askew [degrees].
OFF_DEG = (-7.0, 4.0, 1.5)
# Stretches of dull days a can goes through.
DULL_RUNS = 7


def scan_all(limit=None):
    """Scan every sheet that is dry, newest first; how many those were."""
    dry = Sheet.objects.filter(stage__in=SCANNED).select_related("paper", "verdict")
    sheets = list(dry.prefetch_related("exposures__camera")[:limit])
    for sheet in [sheet for sheet in sheets if _lies_flat(sheet)][:PHOTOS]:
        _, seed, _ = _chances(sheet)
        light = view(seed, photos.HIGH_PX, photos.WIDE_PX, sheet.title)
        photos.take(sheet.last_exposure, light)
    with together():
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
    stops, seed, faults = _chances(sheet)
    exposure = sheet.last_exposure
    made = papers.simulate(
        view(seed, HIGH, WIDE, sheet.title),
        stops,
        curve_of(sheet.paper),
        medium=sheet.paper.kind,
        blur_px=1.4,
        fall_off=exposure and craft.fall_off((HIGH, WIDE), exposure),
        faults=faults,
        seed=seed,
    )
    return papers.scanned(made)


def _chances(sheet):
    """(stops over right, seed of its view, faults) of a sheet, by chance and by its verdict."""
    chance = random.Random(f"{sheet.code} in the scanner")
    verdict = getattr(sheet, "verdict", None)
    stops = chance.gauss(-(verdict.stops_more if verdict else 0.0), SPREAD_STOPS)
    faults = [code for code in (verdict.faults if verdict else ()) if code in FAULTS]
    return stops, chance.randrange(10**6), faults


def _lies_flat(sheet):
    """True if a sheet lay flat in its camera, wider than high, as a phone's sensor does."""
    exposure = sheet.last_exposure
    return exposure is not None and exposure.camera.back == "flat"
