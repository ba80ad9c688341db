"""The exposure of a sheet as Exif has it, and its scan as it would look with more or less light."""

import numpy as np

from chimney.parts import clock
from chimney.results.curves.craft import curve_of
from chimney.results.placing import craft as placing
from chimney.results.scans.craft import densities
from pinhole import sheet as papers
from pinhole.scans.tones import unexposed


def rung(array, stops, paper, scan):
    """The preview of a Scan as it would look with so much more light, uint8 greys: rails and what
    lies beyond the sheet as they are, which no light would reach.
    """
    scanned = densities(array, scan.wedge)
    looks = papers.as_it_would_look(scanned, stops, curve_of(paper), paper.kind)
    is_left = unexposed(scanned, placing.place_of(scan, array))
    return papers.scanned(np.where(is_left, scanned, looks))


def exif(sheet, place=None):
    """{field: words} of the real exposure of a sheet; empty where there is none. Rationals of whole
    numbers, as Exif 2.3 has them; the EI as ISO where it is a whole number; the Place only where
    one is wished.
    """
    return _exposed(sheet) | (_located(place) if place else {})


def _located(place):
    """Degrees, minutes and seconds, and the side of the equator and of Greenwich."""
    location = {}
    for name, degrees, sides in (
        ("Latitude", place.latitude_deg, "NS"),
        ("Longitude", place.longitude_deg, "EW"),
    ):
        seconds = round(abs(degrees) * 360_000)
        minutes, hundredths = divmod(seconds, 6000)
        whole, minutes = divmod(minutes, 60)
        location[f"exif-ifd3-GPS{name}"] = f"{whole}/1 {minutes}/1 {hundredths}/100"
        location[f"exif-ifd3-GPS{name}Ref"] = sides[degrees < 0]
    return location


def _exposed(sheet):
    exposure = sheet and sheet.exposures.select_related("camera").first()
    if not exposure or not exposure.opening:
        return {}
    camera, opened = exposure.camera, clock.local(exposure.opening.opened_at)
    facts = {
        "exif-ifd0-ImageDescription": f"{sheet}: {exposure.title}",
        "exif-ifd2-FNumber": _rational(camera.f_number, 10),
        "exif-ifd2-FocalLength": _rational(camera.focal_mm, 10),
        "exif-ifd2-DateTimeOriginal": f"{opened:%Y:%m:%d %H:%M:%S}",
    }
    if exposure.given_s:
        facts["exif-ifd2-ExposureTime"] = _rational(exposure.given_s, 1000)
    ei = exposure.calculation.specification.ei
    # Exif's ISO is a whole number: 1.6 would be 2.
    facts["exif-ifd2-ExposureIndex"] = _rational(ei, 100)
    is_whole = ei >= 1 and abs(ei - round(ei)) < 0.01
    return facts | ({"exif-ifd2-ISOSpeedRatings": f"{round(ei)}"} if is_whole else {})


def _rational(value, parts):
    return f"{round(value * parts)}/{parts}"
