"""One passphrase for everybody on the home network; whoever knows it is the photographer."""

from django import forms
from django.contrib.auth import authenticate, get_user_model, password_validation
from django.core.exceptions import ValidationError

NAME = "photographer"


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


def set_passphrase(passphrase):
    """Keep it as its hash. Raises ValidationError for one that is too short or too common."""
    password_validation.validate_password(passphrase)
    user, _ = get_user_model().objects.get_or_create(username=NAME)
    user.set_password(passphrase)
    user.save()


def is_set():
    return get_user_model().objects.filter(username=NAME).exists()
