"""The sum: a worked-out time as a row of tiles that read as a sentence."""

from dataclasses import dataclass

from chimney.parts import scales
from pinhole import durations
from pinhole.exposure import effect_stops


@dataclass(frozen=True)
class Tile:
    """label over value; source says where the number is from and how sure it is; url leads there."""

    name: str
    label: str
    value: str
    source: str
    url: str = ""


@dataclass(frozen=True)
class Links:
    """Where each tile leads and what the camera and the EI are called; pages fill in what they have."""

    camera_words: str = "this camera"
    camera_url: str = ""
    paper_url: str = ""
    ei_words: str = "paper at"
    ei_source: str = ""
    reading_url: str = "#id_kind"
    scene_url: str = "#id_scene"


SCHOOLS = {"none": "no correction", "power": "power law", "table": "maker's table"}


def tiles(done, links):
    """The tiles of a Sum in the order of its steps; steps that change nothing and need no saying are left out."""
    made = [
        _reading(done, links),
        _camera(done, links),
        _paper(done, links),
        *(_scene(done, name, links) for name in ("filter", "compensation") if _step(done, name).factor != 1),
        _reciprocity(done, links),
    ]
    return tuple(made)


def _step(done, name):
    return next(step for step in done.steps if step.name == name)


def _doubt(step):
    return f"good to {scales.number(step.sd_stops, 2)} stop (1 sd)"


def _reading(done, links):
    reading = done.reading
    seconds = (
        f"{durations.say(reading.seconds)} at f/{scales.number(reading.f_number)}, ISO {scales.number(reading.iso)}"
    )
    label = {"seconds": "the meter", "ev": "the meter", "lux": "the lux meter", "sky": "by eye"}[reading.kind]
    value = seconds.partition(",")[0] if reading.kind == "seconds" else durations.say(reading.seconds)
    source = f"You typed {reading.said}: {seconds}; {_doubt(_step(done, 'reading'))}."
    if reading.kind != "seconds":
        label, value = f"{label}: {reading.said}", f"{value} at f/{scales.number(reading.f_number)}"
    return Tile("reading", label, value, source, links.reading_url)


def _camera(done, links):
    step = _step(done, "camera")
    n = scales.number(done.f_number)
    source = f"f/{n} against f/{scales.number(done.reading.f_number)}, squared; the hole is {_doubt(step)}."
    return Tile("camera", f"{links.camera_words} is f/{n}", f"× {scales.number(step.factor)}", source, links.camera_url)


def _paper(done, links):
    step = _step(done, "paper")
    ei, iso = scales.number(done.ei), scales.number(done.reading.iso)
    source = f"Metered at ISO {iso}, rated at EI {ei}. {links.ei_source} The EI is {_doubt(step)}.".replace("  ", " ")
    return Tile("paper", f"{links.ei_words} EI {ei}", f"× {scales.number(step.factor)}", source, links.paper_url)


def _scene(done, name, links):
    step = _step(done, name)
    amount = done.filter_stops if name == "filter" else done.compensation_stops
    label = "filter" if name == "filter" else "held back" if amount < 0 else "generous"
    source = f"{scales.stops(amount)} stops, as you typed."
    return Tile(name, label, f"× {scales.number(step.factor)}", source, links.scene_url)


def _reciprocity(done, links):
    factor = _step(done, "reciprocity").factor
    school = school_words(done.school)
    label = "reciprocity" if factor > 1.0005 else "no more for long times"
    value = f"× {scales.number(factor)}" if factor > 1.0005 else "+ 0"
    from_time, to_time = durations.say(done.metered_s), durations.say(done.exact_s)
    source = f"{school[0].upper()}{school[1:]}, applied last: {from_time} becomes {to_time}."
    return Tile("reciprocity", label, value, source, links.paper_url)


def school_words(school):
    """A school of reciprocity in words, with its numbers."""
    if school.name == "power":
        onset = f" above {durations.say(school.onset_s)}" if school.onset_s != 1 else ""
        return f"power law {scales.number(school.exponent)}{onset}"
    return SCHOOLS[school.name]


def range_words(done):
    """How sure the time is: in seconds and in stops, and whether a bracket is worth a sheet."""
    low, high = durations.say(done.low_s), durations.say(done.high_s)
    return f"{low} to {high}", scales.size_of_stops(max(-done.low_stops, done.high_stops))


def given_words(done, seconds):
    """What the time really given was worth against the one worked out."""
    stops = effect_stops(done, seconds)
    if abs(stops) < 0.1:
        return "as worked out"
    return f"{scales.size_of_stops(stops)} {'more' if stops > 0 else 'less'} than worked out"
