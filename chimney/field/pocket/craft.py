"""The pocket sheet: a day's shots and their tables in one file for the phone, all of it computed by
the craft.
"""

import json
from dataclasses import astuple, replace

import numpy as np
from django.core import signing

from chimney.field.craft import Arrangement, arrangement_of, planned_sheets, specification_of
from chimney.field.models import Shot
from chimney.field.outing.queries import shots_of
from chimney.field.wording import say_counted
from chimney.kit.models import Meter
from chimney.lessons import queries as lessons
from chimney.logbook import queries
from chimney.parts.scales import number
from pinhole import durations, exposure, optics
from pinhole.exposure import changing
from pinhole.reciprocity import from_data

SALT = "pocket"
# 2: tables of planned times, curves of what changing light gives, and which sheet of its shot an
# exposure is.
VERSION = 2
# Third stops, as meters show them: EV from deep dusk to snow in the sun, and seconds at a meter's
# last f-number.
EVS = [n / 3 for n in range(-12, 52)]
SECONDS = [2 ** (n / 3) for n in range(-18, 40)]
# A curve's points lie so many stops apart and reach so far beyond the table's ends.
CURVE_STOPS, BEYOND_STOPS = 1 / 32, 6


def packed(found):
    """Everything the sheet needs, as plain data: shots, times and tables."""
    shots = [shot for shot in shots_of(found) if not shot.done]
    ratings = lessons.ratings()
    asked = {shot.pk: (*specification_of(shot, ratings), arrangement_of(shot)) for shot in shots}
    last_f, iso = _meter()
    tables = [_shot(shot, *asked[shot.pk], last_f, iso) for shot in shots]
    sides = [side for side in queries.sides() if side.state == "loaded"]
    return {
        "chimney": "pocket",
        "version": VERSION,
        "token": signing.dumps(_sealed(found, asked), salt=SALT, compress=True),
        "name": str(found),
        "place": str(found.place),
        "day": found.day.isoformat(),
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
        "ev_of": EVS,
        "seconds_of": SECONDS,
        "meter": {"f": number(last_f), "iso": number(iso)},
    }


def _meter():
    meter = Meter.objects.in_use().first()
    return (meter.last_f_number, meter.lowest_iso) if meter else (optics.METER_F_NUMBER, 6.0)


def _sealed(found, asked):
    """What the sheet was made by, so that what comes home is kept with the numbers that it was
    timed by.
    """
    shots = {
        pk: [proposal.ei_from, exposure.specification_to_data(specification), astuple(arrangement)]
        for pk, (proposal, specification, arrangement) in asked.items()
    }
    return {"outing": found.pk, "made": found.made_at.isoformat(), "shots": shots}


def unsealed(token, shot):
    """(where its EI was from, Specification, Arrangement) that the sheet was made by; None for one
    of version 1.
    """
    kept = token.get("shots", {}).get(str(shot.pk))
    if kept is None:
        return None
    ei_from, specification, arrangement = kept
    try:
        return ei_from, exposure.specification_from_data(specification), Arrangement(*arrangement)
    except (KeyError, TypeError):
        # Packed by a version that kept other numbers: what was exposed counts all the same.
        return None


def _shot(shot, proposal, specification, arrangement, last_f, iso):
    readings = {
        "ev": [(f"EV {number(ev, 3)}", exposure.read_ev(ev, 100, "")) for ev in EVS],
        "seconds": [(said(s), exposure.Reading("seconds", "", s, last_f, iso)) for s in SECONDS],
    }
    tables = {
        kind: [_row(words, reading, shot, specification, arrangement) for words, reading in rows]
        for kind, rows in readings.items()
    }
    middle = exposure.calculate(readings["ev"][-1][1], specification)
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
        **tables,
    }


def _steps(middle, shot, arrangement):
    """The PlannedSheets in any light, for their words and schools."""
    single = replace(arrangement, kind=Shot.Sheets.SINGLE)
    strip = arrangement.kind == Shot.Sheets.STRIP
    return _sheets(middle, shot, single if strip else arrangement)


def _row(words, reading, shot, specification, arrangement):
    """[the reading in words, log2 of its metered seconds, [per sheet: seconds to give, exact ones,
    stops of effect, pulls of a test strip]]
    """
    calculation = exposure.calculate(reading, specification)
    times = []
    if calculation.exact_s <= exposure.LONGEST_S:
        times = [_time(sheet, calculation) for sheet in _sheets(calculation, shot, arrangement)]
    return [words, round(float(np.log2(calculation.metered_s)), 6), times]


def _sheets(calculation, shot, arrangement):
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
    return (
        [
            sheet.seconds,
            round(exact_s, 4),
            round(effect, 6),
            [round(band.pull_s, 2) for band in sheet.bands],
        ]
        if exact_s <= exposure.LONGEST_S
        else None
    )


def _key(school):
    """A school as a word that the phone can ask for."""
    return json.dumps(school.as_data(), sort_keys=True)


def _curves(tables):
    """{the key of a school: its curve}, over all that the tables may be read at."""
    logs = [row[1] for shot in tables for kind in ("ev", "seconds") for row in shot[kind]]
    keys = {key for shot in tables for key in shot["schools"]}
    return {key: _curve(from_data(json.loads(key)), min(logs), max(logs)) for key in sorted(keys)}


def _curve(school, least, most):
    """The craft's response of a school, for the phone to look up; from, step: log2 of metered
    seconds.
    """
    at = np.arange(least - BEYOND_STOPS, most + BEYOND_STOPS, CURVE_STOPS)
    asks, gives = changing.response(school, at)
    return {
        "from": round(float(at[0]), 6),
        "step": CURVE_STOPS,
        "asks": [round(float(value), 5) for value in asks],
        "gives": [float(f"{value:.7g}") for value in gives],
    }


def said(seconds):
    return f"1/{round(1 / seconds)} s" if seconds < 0.3 else durations.say(seconds)


CARD_EVS = tuple(range(15, 7, -1))


def card_rows(found):
    """For the printed page: [(shot, EI, [time at EV 15, 14, ... 8])]."""
    ratings = lessons.ratings()
    rows = []
    for shot in shots_of(found):
        if not shot.done:
            proposal, asked = specification_of(shot, ratings)
            readings = [exposure.read_ev(ev, 100, "") for ev in CARD_EVS]
            times = [
                say_counted(exposure.calculate(reading, asked).exact_s) for reading in readings
            ]
            rows.append((shot, proposal.ei, times))
    return rows
