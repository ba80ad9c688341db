"""The vessel in section, filled to its line, with the sheets in it; true to scale."""

from math import pi

from chimney.darkroom.mixing.craft import TRAY_MORE_MM, tray_of
from chimney.parts import svg
from chimney.parts.scales import number
from pinhole.chemistry import OVER_SHEET_MM

VESSEL_WIDTH, VESSEL_HEIGHT = 360.0, 190.0
TRAY_HIGH_MM, DRUM_WIDE_MM = 45.0, 90.0


def vessel(cleaned, mix):
    """A Drawing of the vessel of a cleaned MixForm, filled with a Mix."""
    draw = {"tray": _tray, "tank": _tank, "drum": _drum}[cleaned["vessel"]]
    wide_mm, high_mm, filled_mm, sheets, caption = draw(cleaned, mix)
    scale = min((VESSEL_WIDTH - 40) / wide_mm, (VESSEL_HEIGHT - 40) / high_mm)
    high = high_mm * scale + 40
    left, floor = (VESSEL_WIDTH - wide_mm * scale) / 2, high - 24
    level = floor - min(filled_mm, high_mm) * scale
    right, top = left + wide_mm * scale, floor - high_mm * scale
    shapes = [
        svg.rect(left, level, wide_mm * scale, floor - level, "bath"),
        *(
            svg.line(
                left + a * scale, floor - b * scale, left + c * scale, floor - d * scale, "wet"
            )
            for a, b, c, d in sheets
        ),
        svg.line(left, top, left, floor, "wall"),
        svg.line(left, floor, right, floor, "wall"),
        svg.line(right, top, right, floor, "wall"),
        svg.text(right - 4, level - 5, f"{number(mix.total_ml, 3)} ml", "label", "end"),
        svg.text((left + right) / 2, high - 6, caption, "label", "middle"),
    ]
    description = (
        f"{caption}, filled {number(filled_mm, 2)} mm deep with {number(mix.total_ml, 3)} ml"
    )
    return svg.Drawing("The vessel", description, VESSEL_WIDTH, high, tuple(shapes), "vessel")


def _tray(cleaned, mix):
    long, short = sorted(tray_of(cleaned), reverse=True)
    deep = 1000 * mix.total_ml / (long * short)
    side = max(cleaned["sheet"])
    lies = (long - side) / 2
    sheets = [
        (lies, 2.0 + 2 * n, lies + side, 2.0 + 2 * n) for n in range(min(cleaned["sheets"], 4))
    ]
    return long, TRAY_HIGH_MM, deep, sheets, f"a tray {long:.0f} x {short:.0f} mm"


def _tank(cleaned, mix):
    wide, high = cleaned["tank_mm"], min(cleaned["sheet"]) + TRAY_MORE_MM
    deep = 1000 * mix.total_ml / (pi / 4 * wide**2)
    up = min(cleaned["sheet"])
    sheets = [(3.0, 2.0, 3.0, up), (wide - 3.0, 2.0, wide - 3.0, up)]
    caption = f"a tank {wide:.0f} mm wide, {OVER_SHEET_MM:.0f} mm over the sheet wanted"
    return wide, high, deep, sheets, caption


def _drum(cleaned, mix):
    """Lying: the bath at its bottom, the sheet round the wall."""
    long = min(cleaned["sheet"]) * cleaned["sheets"] + TRAY_MORE_MM
    # A drum lying is about so wide where the bath stands.
    deep = 1000 * mix.total_ml / (long * DRUM_WIDE_MM * 0.6)
    sheets = [(10.0, 2.0, long - 10, 2.0), (10.0, DRUM_WIDE_MM - 2, long - 10, DRUM_WIDE_MM - 2)]
    return long, DRUM_WIDE_MM, deep, sheets, "a drum, lying; the sheets go round its wall"
