"""Drawings of a sheet beside what it will become."""

from chimney.parts import svg
from pinhole import media, verdicts

# Greys for the scale of looks, from palest to darkest sheet.
GREYS = ("tone-1", "tone-2", "tone-3", "tone-4", "tone-5", "tone-6", "tone-7")


def scale(medium):
    """For each look of the medium: (Look, drawing of the sheet, for negatives above its
    positive).
    """
    looks = verdicts.looks(medium)
    return [(look, _pair(look, GREYS[i], GREYS[-1 - i], medium)) for i, look in enumerate(looks)]


def _pair(look, grey, inverse, medium):
    """A little scene in three tones: a bright sky and a dark foreground, as sheet and as
    positive.
    """
    negative = not media.medium(medium).is_positive
    shapes = [
        svg.rect(1.0, 1.0, 34.0, 26.0, f"tone {grey}"),
        svg.rect(1.0, 18.0, 34.0, 9.0, "veil" if negative else "shade"),
    ]
    if negative:
        shapes += [
            svg.rect(1.0, 31.0, 34.0, 26.0, f"tone {inverse}"),
            svg.rect(1.0, 48.0, 34.0, 9.0, "shade"),
        ]
    label = f"the sheet {look.words}" + (", its positive below it" if negative else "")
    return svg.Drawing(look.words, label, 36.0, 58.0 if negative else 28.0, tuple(shapes), "look")
