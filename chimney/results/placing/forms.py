"""Corners of a sheet on its scan, found or dragged."""

from django import forms

from chimney.parts import drag
from chimney.results.placing.craft import OUTSIDE

NO_SHEET = "Those corners make no sheet: drag them apart."


class CornersForm(forms.Form):
    """Four corners as shares of the scan, clockwise from the top left, and the one that was
    dragged over a picture of that size.
    """

    corners = forms.RegexField(r"^[\d., -]{7,200}$")
    wide = forms.FloatField(min_value=1, max_value=5000)
    high = forms.FloatField(min_value=1, max_value=5000)
    dragged = forms.CharField(max_length=60, required=False)

    def clean_corners(self):
        pairs = [pair.split(",") for pair in self.cleaned_data["corners"].split()]
        try:
            corners = [[float(x), float(y)] for x, y in pairs]
        except ValueError as error:
            raise forms.ValidationError(NO_SHEET) from error
        if len(corners) != 4:
            raise forms.ValidationError(NO_SHEET)
        return corners

    def clean(self):
        """The corner that was dragged lies where it was dragged to."""
        cleaned = super().clean()
        if self.errors:
            return cleaned
        corners, pull = cleaned["corners"], drag.read(cleaned.get("dragged"))
        if pull and pull[0].isdecimal() and int(pull[0]) < 4:
            corners[int(pull[0])] = [pull[1] / cleaned["wide"], pull[2] / cleaned["high"]]
        corners = [
            [min(1 + OUTSIDE, max(-OUTSIDE, share)) for share in corner] for corner in corners
        ]
        if not _is_sheet(corners):
            self.add_error("corners", NO_SHEET)
        return cleaned | {"corners": corners}


def written(corners):
    """Corners as the form sends them."""
    return " ".join(f"{x:.4f},{y:.4f}" for x, y in corners)


def _held(share):
    return min(1 + OUTSIDE, max(-OUTSIDE, share))


# A sheet covers at least so much of its scan.
LEAST_AREA = 0.01


def _is_sheet(corners):
    """True if they go round clockwise and turn the same way at each corner."""
    turns = []
    for n in range(4):
        (ax, ay), (bx, by), (cx, cy) = (corners[(n + k) % 4] for k in range(3))
        turns.append((bx - ax) * (cy - by) - (by - ay) * (cx - bx))
    return min(turns) > 0 and sum(turns) / 4 > LEAST_AREA
