"""A log is brought in on trial: into a copy of the database, where all that stands against it is
found before a single row of it is here.
"""

from dataclasses import dataclass, field

from django import forms
from django.db import IntegrityError, connection, transaction

from chimney.darkroom.models import OwnProcess
from chimney.exchange import signals
from chimney.exchange.models import Bringing
from chimney.exchange.whole import craft, files, queries
from chimney.exchange.whole.catalogue import ROW_KINDS, model_of, own_of, tables_of, words_of
from chimney.exchange.whole.flows import answers, apart
from chimney.ledger.once import setting

BATCH = 400
CONTRADICTS = "That log contradicts itself, or what is here: nothing of it was brought in."


def path_of(bringing):
    """Path of the copy into which that log is brought on trial."""
    return files.folder() / f"trial-{bringing.pk}.sqlite3"


def away_with(bringing):
    """Away with the trial of a log, when what says that it is not needed is written down."""
    transaction.on_commit(lambda: apart.away_with(path_of(bringing)))


def tried(bringing, package, beat):
    """The TriedLog of all that is new in a log: in a copy of the database, which stays. Raises
    ValidationError where anything stands against it.
    """
    away_with(bringing)
    log = package.log()
    rows = log.rows
    copy = apart.copied(path_of(bringing))
    # After the copy was made, so that nothing in it lies beyond what is kept free.
    firsts = _kept_free(_most_rows(rows))
    with copy.cursor() as cursor:
        for table, first in firsts.items():
            _count_from(cursor, table, first)
    with apart.within(copy):
        trial = TriedLog(package, firsts, answers.checked(log.answers), beat)
        before = contradictions()
        try:
            with transaction.atomic():
                for kind in ROW_KINDS:
                    trial.put_in(kind, rows[kind])
        except IntegrityError as error:
            raise forms.ValidationError(CONTRADICTS) from error
        for sentence in contradictions() - before:
            raise forms.ValidationError(
                f"That log contradicts itself: {sentence}. Nothing of it was brought in."
            )
    return trial


def _most_rows(rows):
    """{table: how many rows of a log can come into it at most}."""
    count_by_table = {}
    for kind in ROW_KINDS:
        table, many = tables_of(kind)
        count_by_table[table] = len(rows[kind])
        for to_many, joined in many.items():
            lists = (row.get(to_many.name) for row in rows[kind] if isinstance(row, dict))
            count_by_table[joined] = sum(len(many) for many in lists if isinstance(many, list))
    return count_by_table


@setting
def _kept_free(counts):
    """{table: the pk after which so many are nobody's from now on}."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT name, seq FROM sqlite_sequence")
        last_pks = dict(cursor.fetchall())
        for table, count in counts.items():
            if count:
                _count_from(cursor, table, last_pks.get(table, 0) + count)
    return {table: last_pks.get(table, 0) for table in counts}


def _count_from(cursor, table, last):
    """The next row of that table comes after that pk."""
    cursor.execute("DELETE FROM sqlite_sequence WHERE name = %s", [table])
    cursor.execute("INSERT INTO sqlite_sequence (name, seq) VALUES (%s, %s)", [table, last])


def contradictions():
    """Sentences, of whoever above can see any."""
    return {
        line for _, sentences in signals.looked_over.send(sender=Bringing) for line in sentences
    }


@dataclass
class TriedLog:
    """firsts: {table: the pk after which its rows came}; answers: as checked; resolved: {kind:
    {uid: pk}} of all that is there by now; came: the same of what came; originals: [name of the
    file of a scan that came]; renamed: [words]; keys: {key of a process of one's own there: here};
    beat: called now and then, to show that somebody is at work.
    """

    package: files.Package
    firsts: dict
    answers: list
    beat: object
    resolved: dict = field(init=False)
    came: dict = field(default_factory=dict)
    originals: list = field(default_factory=list)
    renamed: list = field(default_factory=list)
    keys: dict = field(default_factory=dict)

    def __post_init__(self):
        uids = queries.Uids()
        self.resolved = {kind: uids.of_all(kind) for kind in ROW_KINDS}

    def put_in(self, kind, rows):
        """The new rows of a kind, in their order."""
        pk_by_uid, fresh, many = self.resolved[kind], [], []
        claimed = queries.Claimed(kind)
        self_references = own_of(kind)
        for number, row_data in enumerate(rows, 1):
            uid = self._uid(kind, number, row_data)
            if number % BATCH == 0:
                self.beat()
            if uid in pk_by_uid:
                continue
            later = {
                f.name: row_data.get(f.name)
                for f in self_references
                if row_data.get(f.name) is not None
            }
            row, to_many, pictures = self._row(
                kind, number, row_data | dict.fromkeys(later) if self_references else row_data
            )
            present_pk = claimed.at(row)
            if present_pk is not None:
                # Another row stands where only one can; that one stays.
                pk_by_uid[uid] = present_pk
                continue
            self.renamed += claimed.rename(row)
            if kind == "darkroom.run":
                row.process_key = self.keys.get(row.process_key, row.process_key)
            self._unpack(kind, row, pictures)
            fresh.append((uid, row, later))
            many.append(to_many)
        model_of(kind)._base_manager.bulk_create([row for _, row, _ in fresh], batch_size=BATCH)
        self._note(kind, fresh)
        self._link(kind, fresh, many)
        if kind == "darkroom.ownprocess":
            key_by_pk = dict(OwnProcess._base_manager.values_list("pk", "key"))
            self.keys = {
                str(row_data.get("key")): key_by_pk[pk_by_uid[row_data["id"]]] for row_data in rows
            }

    def _uid(self, kind, number, row_data):
        uid = row_data.get("id") if isinstance(row_data, dict) else None
        if not isinstance(uid, str) or len(uid) != 32 or not uid.isalnum():
            raise forms.ValidationError(f"Row {number} of {words_of(kind)} has no id.")
        return uid

    def _row(self, kind, number, row_data):
        try:
            return craft.row_of(kind, row_data, self.resolved)
        except craft.WrongRowError as error:
            raise forms.ValidationError(f"Row {number} of {words_of(kind)} {error}.") from error

    def _unpack(self, kind, row, pictures):
        for name, path in pictures.items():
            content = self.package.picture(path) if path else None
            optional = type(row)._meta.get_field(name).null
            setattr(row, name, content if content or optional else b"")
        if kind != "results.scan":
            return
        if not self.package.holds_scan(row.sha256, row.suffix):
            raise forms.ValidationError(f"The original of {row.name} is not in that ZIP.")
        self.originals.append(f"{row.sha256}.{row.suffix}")

    def _note(self, kind, rows):
        """Note the name that each has everywhere."""
        self.came[kind] = {uid: row.pk for uid, row, _ in rows}
        self.resolved[kind] |= self.came[kind]

    def _link(self, kind, rows, many):
        """Rows that point to others of their kind, and to many."""
        model = model_of(kind)
        for _, row, later in rows:
            for name, uid in later.items():
                pk = self.resolved[kind].get(uid) if isinstance(uid, str) else None
                model._base_manager.filter(pk=row.pk).update(**{f"{name}_id": pk})
        for (_, row, _), to_many in zip(rows, many, strict=True):
            for name, pks in to_many.items():
                getattr(row, name).set(pks)
