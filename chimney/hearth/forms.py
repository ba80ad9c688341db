"""The passphrase at the door."""

import time
from contextlib import contextmanager

from django import forms
from django.contrib.auth import authenticate
from django.core.exceptions import ValidationError

from chimney import beside, turns
from chimney.hearth.flows import GUEST, PHOTOGRAPHER, is_of_guests

# A guess is long to reckon, on purpose: one at a time, so that the house goes on meanwhile.
GUESS_STEP_S, LONGEST_GUESS_WAIT_S = 0.05, 5.0


@contextmanager
def _one_at_a_time():
    until = time.monotonic() + LONGEST_GUESS_WAIT_S
    while (turn := beside.alone("door")) is None:
        if time.monotonic() > until:
            raise ValidationError("Too many tries just now: wait a minute, then try again.")
        turns.let_others(GUESS_STEP_S)
    with turn:
        yield


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
        passphrase = self.cleaned_data["passphrase"]
        with _one_at_a_time():
            user = GUEST if is_of_guests(passphrase) else PHOTOGRAPHER
            self.user = authenticate(self.request, username=user, password=passphrase)
        if self.user is None:
            raise ValidationError(
                "That is not the passphrase. After five tries the door stays shut for a quarter "
                "of an hour."
            )
        return ""
