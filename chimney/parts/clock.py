"""The only clock of the site, so that pictures, tests and the demo's past can move it."""

from contextlib import contextmanager
from contextvars import ContextVar
from datetime import datetime

from django.conf import settings
from django.utils import timezone

_moved = ContextVar("moved clock", default=None)


def now():
    if moved := _moved.get():
        return moved
    if settings.FROZEN_NOW:
        return datetime.fromisoformat(settings.FROZEN_NOW)
    return timezone.now()


@contextmanager
def at(when):
    """Let everything inside happen at that moment."""
    token = _moved.set(when)
    try:
        yield when
    finally:
        _moved.reset(token)


def local(when):
    """The moment on the clock of home."""
    return timezone.localtime(when)
