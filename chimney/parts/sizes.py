"""Sheet sizes in inches and centimetres, round ones too: nominal, as cut, and what the rails leave
visible.
"""

import re

MM = {"mm": 1.0, "cm": 10.0, "in": 25.4, '"': 25.4}
LENGTH_PATTERN = re.compile(r"""(\d+(?:\.\d+)?)\s*(mm|cm|in(?:ch(?:es)?)?|"|″|'')""")
SIZE_PATTERN = re.compile(
    r'(\d+(?:\.\d+)?)\s*(?:x|×|by|\*)\s*(\d+(?:\.\d+)?)\s*(mm|cm|in(?:ch(?:es)?)?|")?'
)
ROUND = re.compile(r'(?:round|ø|diameter)\s*(\d+(?:\.\d+)?)\s*(mm|cm|in(?:ch(?:es)?)?|")?')
# Nominal sizes people name, short side first [mm].
NAMED_SIZES = {
    "6x9 cm": (60, 90),
    "9x12 cm": (90, 120),
    "4x5 in": (101.6, 127),
    "5x7 in": (127, 177.8),
    "13x18 cm": (130, 180),
    "18x24 cm": (180, 240),
    "8x10 in": (203.2, 254),
    "24x30 cm": (240, 300),
    "11x14 in": (279.4, 355.6),
}
# Paper sold for 4x5 in holders is smaller than its name (common practice); others lose about this
# much.
CUT = {"4x5 in": (99.6, 125.0)}
CUT_LESS_MM = 2.0
RAIL_MM = 3.0
LEAST_MM, MOST_MM = 10, 2000


def parse(text):
    """(width_mm, height_mm) from `4x5 in`, `102x127`, `13x18 cm`. Raises ValueError with an
    example.
    """
    bare = text.strip().lower().replace(",", ".")
    round_one, match = ROUND.fullmatch(bare), SIZE_PATTERN.fullmatch(bare)
    if round_one:
        size = (float(round_one[1]) * _mm(round_one[2]),) * 2
    elif match:
        unit = match[3] or _usual_unit(match[1], match[2])
        size = float(match[1]) * _mm(unit), float(match[2]) * _mm(unit)
    else:
        raise ValueError("A size is written like 4x5 in, 13x18 cm, 102x127 (mm) or round 120 (mm).")
    if min(size) < LEAST_MM or max(size) > MOST_MM:
        raise ValueError(f"Each side must be between {LEAST_MM} mm and {MOST_MM} mm.")
    return size


def length_mm(text):
    """A length with its unit, `10 cm` or `4 in`, in mm; None for anything else."""
    match = LENGTH_PATTERN.fullmatch(text)
    return float(match[1]) * _mm(match[2]) if match else None


def _usual_unit(first, second):
    """Unit that a size without one is meant in: `5x7` is the named size of inches, `102x127` mm."""
    sides = sorted((float(first), float(second)))
    bare = f"{sides[0]:g}x{sides[1]:g}"
    return next((name.split()[1] for name in NAMED_SIZES if name.split()[0] == bare), "mm")


def _mm(unit):
    return MM["in" if (unit or "").startswith(("in", '"', "″", "''")) else unit or "mm"]


def is_round(text):
    return bool(ROUND.fullmatch(text.strip().lower().replace(",", ".")))


def named(text):
    """The nominal name of a typed size: `102x127` is a 4x5 in, `ø12 cm` is round 120 mm. Raises
    ValueError.
    """
    size = parse(text)
    return f"round {size[0]:g} mm" if is_round(text) else nominal(*size)


def both(name):
    """A nominal size in the other measure too: "4x5 in (10.2x12.7 cm)", "13x18 cm (5.1x7.1 in)"."""
    size = NAMED_SIZES.get(name) or parse(name)
    unit, per = ("cm", 10.0) if name.endswith("in") else ("in", 25.4)
    sides = (size[0],) if is_round(name) else size
    return f"{name} ({'x'.join(f'{side / per:.1f}'.removesuffix('.0') for side in sides)} {unit})"


def pieces(sheet_name, piece_name):
    """Number of pieces cut out of a sheet by straight cuts, all one way round; an edge may be 1 mm
    short.
    """
    wide, high = NAMED_SIZES.get(sheet_name) or parse(sheet_name)
    a, b = NAMED_SIZES.get(piece_name) or parse(piece_name)
    return max(int((wide + 1) // w) * int((high + 1) // h) for w, h in ((a, b), (b, a)))


def nominal(width_mm, height_mm):
    """The name of the nearest nominal size within 1 mm, else the size in mm; short side first."""
    short, long = sorted((width_mm, height_mm))
    for name, (named_short, named_long) in NAMED_SIZES.items():
        if abs(short - named_short) <= 1 and abs(long - named_long) <= 1:
            return name
    return f"{short:g}x{long:g} mm"


def cut(nominal_name):
    """(short, long) in mm that such a sheet usually measures."""
    if nominal_name in CUT:
        return CUT[nominal_name]
    short, long = NAMED_SIZES.get(nominal_name) or parse(nominal_name)
    return short - CUT_LESS_MM, long - CUT_LESS_MM


def visible(cut_width_mm, cut_height_mm):
    """Part of a cut sheet that usual rails on two opposite sides leave free [mm]."""
    return cut_width_mm - 2 * RAIL_MM, cut_height_mm - 2 * RAIL_MM
