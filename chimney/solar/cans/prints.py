"""Prints that hang beside a can: a label with large plain words, and a note for whoever finds
it.
"""

from chimney.parts import svg
from chimney.parts.sentences import SUN_ALONG_IT

CAN_LABEL_WIDTH_MM, CAN_LABEL_HEIGHT_MM = 120.0, 74.0
PLEA = "It draws the path of the sun. Please leave it as it is."
HARMLESS = "paper in a tin, nothing that burns, hears or sends."
BLANK = "______________________"


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


def _day(day):
    return f"{day.day} {day:%B %Y}"
