"""Answers to lessons, given where a log comes from."""

from django import forms

from chimney.exchange.whole import queries
from chimney.exchange.whole.forms import ANSWERED_EI, ANSWERED_MEAN
from chimney.ledger.once import setting
from chimney.lessons import flows as lessons
from chimney.lessons.models import Finding, Lesson


def _answered(told):
    """Learned number that an answer holds; None if it holds none. Raises ValidationError where it
    can be no such number.
    """
    mean = told.get("answered")
    if mean is None:
        return None
    least, most = ANSWERED_EI if told.get("what") == "ei" else ANSWERED_MEAN
    if isinstance(mean, bool) or not isinstance(mean, int | float) or not least <= mean <= most:
        raise forms.ValidationError(f"An answer to what was learned is {str(mean)[:20]}.")
    return float(mean)


def checked(answers):
    """[(what, of, standing, mean)] of those that say something. Raises ValidationError."""
    known = [
        told
        for told in answers
        if isinstance(told, dict) and told.get("standing") in queries.ANSWERED
    ]
    return [(told.get("what"), _of(told), told["standing"], _answered(told)) for told in known]


def _of(told):
    of = told.get("of")
    return of if isinstance(of, list) and all(isinstance(o, str | None) for o in of) else [None]


@setting
def take_over(answers):
    """Lessons that were answered elsewhere and not here. answers: as checked gives them."""
    uids = queries.Uids()
    here = {
        uid: pk
        for kind in ("kit.paper", "kit.developer", "kit.camera")
        for uid, pk in uids.of_all(kind).items()
    }
    for what, of, standing, mean in answers:
        if what == "ei" and len(of) == 2:
            rows = Lesson.objects.filter(paper=here.get(of[0]), developer=here.get(of[1]))
            rows.filter(standing="new").update(standing=standing, answered_ei=mean)
        else:
            name = here.get(of[0], of[0])
            rows = Finding.objects.filter(kind=str(what), of=str(name))
            rows.filter(standing="new").update(standing=standing, answered_mean=mean)
    if answers:
        lessons.ask_to_learn()
