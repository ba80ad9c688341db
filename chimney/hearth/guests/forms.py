"""The passphrase of guests, and who a guest is."""

from django import forms

from chimney.kit.models import Person


class InviteForm(forms.Form):
    """Form for the passphrase of guests."""

    guests_word = forms.CharField(label="A passphrase for guests", max_length=100, strip=False)


class WhoForm(forms.Form):
    """Form by which a guest says who it is."""

    person = forms.ModelChoiceField(
        Person.objects.in_use(), label="Who are you?", empty_label="not in the list"
    )
