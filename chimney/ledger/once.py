"""A verb changes the world: in one transaction, from what is there now, and once for each form that
asks for it.
"""

import time
from contextlib import ExitStack, contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import timedelta
from functools import wraps

from django.db import OperationalError, transaction

from chimney import turns
from chimney.ledger.models import Receipt
from chimney.parts import clock
from chimney.parts.refusal import Refused

KEPT_RECEIPTS = timedelta(days=60)
# How long a verb waits for the write lock; between two tries this process answers others, but for
# the first of them: a stroke is over sooner than a page is made.
PATIENCE_S, RETRY_REST_S, STROKE_S = 5.0, 0.02, 0.1
_asked = ContextVar("what is asked for", default=None)
_put_off = ContextVar("what follows when it is written down", default=None)


@dataclass
class Asked:
    """key: the identity of the form or tap that is being answered; claimed: whether a verb has
    taken it.
    """

    key: str
    claimed: bool = False


class AlreadyDone(Exception):  # noqa: N818 - it is an answer, not an error
    """The same form was taken in before; receipt: what it left then."""

    def __init__(self, receipt):
        super().__init__("That was done already.")
        self.receipt = receipt


@contextmanager
def asking(key):
    """Let every verb inside belong to this one request; yields its Asked."""
    question = Asked(key)
    token = _asked.set(question if key else None)
    try:
        yield question
    finally:
        _asked.reset(token)


def verb(flow):
    """One transaction, the write lock from its start and the request's receipt in it; AlreadyDone
    if that is there.
    """

    @wraps(flow)
    def in_one_transaction(*args, **kwargs):
        question = _asked.get()
        claims = question is not None and not question.claimed
        try:
            with _written_down():
                if claims:
                    _claim(question)
                return flow(*args, **kwargs)
        except BaseException:
            if claims:
                question.claimed = False
            raise

    return in_one_transaction


def setting(flow):
    """A verb that puts something where it is told, so that doing it twice is doing it once: it
    leaves no receipt, and what goes there, elsewhere and back again is moved three times.
    """

    @wraps(flow)
    def in_one_transaction(*args, **kwargs):
        with _written_down():
            return flow(*args, **kwargs)

    return in_one_transaction


@contextmanager
def _written_down():
    """One transaction; what was put off in it is done when the outermost has been written down, and
    not at all if it was not.
    """
    outer, acts = _put_off.get(), {}
    token = _put_off.set(acts)
    try:
        with _transaction():
            yield
    finally:
        _put_off.reset(token)
    _follow(acts, outer)


@contextmanager
def together():
    """Do once, at the end of all verbs inside and whatever ended them, what they put off."""
    outer, acts = _put_off.get(), {}
    token = _put_off.set(acts)
    try:
        yield
    finally:
        _put_off.reset(token)
        _follow(acts, outer)


def _follow(acts, outer):
    if outer is not None:
        outer.update(acts)
        return
    for act, about in acts:
        act(*about)


@contextmanager
def _transaction():
    """It is begun as soon as nobody else writes. Raises OperationalError where that takes too
    long.
    """
    began = time.monotonic()
    with ExitStack() as stack:
        while True:
            try:
                stack.enter_context(transaction.atomic())
                break
            except OperationalError as error:
                if not is_busy(error) or time.monotonic() > began + PATIENCE_S:
                    raise
            is_short = time.monotonic() < began + STROKE_S
            (time.sleep if is_short else turns.let_others)(RETRY_REST_S)
        yield


def is_busy(error):
    """True if somebody else is writing, and nothing else is wrong."""
    return isinstance(error, OperationalError) and "locked" in str(error)


def afterwards(act, *about):
    """Do act(*about) once, outside of the write lock, when all that is being written is written
    down.
    """
    acts = _put_off.get()
    if acts is None:
        act(*about)
    else:
        acts[act, about] = True


def _claim(question):
    receipt = Receipt.objects.filter(pk=question.key).first()
    if receipt:
        raise AlreadyDone(receipt)
    Receipt.objects.create(key=question.key, at=clock.now())
    Receipt.objects.filter(at__lt=clock.now() - KEPT_RECEIPTS).delete()
    question.claimed = True


def known(key):
    """The Receipt of this very form; None if it was never taken in."""
    return Receipt.objects.filter(pk=key).first() if key else None


def done_since(receipt):
    """(how many other forms were taken in after it, the last of them or None)."""
    later = Receipt.objects.filter(at__gt=receipt.at).exclude(pk=receipt.pk).order_by("at")
    return later.count(), later.last()


@setting
def led_to(key, address):
    """Remember where the answer to a form led, for whoever sends it again."""
    Receipt.objects.filter(pk=key).update(led_to=address[:500])


def current(thing, rows=None):
    """The thing as it is now, inside the transaction that changes it; rows: a queryset that brings
    along what is read.

    Raises Refused when it is gone.
    """
    rows = type(thing)._default_manager.all() if rows is None else rows
    row = rows.filter(pk=thing.pk).first()
    if row is None:
        raise Refused(
            f"{thing} was dropped or taken back meanwhile.", "To the Hearth", "hearth:hearth"
        )
    return row
