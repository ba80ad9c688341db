"""What goes into the bag for a day: from its shots, its holders and its weather. Common
practice.
"""

from collections import Counter

from chimney.kit.models import Meter
from chimney.logbook import queries
from chimney.parts.scales import number

ALWAYS = (
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
    weather = [*WEATHER.get(day.outing.sky, ()), *WEATHER.get(day.outing.wind, ())]
    weather += ["gloves that can turn a flap: the sun stays low"] if cold else []
    phrases = [
        (
            "Cameras",
            [f"{name} ({count} shots)" if count > 1 else name for name, count in cameras.items()],
        ),
        ("Sheets", sheets),
        ("Loaded sides", holders),
        ("Meter", meters or ["the field card of each camera, and your eye"]),
        ("Always", list(ALWAYS)),
        ("For this weather", weather),
    ]
    return [(heading, lines) for heading, lines in phrases if lines]
