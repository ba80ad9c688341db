"""The Hearth's headline: a finding, not a title."""

from dataclasses import dataclass

from chimney.logbook.models import Sheet

WORDS = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine")


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
    for stage, words in (
        (Sheet.Stage.EXPOSED, "for the developer"),
        (Sheet.Stage.DEVELOPED, "to be read"),
        (Sheet.Stage.LOADED, "in the bag for light"),
    ):
        if counts[stage]:
            return (
                f"{_words(counts[stage])} "
                f"{'sheet waits' if counts[stage] == 1 else 'sheets wait'} {words}"
            )
    return "The fire is out: nothing waits"


def _words(number):
    return WORDS[number] if number < len(WORDS) else str(number)


@dataclass(frozen=True)
class FirstStep:
    """The one thing a newcomer does first."""

    sentence: str
    why: str
    button: str
    url_name: str
    args: tuple


STEPS = (
    FirstStep(
        "Start with the camera you built",
        "Its focal length and its pinhole are all the arithmetic needs.",
        "Add a camera",
        "kit:add",
        ("camera",),
    ),
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
    return next((step for step in STEPS if not owned[step.args[0]]), None)


# What the trade calls things, for whoever meets them here first.
TRADE = (
    (
        "f/N",
        "The depth of the camera divided by the width of its hole: 150 mm and 0.5 mm are f/300. "
        "Twice the number is a quarter of the light.",
    ),
    ("stop", "A doubling or a halving of light. Half a stop is 1.4 times."),
    ("EV", "Exposure value: how bright it is, a stop a step. 15 is full sun, at ISO 100."),
    (
        "EI",
        "Exposure index: how fast a paper is taken to be, on the scale of ISO. Twice the EI asks "
        "for half the time. It starts from the box and is learned from your own sheets.",
    ),
    (
        "meter factor",
        "What a reading at the meter's last f-number is multiplied by for this camera.",
    ),
    (
        "reciprocity",
        "Weak light counts for less than its time says. How much less is answered by a "
        "school: not at all, by a maker's table, or by a power law.",
    ),
    ("effect", "What the light does after reciprocity, against what the clock says."),
    (
        "paper negative",
        "Photographic paper exposed in the camera: dark where the scene was bright.",
    ),
    ("direct positive", "Paper that gives a positive at once, mirrored and one of a kind."),
    (
        "dark slide",
        "The lid of a sheet holder. Its bumps are felt in the dark: light edge out is "
        "unexposed, turned is exposed.",
    ),
    ("rails", "The edges that hold a sheet in its holder, and hide a little of it."),
    ("as cut, visible", "The size a sheet really has, and what of it the rails leave to be seen."),
    ("bracket", "Several sheets of one scene with less and more light."),
    ("test strip", "One sheet covered step by step, so that each band has its own time."),
    (
        "pre-flash",
        "A weak, even exposure of the whole sheet before the picture: it lifts the shadows of a "
        "contrasty paper.",
    ),
    ("trail", "The line that the sun draws on one day."),
    ("skyline", "What stands between the can and the sun, as directions and heights."),
    ("printing out", "Paper that darkens in light by itself, without a developer."),
)
