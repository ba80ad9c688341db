"""A row of cameras that is loaded or unloaded in one go: a line for each."""

from django import forms

from chimney.kit.forms.people import PersonField
from chimney.kit.models import Paper
from chimney.parts.adding import AddableField


class LineForm(forms.Form):
    """Form of one camera of a row: whether it takes part, and whose its sheet is."""

    takes_part = forms.BooleanField(required=False)
    person = PersonField(empty_label="mine", label="Whose")

    def __init__(self, data, *, side, initial, people):
        """people: those in use by period and name, read once for all lines."""
        super().__init__(data, prefix=f"side{side.key}", initial=initial)
        self.fields["person"].rows = people
        self.side = side
        self.fields["takes_part"].label = side.holder.camera.name


class RowPaperForm(forms.Form):
    """Form for the paper that all of them get."""

    paper = AddableField(
        Paper.objects.developed(), empty_label=None, label="Paper", add=("kit:add", "paper")
    )
