"""The Hearth's headline: a finding, not a title."""

from dataclasses import dataclass

from chimney.logbook.models import Sheet

NUMBER_WORDS = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")


def headline(running, counts, due=0, wet=0):
    """One sentence: what burns, else sheets in the dark room that want a hand, else a can that is
    due, else what waits longest in the order of the work.
    """
    if running:
        return f"{_words(running)} {'camera is' if running == 1 else 'cameras are'} open"
    if wet:
        return f"{_words(wet)} {'sheet is' if wet == 1 else 'sheets are'} in the dark room"
    if due:
        return f"{_words(due)} {'can is' if due == 1 else 'cans are'} due home"
    for stage, label in (
        (Sheet.Stage.EXPOSED, "for the developer"),
        (Sheet.Stage.DEVELOPED, "to be read"),
        (Sheet.Stage.LOADED, "in the bag for light"),
    ):
        if counts[stage]:
            return (
                f"{_words(counts[stage])} "
                f"{'sheet waits' if counts[stage] == 1 else 'sheets wait'} {label}"
            )
    return "The fire is out: nothing waits"


def _words(number):
    return NUMBER_WORDS[number] if number < len(NUMBER_WORDS) else str(number)


@dataclass(frozen=True)
class FirstStep:
    """The one thing a newcomer does first."""

    sentence: str
    why: str
    button: str
    url_name: str
    args: tuple


FIRST_STEPS = (
    FirstStep(
        "Now the paper that goes into it",
        "A starting EI is enough; your own comes from the sheets you judge.",
        "Add a paper",
        "kit:add",
        ("paper",),
    ),
    FirstStep(
        "What do you develop in?",
        "The same paper is faster in one developer than in another.",
        "Add a developer",
        "kit:add",
        ("developer",),
    ),
    FirstStep(
        "One holder, sides A and B",
        "Chimney keeps track of which side is exposed.",
        "Add a holder",
        "kit:add",
        ("holder",),
    ),
)


def first_step(owned):
    """The first Step that is still to do, or None."""
    return next((step for step in FIRST_STEPS if not owned[step.args[0]]), None)
