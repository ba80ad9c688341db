"""The label of a bath, in millimetres: what it is, since when, and what it does to you."""

from django.utils import timezone

from chimney.darkroom.catalogue import cautions
from chimney.parts import svg
from chimney.parts.scales import number

BATH_LABEL_WIDTH_MM, BATH_LABEL_HEIGHT_MM = 90.0, 52.0
# What stands on it in any case.
WARNINGS = ("Not food, not drink. Keep from children and animals.", "See the safety data sheet.")


def label(bath):
    """A Drawing of the label of a bath."""
    fit = BATH_LABEL_WIDTH_MM - 10
    mixed = timezone.localtime(bath.mixed_at)
    own = {"develop": "Gloves, eye protection.", "fix": "Used: holds silver."}
    special = own.get(bath.purpose) or (
        "Never in a closed bottle once used." if bath.purpose == "bleach" else "Acid into water."
    )
    lines = [
        svg.rect(0.0, 0.0, BATH_LABEL_WIDTH_MM, BATH_LABEL_HEIGHT_MM, "fine"),
        svg.text(5.0, 10.0, bath.name, "bold huge", fit=fit),
        svg.text(5.0, 17.0, f"{bath.get_purpose_display()}, {bath.dilution}", fit=fit),
        svg.text(5.0, 22.0, f"{number(bath.volume_ml)} ml; mixed {mixed:%Y-%m-%d %H:%M}", fit=fit),
        svg.text(5.0, 27.0, bath.went_in, "small", fit=fit),
        svg.line(5.0, 30.0, BATH_LABEL_WIDTH_MM - 5, 30.0, "fine"),
        svg.text(5.0, 35.0, special, "bold", fit=fit),
    ]
    lines += [
        svg.text(5.0, 40.0 + 4 * n, warning, "small", fit=fit) for n, warning in enumerate(WARNINGS)
    ]
    lines.append(svg.text(5.0, 48.0, cautions.AWAY[bath.purpose], "small", fit=fit))
    title = f"{bath.name}, {bath.get_purpose_display()}, mixed {mixed:%Y-%m-%d}"
    return svg.Drawing(
        f"Label of {bath.name}",
        title,
        BATH_LABEL_WIDTH_MM,
        BATH_LABEL_HEIGHT_MM,
        tuple(lines),
        "print",
    )
