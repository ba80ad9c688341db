"""Calls to the craft for what deserves a look on a scan."""

from dataclasses import replace

from chimney.places import craft as places
from chimney.results.curves.craft import curve_of
from chimney.results.placing import craft as placing
from pinhole import lookhere


def look_here(pictured, paper):
    """[LookHere] of a Pictured sheet of that paper, on its scan."""
    marks = lookhere.look_here(pictured.inside, curve_of(paper), paper.kind)
    return [on_scan(mark, pictured) for mark in marks]


def on_scan(mark, pictured):
    """A LookHere of the sheet, on its scan."""
    box = mark.left, mark.top, mark.right, mark.bottom
    left, top, right, bottom = placing.box_on_scan(pictured.place, pictured.shape, *box)
    return replace(mark, left=left, top=top, right=right, bottom=bottom)


def flare(exposure, scan):
    """[LookHere] on a scan as it came, where the sun may have made flare: known where it was said
    which way the camera looked, and the paper lay as the camera does.
    """
    if exposure is None or not exposure.place or exposure.azimuth_deg is None:
        return []
    if exposure.camera.is_lens or not exposure.opening:
        return []
    back = exposure.camera.geometry
    if (scan.width > scan.height) != (
        (back.half_mm[0] > back.half_mm[1]) ^ bool(scan.quarters % 2)
    ):
        return []
    sun = places.sun_at(exposure.place, exposure.opening.opened_at)
    mirrored = scan.mirrored or scan.sheet.meant_for == "object"
    glare = lookhere.towards_the_sun(back, exposure.azimuth_deg, *sun)
    return [_as_scanned(mark, mirrored, scan.quarters) for mark in glare]


def _as_scanned(mark, mirrored, quarters):
    """A LookHere of the upright scene on the scan as it came, emulsion up if that is mirrored."""
    left, top, right, bottom = mark.left, mark.top, mark.right, mark.bottom
    for _ in range(quarters % 4):
        left, top, right, bottom = top, 1 - right, bottom, 1 - left
    if mirrored:
        left, right = 1 - right, 1 - left
    return replace(mark, left=left, top=top, right=right, bottom=bottom)
