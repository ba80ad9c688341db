"""Examples of what went wrong, and where each cause is mended."""

from chimney.results.training.craft import CURVES
from pinhole import media
from pinhole import sheet as papers
from pinhole.imaging import view
from pinhole.symptoms import symptoms

# Sheets as people call them, in the order in which they are offered.
ASKED_MEDIA = ("negative", "positive", "reversal")
EXAMPLE_HIGH, EXAMPLE_WIDE, EXAMPLE_SEED = 160, 200, 11


def symptom(medium, code):
    """The Symptom of that code, or None."""
    return next((one for one in symptoms(medium) if one.code == code), None)


def example(medium, code):
    """A sheet with that symptom as it looks in the hand, uint8; a right one for no symptom."""
    shown, kind = symptom(medium, code), media.medium(medium)
    faults = [shown.fault] if shown and shown.fault else []
    made = papers.simulate(
        view(EXAMPLE_SEED, EXAMPLE_HIGH, EXAMPLE_WIDE),
        shown.stops if shown else 0.0,
        CURVES["positive" if kind.is_positive else "negative"],
        medium=medium,
        faults=faults,
        seed=5,
    )
    return papers.scanned(made)
