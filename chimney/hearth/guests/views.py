"""Guests are let in, say who they are, and are sent home."""

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from chimney.hearth import flows
from chimney.hearth.guests.forms import InviteForm, WhoForm


@require_POST
def guests(request):
    """Let guests in by a passphrase of their own, or no longer."""
    if "close" in request.POST:
        flows.close_to_guests()
        messages.success(request, "Guests are signed out, and none can come in.")
        return redirect("hearth:devices")
    form = InviteForm(request.POST)
    if form.is_valid():
        try:
            flows.invite(form.cleaned_data["guests_word"])
            messages.success(request, "Guests come in by that passphrase.")
            return redirect("hearth:devices")
        except ValidationError as error:
            form.add_error("guests_word", error.messages)
    return render(request, "hearth/guests.html", {"form": form}, status=422)


def who(request):
    """A guest says who it is."""
    form = WhoForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        flows.call_guest(request, form.cleaned_data["person"])
        return redirect("hearth:hearth")
    return render(request, "hearth/who.html", {"form": form}, status=422 if form.errors else 200)
