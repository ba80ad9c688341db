"""The round on paper: where and how each can hangs, and a box for what was seen."""

from chimney.parts import svg
from chimney.parts.sentences import SHUT_FIRST

# So many cans on a sheet, each so high.
A_SHEET, ROUND_ROW_MM, ROUND_W = 12, 21.0, 186.0


def round_of(cans):
    """[Drawing in mm] of the round to go at one place: cans by what is due, with where and how each
    hangs and a box for what was seen.
    """
    cans = list(cans)
    parts = [cans[n : n + A_SHEET] for n in range(0, len(cans), A_SHEET)] or [[]]
    return [_round_sheet(part, f"{n} of {len(parts)}") for n, part in enumerate(parts, 1)]


def _round_sheet(cans, part):
    where = f": {cans[0].place}" if cans else ""
    shapes = [
        svg.text(0.0, 7.0, f"The round of the cans{where}", "bold big"),
        svg.text(ROUND_W, 7.0, f"sheet {part}", "small", "end"),
        svg.text(0.0, 12.5, SHUT_FIRST, "small"),
    ]
    for n, can in enumerate(cans):
        shapes += _round_row(can, 16.0 + n * ROUND_ROW_MM)
    label = "; ".join(f"{can}, due {_day(can.last_day)}" for can in cans)
    height = 18.0 + max(1, len(cans)) * ROUND_ROW_MM
    return svg.Drawing("The round of the cans", label, ROUND_W, height, tuple(shapes), "print")


def _round_row(can, y):
    looked = next((event for event in can.events.all() if event.kind == "check"), None)
    looked_on = looked.at.astimezone(can.place.tz).date() if looked else None
    rows = (
        ("bold", f"{can}: {can.spot or 'no spot written down'}, {can.place}"),
        (
            "",
            f"{can.where[0]:.5f}, {can.where[1]:.5f}; faces {can.stood.azimuth_deg:.0f}°, leans "
            f"{can.stood.tilt_deg:g}°; {can.get_mounting_display()}",
        ),
        (
            "",
            f"due {_day(can.last_day)}; look every {can.check_days} days, "
            f"{f'last {_day(looked_on)}' if looked_on else 'not looked after yet'}",
        ),
    )
    yield svg.line(0.0, y, ROUND_W, y, "fine")
    yield svg.rect(0.0, y + 3.0, 5.0, 5.0, "box")
    for n, (css, text) in enumerate(rows):
        yield svg.text(9.0, y + 6.5 + 5.4 * n, text, css, fit=126.0)
    yield svg.text(140.0, y + 6.5, "hole free, tight, as it was?", "small")
    yield svg.line(140.0, y + 17.0, ROUND_W, y + 17.0, "fine")


def _day(day):
    return f"{day:%-d %B %Y}"
