"""The Learn page in words."""

from django.urls import reverse

from chimney.lessons import wording as lesson_words
from chimney.lessons.craft import CLOUD, LOW_SUN
from chimney.parts.scales import counted, size_of_stops, tenths
from pinhole import durations, light

KIND_NOUNS = {"strip": "four steps", "sheet": "one time"}


def say(seconds):
    """A countable time in words."""
    return durations.say(durations.countable_s(seconds))


def headline(explained):
    """The finding of the page: what the sheets say of the exposure asked about."""
    subject = explained.occasion.subject or str(explained.lesson.paper)
    box, yours = say(explained.box_s), say(explained.range_s[1])
    subject = f"{subject[:1].upper()}{subject[1:]}"
    if box == yours:
        return f"{subject} needs {yours}, as the box says"
    return f"{subject} needs {yours}, not the box's {box}"


def name_of(share, explained):
    """The words for a share."""
    if share.kind == "speed":
        return "Paper and developer"
    if share.kind == "exponent":
        longer = explained.occasion.metered_s > explained.usual_s
        return "Longer than usual" if longer else "Shorter than usual"
    if share.kind == "light":
        return "Low sun" if share.key == LOW_SUN else "Cloud"
    if share.kind == "box":
        day = lesson_words.since(str(share.key))
        return f"Since {lesson_words.around(day)}" if day else "This box"
    if share.kind == "filter":
        return f"A filter of {size_of_stops(float(share.key))}"
    if share.kind == "eye":
        named = light.SKY_BY_NAME.get(share.key)
        return f"Your “{named.words.partition(',')[0] if named else share.key}”"
    return ""


def under(share, explained):
    """The words under the name of a share: what speaks of it."""
    sheets = counted(share.sheets, "sheet", "sheets")
    if share.kind == "speed":
        return f"{sheets}, at {durations.say(durations.countable_s(explained.usual_s))}"
    if share.kind == "exponent":
        return f"from {say(explained.usual_s)} to {say(explained.occasion.metered_s)}"
    return sheets if share.sheets else "no sheet of it yet"


def range_words(share):
    """ "+0.6 (+0.2 to +1.0)"."""
    return f"({tenths(share.low)} to {tenths(share.high)})"


def hint(finding):
    """(a clear finding as a sentence, where its hole is measured, or ""), None of any other."""
    if finding is None or not finding.is_clear:
        return None
    camera = finding.camera
    measured = camera and not camera.is_lens and reverse("kit:hole", args=[camera.pk])
    return lesson_words.sentence(finding), measured or ""


def trial_words(trial):
    """A test sheet in a few words."""
    where = ", this light" if trial.in_light else ""
    return f"{KIND_NOUNS[trial.kind]}{where}, {say(trial.metered_s)}"


def trial_place(trial, explained):
    """ "Plank, in low sun, where the meter asks for 8 s" of a test sheet."""
    camera = explained.occasion.camera
    where = f"{camera}, " if camera else ""
    light_words = {LOW_SUN: "in low sun, ", CLOUD: "under cloud, "}.get(
        explained.occasion.light, ""
    )
    where += light_words if trial.in_light else ""
    return f"{where}where the meter asks for {say(trial.metered_s)}"


def test_words(trial, explained):
    """(heading, sentence) of the test sheet that narrows the range most."""
    low, _, high = trial.after.range_s
    subject, where = explained.occasion.subject, trial_place(trial, explained)
    heading = f"Next: {KIND_NOUNS[trial.kind]} on one sheet"
    called = f"{subject[:1].upper()}{subject[1:]}" or "This one"
    sentence = (
        f"{where[:1].upper()}{where[1:]}. {called} is then between {say(low)} and {say(high)}."
    )
    return heading, sentence


def apart(explained):
    """Words for short and long sheets of the paper that pull apart, or ""."""
    pulled = explained.knowledge.apart.get(explained.lesson.paper_id)
    if pulled is None:
        return ""
    less_s, more_s, stops = pulled
    return (
        f"No exponent fits all your times: beside one, sheets metered about {say(more_s)} want "
        f"{size_of_stops(stops)} more than those about {say(less_s)}. Plans follow your sheets; a "
        "strip at each would tell."
    )


def more_sheets(finding):
    """Words for how many sheets would make it clear, or ""."""
    count = lesson_words.more_sheets(finding) if finding else None
    return f"; {counted(count, 'more', 'more')} would make it clear" if count else ""
