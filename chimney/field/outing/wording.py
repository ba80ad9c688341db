"""Sentences on what a day's lengths stand on, and the list for the bag: from its shots, its holders
and its weather. Common practice.
"""

from collections import Counter

from chimney.field.outing import craft
from chimney.kit.models import Meter
from chimney.logbook import queries
from chimney.parts.scales import number, size_of_stops
from chimney.places import craft as places

PACKED_ALWAYS = (
    "tripod, or a bag of beans for the ground",
    "tape, a spare pinhole plate, a weight",
    "watch or phone, charged; notebook and two pencils",
    "dry cloth; wet hands leave marks on paper",
    "water, and somebody who knows where you are",
)
WEATHER = {
    "heavy": ("rain cape for the camera, plastic bags for holders",),
    "fresh": ("a bag to hang under the tripod, rubber band for the flap",),
    "gusts": (
        "a bag to hang under the tripod, rubber band for the flap",
        "somebody or something as a windbreak",
    ),
}
CAUTIONS = (
    "Cliff edges and ledges: stand back before you look at the holder.",
    "Tides: know when the way back is under water.",
    "Traffic: not on the carriageway, not on the track.",
    "Whose land is it? Ask first; leave gates as they were.",
)


def packing_list(day):
    """[(heading, [lines])]"""
    shots = [slot.shot for slot in day.to_come]
    cameras = Counter(f"{shot.camera}, f/{number(shot.camera.f_number)}" for shot in shots)
    sheets = [
        f"{wanted} × {paper}, {size}: {loaded} loaded"
        + (f", load {wanted - loaded} more" if wanted > loaded else "")
        for paper, size, wanted, loaded in day.needs
    ]
    holders = sorted({side.words for side in queries.sides() if side.state == "loaded"})
    meters = [
        f"{meter}, down to ISO {number(meter.lowest_iso)}" for meter in Meter.objects.in_use()
    ]
    cold = day.daylight.altitude_deg.max() < 15
    weather = [*WEATHER.get(day.sky.name, ()), *WEATHER.get(day.outing.wind, ())]
    weather += ["gloves that can turn a flap: the sun stays low"] if cold else []
    phrases = [
        (
            "Cameras",
            [f"{name} ({count} shots)" if count > 1 else name for name, count in cameras.items()],
        ),
        ("Sheets", sheets),
        ("Loaded sides", holders),
        ("Meter", meters or ["the field card of each camera, and your eye"]),
        ("Always", list(PACKED_ALWAYS)),
        ("For this weather", weather),
    ]
    return [(heading, lines) for heading, lines in phrases if lines]


def light(sky, anchor, place):
    """Words for what the lengths of the shots to come stand on, and for their doubt."""
    if anchor is None:
        spread = size_of_stops(round(2 * craft.light_sd_stops(sky, None)) / 2)
        return (
            f"Reckoned for {sky.words}; without a direction the sun is behind the camera. Such "
            f"light differs by {spread} either way: meter before you open."
        )
    local_time, stops_more = places.local(anchor.at, place), anchor.stops_more
    comparison = "as expected" if abs(stops_more) < 1 / 6 else f"{size_of_stops(abs(stops_more))} "
    comparison += "" if abs(stops_more) < 1 / 6 else "brighter" if stops_more > 0 else "darker"
    source = f"the reading of {local_time:%H:%M}, {comparison} for {anchor.sky.words}"
    if anchor.sky == sky:
        return f"The light to come stands on {source}."
    return (
        f"The light to come stands on {source}, carried over to {sky.words}. That is a guess: "
        "meter again before you open."
    )
