"""Calls to the craft for what a paper's own sheets teach of its curve, and its data."""

import base64

import numpy as np

from pinhole.scans import knowing, reading
from pinhole.scans.candidates import CANDIDATES, Known, drawn_curve, mean_curve
from pinhole.scans.tones import SheetTones
from pinhole.tones import ToneCurve

# Of a paper's base: dmin and dmax (common practice).
SCALES = {"rc": (0.06, 1.95), "fibre": (0.08, 1.75), "film": (0.1, 2.4)}


def as_data(known):
    """A craft's Known as plain data."""
    packed = base64.b64encode(np.asarray(known.weights, np.float32).tobytes()).decode()
    return {"weights": packed, "shift": known.shift, "shift_sd": known.shift_sd}


def from_data(data, sheets):
    """The Known kept by as_data; None where its candidates are not those of today."""
    weights = np.frombuffer(base64.b64decode(data["weights"]), np.float32).astype(float)
    if len(weights) != CANDIDATES:
        return None
    return Known(weights, data["shift"], data["shift_sd"], sheets)


def tones_data(tones):
    """SheetTones as plain data."""
    ends = {"middle": _rounded(tones.middle), "picture": _rounded(tones.picture)}
    rim = float(tones.rim) if np.isfinite(tones.rim) else None
    ends |= {"is_linear": tones.is_linear, "by_spots": tones.by_spots}
    return ends | {"rim": rim, "fall_off_stops": tones.fall_off_stops}


def tones_from(data):
    """The SheetTones kept by tones_data."""
    rim = float("nan") if data["rim"] is None else data["rim"]
    ends = tuple(data["middle"]), tuple(data["picture"])
    flags = data.get("is_linear", False), data.get("by_spots", False)
    return SheetTones(*ends, rim, data["fall_off_stops"], *flags)


def _rounded(values):
    return [round(value, 4) for value in values]


def drawn(paper, known, stops):
    """(low, middle, high) densities of a paper for light of so many stops over right."""
    return drawn_curve(known.weights, curve_of(paper), stops, paper.kind)


def learned_curve(judged, lit, curve, medium):
    """The craft's Known of [(tones as data, stops that it needed more)], and of [the tones of a
    sheet beside the light that its photo foresaw, as data].
    """
    sheets = [(tones_from(data), needed) for data, needed in judged]
    beside = [knowing.LitTones(data["light"], data["densities"]) for data in lit]
    return knowing.know(sheets, curve, medium=medium, lit=beside)


def own_curve(paper, known):
    """The ToneCurve of a paper as its own sheets draw it; by its starting numbers where they have
    not taught any, known being None.
    """
    usual = curve_of(paper)
    return usual if known is None else mean_curve(known.weights, usual, known.shift)


def curve_of(paper):
    """The ToneCurve of a paper, by its base and what it holds."""
    dmin, dmax = SCALES[paper.base]
    return ToneCurve(dmin, dmax, paper.range_stops)


# Readings of the light that falls on a scene, and not of the scene.
INCIDENT = ("lux", "sky")


def by_spots(exposure):
    """True if a sheet was metered as the middle of its darkest and its brightest part."""
    return exposure is not None and exposure.calculation.reading.spots_stops is not None


def key_doubt(exposure):
    """Doubt of the middle of a scene by what its Exposure was metered by [stops]."""
    is_incident = exposure is not None and exposure.calculation.reading.kind in INCIDENT
    return reading.INCIDENT_KEY_SD if is_incident else reading.KEY_SD
