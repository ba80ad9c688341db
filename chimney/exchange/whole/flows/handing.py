"""A log that is handed over: taken as a file, looked through beside the server, wanted or left."""

import json

from django import forms
from django.db import transaction

from chimney.exchange.models import Bringing
from chimney.exchange.whole import files, queries
from chimney.exchange.whole.catalogue import words_of
from chimney.ledger.once import current, setting, verb
from chimney.parts import clock
from chimney.parts.refusal import Refused

State = Bringing.State
# Looked through and left: these many are kept.
KEPT_LOOKS = 5
GONE = "The file is gone from the folder: hand it over once more."


def refused(message):
    return Refused(message, "To your data", "exchange:data")


def hand_over(stored_as, name):
    """The Bringing of a file that lies in the folder. Raises ValidationError where it is no log at
    first sight.
    """
    try:
        with files.Package(stored_as) as package:
            package.glance()
    except forms.ValidationError:
        put_away(stored_as)
        raise
    return _handed(stored_as, name)


@verb
def _handed(stored_as, name):
    old = Bringing.objects.filter(state__in=(State.LOOKED, State.REFUSED))[KEPT_LOOKS - 1 :]
    for bringing in old:
        forget(bringing)
    fields = {"name": name.replace("\0", "")[:120], "stored_as": stored_as}
    return Bringing.objects.create(**fields, state=State.HANDED, looked_at=clock.now())


def look_through(bringing, beat):
    """Write down what of it is new here, or why it is no log."""
    try:
        with files.Package(bringing.stored_as) as package:
            beat()
            counts = list(_compared(package.log().rows))
    except forms.ValidationError as error:
        return refuse(bringing, error.messages[0])
    except FileNotFoundError:
        return refuse(bringing, GONE)
    return _looked(bringing, counts)


@setting
def _looked(bringing, counts):
    bringing = current(bringing)
    bringing.state, bringing.counts, bringing.trouble = State.LOOKED, counts, ""
    bringing.save(update_fields=["state", "counts", "trouble"])
    return bringing


@setting
def refuse(bringing, message):
    """It is no log, or none that can be brought in; nothing of it is here."""
    bringing = current(bringing)
    bringing.state, bringing.trouble = State.REFUSED, message[:400]
    bringing.save(update_fields=["state", "trouble"])
    put_away(bringing.stored_as)
    return bringing


@verb
def want(bringing):
    """It is to come in."""
    bringing = current(bringing)
    if bringing.state != State.LOOKED:
        raise refused("That was brought in already.")
    return _under_way(bringing, State.COMING)


@verb
def unwant(bringing):
    """It is to go out again."""
    bringing = current(bringing)
    if bringing.state != State.DONE:
        raise refused("That log is no longer in here.")
    return _under_way(bringing, State.LEAVING)


def _under_way(bringing, state):
    bringing.state, bringing.trouble = state, ""
    bringing.done_rows, bringing.of_rows, bringing.reached = 0, 0, {}
    bringing.save()
    return bringing


@verb
def forget(bringing):
    """Away with what was looked through and not brought in."""
    bringing = current(bringing)
    if bringing.state in (State.LOOKED, State.REFUSED):
        bringing.delete()
        put_away(bringing.stored_as)


def put_away(stored_as):
    """Remove a file that was handed over, unless it is still to come in."""
    needed = (State.HANDED, State.LOOKED, State.COMING)
    if not Bringing.objects.filter(stored_as=stored_as, state__in=needed).exists():
        transaction.on_commit(lambda: files.forget(stored_as))


def _compared(rows):
    """[kind in words, new, same, other than here] of the rows of a log, kind by kind."""
    uids, (_, rows_by_kind, _) = queries.Uids(), queries.told({}, json.loads)
    # One kind at a time is held.
    for kind, of_kind in rows_by_kind:
        present, uid_to_pk = {row["id"]: row for row in of_kind}, uids.of_all(kind)
        new = same = changed = 0
        for row in rows[kind]:
            uid = row.get("id") if isinstance(row, dict) else None
            if not isinstance(uid, str) or uid not in uid_to_pk:
                new += 1
            elif present.get(uid) == row:
                same += 1
            else:
                changed += 1
        yield [words_of(kind), new, same, changed]
