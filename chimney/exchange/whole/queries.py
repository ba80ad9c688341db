"""The whole log as plain data, each row under a name that it keeps on every installation."""

import hashlib
import json
import uuid
from datetime import UTC, date
from functools import partial

from django.db import connection, models

from chimney.exchange.models import Arrivals, Installation
from chimney.exchange.whole.catalogue import (
    FORMAT,
    LOG_VERSION,
    ROW_KINDS,
    asked,
    fields_of,
    kind_of,
    model_of,
    own_of,
)
from chimney.lessons.models import Finding, KeptSearch, Lesson
from chimney.parts import clock

ANSWERED = ("kept", "declined")
# Rows that are held at a time.
ROWS_AT_ONCE = 500
# Of what must be once, these get another name where theirs is taken; of others the first stays.
RENAMED = {"name", "code", "key"}


def whole():
    """(the log as data, {path in the ZIP: (kind, pk, field) of a picture})."""
    pictures = {}
    head, rows, answered = told(pictures, json.loads)
    rows = {kind: list(of_kind) for kind, of_kind in rows}
    return head | {"rows": rows, "answers": answered()}, pictures


class JsonText(str):
    """The text of data as the database has it, which is JSON already."""

    __slots__ = ()


def told(pictures, data=JsonText):
    """(what the log is, (kind, its rows) kind by kind, what gives its answers when those are
    through). pictures: is filled with {path in the ZIP: (kind, pk, field)} meanwhile; data: what
    makes of the text of data what stands in a row.
    """
    uids, installation = Uids(), Installation.objects.first()
    stamp = {"written": clock.now().astimezone(UTC).isoformat(timespec="seconds")}
    stamp["installation"] = installation.key if installation else ""
    head = {"format": FORMAT, "version": LOG_VERSION, "stamp": stamp}
    rows = ((kind, _rows(kind, uids, pictures, data)) for kind in ROW_KINDS)
    return head, rows, lambda: answers(uids)


class Uids:
    """Names that rows have everywhere: those brought in as where they come from, those made here
    after this installation.
    """

    def __init__(self):
        installation = Installation.objects.first()
        self.space = uuid.UUID(installation.key if installation else "0" * 32)
        self.brought = {}
        for arrivals in Arrivals.objects.order_by("pk"):
            self.brought.setdefault(arrivals.kind, {}).update(arrivals.by_pk)
        # {kind: {pk: uid}} of rows that travel.
        self.known = {}

    def name(self, kind, pk):
        brought = self.brought.get(kind, {})
        return brought.get(pk) or self._own(f"{kind} {pk}")

    def _own(self, name):
        """Name by uuid.uuid5 in this installation's space, without making one for each row."""
        digest = bytearray(hashlib.sha1(self.space.bytes + name.encode()).digest()[:16])
        digest[6], digest[8] = digest[6] & 0x0F | 0x50, digest[8] & 0x3F | 0x80
        return digest.hex()

    def of_all(self, kind):
        """{uid: pk} of every row of a kind, dropped ones too."""
        pks = model_of(kind)._base_manager.order_by("pk").values_list("pk", flat=True)
        return {self.name(kind, pk): pk for pk in pks}

    def of(self, model, pk):
        """The name of a row that travels; None of one that does not."""
        return None if pk is None else self.known[kind_of(model)].get(pk)


def _rows(kind, uids, pictures, data):
    """The rows of a kind in the order in which they were made; what was dropped, and what hangs on
    it, stays here.
    """
    model, fields = model_of(kind), fields_of(kind)
    columns = [field for field in fields if not field.many_to_many]
    seen = uids.known.setdefault(kind, {})
    many = {field.name: _many(field, uids) for field in fields if field.many_to_many}
    # Pictures are read when they are written.
    names = [field.attname for field in columns if not isinstance(field, models.BinaryField)]
    # One row may point to another of its kind, which may come later.
    if own_of(kind):
        pks = model._default_manager.order_by("pk").values_list("pk", flat=True)
        seen.update({pk: uids.name(kind, pk) for pk in pks})
    filled, writers = (
        _filled(model, columns),
        [(field.name, _sayer(field, uids, data)) for field in columns],
    )
    needed = [field.name for field in columns if field.is_relation and not field.null]
    rows = model._default_manager.order_by("pk").values_list("pk", *names)
    for pk, *values in _plain(rows):
        row, left = {"id": uids.name(kind, pk)}, iter(values)
        for name, say in writers:
            if say is _PICTURE:
                path = f"pictures/{row['id']}-{name}.jpg" if pk in filled else None
                row[name] = path
                if path:
                    pictures[path] = (kind, pk, name)
            else:
                value = next(left)
                row[name] = say(value) if say and value is not None else value
        if any(row[name] is None for name in needed):
            continue
        seen[pk] = row["id"]
        yield row | {name: sorted(pks_by_row.get(pk, ())) for name, pks_by_row in many.items()}


def _filled(model, fields):
    """The pks of rows that have a picture."""
    names = [field.name for field in fields if isinstance(field, models.BinaryField)]
    if not names:
        return set()
    rows = model._default_manager.exclude(**{f"{names[0]}__isnull": True})
    return set(rows.exclude(**{names[0]: b""}).values_list("pk", flat=True))


def _many(field, uids):
    """{pk: names of the rows that it points to} of a field to many rows."""
    near_name, far_name = field.m2m_field_name(), field.m2m_reverse_field_name()
    pairs = field.remote_field.through._base_manager.values_list(
        f"{near_name}_id", f"{far_name}_id"
    )
    pks = {}
    for pk, far_pk in pairs:
        name = uids.of(field.related_model, far_pk)
        if name:
            pks.setdefault(pk, []).append(name)
    return pks


def _plain(rows):
    """The same as the database gives them, some at a time: of thousands no object is made that is
    only written down again.
    """
    with connection.cursor() as cursor:
        cursor.execute(*rows.query.sql_with_params())
        while some := cursor.fetchmany(ROWS_AT_ONCE):
            yield from some


_PICTURE = object()


def _sayer(field, uids, data):
    """Function from a value of that field to what JSON holds; None where they are the same. Moments
    are kept in UTC, without saying so.
    """
    if field.model is KeptSearch and field.name == "query":
        return partial(
            asked, name=lambda kind, pk: uids.known[kind].get(int(pk) if pk.isdecimal() else 0)
        )
    if field.is_relation:
        return uids.known.setdefault(kind_of(field.related_model), {}).get
    if isinstance(field, models.BinaryField):
        return _PICTURE
    if isinstance(field, models.JSONField):
        return data
    if isinstance(field, models.DateTimeField):
        return lambda moment: f"{moment.isoformat()}+00:00"
    return date.isoformat if isinstance(field, models.DateField) else None


def answers(uids):
    """Answers to lessons, which no sheet tells."""
    told_answers = []
    for lesson in Lesson.objects.filter(standing__in=ANSWERED).order_by("pk"):
        names = [uids.of(Lesson.paper.field.related_model, lesson.paper_id)]
        names.append(uids.of(Lesson.developer.field.related_model, lesson.developer_id))
        told_answers.append(_answer("ei", names, lesson.standing, lesson.answered_ei))
    for finding in Finding.objects.filter(standing__in=ANSWERED).order_by("pk"):
        names = [_named(finding, uids)]
        told_answers.append(_answer(finding.kind, names, finding.standing, finding.answered_mean))
    return sorted(told_answers, key=lambda answer: (answer["what"], list(map(str, answer["of"]))))


def _answer(kind, names, standing, answered):
    return {"what": kind, "of": names, "standing": standing, "answered": answered}


def _named(finding, uids):
    """Name, the same everywhere, of what a Finding is of."""
    if finding.paper_id or finding.camera_id:
        thing = finding.paper or finding.camera
        return uids.of(type(thing), thing.pk)
    return finding.of


class Claimed:
    """Values that a kind may hold once: a name gets a free one, a place is taken."""

    def __init__(self, kind):
        model = model_of(kind)
        fields = [f for f in fields_of(kind) if not f.many_to_many]
        is_unique = any("name_once" in c.name for c in model._meta.constraints)
        name_fields = [
            f
            for f in fields
            if f.name in RENAMED and (f.unique or (is_unique and f.name == "name"))
        ]
        places = [f for f in fields if f.unique and f not in name_fields]
        rows = model._base_manager
        self.words = {
            f: {str(v).lower() for v in rows.values_list(f.name, flat=True)} for f in name_fields
        }
        self.places = {f: dict(rows.values_list(f.attname, "pk")) for f in places}
        self.has_home = kind == "places.place" and rows.filter(home=True).exists()

    def at(self, row):
        """The pk of the row that stands in its place, or None."""
        for place, places_taken in self.places.items():
            pk = places_taken.get(getattr(row, place.attname))
            if pk is not None and getattr(row, place.attname) is not None:
                return pk
        return None

    def rename(self, row):
        """Free names for those that are taken; what was renamed, in words."""
        renamings = []
        if self.has_home:
            row.home = False
        for word, names_taken in self.words.items():
            name = free = getattr(row, word.attname)
            number = 2
            while free.lower() in names_taken:
                ending = f" {number}" if word.name == "name" else _letters(number)
                free, number = name[: word.max_length - len(ending)] + ending, number + 1
            names_taken.add(free.lower())
            if free != name:
                setattr(row, word.attname, free)
                renamings.append(f"{name} is {free} here")
        return renamings


def _letters(number):
    """2 is b, 27 is za."""
    return "z" * ((number - 1) // 26) + chr(ord("a") + (number - 1) % 26)
