"""A log comes in: first on trial, whole, then row by row in strokes that hold nobody up. When it
was interrupted it goes on where it was.
"""

from contextlib import contextmanager
from functools import partial

from django import forms
from django.db import IntegrityError, connection
from django.db.models import F

from chimney.exchange.models import Arrivals, Bringing
from chimney.exchange.whole import files
from chimney.exchange.whole.catalogue import ROW_KINDS, model_of, own_of, tables_of
from chimney.exchange.whole.flows import answers
from chimney.exchange.whole.flows.handing import GONE, put_away, refuse
from chimney.exchange.whole.flows.leaving import clear, stays
from chimney.exchange.whole.flows.trial import away_with, path_of, tried
from chimney.ledger.once import current, setting
from chimney.ledger.pace import Pace
from chimney.lessons import flows as lessons
from chimney.parts import clock
from chimney.parts.refusal import Refused

State, MOST_RENAMED = Bringing.State, 40
MEANWHILE = (
    "While it came in something was written here that stands in its way. Nothing of it is in: "
    "hand it over once more."
)


def come_in(bringing, beat):
    """All rows of a log that are not here yet, with their originals; what is here stays as it is.
    All or none.
    """
    try:
        with files.Package(bringing.stored_as) as package:
            bringing = _begun(bringing, package, beat)
            with _attached(path_of(bringing)):
                _lay_originals(bringing, package, beat)
                for kind in ROW_KINDS:
                    _carry(bringing, kind, beat)
    except forms.ValidationError as error:
        return _let_be(bringing, error.messages[0], beat)
    except FileNotFoundError:
        return _let_be(bringing, GONE, beat)
    except IntegrityError:
        return _let_be(bringing, MEANWHILE, beat)
    except Refused as error:
        return stays(bringing, f"Not all of it came in. {error.sentence}")
    lessons.relearn()
    return _done(bringing)


def _begun(bringing, package, beat):
    """The Bringing of what was tried and goes well: from here on it goes on, whatever happens.
    Raises Refused where its trial is gone, and what came in cannot go any more.
    """
    if bringing.reached and not path_of(bringing).exists():
        clear(bringing, beat)
        bringing = _afresh(bringing)
    return bringing if bringing.reached else _begin(bringing, tried(bringing, package, beat))


@setting
def _afresh(bringing):
    bringing = current(bringing)
    bringing.arrivals.all().delete()
    bringing.reached = {}
    bringing.save(update_fields=["reached"])
    return bringing


@setting
def _begin(bringing, trial):
    bringing = current(bringing)
    bringing.reached = {"firsts": trial.firsts, "originals": trial.originals}
    bringing.reached |= {"answers": trial.answers}
    bringing.renamed = trial.renamed[:MOST_RENAMED]
    bringing.done_rows, bringing.of_rows = 0, sum(map(len, trial.came.values()))
    bringing.save()
    for kind, uids in trial.came.items():
        if uids:
            by_pk = {pk: uid for uid, pk in uids.items()}
            Arrivals.objects.create(bringing=bringing, kind=kind, uids=by_pk)
    return bringing


@contextmanager
def _attached(path):
    """Inside, what was tried can be read as the tables of trial."""
    with connection.cursor() as cursor:
        cursor.execute("ATTACH DATABASE %s AS trial", [str(path)])
        try:
            yield
        finally:
            cursor.execute("DETACH DATABASE trial")


def _lay_originals(bringing, package, beat):
    """The originals of its scans into the folder, before anything says that they are there."""
    for name in bringing.reached["originals"]:
        beat()
        if not package.unpack_scan(*name.split(".")):
            raise forms.ValidationError(f"The original {name[:8]} is not in that ZIP.")


def _carry(bringing, kind, beat):
    """The rows of a kind from the trial to here."""
    pace = Pace()
    while pace.stroke(partial(_stroke, bringing.pk, kind)):
        beat()
    if own_of(kind):
        pace.stroke(lambda _: _link(bringing, kind))


def _stroke(pk, kind, row_count):
    """Number of rows that came in with this stroke."""
    bringing, (table, many) = Bringing.objects.get(pk=pk), tables_of(kind)
    reached = bringing.reached
    after = reached.get(kind, reached["firsts"][table])
    with connection.cursor() as cursor:
        some = f"SELECT id FROM trial.{table} WHERE id > %s ORDER BY id LIMIT %s"
        cursor.execute(f"SELECT max(id), count(*) FROM ({some})", [after, row_count])
        until, count = cursor.fetchone()
        if not count:
            return 0
        columns, parameters = _columns(kind, until)
        between = "BETWEEN %s AND %s"
        cursor.execute(
            f"INSERT INTO main.{table} ({columns}) SELECT {parameters} FROM trial.{table} "
            f"WHERE id {between} ORDER BY id",
            [after + 1, until],
        )
        for field, joined in many.items():
            column = field.m2m_column_name()
            cursor.execute(
                f"INSERT INTO main.{joined} SELECT * FROM trial.{joined} WHERE {column} {between}",
                [after + 1, until],
            )
    rows = Bringing.objects.filter(pk=pk)
    rows.update(reached=reached | {kind: until}, done_rows=F("done_rows") + count)
    return count


def _columns(kind, until):
    """(columns of a kind, the same as they are taken over): what points to a row of its kind that
    comes later does so when that is there.
    """
    columns, parameters, own_fields = [], [], own_of(kind)
    for field in model_of(kind)._meta.concrete_fields:
        name = f'"{field.column}"'
        columns.append(name)
        parameters.append(
            f"CASE WHEN {name} > {int(until)} THEN NULL ELSE {name} END"
            if field in own_fields
            else name
        )
    return ", ".join(columns), ", ".join(parameters)


def _link(bringing, kind):
    """Rows that point to later ones of their kind."""
    table, _ = tables_of(kind)
    first = bringing.reached["firsts"][table]
    with connection.cursor() as cursor:
        for name in (f'"{field.column}"' for field in own_of(kind)):
            cursor.execute(
                f"UPDATE main.{table} SET {name} = "
                f"(SELECT {name} FROM trial.{table} AS t WHERE t.id = main.{table}.id) "
                f"WHERE id IN (SELECT id FROM trial.{table} WHERE id > %s AND {name} > id)",
                [first],
            )


def _let_be(bringing, message, beat):
    """Nothing of it is here, and why; or what cannot go any more stays, and why."""
    bringing = current(bringing)
    if bringing.reached:
        try:
            clear(bringing, beat)
        except Refused as error:
            return stays(bringing, f"Not all of it came in. {error.sentence}")
        bringing = _afresh(bringing)
    away_with(bringing)
    return refuse(bringing, message)


@setting
def _done(bringing):
    bringing = current(bringing)
    answers.take_over(bringing.reached["answers"])
    bringing.state, bringing.done_at, bringing.reached = State.DONE, clock.now(), {}
    bringing.save(update_fields=["state", "done_at", "reached"])
    put_away(bringing.stored_as)
    away_with(bringing)
    return bringing
