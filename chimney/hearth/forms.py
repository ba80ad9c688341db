"""The passphrase at the door."""

from django import forms
from django.contrib.auth import authenticate
from django.core.exceptions import ValidationError

from chimney.hearth.flows import NAME


class DoorForm(forms.Form):
    passphrase = forms.CharField(
        label="Passphrase",
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}),
        strip=False,
    )

    def __init__(self, *args, request, **kwargs):
        super().__init__(*args, **kwargs)
        self.request, self.user = request, None

    def clean_passphrase(self):
        self.user = authenticate(
            self.request, username=NAME, password=self.cleaned_data["passphrase"]
        )
        if self.user is None:
            raise ValidationError(
                "That is not it. After five tries the door stays shut for a quarter of an hour."
            )
        return ""
