"""The demo's solargraphs: cans on the island and three at the friend's station, at every stage."""

from datetime import date, timedelta
from math import cos, radians

from chimney.kit import flows as kit
from chimney.kit.models import Camera
from chimney.parts import clock
from chimney.places.models import Place
from chimney.solar.cans import flows as solar
from chimney.solar.models import Event, Solargraph

CAN = {
    "back": "can",
    "focal_mm": 66,
    "diameter_mm": 0.3,
    "size": "5x7 in",
    "cut_width_mm": 177.8,
    "cut_height_mm": 120,
    "visible_width_mm": 177.8,
    "visible_height_mm": 120,
    "wall_mm": 0.1,
}
SKYLINE = [
    [90, 4],
    [120, 6],
    [140, 9],
    [160, 5],
    [180, 3],
    [200, 4],
    [215, 7],
    [235, 10],
    [255, 6],
    [270, 4],
]
# Metres east and north of their places.
SPOTS = {3: (-140, 210), 5: (260, 90), 6: (60, -180), 8: (90, 40), 9: (-320, 150)}
# can, place, days ago, days in all, faces, leans back, where
OUT = (
    (3, "Rauholm", 156, 183, 180, 14.5, "beech hedge, third post"),
    (5, "Rauholm", 88, 176, 265, 0, "net loft, west gable"),
    (6, "Rauholm", 40, 150, 175, 0, "pump house, over the door"),
    (8, "Corrie Flat", 20, 179, 0, 10, "woolshed rail"),
    (9, "Corrie Flat", 20, 179, 350, 0, "gate to the upper paddock"),
)


def put_cans_out(now):
    """Nine cans: five out, one to scan, one scanned, one vanished, one planned."""
    with clock.at(now - timedelta(days=364)):
        cans = {number: _can(number) for number in range(1, 10)}
    Place.objects.filter(name="Rauholm").update(horizon=SKYLINE)
    for number, place, ago, days, azimuth, tilt, spot in OUT:
        can = _out(cans[number], place, _by_day(now, place), ago, days, azimuth, tilt, spot)
        east_m, north_m = SPOTS[number]
        latitude, longitude = can.where
        flat_m = 111_320 * cos(radians(latitude))
        solar.set_spot(can, latitude + north_m / 110_570, longitude + east_m / flat_m)
    checked = Solargraph.objects.get(camera=cans[5])
    with clock.at(now - timedelta(days=25)):
        solar.note_event(checked, Event.Kind.CHECK, "dry, hole free")
    home = _out(cans[1], "Rauholm", now, 184, 183, 180, 12, "lime kiln, north rim")
    with clock.at(now - timedelta(hours=2)):
        solar.close(home)
    _archived(cans[2], now)
    days_there = _by_day(now, "Corrie Flat")
    gone_can = _out(cans[7], "Corrie Flat", days_there, 120, 180, 15, 0, "bridge over the creek")
    with clock.at(days_there - timedelta(days=9)):
        solar.note_event(gone_can, Event.Kind.MISSING, "the flood took the rail")
    _planned(cans[4], "Rauholm", date(now.year, 12, 21), 182, 180, 0)


def _by_day(now, place):
    """An hour of the same day that is light at the place, for a now that is light at home."""
    return now - timedelta(hours=12) if place == "Corrie Flat" else now


def _can(number):
    return kit.keep_camera(Camera(name=f"Can {number}", **CAN), loads_directly=True)


def _planned(camera, place, first, days, azimuth, tilt, spot=""):
    place = Place.objects.get(name=place)
    return Solargraph.objects.create(
        name=f"{camera}, {first:%b %Y}",
        camera=camera,
        place=place,
        azimuth_deg=azimuth,
        tilt_deg=tilt,
        first_day=first,
        last_day=first + timedelta(days=days),
        horizon=place.horizon,
        spot=spot,
        contact="the photographer at the pump house",
        permission="harbour master",
        made_at=clock.now(),
    )


def _out(camera, place, now, ago, days, azimuth, tilt, spot):
    opened = now - timedelta(days=ago)
    with clock.at(opened):
        can = _planned(camera, place, opened.date(), days, azimuth, tilt, spot)
        return solar.put_out(can)


def _archived(camera, now):
    can = _out(camera, "Rauholm", now, 340, 180, 190, 10, "snow fence")
    with clock.at(now - timedelta(days=150)):
        solar.close(can)
    with clock.at(now - timedelta(days=150) + timedelta(minutes=40)):
        solar.scanned(can, 3, 40)
    with clock.at(now - timedelta(days=60)):
        solar.look_at(can, 1, 15, "shown to the harbour master")
