"""A calculation as a row of tiles that read as a sentence."""

from dataclasses import dataclass

from django.urls import reverse

from chimney.parts import scales
from pinhole import durations
from pinhole.exposure import LONGEST_S, effect_stops


@dataclass(frozen=True)
class Tile:
    """label over value; source says where the number is from and how sure it is; url leads
    there.
    """

    name: str
    label: str
    value: str
    source: str
    url: str = ""


@dataclass(frozen=True)
class Links:
    """Targets of the tiles and names of camera and EI; pages fill in what they have."""

    camera_words: str = "this camera"
    camera_url: str = ""
    paper_url: str = ""
    ei_words: str = "paper at"
    ei_source: str = ""
    reading_url: str = "#id_kind_0"
    scene_url: str = "#id_scene"
    colour_url: str = "#id_plain_light"
    learn_url: str = ""


# A factor nearer to 1 changes no time.
LEAST_CHANGE = 0.0005
# Factors that one's own sheets ask for.
OWN_CAMERA, OWN_LIGHT, OWN_EYE = "own camera", "own light", "own eye"
OWN_PROCESS = "own process"
# All of them together, as the whole log says it.
OWN_SHEETS = "own sheets"


def tiles(calculation, links):
    """The tiles of a Calculation in the order of its factors; those that change nothing and need no
    saying are left out.
    """
    parts = [
        _reading(calculation, links),
        _camera(calculation, links),
        _paper(calculation, links),
        *_colour(calculation, links),
        *_learned(calculation, links),
        *(
            _scene(calculation, name, links)
            for name in ("filter", "compensation")
            if calculation.factor(name).multiplier != 1
        ),
        *_trial(calculation, links),
        *_preflash(calculation, links),
        _reciprocity(calculation, links),
    ]
    return tuple(parts)


def _doubt(factor):
    return scales.doubt(factor.sd_stops)


def _reading(calculation, links):
    reading = calculation.reading
    seconds = (
        f"{durations.say(reading.seconds)} at f/{scales.number(reading.f_number)}, ISO "
        f"{scales.number(reading.iso)}"
    )
    label = {"seconds": "the meter", "ev": "the meter", "lux": "the lux meter", "sky": "by eye"}[
        reading.kind
    ]
    value = (
        seconds.partition(",")[0] if reading.kind == "seconds" else durations.say(reading.seconds)
    )
    doubt = _doubt(calculation.factor("reading"))
    source = f"The meter says {seconds}, {doubt}."
    if reading.kind != "seconds":
        source = f"You typed {reading.said}: {seconds}, {doubt}."
        label, value = f"{label}: {reading.said}", f"{value} at f/{scales.number(reading.f_number)}"
    return Tile("reading", label, value, source, links.reading_url)


def _camera(calculation, links):
    factor = calculation.factor("camera")
    n = scales.number(calculation.specification.f_number)
    source = (
        f"f/{n} against f/{scales.number(calculation.reading.f_number)}, squared; "
        f"{_doubt(factor)}, by its hole."
    )
    return Tile(
        "camera",
        f"{links.camera_words} is f/{n}",
        f"× {scales.number(factor.multiplier)}",
        source,
        links.camera_url,
    )


def _paper(calculation, links):
    factor = calculation.factor("paper")
    ei, iso = scales.number(calculation.specification.ei), scales.number(calculation.reading.iso)
    source = (
        f"Metered at ISO {iso}, rated at EI {ei}, {_doubt(factor)}. {links.ei_source}"
    ).strip()
    return Tile(
        "paper",
        f"{links.ei_words} EI {ei}",
        f"× {scales.number(factor.multiplier)}",
        source,
        links.paper_url,
    )


def _colour(calculation, links):
    """Tile for the colour of the light, where it asks for anything."""
    stops = calculation.specification.colour_stops
    if not stops:
        return
    factor = calculation.factor("colour")
    comparison = "is slower" if stops > 0 else "is faster"
    source = (
        f"This paper is blind to red: in such light it {comparison} than the meter says by "
        f"{scales.size_of_stops(stops)}; {_doubt(factor)}."
    )
    label = "low sun" if stops > 0 else "blue light of the sky"
    yield Tile("colour", label, f"× {scales.number(factor.multiplier)}", source, links.colour_url)


def _learned(calculation, links):
    """Tile for what one's own sheets say of this camera, this light and this process."""
    labels = {
        OWN_EYE: "your eye by your sheets",
        OWN_CAMERA: f"{links.camera_words} by your sheets",
        OWN_LIGHT: "this light by your sheets",
        OWN_PROCESS: "its process by your sheets",
        OWN_SHEETS: "your sheets",
    }
    for name, stops, _ in calculation.specification.learned:
        factor = calculation.factor(name)
        phrase = f"{scales.many_stops(stops)}, by your sheets for this camera and light"
        source = f"{phrase}; {_doubt(factor)}."
        url = links.learn_url or reverse("lessons:learned")
        yield Tile(name, labels[name], f"× {scales.number(factor.multiplier)}", source, url)


def _scene(calculation, name, links):
    factor = calculation.factor(name)
    specification = calculation.specification
    amount = specification.filter_stops if name == "filter" else specification.compensation_stops
    label = "filter" if name == "filter" else "held back" if amount < 0 else "generous"
    source = f"{scales.many_stops(amount)}, given on purpose."
    return Tile(name, label, f"× {scales.number(factor.multiplier)}", source, links.scene_url)


def _trial(calculation, links):
    """Tile for what this sheet of a bracket or strip is given on trial."""
    stops = calculation.specification.trial_stops
    if stops:
        factor = calculation.factor("trial")
        source = f"{scales.many_stops(stops)} against the plan, to be judged beside the others."
        value = f"× {scales.number(factor.multiplier)}"
        yield Tile("trial", "of the bracket", value, source, links.scene_url)


def _preflash(calculation, links):
    """Tile for what a flash before has given already, where there is one."""
    strength = calculation.specification.preflash_stops
    if not strength:
        return
    factor = calculation.factor("preflash")
    source = (
        f"Flashed {scales.many_stops(strength)} under the middle before the picture: the middle "
        "has that part already."
    )
    label, value = "pre-flashed", f"× {scales.number(factor.multiplier)}"
    yield Tile("preflash", label, value, source, links.scene_url)


def _reciprocity(calculation, links):
    factor = calculation.factor("reciprocity").multiplier
    school = calculation.school.words
    changes = abs(factor - 1) > LEAST_CHANGE
    label = "reciprocity" if changes else "no reciprocity"
    value = f"× {scales.number(factor)}" if changes else "× 1"
    from_time, to_time = durations.say(calculation.metered_s), durations.say(calculation.exact_s)
    change = f"{from_time} becomes {to_time}" if from_time != to_time else "it changes nothing here"
    source = f"{school[0].upper()}{school[1:]}, applied last: {change}."
    return Tile("reciprocity", label, value, source, links.paper_url)


def range_words(calculation):
    """Words for the doubt of the time, in seconds and in stops, and whether a bracket is worth a
    sheet.
    """
    low_stops, high_stops = calculation.low_stops, calculation.high_stops
    return between(calculation.low_s, calculation.high_s), scales.size_of_stops(
        max(-low_stops, high_stops)
    )


def between(low_s, high_s):
    """Words for a range of times to plan with."""
    low, high = planned(low_s), planned(high_s)
    return f"{low} to {high}" if low != high else low


def planned(seconds):
    """Words for a time to plan with; beyond the longest no number says more."""
    return durations.say(seconds) if seconds <= LONGEST_S else "over 24 h"


def given_words(calculation, seconds):
    """Words for the time really given, against the one worked out."""
    stops = effect_stops(calculation, seconds)
    if abs(stops) < 0.1:
        return "as worked out"
    return f"{scales.size_of_stops(stops)} {'more' if stops > 0 else 'less'} than worked out"
