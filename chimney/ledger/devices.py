"""Devices that were let in with the passphrase: written down at the door, put out by whoever
is in.
"""

from datetime import timedelta

from django.contrib.auth import logout
from django.contrib.sessions.models import Session

from chimney.ledger.models import Device
from chimney.ledger.once import verb
from chimney.parts import clock
from chimney.parts.middleware import address

# What a browser says of itself, to what it is; the first that fits.
DEVICE_KINDS = (("iPad", "tablet"), ("Tablet", "tablet"), ("Mobi", "phone"), ("Android", "tablet"))
SEEN_EVERY = timedelta(hours=1)


def kind(request):
    """ "phone", "tablet" or "computer", by what the browser says."""
    agent = request.headers.get("User-Agent", "")
    return next((label for mark, label in DEVICE_KINDS if mark in agent), "computer")


@verb
def let_in(request):
    """Write down the device of this session."""
    now, where = clock.now(), address(request)
    defaults = {
        "name": f"a {kind(request)} at {where}",
        "address": where,
        "came_at": now,
        "seen_at": now,
    }
    Device.objects.update_or_create(session_key=request.session.session_key, defaults=defaults)


def known():
    """Devices whose session is still good; those whose session ran out are no longer in."""
    good = Session.objects.filter(expire_date__gt=clock.now()).values("session_key")
    return list(Device.objects.filter(session_key__in=good))


def seen(request):
    """Note now and then that the device is still about; one let in before devices were written down
    is written now.
    """
    device = Device.objects.filter(session_key=request.session.session_key).first()
    if device is None:
        let_in(request)
    elif device.seen_at < clock.now() - SEEN_EVERY:
        Device.objects.filter(pk=device.pk).update(seen_at=clock.now())


LONGEST_NAME = 60


@verb
def call(device, name):
    """Say whose it is; nothing leaves its name as it was."""
    words = " ".join(name.replace("\0", "").split())[:LONGEST_NAME]
    if words:
        Device.objects.filter(pk=device.pk).update(name=words)


@verb
def put_out(device):
    """Its session ends: it stands before the door again."""
    Session.objects.filter(session_key=device.session_key).delete()
    device.delete()


@verb
def leave(request):
    """This device goes out."""
    Device.objects.filter(session_key=request.session.session_key).delete()
    logout(request)
