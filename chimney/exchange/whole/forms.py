from django import forms


class BringForm(forms.Form):
    """A log that is handed over."""

    log = forms.FileField(
        label="A log, as ZIP or JSON",
        error_messages={"required": "Choose the file first.", "empty": "That file is empty."},
    )
