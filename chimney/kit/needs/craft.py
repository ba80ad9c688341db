"""Least needs: ways of developing a sheet of some size in some place, side by side. Common
practice.
"""

from dataclasses import dataclass

from chimney.parts.scales import number
from pinhole import chemistry
from pinhole.solargraph import can

# Trays are so much longer and wider than their sheets (common practice).
TRAY_MARGIN_MM = 40

THINGS = {
    "camera": "camera, or a tin, tape and a pinhole plate",
    "holder": "one holder, or paper straight in the camera",
    "paper": "a packet of paper",
    "meter": "a meter, or the field card for nothing",
    "developer": "developer",
    "fix": "fixer; for stop, vinegar or water",
    "gloves": "gloves, eye protection, labels for every bottle",
    "bag": "changing bag; a tent or struts keep fabric off wet paper",
    "tank": "tank with a light-trapped lid",
    "drum": "drum with a light-trapped lid",
    "trays": "three trays",
    "drawers": "three drawers over a drip tray",
    "light": "red torch or safelight, tested with a coin",
    "filler": "light-trapped filler for the camera",
}
NEEDED_ALWAYS = ("camera", "holder", "paper", "meter", "developer", "fix", "gloves")
DARK_PLACES = {
    "none": "no dark place at all",
    "cupboard": "a dark cupboard or bathroom",
    "room": "a dark room with table and water",
}


@dataclass(frozen=True)
class Way:
    """name; things beyond what is always needed; places where it works; whether film may go in."""

    name: str
    things: tuple
    places: tuple
    film: bool


START_WAYS = (
    Way("tank, loaded in a bag", ("bag", "tank"), ("none", "cupboard", "room"), True),
    Way(
        "drum rolled by hand, loaded in a bag", ("bag", "drum"), ("none", "cupboard", "room"), True
    ),
    Way("drum, loaded in the dark", ("drum",), ("cupboard", "room"), True),
    Way("drawers", ("drawers", "light"), ("cupboard", "room"), False),
    Way("trays", ("trays", "light"), ("cupboard", "room"), False),
    Way("the camera itself", ("filler",), ("none", "cupboard", "room"), False),
)


@dataclass(frozen=True)
class Offer:
    """A Way with what it asks for here beyond what all share: its things in words, each bath in
    words, what all of it costs as far as typed, notes.
    """

    way: Way
    things: tuple
    bath: str
    cost: float
    unpriced: int
    notes: tuple


def shared():
    """Words for what every way needs."""
    return [THINGS[code] for code in NEEDED_ALWAYS]


def offers(cleaned):
    """The Offers of a cleaned NeedsForm, the cheapest by what is typed first."""
    fitting = [
        process_way
        for process_way in START_WAYS
        if cleaned["place"] in process_way.places and (process_way.film or not cleaned["film"])
    ]
    return sorted(
        (_offer(process_way, cleaned) for process_way in fitting),
        key=lambda offer: (offer.cost, offer.unpriced),
    )


def _offer(process_way, cleaned):
    codes = [*NEEDED_ALWAYS, *process_way.things]
    prices = [cleaned[f"price_{code}"] for code in codes]
    return Offer(
        way=process_way,
        things=tuple(THINGS[code] for code in process_way.things),
        bath=_bath(process_way, cleaned),
        cost=sum(price for price in prices if price is not None),
        unpriced=sum(price is None for price in prices),
        notes=tuple(_notes(process_way, cleaned)),
    )


def _bath(process_way, cleaned):
    """Volume of each bath that a sheet takes."""
    short, long = sorted(cleaned["sheet"])
    if "drum" in process_way.things:
        least_volume, most_volume = chemistry.drum_ml(short * long)
        return f"{number(least_volume, 2)} to {number(most_volume, 2)} ml"
    if "tank" in process_way.things:
        return _tank_bath(cleaned["tank_height_mm"], cleaned["tank_diameter_mm"], short)
    if "filler" in process_way.things:
        return "covers the sheet in the camera"
    tray = chemistry.tray_ml(short + TRAY_MARGIN_MM, long + TRAY_MARGIN_MM)
    return f"{number(tray, 2)} ml"


def _tank_bath(height_mm, wide_mm, sheet_mm):
    """The round tank filled to over the sheet's short side, or to its brim."""
    if not (height_mm and wide_mm):
        return "fills the tank"
    covered_mm = min(sheet_mm, height_mm - chemistry.OVER_SHEET_MM)
    return f"{number(chemistry.tank_ml(wide_mm, covered_mm), 2)} ml"


def _notes(process_way, cleaned):
    short, long = sorted(cleaned["sheet"])
    if "tank" in process_way.things:
        yield _tank(cleaned)
    if {"trays", "drawers"} & set(process_way.things):
        yield (
            f"At least {short + TRAY_MARGIN_MM:.0f} x {long + TRAY_MARGIN_MM:.0f} mm inside, "
            f"{chemistry.TRAY_DEEP_MM:.0f} mm deep."
        )


def _tank(cleaned):
    height, diameter = cleaned["tank_height_mm"], cleaned["tank_diameter_mm"]
    if not (height and diameter):
        return "Type the tank's height and diameter, and whether the sheet fits is said here."
    if can.tank_takes(height, diameter, cleaned["sheet"]):
        return "The sheet fits the tank, rolled with the emulsion inward."
    short, long = sorted(cleaned["sheet"])
    return (
        f"The sheet does not fit that tank: it needs {short:.0f} mm of height and {long:.0f} "
        "mm around."
    )
