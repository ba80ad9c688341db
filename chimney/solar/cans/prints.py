"""Prints that hang beside a can: a label with large plain words, and a note for whoever finds
it.
"""

from chimney.parts import svg
from chimney.parts.sentences import SHUT_FIRST, SUN_ALONG_IT

CAN_LABEL_WIDTH_MM, CAN_LABEL_HEIGHT_MM = 120.0, 74.0
PLEA = "It draws the path of the sun. Please leave it as it is."
HARMLESS = "paper in a tin, nothing that burns, hears or sends."
BLANK = "______________________"
# The round: so many cans on a sheet, each so high.
A_SHEET, ROUND_ROW_MM, ROUND_W = 12, 21.0, 186.0


def label(can):
    """The label, in millimetres."""
    width, height = CAN_LABEL_WIDTH_MM, CAN_LABEL_HEIGHT_MM
    # Text, its place from above, its style.
    lines = (
        ("This is a camera without a lens.", 13.0, "bold huge"),
        (PLEA, 23.0, "big"),
        (f"Here from {_day(can.first_day)}", 36.0, "bold big"),
        (f"until {_day(can.last_day)}", 43.0, "bold big"),
        (f"Permission: {can.permission or BLANK}", 52.0, ""),
        (f"Questions, or in the way? {can.contact or BLANK}", 59.0, ""),
        (f"{can}: {HARMLESS}", 68.0, "small"),
    )
    shapes = [svg.rect(0.0, 0.0, width, height, "fine")]
    shapes += [svg.text(6.0, y, text, css, fit=width - 12) for text, y, css in lines]
    shapes.append(svg.line(6.0, 28.0, width - 6, 28.0, "fine"))
    words = "purpose, dates, permission, contact"
    return svg.Drawing(f"Label of {can}", words, width, height, tuple(shapes), "print")


def note(can):
    """The note for the one who retrieves it."""
    lines = (
        ("bold big", f"{can}, to bring home {_day(can.last_day)}"),
        ("", f"Where: {can.spot or can.place}"),
        (
            "",
            f"{can.where[0]:.5f}, {can.where[1]:.5f}; faces {can.azimuth_deg:.0f}°, "
            f"leans {can.tilt_deg:g}°",
        ),
        ("bold", "1. Shut the hole first: a finger, then tape. Only then move it."),
        ("", "2. Keep it dry and closed. Do not open it in light. Never develop it."),
        (
            "",
            f"3. {SUN_ALONG_IT} Ladders and roofs: leave them to people licensed for heights.",
        ),
        ("", f"Call: {can.contact or BLANK}"),
    )
    shapes = [svg.rect(0.0, 0.0, 180.0, 66.0, "fine")]
    shapes += [
        svg.text(6.0, 11.0 + 8.5 * n, text, css, fit=168.0) for n, (css, text) in enumerate(lines)
    ]
    return svg.Drawing(
        f"Note for {can}", "how to bring it home", 180.0, 66.0, tuple(shapes), "print"
    )


def round_of(cans):
    """[Drawing in mm] of the round to go: cans by what is due, with where and how each hangs and a
    box for what was seen.
    """
    cans = list(cans)
    parts = [cans[n : n + A_SHEET] for n in range(0, len(cans), A_SHEET)] or [[]]
    return [_round_sheet(part, f"{n} of {len(parts)}") for n, part in enumerate(parts, 1)]


def _round_sheet(cans, part):
    shapes = [
        svg.text(0.0, 7.0, "The round of the cans", "bold big"),
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
    return f"{day.day} {day:%B %Y}"
