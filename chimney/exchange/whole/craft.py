"""Rows of a log that was handed over as rows of this database: each field held to its own bounds,
and what the craft must be able to compute, computed.
"""

import math
from datetime import UTC, date, datetime
from functools import cache

from django.db import models

from chimney.exchange.whole.catalogue import fields_of, model_of

MOST, MOST_INTEGER = 1e12, 2**53
# What each kind must be able to say of itself.
COMPUTED = {
    "kit.camera": lambda row: (row.f_number, row.geometry, row.hole_sd_stops),
    "kit.paper": lambda row: [school.adjusted_s(60) for school in row.schools.values()],
    "logbook.exposure": lambda row: row.calculation.exact_s,
    "darkroom.ownprocess": lambda row: row.steps,
    "darkroom.run": lambda row: row.steps,
}


class WrongRowError(ValueError):
    """A row that cannot be kept; the message says which field and why."""


def row_of(kind, told, resolved):
    """(a model's row, {name of a field to many rows: pks}, {field: where its picture lies}).

    told: one row of a log; resolved: {kind of the field's model: {uid: pk}}. Raises WrongRowError.
    """
    if not isinstance(told, dict):
        raise WrongRowError("is no row")
    made, many, pictures = {}, {}, {}
    for field in fields_of(kind):
        if field.name not in told:
            raise WrongRowError(f"lacks {field.name}")
        value = told[field.name]
        if field.many_to_many:
            many[field.name] = [_pointed(field, uid, resolved) for uid in _listed(field, value)]
        elif field.is_relation:
            made[field.attname] = _pointed(field, value, resolved)
        elif isinstance(field, models.BinaryField):
            pictures[field.name] = value if isinstance(value, str) else None
        else:
            made[field.attname] = _value(field, value)
    row = model_of(kind)(**made)
    _compute(kind, row)
    return row, many, pictures


def _listed(field, value):
    if not isinstance(value, list):
        raise WrongRowError(f"{field.name} is no list")
    return value


def _pointed(field, uid, resolved):
    """The pk of the row that a field points to."""
    if uid is None:
        if field.many_to_many or not field.null:
            raise WrongRowError(f"{field.name} points to nothing")
        return None
    pk = resolved.get(field.related_model._meta.label_lower, {}).get(uid) if _is_name(uid) else None
    if pk is None:
        raise WrongRowError(f"{field.name} points to a row that is not there")
    return pk


def _is_name(uid):
    return isinstance(uid, str)


def _value(field, value):
    if value is None:
        if not field.null:
            raise WrongRowError(f"{field.name} is empty")
        return None
    if isinstance(field, models.JSONField):
        return value
    reader, choices, longest = _bounds(field)
    try:
        read = reader(value)
    except (TypeError, ValueError, OverflowError):
        raise WrongRowError(f"{field.name} is {str(value)[:40]!r}") from None
    if choices and read not in choices and read != "":
        raise WrongRowError(f"{field.name} is {str(read)[:40]!r}, which is no choice")
    if longest and len(read) > longest:
        raise WrongRowError(f"{field.name} is longer than {longest}")
    return read


@cache
def _bounds(field):
    """(what reads it, its choices, how long it may be) of a field."""
    reader = next(read for kind, read in READERS.items() if isinstance(field, kind))
    return reader, frozenset(dict(field.flatchoices)), field.max_length


def _number(value):
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise TypeError(value)
    if not math.isfinite(value) or abs(value) > MOST:
        raise ValueError(value)
    return float(value)


def _count(value):
    if isinstance(value, bool) or not isinstance(value, int) or not 0 <= value < MOST_INTEGER:
        raise ValueError(value)
    return value


def _truth(value):
    if not isinstance(value, bool):
        raise TypeError(value)
    return value


def _text(value):
    if not isinstance(value, str) or "\0" in value:
        raise TypeError(value)
    return value


def _moment(value):
    read = datetime.fromisoformat(_text(value))
    return (read if read.tzinfo else read.replace(tzinfo=UTC)).astimezone(UTC)


def _day(value):
    return date.fromisoformat(_text(value))


# The narrower kind first.
READERS = {
    models.BooleanField: _truth,
    models.IntegerField: _count,
    models.FloatField: _number,
    models.DateTimeField: _moment,
    models.DateField: _day,
    models.CharField: _text,
    models.TextField: _text,
}


def _compute(kind, row):
    """Whatever is let in must be computable by all that reads it later."""
    try:
        if kind in COMPUTED:
            COMPUTED[kind](row)
    except Exception as error:
        raise WrongRowError(f"cannot be computed: {error}") from error
