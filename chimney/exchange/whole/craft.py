"""Rows of a log that was handed over as rows of this database: each field held to its own bounds,
and what the craft must be able to compute, computed.
"""

import math
from copy import copy
from datetime import UTC, date, datetime, timedelta
from functools import cache
from itertools import pairwise

from django.db import models

from chimney.exchange.whole import forms
from chimney.exchange.whole.catalogue import asked, fields_of, model_of
from chimney.kit.forms.cameras import CameraForm
from chimney.kit.forms.things import PaperForm
from chimney.parts import clock
from chimney.places.forms import PlaceForm
from pinhole.faults import FAULTS
from pinhole.solargraph import skyline

LARGEST_NUMBER, MOST_INTEGER = 1e9, 2**63 - 1
YEARS = range(1900, 2201)
# Clocks of two machines may differ by so much; nothing has happened later than now.
ANOTHER_CLOCK = timedelta(days=2)
TO_COME = {("field.shot", "starts_at")}
# What each kind must be able to say of itself.
COMPUTED = {
    "kit.camera": lambda row: (_would_be_typed(CameraForm, row), row.geometry, row.hole_sd_stops),
    "kit.paper": lambda row: _would_be_typed(PaperForm, row),
    "places.place": lambda row: _would_be_typed(PlaceForm, row),
    "logbook.exposure": lambda row: row.calculation.exact_s,
    "darkroom.ownprocess": lambda row: row.process.steps,
    "darkroom.run": lambda row: row.steps,
}


class WrongRowError(ValueError):
    """A row that cannot be kept; the message says which field and why."""


def row_of(kind, row_data, resolved):
    """(a model's row, {name of a field to many rows: pks}, {field: where its picture lies}).

    row_data: one row of a log; resolved: {kind of the field's model: {uid: pk}}. Raises
    WrongRowError.
    """
    if not isinstance(row_data, dict):
        raise WrongRowError("is no row")
    values, many, pictures = {}, {}, {}
    for field in fields_of(kind):
        if field.name not in row_data:
            raise WrongRowError(f"lacks {field.name}")
        value = row_data[field.name]
        if field.many_to_many:
            many[field.name] = [_pointed(field, uid, resolved) for uid in _listed(field, value)]
        elif field.is_relation:
            values[field.attname] = _pointed(field, value, resolved)
        elif isinstance(field, models.BinaryField):
            pictures[field.name] = value if isinstance(value, str) else None
        else:
            values[field.attname] = _value(field, value)
    if kind == "lessons.keptsearch":
        values["query"] = asked(values["query"], lambda of, uid: resolved[of].get(uid))
    row = model_of(kind)(**values)
    _compute(kind, row)
    return row, many, pictures


def _would_be_typed(form, row):
    """Raise ValueError, with the words of its form, where the form would refuse what the row
    holds.
    """
    blank = form(instance=row)
    typed = {name: blank[name].value() for name in blank.fields}
    typed = {name: "" if value is None else value for name, value in typed.items()}
    errors = form(typed, instance=copy(row)).errors
    # A name may be taken, which is looked after elsewhere, and so are rows that it points to.
    wrong = [name for name in errors if name not in ("name", "body", "loads_directly")]
    if wrong:
        raise ValueError(f"{wrong[0]} was refused: {errors[wrong[0]][0]}")


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
    pk = (
        resolved.get(field.related_model._meta.label_lower, {}).get(uid)
        if isinstance(uid, str)
        else None
    )
    if pk is None:
        raise WrongRowError(f"{field.name} points to a row that is not there")
    return pk


def _value(field, value):
    if value is None:
        if not field.null:
            raise WrongRowError(f"{field.name} is empty")
        return None
    if isinstance(field, models.JSONField):
        return _data(field, value)
    reader, choices, longest = _bounds(field)
    try:
        result = reader(value)
    except (TypeError, ValueError, OverflowError):
        raise WrongRowError(f"{field.name} is {str(value)[:40]!r}") from None
    _refuse_beyond(field, result)
    if choices and result not in choices and (result or not field.blank):
        raise WrongRowError(f"{field.name} is {str(result)[:40]!r}, which is no choice")
    if longest and len(result) > longest:
        raise WrongRowError(f"{field.name} is longer than {longest}")
    return result


@cache
def _bounds(field):
    """(what reads it, its choices, how long it may be) of a field."""
    reader = next(
        read_value for kind, read_value in FIELD_READERS.items() if isinstance(field, kind)
    )
    return reader, frozenset(dict(field.flatchoices)), field.max_length


def _refuse_beyond(field, read_value):
    """Raise WrongRowError for what the form of its kind would not take in."""
    kind, name = field.model._meta.label_lower, field.name
    if isinstance(read_value, datetime):
        if (kind, name) not in TO_COME and read_value > clock.now() + ANOTHER_CLOCK:
            raise WrongRowError(f"{name} is {read_value:%d %B %Y}, which is still to come")
    elif isinstance(read_value, int | float) and not isinstance(read_value, bool):
        lowest, highest = forms.bounds_of(kind, name)
        if not lowest <= read_value <= highest:
            raise WrongRowError(
                f"{name} is {read_value:g}; it lies between {lowest:g} and {highest:g}"
            )
    elif isinstance(read_value, str):
        try:
            forms.check_words(kind, field, read_value)
        except ValueError as error:
            raise WrongRowError(f"{name} {error}") from error


def _data(field, value):
    """Data of the shape that a field holds; what carries a version of its own is computed."""
    shape = SHAPES.get((field.model._meta.label_lower, field.name))
    if value is None and field.null:
        return None
    if shape and not shape(value):
        raise WrongRowError(f"{field.name} is {str(value)[:40]}")
    return value


def _is_number(value):
    return (
        isinstance(value, int | float)
        and not isinstance(value, bool)
        and abs(value) <= LARGEST_NUMBER
    )


def _is_list(fits):
    return lambda value: isinstance(value, list) and all(map(fits, value))


def _is_pair(value):
    return isinstance(value, list) and len(value) == 2 and all(map(_is_number, value))


def _is_word(value):
    return isinstance(value, str) and len(value) <= 200 and "\0" not in value


def _is_plain(value):
    """A record of words and numbers."""
    good = isinstance(value, dict) and all(map(_is_word, value))
    return good and all(
        v is None or _is_word(v) or _is_number(v) or isinstance(v, bool) for v in value.values()
    )


def _is_skyline(value):
    """Directions and heights that a field of them would take in."""
    if not POINTS_CHECK(value):
        return False
    try:
        skyline.read_csv([list(map(str, pair)) for pair in value], header=False)
    except ValueError:
        return False
    return True


def _is_clouds(value):
    """Moments in order, each with percents of cloud."""
    good = POINTS_CHECK(value) and all(0 <= at < 5e9 and 0 <= c <= 100 for at, c in value)
    return good and all(a < b for (a, _), (b, _) in pairwise(value))


def _is_places(low, high, *counts):
    """A check of so many places, each within those shares of a picture."""
    inside = _is_list(lambda place: _is_pair(place) and all(low <= x <= high for x in place))
    return lambda value: inside(value) and len(value) in counts


POINTS_CHECK = _is_list(_is_pair)
NUMBERS_CHECK, WORDS_CHECK = _is_list(_is_number), _is_list(_is_word)
SHAPES = {
    ("kit.paper", "table"): POINTS_CHECK,
    ("logbook.exposure", "forecast"): POINTS_CHECK,
    ("field.taken", "bands"): _is_list(_is_plain),
    ("field.scenephoto", "spots"): _is_places(0, 1, 0, 3),
    ("field.shot", "reading"): _is_plain,
    ("places.place", "horizon"): _is_skyline,
    ("places.place", "leaf"): _is_skyline,
    ("places.place", "clouds"): _is_clouds,
    ("solar.solargraph", "horizon"): _is_skyline,
    ("solar.solargraph", "leaf"): _is_skyline,
    ("solar.solargraph", "upper"): _is_skyline,
    ("solar.record", "rows"): _is_list(WORDS_CHECK),
    ("solar.solargraph", "marks"): WORDS_CHECK,
    ("results.verdict", "faults"): _is_list(lambda code: _is_word(code) and code in FAULTS),
    ("results.scannedwedge", "steps"): POINTS_CHECK,
    # As little outside as a hand drags one.
    ("results.scan", "corners"): _is_places(-0.1, 1.1, 4),
    ("darkroom.ownprocess", "kinds"): WORDS_CHECK,
    ("darkroom.ownprocess", "vessels"): WORDS_CHECK,
    ("darkroom.lighttest", "times_s"): NUMBERS_CHECK,
    ("darkroom.print", "times_s"): NUMBERS_CHECK,
}


def _number(value):
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise TypeError(value)
    if not math.isfinite(value) or abs(value) > LARGEST_NUMBER:
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
    moment = datetime.fromisoformat(_text(value))
    if moment.year not in YEARS:
        raise ValueError(value)
    return (moment if moment.tzinfo else moment.replace(tzinfo=UTC)).astimezone(UTC)


def _day(value):
    day = date.fromisoformat(_text(value))
    if day.year not in YEARS:
        raise ValueError(value)
    return day


# The narrower kind first.
FIELD_READERS = {
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
