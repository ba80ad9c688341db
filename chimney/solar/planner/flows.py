"""Plans of cans: kept, dropped and taken back; and skylines that are too long for an address."""

import hashlib

from chimney.ledger.once import current, setting, verb
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.solar.models import LongSkyline, Record, Solargraph
from chimney.solar.planner.queries import SKYLINE_MARK

# What a plan has of the planner's form as it is.
PLANNED: tuple[str, ...] = ("camera", "place", "kind", "azimuth_deg", "tilt_deg", "roll_deg")
PLANNED += ("wall_deg", "first_day", "last_day", "climate", "water")
# A longer skyline stands in the address by its key.
LONGEST_IN_ADDRESS = 160


@verb
def keep(rows, cleaned, minutes):
    """A Solargraph for each (camera, azimuth, tilt), all else as the planner's cleaned form has it;
    all or none.
    """
    return [_kept(cleaned, minutes, *row) for row in rows]


def _kept(cleaned, minutes, camera, azimuth_deg, tilt_deg):
    columns = _columns(cleaned, minutes)
    columns |= {"camera": camera, "azimuth_deg": azimuth_deg, "tilt_deg": tilt_deg}
    name = f"{camera}, {cleaned['first_day']:%b %Y}"[:60]
    return Solargraph.objects.create(name=name, made_at=clock.now(), **columns)


def _columns(cleaned, minutes):
    """Columns of a Solargraph from the planner's cleaned form."""
    columns = {name: cleaned[name] for name in PLANNED}
    columns |= {"open_from": minutes and minutes[0], "open_to": minutes and minutes[1]}
    return columns | {
        name: [list(point) for point in cleaned[name]] for name in ("horizon", "leaf", "upper")
    }


@verb
def change(can, cleaned, minutes):
    """A plan as the planner's cleaned form has it now. Of a can that hangs already only the last
    day is still to be chosen.
    """
    can = current(can, Solargraph.objects.select_related("sheet").defer("photo"))
    if can.sheet_id and can.sheet.stage != Sheet.Stage.OUT:
        refusal = f"{can} is {can.sheet.get_stage_display()}: it can no longer be planned."
        raise Refused(refusal, f"See {can}", "solar:one", can.pk)
    columns = {"last_day": cleaned["last_day"]} if can.sheet_id else _columns(cleaned, minutes)
    for name, value in columns.items():
        setattr(can, name, value)
    can.save(update_fields=list(columns))
    return can


@verb
def drop(can):
    """A plan of which nothing is out is dropped; what is out has to come home first."""
    can = current(can, Solargraph.objects.select_related("sheet").defer("photo"))
    if can.sheet_id:
        refusal = f"{can} is {can.sheet.get_stage_display()}: it is no longer a plan."
        raise Refused(refusal, f"See {can}", "solar:one", can.pk)
    can.drop()


@verb
def undrop(can):
    current(can, Solargraph.everything.defer("photo")).undrop()


@verb
def keep_skyline(place, horizon, leaf):
    """The usual skyline of a place, which every can there begins with."""
    place = current(place)
    place.horizon, place.leaf = [list(point) for point in horizon], [list(point) for point in leaf]
    place.save(update_fields=["horizon", "leaf"])


@verb
def keep_sunshine(place, rows, name):
    """Days of sunshine as they were measured at a place."""
    Record.objects.update_or_create(
        place=current(place), defaults={"rows": rows, "name": name[:100], "came_at": clock.now()}
    )


@setting
def short(text):
    """Key under which a long skyline is kept, to stand in an address."""
    key = hashlib.sha256(text.encode()).hexdigest()[:16]
    LongSkyline.objects.update_or_create(key=key, defaults={"text": text, "at": clock.now()})
    return f"{SKYLINE_MARK}{key}"
