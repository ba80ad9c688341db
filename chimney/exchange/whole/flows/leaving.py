"""A log goes out again, whole, as long as nothing that was made since hangs on it."""

from functools import cache, partial

from django.db import connection
from django.db.models import F, ForeignObjectRel

from chimney.exchange.models import Bringing
from chimney.exchange.whole import files
from chimney.exchange.whole.catalogue import ROW_KINDS, kind_of, model_of, tables_of, words_of
from chimney.exchange.whole.flows.trial import away_with
from chimney.ledger.once import current, setting
from chimney.ledger.pace import Pace
from chimney.lessons import flows as lessons
from chimney.parts.refusal import Refused
from chimney.results.models import Scan

State = Bringing.State


def leave(bringing, beat):
    """Everything that came with it, originals of scans too, goes; or all of it stays, and why."""
    try:
        clear(bringing, beat)
    except Refused as error:
        return stays(bringing, error.sentence)
    return _out(bringing)


def clear(bringing, beat):
    """Away with all rows that came with it, in strokes. Raises Refused where something hangs on
    them.
    """
    came = {arrivals.kind: set(arrivals.by_pk) for arrivals in bringing.arrivals.all()}
    for kind in ROW_KINDS:
        _refuse_if_used(kind, came, came.get(kind, ()))
        beat()
    _begin(bringing, came)
    pace = Pace()
    for kind in reversed(ROW_KINDS):
        pks = sorted(came.get(kind, ()))
        while pks:
            pks = pks[pace.stroke(partial(_stroke, bringing.pk, kind, came, pks)) :]
            beat()
    files.remove_unkept(current(bringing).reached.get("originals", ()))


@setting
def _begin(bringing, came):
    """Write down which files go with it: when their rows are gone nobody knows."""
    bringing = current(bringing)
    if "originals" not in bringing.reached:
        scans = came.get("results.scan", ())
        kept = Scan.objects.filter(pk__in=scans).values_list("sha256", "suffix")
        originals = [f"{sha256}.{suffix}" for sha256, suffix in kept]
        bringing.reached |= {"originals": originals}
        bringing.done_rows, bringing.of_rows = 0, sum(map(len, came.values()))
        bringing.save(update_fields=["reached", "done_rows", "of_rows"])


def _stroke(pk, kind, came, pks, row_count):
    """Number of the first of those rows that are gone. Raises Refused."""
    some = pks[:row_count]
    _refuse_if_used(kind, came, some)
    _delete(kind, some)
    Bringing.objects.filter(pk=pk).update(done_rows=F("done_rows") + len(some))
    return len(some)


@setting
def _out(bringing):
    bringing = current(bringing)
    bringing.arrivals.all().delete()
    bringing.state, bringing.reached = State.UNDONE, {}
    bringing.save(update_fields=["state", "reached"])
    lessons.ask_to_learn()
    away_with(bringing)
    return bringing


@setting
def stays(bringing, message):
    """It is in, or what is left of it is, and why that stays."""
    bringing = current(bringing)
    bringing.state, bringing.reached, bringing.trouble = State.DONE, {}, message[:400]
    bringing.save(update_fields=["state", "reached", "trouble"])
    away_with(bringing)
    return bringing


def _delete(kind, pks):
    """Away with rows on which nothing hangs any more but what is made anew from them."""
    rows, (_, many) = model_of(kind)._base_manager.filter(pk__in=pks), tables_of(kind)
    if _made_anew(kind):
        rows.delete()
        return
    for field in many:
        joined = field.remote_field.through._base_manager
        joined.filter(**{f"{field.m2m_field_name()}__in": pks})._raw_delete(rows.db)
    rows._raw_delete(rows.db)


def _relations(kind):
    """Relations by which rows of other kinds point to rows of that one, without tables that only
    join.
    """
    relations = model_of(kind)._meta.get_fields(include_hidden=True)
    relations = [relation for relation in relations if isinstance(relation, ForeignObjectRel)]
    return [relation for relation in relations if not relation.related_model._meta.auto_created]


@cache
def _pointing(kind):
    """[(kind, table, its pk, the column that points to a row of that kind)] of all that travels."""
    pointing = []
    for relation in _relations(kind):
        field, far_kind = relation.field, kind_of(relation.related_model)
        if far_kind not in ROW_KINDS:
            continue
        if relation.many_to_many:
            joined = field.remote_field.through._meta.db_table
            pointing.append((far_kind, joined, field.m2m_column_name(), field.m2m_reverse_name()))
        else:
            meta = relation.related_model._meta
            pointing.append((far_kind, meta.db_table, meta.pk.column, field.column))
    return pointing


@cache
def _made_anew(kind):
    """True if rows that do not travel hang on those of that kind."""
    return any(kind_of(relation.related_model) not in ROW_KINDS for relation in _relations(kind))


def _refuse_if_used(kind, came, pks):
    """Raise Refused where a row that did not come with it points to one of those."""
    pks = set(pks)
    for far_kind, table, pk_column, column in _pointing(kind) if pks else ():
        with connection.cursor() as cursor:
            cursor.execute(
                f"SELECT {pk_column}, {column} FROM {table} WHERE {column} BETWEEN %s AND %s",
                [min(pks), max(pks)],
            )
            used = any(
                points in pks and pk not in came.get(far_kind, ())
                for pk, points in cursor.fetchall()
            )
        if used:
            refusal = f"Other {words_of(far_kind)} than came with it hang on it by now"
            raise Refused(f"{refusal}, so it stays.", "To your data", "exchange:data")
