"""Files that take long are asked for in a request and made beside the server; each lies in the
folder for a day.
"""

from datetime import timedelta

from django.conf import settings

from chimney.ledger.models import Making
from chimney.ledger.once import setting
from chimney.parts import clock

KEPT_MAKINGS = timedelta(days=1)
State = Making.State


def folder():
    return settings.DATA / "made"


def path_of(making):
    return folder() / str(making.pk)


@setting
def ask(what, name, of=None):
    """The Making of that file: the one that is asked for already, or lies there, or a new one. What
    is of nothing in particular is made anew each time.
    """
    same = Making.objects.filter(what=what, of=of or {}, name=name).exclude(state=State.FAILED)
    for making in same:
        if making.state == State.ASKED or (of and path_of(making).exists()):
            return making
    return Making.objects.create(what=what, name=name, of=of or {}, asked_at=clock.now())


def waiting():
    """The Making that is made next, or None."""
    return Making.objects.filter(state=State.ASKED).order_by("asked_at", "pk").first()


def make(making, write):
    """It lies in the folder when write(an open file) has written it; half of one never does."""
    folder().mkdir(mode=0o700, parents=True, exist_ok=True)
    begun = folder() / f"begun-{making.pk}"
    try:
        with begun.open("wb") as file:
            write(file)
        size_bytes = begun.stat().st_size
        begun.replace(path_of(making))
    finally:
        begun.unlink(missing_ok=True)
    _made(making, size_bytes)


@setting
def _made(making, size_bytes):
    rows = Making.objects.filter(pk=making.pk)
    rows.update(state=State.MADE, made_at=clock.now(), size_bytes=size_bytes, trouble="")
    if not making.of:
        # The newest is the one that is wanted.
        Making.objects.filter(what=making.what, state=State.MADE).exclude(pk=making.pk).delete()
    Making.objects.filter(asked_at__lt=clock.now() - KEPT_MAKINGS).delete()
    _sweep()


@setting
def failed(making, message):
    Making.objects.filter(pk=making.pk).update(state=State.FAILED, trouble=message[:300])


def _sweep():
    """Files of which nobody knows any more go."""
    making_pks = {str(pk) for pk in Making.objects.values_list("pk", flat=True)}
    for path in folder().iterdir():
        if path.name not in making_pks:
            path.unlink(missing_ok=True)
