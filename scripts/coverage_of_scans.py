"""How well scans are read that are not the reader's own: refused, off, and held by the range.

Usage: python scripts/coverage_of_scans.py [SCANS]     default: 240 of each kind

It prints the table of docs/reading.md.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

import numpy as np

from pinhole import sheet
from pinhole.lessons import CENTRAL_90
from pinhole.scans.tones import tones_of
from pinhole.tones import ToneCurve
from tests.pinhole import scanners

MEDIA_IN_TURN = ("negative", "positive")


def row(kind, scans, scenes, *, by_spots=False, **more):
    """A line of the table: scans of sheets of chance papers, read as of a nominal one; by_spots:
    metered by two spots, and read so.
    """
    chance, refused, errors, sds = np.random.default_rng(77), 0, [], []
    for n in range(scans):
        medium, paper = MEDIA_IN_TURN[n % 2], scanners.any_paper(chance)
        scene = scenes[n % len(scenes)] if scenes else None
        draw = scanners.draw_by_spots if by_spots else scanners.draw
        scan = draw(chance, paper, medium=medium, scene=scene, **more)
        tones = tones_of(scan.codes, by_spots=by_spots)
        judgement = sheet.judge_tones(tones, ToneCurve(), medium=medium)
        if judgement.cannot:
            refused += 1
            continue
        errors.append(abs(judgement.stops_more - scan.truth))
        sds.append(judgement.sd_stops)
    held = np.mean(np.array(errors) < CENTRAL_90 * np.array(sds))
    figures = f"{100 * refused / scans:.1f} % | {np.median(errors):.2f} | {np.median(sds):.2f}"
    return f"| {kind} | {figures} | {100 * held:.0f} % |"


def main(scans):
    print(f"| {scans} sheets each | refused | stops off, middle | sd, middle | held |")
    print("|---|---|---|---|---|")
    for bed, name in (("", "cut to the sheet"), ("white", "white lid"), ("black", "black bed")):
        print(row(name, scans, None, bed=bed))
    print(row("a wedge beside it", scans, None, wedge=True, bed="white"))
    print(row("without a key", scans, None, key_sd=0.0))
    print(row("photographs", scans, scanners.photographs()))
    print(row("metered by two spots", scans, None, by_spots=True))
    print(row("photographs, two spots", scans, scanners.photographs(), by_spots=True))


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 240)
