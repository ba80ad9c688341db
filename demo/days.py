"""The demo's places, its views to repeat and the day out that comes next."""

from datetime import datetime, time, timedelta

from chimney.field.models import Outing, Shot
from chimney.kit.models import Camera, Paper
from chimney.logbook.flows import while_open
from chimney.parts import clock
from chimney.places import craft as places
from chimney.places import flows as place_flows
from chimney.places import queries as place_queries
from chimney.places.models import Place, View
from pinhole import exposure

RAUHOLM = {"name": "Rauholm", "latitude_deg": 57.10, "longitude_deg": 19.60, "elevation_m": 12.0}
CORRIE_FLAT = {
    "name": "Corrie Flat",
    "latitude_deg": -43.95,
    "longitude_deg": 171.60,
    "elevation_m": 410.0,
}
VIEWS = (
    (
        "slipway, from the pump house",
        205.0,
        "November, after ten",
        "harbour master's gate is open until four",
    ),
    ("beech hedge", 120.0, "first snow", "along the field's edge, not across it"),
)
# subject, camera, paper, hour, minute, minutes of setting up, looking, sheets, pair's camera and
# paper
SHOTS = (
    ("kiln mouth", "Plank", "grade-2 RC", 9, 30, 8, 320.0, "single", None),
    (
        "slipway at low water",
        "Plank",
        "grade-2 RC",
        10,
        20,
        10,
        20.0,
        "single",
        ("Wedge", "direct positive fibre"),
    ),
    ("net loft, north wall", "Wedge", "variable-contrast RC", 11, 30, 5, 165.0, "bracket", None),
    (
        "pump house before dark",
        "Long Tom",
        "direct positive fibre",
        12,
        50,
        10,
        40.0,
        "single",
        None,
    ),
)

# Which way what one photographs there is looked at, by its first words.
LOOKING = {"kiln": 320.0, "slipway": 205.0, "net loft": 165.0, "beech": 120.0, "pump": 40.0}


# What a sun wants to be for a day's work, and when one looks back for it [degrees, hour].
LEAST_SUN_DEG, LAST_HOUR = 5.0, 13
# Nobody is up then.
ASLEEP = (23, 7)


def last_light(now):
    """The last moment until now with hours of sun before it and after: now, or 13:00 of today or
    yesterday.
    """
    place = place_queries.home()
    hours = (now, now - timedelta(hours=3, minutes=20))
    to_come_deg = places.sun_at(place, now + timedelta(hours=2))[1]
    if to_come_deg > 0 and all(places.sun_at(place, h)[1] >= LEAST_SUN_DEG for h in hours):
        return now
    local = now.astimezone(place.tz)
    day = local.replace(hour=LAST_HOUR, minute=0, second=0, microsecond=0)
    return day if day <= local else day - timedelta(days=1)


def last_evening(now):
    """The last half past nine in the evening until now, at home."""
    local = now.astimezone(place_queries.home().tz)
    evening = local.replace(hour=21, minute=30, second=0, microsecond=0)
    return evening if evening <= local else evening - timedelta(days=1)


def is_night(now):
    """True if everybody at home is asleep."""
    late, early = ASLEEP
    hour = now.astimezone(place_queries.home().tz).hour
    return hour >= late or hour < early


def looking(subject):
    """The bearing of a subject, None where nobody took one."""
    return next(
        (direction for phrase, direction in LOOKING.items() if subject.startswith(phrase)), None
    )


def make_places(now):
    """Home and the friend's station, with the views one comes back to."""
    for where, zone, home in (
        (RAUHOLM, "Europe/Stockholm", True),
        (CORRIE_FLAT, "Pacific/Auckland", False),
    ):
        place = place_flows.keep(Place(**where, zone=zone, home=home))
    place = place_queries.home()
    for subject, azimuth, when, access in VIEWS:
        noticed_on = now.date() - timedelta(days=40)
        View.objects.create(
            place=place,
            subject=subject,
            azimuth_deg=azimuth,
            when=when,
            access=access,
            access_on=noticed_on,
        )


def make_day(now):
    """Tomorrow on the island: four shots, one of them a pair, one a bracket."""
    place = place_queries.home()
    day = places.today(place) + timedelta(days=1)
    outing = Outing.objects.create(
        name="Kilns and slipway",
        place=place,
        day=day,
        sky="haze",
        wind="light",
        note="ask for the gate",
        made_at=now,
    )
    for subject, camera, paper, hour, minute, set_up, azimuth, sheets, pair in SHOTS:
        shared = {
            "outing": outing,
            "subject": subject,
            "starts_at": datetime.combine(day, time(hour, minute), place.tz),
            "set_up_s": set_up * 60.0,
            "azimuth_deg": azimuth,
            "kept_at": clock.now(),
        }
        shot = _shot(camera, paper, sheets=sheets, **shared)
        if pair:
            _shot(*pair, beside=shot, **shared)
    return outing


def _shot(camera, paper, **more):
    return Shot.objects.create(
        camera=Camera.objects.get(name=camera), paper=Paper.objects.get(name=paper), **more
    )


def read_again(opened, now):
    """The light fell a little while the hole was open, and somebody looked."""
    reading = opened.calculation.reading
    moment = opened.opening.opened_at + (now - opened.opening.opened_at) / 2
    seconds = reading.seconds * 1.4
    again = exposure.Reading("seconds", "half a stop less", seconds, reading.f_number, reading.iso)
    with clock.at(moment):
        while_open.reread(opened, again)
