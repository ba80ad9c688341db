"""One passphrase for everybody on the home network; whoever knows it is the photographer. A second
one for those who come with their own sheets: a class, a club, a visitor.
"""

from django.contrib.auth import get_user_model, password_validation
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError

from chimney.ledger.models import Device
from chimney.ledger.once import verb

PHOTOGRAPHER = "photographer"
GUEST = "guest"
# The session of a guest says who it is, by the number of that person.
GUEST_IS = "guest is"


@verb
def set_passphrase(passphrase):
    """Keep it as its hash. Raises ValidationError for one that is too short or too common."""
    password_validation.validate_password(passphrase)
    user, _ = get_user_model().objects.get_or_create(username=PHOTOGRAPHER)
    user.set_password(passphrase)
    user.save()


def is_set():
    return get_user_model().objects.filter(username=PHOTOGRAPHER).exists()


@verb
def invite(passphrase):
    """Let guests in by that passphrase; whoever came by an earlier one goes out.

    Raises ValidationError for one that is too short, too common, or the photographer's own.
    """
    password_validation.validate_password(passphrase)
    users = get_user_model().objects
    photographer = users.filter(username=PHOTOGRAPHER).first()
    if photographer and photographer.check_password(passphrase):
        raise ValidationError("That is your own passphrase: guests need another.")
    guest, _ = users.get_or_create(username=GUEST)
    guest.set_password(passphrase)
    guest.save()


@verb
def close_to_guests():
    """No guest comes in any more, and those who are in go out."""
    guest = get_user_model().objects.filter(username=GUEST).first()
    if guest is None:
        return
    keys = [
        session.session_key
        for session in Session.objects.all()
        if session.get_decoded().get("_auth_user_id") == str(guest.pk)
    ]
    Session.objects.filter(session_key__in=keys).delete()
    Device.objects.filter(session_key__in=keys).delete()
    guest.delete()


@verb
def call_guest(request, person):
    """Say who the guest on this device is."""
    request.session[GUEST_IS] = person.pk
    Device.objects.filter(session_key=request.session.session_key).update(name=f"{person}, guest")


def is_of_guests(passphrase):
    """True if guests come in by that."""
    guest = get_user_model().objects.filter(username=GUEST).first()
    return bool(guest and guest.check_password(passphrase))


def guests_are_invited():
    return get_user_model().objects.filter(username=GUEST).exists()
