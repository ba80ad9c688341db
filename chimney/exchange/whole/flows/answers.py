"""Answers to lessons, given where a log comes from."""

from django import forms

from chimney.exchange.whole import queries
from chimney.exchange.whole.forms import ANSWERED_EI, ANSWERED_MEAN
from chimney.ledger.once import setting
from chimney.lessons import flows as lessons
from chimney.lessons.models import Finding, Lesson


def _answered(answer):
    """Learned number that an answer holds; None if it holds none. Raises ValidationError where it
    can be no such number.
    """
    mean = answer.get("answered")
    if mean is None:
        return None
    lowest, highest = ANSWERED_EI if answer.get("what") == "ei" else ANSWERED_MEAN
    if isinstance(mean, bool) or not isinstance(mean, int | float) or not lowest <= mean <= highest:
        raise forms.ValidationError(f"An answer to what was learned is {str(mean)[:20]}.")
    return float(mean)


def checked(answers):
    """[(what, of, standing, mean)] of those that say something. Raises ValidationError."""
    answered = [
        answer
        for answer in answers
        if isinstance(answer, dict) and answer.get("standing") in queries.ANSWERED
    ]
    return [
        (answer.get("what"), _of(answer), answer["standing"], _answered(answer))
        for answer in answered
    ]


def _of(answer):
    names = answer.get("of")
    return (
        names
        if isinstance(names, list) and all(isinstance(o, str | None) for o in names)
        else [None]
    )


@setting
def take_over(answers):
    """Lessons that were answered elsewhere and not here. answers: as checked gives them."""
    uids = queries.Uids()
    pk_by_uid = {
        uid: pk
        for kind in ("kit.paper", "kit.developer", "kit.camera")
        for uid, pk in uids.of_all(kind).items()
    }
    for subject, names, standing, mean in answers:
        if subject == "ei" and len(names) == 2:
            rows = Lesson.objects.filter(
                paper=pk_by_uid.get(names[0]), developer=pk_by_uid.get(names[1])
            )
            rows.filter(standing="new").update(standing=standing, answered_ei=mean)
        else:
            name = pk_by_uid.get(names[0], names[0])
            rows = Finding.objects.filter(kind=str(subject), of=str(name))
            rows.filter(standing="new").update(standing=standing, answered_mean=mean)
    if answers:
        lessons.ask_to_learn()
