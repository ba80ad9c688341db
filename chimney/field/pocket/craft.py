"""The pocket sheet: a day's shots and their tables in one file for the phone, all of it computed by
the craft.
"""

import json
from dataclasses import astuple, dataclass, replace
from datetime import datetime

import numpy as np
from django.core import signing

from chimney.field.craft import (
    Arrangement,
    arrangement_of,
    meter_setting,
    planned_sheets,
    proposal_of,
    specification_of,
)
from chimney.field.light.craft import as_read, colour_in, lit_at, lit_of_shot
from chimney.field.models import Shot
from chimney.field.outing.queries import shots_of
from chimney.field.plan.queries import last_reading
from chimney.field.pocket.catalogue import EVS, SECONDS, said
from chimney.kit.models import Meter
from chimney.lessons.proposing import queries as lessons
from chimney.logbook import queries
from chimney.logbook.wording import OWN_BACK, SLIDE
from chimney.parts import calculation as parts
from chimney.parts.scales import number
from pinhole import exposure, optics
from pinhole.exposure import changing
from pinhole.reciprocity import from_data

SALT = "pocket"
# 2: tables of planned times, curves of what changing light gives, and which sheet of its shot an
# exposure is. 3: a table for each setting of a meter, and what the sun does to each reading.
POCKET_VERSION = 3
MOST_SETTINGS = 4
# A curve's points lie so many stops apart and reach so far beyond the table's ends.
CURVE_STOPS, BEYOND_STOPS = 1 / 32, 6


def packed(outing):
    """Everything the sheet needs, as plain data: shots, times and tables."""
    shots = [shot for shot in shots_of(outing) if not shot.done]
    ratings = lessons.ratings()
    specs = {shot.pk: (*specification_of(shot, ratings), arrangement_of(shot)) for shot in shots}
    kinds = _kinds(shots, specs)
    tables = [_shot(shot, *specs[shot.pk], kinds, ratings) for shot in shots]
    sides = [side for side in queries.sides() if side.state == "loaded"]
    return {
        "chimney": "pocket",
        "version": POCKET_VERSION,
        "token": signing.dumps(_sealed(outing, shots, specs, ratings), salt=SALT, compress=True),
        "name": str(outing),
        "place": str(outing.place),
        "day": outing.day.isoformat(),
        "shots": tables,
        "curves": _curves(tables),
        "sides": [
            {
                "key": side.key,
                "words": side.words,
                "sheet": side.loading.sheet.code,
                "paper": side.loading.sheet.paper_id,
                "size": side.holder.size,
                "body": side.holder.camera.body_pk if side.holder.camera_id else None,
            }
            for side in sides
        ],
        "kinds": [
            {"key": kind.key, "words": kind.words, "f": kind.f_number, "iso": kind.iso}
            for kind in kinds
        ],
        "ev_of": EVS,
        "seconds_of": SECONDS,
        "before": {"slide": SLIDE.before, "back": OWN_BACK.before},
    }


@dataclass(frozen=True)
class MeterSetting:
    """Setting of a meter, and its table's key: "ev", or seconds at f_number and iso."""

    key: str
    words: str
    f_number: float = optics.METER_F_NUMBER
    iso: float = 100.0

    @property
    def readings(self):
        """[(how it is shown, Reading)]"""
        if self.key == "ev":
            return [(f"EV {number(ev, 3)}", exposure.read_ev(ev, 100, "")) for ev in EVS]
        return [
            (said(s), exposure.Reading("seconds", "", s, self.f_number, self.iso)) for s in SECONDS
        ]


def _kinds(shots, specs):
    """The MeterSettings one may read the light at: what was used last, what each meter of the kit
    is set to for these shots, and EV.
    """
    used = [(float(f), float(iso)) for f, iso in filter(None, [_last_used()])]
    for meter in Meter.objects.in_use():
        used += [
            (
                meter.last_f_number,
                meter_setting(meter, specs[shot.pk][1].f_number, specs[shot.pk][0].ei)[0],
            )
            for shot in shots
        ]
    used = list(dict.fromkeys(used or [(optics.METER_F_NUMBER, 6.0)]))[:MOST_SETTINGS]
    moments = [
        MeterSetting(f"s{n}", f"seconds at f/{number(f)}, ISO {number(iso)}", f, iso)
        for n, (f, iso) in enumerate(used)
    ]
    return [*moments, MeterSetting("ev", "EV at ISO 100")]


def _last_used():
    typed = last_reading({})
    return (typed["meter_f"], typed["meter_iso"]) if "meter_f" in typed else None


def _sealed(outing, shots, specs, ratings):
    """Sealed text of what the sheet was made by, so that what comes home keeps the numbers that
    timed it.
    """
    shots = {
        shot.pk: [
            proposal.ei_from,
            exposure.specification_to_data(specification),
            astuple(arrangement),
            _light(shot, ratings),
        ]
        for shot in shots
        for proposal, specification, arrangement in [specs[shot.pk]]
    }
    return {"outing": outing.pk, "made": outing.made_at.isoformat(), "shots": shots}


def _light(shot, ratings):
    """Values that tell how much of a reading's light is the sun's: the planned hour, the direction,
    and what its own sheets say of a low sun.
    """
    proposal = proposal_of(shot, ratings)
    return {
        "at": shot.starts_at and shot.starts_at.isoformat(),
        "looks": shot.azimuth_deg,
        "shade": shot.shade,
        "plain": bool(shot.reading.get("plain_light")),
        "low": proposal.learned_stops(shot.camera, low_sun=True),
    }


@dataclass(frozen=True)
class MadeBy:
    """Values that a pocket sheet was made by: where its EI was from, its Specification without the
    light's colour, its Arrangement, and what its readings are held against, as _light gives it.
    """

    ei_from: str
    asked: exposure.Specification
    arrangement: Arrangement
    light: dict

    def specification(self, shot, reading):
        """The Specification that a Reading was timed by."""
        if self.light.get("plain", True) or not self.light["at"] or shot.outing is None:
            return self.asked
        lit = lit_at(
            shot.outing.place,
            datetime.fromisoformat(self.light["at"]),
            looks_deg=self.light["looks"],
            shade=self.light["shade"],
            ev100=reading.ev100,
        )
        stops, sd = colour_in(shot.paper, lit)
        low = tuple(map(tuple, self.light["low"])) if stops else self.asked.learned
        return replace(self.asked, colour_stops=stops, colour_sd_stops=sd, learned=low)


def unsealed(token, shot):
    """The MadeBy of a shot; None for a sheet of version 1."""
    sealed = token.get("shots", {}).get(str(shot.pk))
    if sealed is None:
        return None
    ei_from, specification, arrangement, *held = sealed
    try:
        spec = exposure.specification_from_data(specification)
        return MadeBy(ei_from, spec, Arrangement(*arrangement), held[0] if held else {})
    except (KeyError, TypeError):
        # Packed by a version that kept other numbers: what was exposed counts all the same.
        return None


def _shot(shot, proposal, specification, arrangement, kinds, ratings):
    lit = lit_of_shot(shot)
    tables = {
        kind.key: [
            _row(label, reading, shot, lit, arrangement, ratings)
            for label, reading in kind.readings
        ]
        for kind in kinds
    }
    middle = exposure.calculate(kinds[-1].readings[-1][1], specification)
    steps = _steps(middle, shot, arrangement)
    return {
        "pk": shot.pk,
        "subject": shot.subject,
        "camera": str(shot.camera),
        "body": shot.camera.body_pk,
        "paper": str(shot.paper),
        "paper_pk": shot.paper_id,
        "ei": number(proposal.ei),
        "f": number(specification.f_number),
        "size": shot.camera.size,
        "hand_s": shot.hand_s,
        "strip": shot.sheets == Shot.Sheets.STRIP,
        "steps": [sheet.words for sheet in steps],
        "schools": [_key(sheet.calculation.school) for sheet in steps],
        "tables": tables,
    }


def _steps(middle, shot, arrangement):
    """The PlannedSheets in any light, for their words and schools."""
    single = replace(arrangement, kind=Shot.Sheets.SINGLE)
    strip = arrangement.kind == Shot.Sheets.STRIP
    return sheets_of(middle, shot, single if strip else arrangement)


def _row(label, reading, shot, lit, arrangement, ratings):
    """[the reading in words, log2 of its metered seconds, [per sheet: seconds to give, exact ones,
    stops of effect, pulls of a test strip], each factor in words]
    """
    _, specification = specification_of(shot, ratings, as_read(lit, reading.ev100))
    calculation = exposure.calculate(reading, specification)
    times = []
    if calculation.exact_s <= exposure.LONGEST_S:
        times = [_time(sheet, calculation) for sheet in sheets_of(calculation, shot, arrangement)]
    metered = round(float(np.log2(calculation.metered_s)), 6)
    return [label, metered, times, factors_words(calculation)]


def factors_words(calculation):
    """Each factor of a Calculation after its reading, as the plan's tiles say them."""
    links = parts.Links(camera_words="this camera", reading_url="", scene_url="", colour_url="")
    tiles = parts.tiles(calculation, links)[1:]
    return "; ".join(f"{tile.label} {tile.value}" for tile in tiles)


def sheets_of(calculation, shot, arrangement):
    """The PlannedSheets; none where the bands of a strip would be closer than a hand can pull."""
    try:
        return planned_sheets(calculation, shot.paper, shot.camera.geometry, arrangement)
    except ValueError:
        return []


def _time(sheet, calculation):
    """[seconds to give, exact ones, stops of effect against the middle, seconds of free hole at
    each pull of a test strip]; None for more than a day.
    """
    exact_s = sheet.calculation.exact_s
    effect = float(np.log2(sheet.calculation.metered_s / calculation.metered_s))
    if exact_s > exposure.LONGEST_S:
        return None
    pulls = [round(band.pull_s, 2) for band in sheet.bands]
    return [sheet.seconds, round(exact_s, 4), round(effect, 6), pulls]


def _key(school):
    """A school as a word that the phone can ask for."""
    return json.dumps(school.as_data(), sort_keys=True)


def _curves(tables):
    """{the key of a school: its curve}, over all that the tables may be read at."""
    logs = [row[1] for shot in tables for rows in shot["tables"].values() for row in rows]
    keys = {key for shot in tables for key in shot["schools"]}
    return {key: _curve(from_data(json.loads(key)), min(logs), max(logs)) for key in sorted(keys)}


def _curve(school, lowest, highest):
    """The craft's response of a school, for the phone to look up; from, step: log2 of metered
    seconds.
    """
    grid_stops = np.arange(lowest - BEYOND_STOPS, highest + BEYOND_STOPS, CURVE_STOPS)
    asks, gives = changing.response(school, grid_stops)
    return {
        "from": round(float(grid_stops[0]), 6),
        "step": CURVE_STOPS,
        "asks": [round(float(value), 5) for value in asks],
        "gives": [float(f"{value:.7g}") for value in gives],
    }
