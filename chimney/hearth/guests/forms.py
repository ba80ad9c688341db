"""The passphrase of guests, and who a guest is."""

from django import forms
from django.core.exceptions import ValidationError

from chimney.hearth import flows
from chimney.kit.models import Person


class InviteForm(forms.Form):
    """Form for the passphrase of guests."""

    guests_word = forms.CharField(label="A passphrase for guests", max_length=100, strip=False)

    def clean_guests_word(self):
        """Take it into use; a bad one is told beside its field."""
        try:
            flows.invite(self.cleaned_data["guests_word"])
        except ValidationError as error:
            raise forms.ValidationError(error.messages) from error
        return ""


class WhoForm(forms.Form):
    """Form by which a guest says who it is."""

    person = forms.ModelChoiceField(
        Person.objects.in_use(), label="Who are you?", empty_label="not in the list"
    )
