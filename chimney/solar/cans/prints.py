"""What hangs beside a can: a label with large plain words, and a note for whoever finds it."""

from chimney.parts import svg

WIDTH, HEIGHT = 120.0, 74.0


def label(can):
    """The label, in millimetres."""
    shapes = [
        svg.rect(0.0, 0.0, WIDTH, HEIGHT, "fine"),
        svg.text(6.0, 13.0, "This is a camera without a lens.", "bold huge"),
        svg.text(6.0, 23.0, "It draws the path of the sun. Please leave it as it is.", "big"),
        svg.line(6.0, 28.0, WIDTH - 6, 28.0, "fine"),
        svg.text(6.0, 36.0, f"Here from {_day(can.first_day)}", "bold big"),
        svg.text(6.0, 43.0, f"until {_day(can.last_day)}", "bold big"),
        svg.text(6.0, 52.0, f"Permission: {can.permission or '______________________'}"),
        svg.text(6.0, 59.0, f"Questions, or in the way? {can.contact or '______________________'}"),
        svg.text(6.0, 68.0, f"{can}: paper in a tin, nothing that burns, hears or sends.", "small"),
    ]
    return svg.Drawing(
        f"Label of {can}",
        "purpose, dates, permission, contact",
        WIDTH,
        HEIGHT,
        tuple(shapes),
        "print",
    )


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
            "3. Never look at the sun along it. Ladders and roofs: leave them to people "
            "licensed for heights.",
        ),
        ("", f"Call: {can.contact or '______________________'}"),
    )
    shapes = [svg.rect(0.0, 0.0, 180.0, 66.0, "fine")]
    shapes += [svg.text(6.0, 11.0 + 8.5 * n, words, css) for n, (css, words) in enumerate(lines)]
    return svg.Drawing(
        f"Note for {can}", "how to bring it home", 180.0, 66.0, tuple(shapes), "print"
    )


def _day(day):
    return f"{day.day} {day:%B %Y}"
