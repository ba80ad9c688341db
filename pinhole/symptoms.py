"""Complaints about a picture in the words of people, the questions that part their causes, and what
mends each. A dark negative had too much light, a dark positive too little. Common practice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from pinhole import media


@dataclass(frozen=True)
class Cause:
    """words: the cause in a sentence; remedy: what to do; mended_at: where, one of MENDED_AT;
    stops_more: light that the sheet wanted besides, negative for less, 0 where it says nothing of
    it.
    """

    words: str
    remedy: str
    mended_at: str
    stops_more: float = 0.0


MENDED_AT = ("plan", "develop", "kit", "bag", "red light")


@dataclass(frozen=True)
class Question:
    """A yes or no that parts one cause from what follows: code, words; cause: where it is yes."""

    code: str
    words: str
    cause: Cause


@dataclass(frozen=True)
class Symptom:
    """code and words of a complaint; questions in the order in which they are asked; otherwise: the
    Cause where all were answered no; stops: light that its example got over what was right
    [stops]; fault: code of the fault that its example shows, or empty.
    """

    code: str
    words: str
    questions: tuple[Question, ...]
    otherwise: Cause
    stops: float = 0.0
    fault: str = ""

    def ask(self, answers: Mapping[str, bool]) -> Iterator[tuple[Question, bool | None]]:
        """Each question that is due, with its answer or None: up to the first that is yes or open.

        answers: {code of a question: whether it is so}; others are left alone.
        """
        for question in self.questions:
            answer = answers.get(question.code)
            yield question, answer
            if answer is not False:
                return

    def cause(self, answers: Mapping[str, bool]) -> Cause | None:
        """The Cause that the answers lead to, None while a question is open."""
        for question, answer in self.ask(answers):
            if answer is not False:
                return question.cause if answer else None
        return self.otherwise


_FOG = Question(
    "rim",
    "Is the strip that lay under the rails grey too?",
    Cause(
        "Light reached it outside the camera: a red light too near, or an old paper.",
        "Lay a coin on a scrap under your red light for three minutes, then develop it. A coin "
        "that shows is the light's fault.",
        "red light",
    ),
)
_LONG_IN = Question(
    "long_in",
    "Was it in the developer longer than its time, or was the bath warm?",
    Cause(
        "It was developed too far.", "Take it out at its time; bring the bath to 20 °C.", "develop"
    ),
)
_SHORT_IN = Question(
    "short_in",
    "Did you take it out early, or was the bath old or cold?",
    Cause("It was developed too little.", "Fresh bath at 20 °C, the full time.", "develop"),
)
_MUCH = Cause("It got too much light.", "Give it less next time.", "plan", -1.0)
_LITTLE = Cause("It got too little light.", "Give it more next time.", "plan", 1.0)
_SUN_LOW = Question(
    "low_sun",
    "Was the sun low, or the light red?",
    Cause(
        "Paper sees blue alone: red light is weaker for it than the meter says.",
        "Say where the sun stands in the plan, and it takes that in.",
        "plan",
        1.0,
    ),
)
_STREAKS = (
    Question(
        "same_streak",
        "Does the same streak come back on the next sheet?",
        Cause(
            "Light comes in at the lid, a seam or the pinhole plate.",
            "Tape the seams. In the sun, hole covered, leave a sheet in for an hour to test.",
            "kit",
        ),
    ),
    Question(
        "straight",
        "Does it end in a straight edge or in waves?",
        Cause(
            "The developer came late to a part of it.",
            "Slide it in at once and rock the tray from the start.",
            "develop",
        ),
    ),
    Question(
        "brown",
        "Is it brown or yellow?",
        Cause("The developer or the fixer was used up.", "Mix fresh, wash longer.", "develop"),
    ),
)
_BLUR = (
    Question(
        "still_sharp",
        "Is what stands still sharp?",
        Cause("The subject moved.", "A calm hour, more light, or let it be.", "plan"),
    ),
    Question(
        "one_way",
        "Is all of it smeared the same way?",
        Cause(
            "The camera moved.",
            "Hand before the hole while you open; a stone on the camera.",
            "kit",
        ),
    ),
)
_SOFT = Cause(
    "The hole is too wide or has a burr, or the paper did not lie flat.",
    "Look at the hole against light. Measure it.",
    "kit",
)
_CLOSED = Question(
    "closed",
    "Could the flap or the slide have stayed in?",
    Cause("No light came through the hole.", "Slide out first, then the flap.", "bag"),
)
_BACK = Question(
    "back",
    "Might it have been loaded face down?",
    Cause("The back of the paper faced the hole.", "The shinier side faces the hole.", "bag"),
)
_DEAD_BATH = Cause(
    "The developer did nothing.",
    "Wet a scrap in it in room light: it must go black within a minute.",
    "develop",
)
_TWO = Cause(
    "It was exposed twice.", "Turn the slide round after each exposure: dark edge out.", "bag"
)
_OPENED = Question(
    "opened",
    "Could the box or the packet have been opened in light?",
    Cause("The paper was fogged before.", "Test a fresh sheet: unexposed it stays white.", "bag"),
)


def symptoms(medium: str) -> tuple[Symptom, ...]:
    """The Symptoms of a medium, the commonest first.

    medium: one of media.MEDIA. Raises ValueError for another.
    """
    positive = media.medium(medium).is_positive
    dark, pale = (_LITTLE, _MUCH) if positive else (_MUCH, _LITTLE)
    more = -dark.stops_more
    dark_first = (_SUN_LOW,) if positive else (_FOG, _LONG_IN)
    pale_first = (_FOG, _SHORT_IN) if positive else (_SHORT_IN, _SUN_LOW)
    empty = "black all over" if positive else "blank: no picture at all"
    return (
        Symptom("dark", "too dark", dark_first, dark, stops=1.6 * more),
        Symptom("pale", "too pale", pale_first, pale, stops=-1.6 * more),
        Symptom("streaky", "streaky or patchy", _STREAKS, _OPENED.cause, fault="leak"),
        Symptom("blurred", "blurred", _BLUR, _SOFT, fault="shake"),
        Symptom("empty", empty, (_CLOSED, _BACK), _DEAD_BATH, fault="blank"),
        Symptom("grey", "grey all over", (_FOG, _OPENED), dark, fault="fog"),
        Symptom("two", "two pictures in one", (), _TWO, fault="double"),
    )
