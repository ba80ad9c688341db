"""Bringing in a log, as one; and taking it out again, as one."""

from dataclasses import dataclass, field

from django import forms
from django.db import IntegrityError, models, transaction

from chimney.darkroom.models import OwnProcess
from chimney.exchange import signals
from chimney.exchange.models import Arrivals, Bringing
from chimney.exchange.whole import craft, files, queries
from chimney.exchange.whole.catalogue import KINDS, fields_of, kind_of, model_of, words_of
from chimney.exchange.whole.forms import ANSWERED_EI, ANSWERED_MEAN
from chimney.ledger.once import current, verb
from chimney.lessons import flows as lessons
from chimney.lessons.models import Finding, Lesson
from chimney.parts import clock
from chimney.parts.refusal import Refused

BATCH, MOST_NAMED = 400, 40
# Looked through and left: these many are kept.
KEPT_LOOKS = 5


def _refused(words):
    return Refused(words, "To your data", "exchange:data")


@verb
def look(stored_as, name):
    """The Bringing of what was handed over: what of it is new here. Raises ValidationError where it
    is no log.
    """
    try:
        with files.Package(stored_as) as package:
            log = package.log()
    except forms.ValidationError:
        files.forget(stored_as)
        raise
    counts = list(_compared(log["rows"]))
    old = Bringing.objects.filter(state=Bringing.State.LOOKED)[KEPT_LOOKS - 1 :]
    for one in old:
        forget(one)
    return Bringing.objects.create(
        name=name[:120], stored_as=stored_as, counts=counts, looked_at=clock.now()
    )


@verb
def forget(bringing):
    """Away with what was looked through and not brought in."""
    bringing = current(bringing)
    if bringing.state == Bringing.State.LOOKED:
        bringing.delete()
        _put_away(bringing.stored_as)


def _put_away(stored_as):
    """What was handed over is needed until it is in, or left."""
    if not Bringing.objects.filter(stored_as=stored_as, state=Bringing.State.LOOKED).exists():
        transaction.on_commit(lambda: files.forget(stored_as))


def _compared(rows):
    """[kind in words, new, same, other than here] of the rows of a log, kind by kind."""
    whole, uids = queries.whole()[0]["rows"], queries.Uids()
    for kind in KINDS:
        here, known = {row["id"]: row for row in whole[kind]}, uids.of_all(kind)
        new = same = other = 0
        for row in rows[kind]:
            uid = row.get("id") if isinstance(row, dict) else None
            if not isinstance(uid, str) or uid not in known:
                new += 1
            elif here.get(uid) == row:
                same += 1
            else:
                other += 1
        yield [words_of(kind), new, same, other]


def bring(bringing):
    """All rows of a log that are not here yet, with their originals; what is here stays as it is.
    All or none.
    """
    try:
        with files.Package(bringing.stored_as) as package:
            try:
                return _bring(bringing, package)
            except BaseException:
                files.remove(package.laid)
                raise
    except (forms.ValidationError, OSError) as error:
        words = error.messages[0] if isinstance(error, forms.ValidationError) else str(error)
        raise _refused(words) from error


@verb
def _bring(bringing, package):
    bringing = current(bringing)
    if bringing.state != Bringing.State.LOOKED:
        raise _refused("That was brought in already.")
    before = contradictions()
    try:
        log = package.log()
        work = _Bringing(bringing, package)
        for kind in KINDS:
            work.put_in(kind, log["rows"][kind])
        lessons.relearn()
        _answer(log["answers"], work.resolved)
    except IntegrityError as error:
        raise _refused(
            "That log contradicts itself, or what is here: nothing of it was brought in."
        ) from error
    bringing.state, bringing.done_at = Bringing.State.DONE, clock.now()
    bringing.renamed = work.renamed[:MOST_NAMED]
    bringing.save()
    _put_away(bringing.stored_as)
    for sentence in contradictions() - before:
        raise _refused(f"That log contradicts itself: {sentence}. Nothing of it was brought in.")
    return bringing


def contradictions():
    """Sentences, of whoever above can see any."""
    return {line for _, told in signals.looked_over.send(sender=Bringing) for line in told}


@dataclass
class _Bringing:
    """resolved: {kind: {uid: pk}} of all that is here by now; renamed: [words]; keys: {key of a
    process of one's own there: here}.
    """

    bringing: Bringing
    package: files.Package
    resolved: dict = field(init=False)
    renamed: list = field(default_factory=list)
    keys: dict = field(default_factory=dict)

    def __post_init__(self):
        uids = queries.Uids()
        self.resolved = {kind: uids.of_all(kind) for kind in KINDS}

    def put_in(self, kind, rows):
        """The new rows of a kind, in their order."""
        known, made, many = self.resolved[kind], [], []
        taken = queries.Claimed(kind)
        own = [f for f in fields_of(kind) if f.is_relation and f.related_model is model_of(kind)]
        for number, told in enumerate(rows, 1):
            uid = self._uid(kind, number, told)
            if uid in known:
                continue
            later = {f.name: told.get(f.name) for f in own if told.get(f.name) is not None}
            row, to_many, pictures = self._row(
                kind, number, told | dict.fromkeys(later) if own else told
            )
            there = taken.at(row)
            if there is not None:
                # Another row stands where only one can; that one stays.
                known[uid] = there
                continue
            self.renamed += taken.rename(row)
            if kind == "darkroom.run":
                row.process_key = self.keys.get(row.process_key, row.process_key)
            self._unpack(kind, row, pictures)
            made.append((uid, row, later))
            many.append(to_many)
        model_of(kind)._base_manager.bulk_create([row for _, row, _ in made], batch_size=BATCH)
        self._note(kind, made)
        self._link(kind, made, many)
        if kind == "darkroom.ownprocess":
            here = dict(OwnProcess._base_manager.values_list("pk", "key"))
            self.keys = {str(told.get("key")): here[known[told["id"]]] for told in rows}

    def _uid(self, kind, number, told):
        uid = told.get("id") if isinstance(told, dict) else None
        if not isinstance(uid, str) or len(uid) != 32 or not uid.isalnum():
            raise forms.ValidationError(f"Row {number} of {words_of(kind)} has no id.")
        return uid

    def _row(self, kind, number, told):
        try:
            return craft.row_of(kind, told, self.resolved)
        except craft.WrongRowError as error:
            raise forms.ValidationError(f"Row {number} of {words_of(kind)} {error}.") from error

    def _unpack(self, kind, row, pictures):
        for name, path in pictures.items():
            found = self.package.picture(path) if path else None
            optional = type(row)._meta.get_field(name).null
            setattr(row, name, found if found or optional else b"")
        if kind == "results.scan" and not self.package.unpack_scan(row.sha256, row.suffix):
            raise forms.ValidationError(f"The original of {row.name} is not in that ZIP.")

    def _note(self, kind, made):
        """What each is called everywhere."""
        self.resolved[kind] |= {uid: row.pk for uid, row, _ in made}
        if made:
            uids = {row.pk: uid for uid, row, _ in made}
            Arrivals.objects.create(bringing=self.bringing, kind=kind, uids=uids)

    def _link(self, kind, made, many):
        """Rows that point to others of their kind, and to many."""
        model = model_of(kind)
        for _, row, later in made:
            for name, uid in later.items():
                pk = self.resolved[kind].get(uid) if isinstance(uid, str) else None
                model._base_manager.filter(pk=row.pk).update(**{f"{name}_id": pk})
        for (_, row, _), to_many in zip(made, many, strict=True):
            for name, pks in to_many.items():
                getattr(row, name).set(pks)


def _answered(told):
    """What an answer says, as a number that was learned; None where it is none. Raises
    ValidationError where it can be no such number.
    """
    mean = told.get("answered")
    if mean is None:
        return None
    least, most = ANSWERED_EI if told.get("what") == "ei" else ANSWERED_MEAN
    if isinstance(mean, bool) or not isinstance(mean, int | float) or not least <= mean <= most:
        raise forms.ValidationError(f"An answer to what was learned is {str(mean)[:20]}.")
    return float(mean)


def _answer(answers, resolved):
    """Lessons that were answered elsewhere and not here."""
    here = {
        uid: pk
        for kind in ("kit.paper", "kit.developer", "kit.camera")
        for uid, pk in resolved[kind].items()
    }
    for told in answers:
        if not isinstance(told, dict) or told.get("standing") not in queries.ANSWERED:
            continue
        of, mean = told.get("of"), _answered(told)
        of = of if isinstance(of, list) and all(isinstance(o, str | None) for o in of) else [None]
        if told.get("what") == "ei" and len(of) == 2:
            rows = Lesson.objects.filter(paper=here.get(of[0]), developer=here.get(of[1]))
            rows.filter(standing="new").update(standing=told["standing"], answered_ei=mean)
        else:
            name = here.get(of[0], of[0])
            rows = Finding.objects.filter(kind=str(told.get("what")), of=str(name))
            rows.filter(standing="new").update(standing=told["standing"], answered_mean=mean)
    if answers:
        lessons.relearn()


@verb
def take_out(bringing):
    """Everything that came with it, originals of scans too, as long as nothing that was made since
    hangs on it.
    """
    bringing = current(bringing)
    if bringing.state != Bringing.State.DONE:
        raise _refused("That is not in any more.")
    came = {one.kind: set(one.by_pk) for one in bringing.arrivals.all()}
    for kind in KINDS:
        _refuse_if_used(kind, came)
    originals = files.originals(came.get("results.scan", ()))
    for kind in reversed(KINDS):
        pks = sorted(came.get(kind, ()))
        for start in range(0, len(pks), BATCH):
            model_of(kind)._base_manager.filter(pk__in=pks[start : start + BATCH]).delete()
    bringing.arrivals.all().delete()
    bringing.state = Bringing.State.UNDONE
    bringing.save(update_fields=["state"])
    lessons.relearn()
    transaction.on_commit(lambda: files.remove(originals))
    return bringing


def _refuse_if_used(kind, came):
    """Raise Refused where a row that did not come with it points to one that did."""
    pks = came.get(kind)
    if not pks:
        return
    for relation in model_of(kind)._meta.get_fields(include_hidden=True):
        far = relation.related_model if relation.auto_created and not relation.concrete else None
        if far is None or not isinstance(relation, models.ForeignObjectRel):
            continue
        if kind_of(far) not in KINDS:
            continue
        rows = far._base_manager.filter(**{f"{relation.field.name}__isnull": False})
        for pk, points in rows.values_list("pk", relation.field.name):
            if points in pks and pk not in came.get(kind_of(far), ()):
                words = f"Other {words_of(kind_of(far))} than came with it hang on it by now"
                raise _refused(f"{words}, so it stays.")
