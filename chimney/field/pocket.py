"""The pocket sheet: a day's shots and their tables in one file for the phone."""

from django.core import signing

from chimney.field.day import shots_of
from chimney.field.models import Shot
from chimney.kit.models import Meter
from chimney.lessons import flows as lessons
from chimney.logbook import queries
from chimney.parts.scales import number
from pinhole import durations, exposure, optics

SALT = "pocket"
VERSION = 1
# Third stops, as meters show them: EV from deep dusk to snow in the sun, and seconds at a meter's last f-number.
EVS = [n / 3 for n in range(-12, 52)]
SECONDS = [2 ** (n / 3) for n in range(-18, 40)]


def packed(found):
    """Everything the sheet needs, as plain data: shots, sums and tables computed by the core."""
    shots = [shot for shot in shots_of(found) if not shot.done]
    proposals = lessons.usual_proposals({shot.paper for shot in shots})
    meter = Meter.objects.in_use().first()
    last_f, iso = (meter.last_f_number, meter.lowest_iso) if meter else (optics.METER_F_NUMBER, 6.0)
    sheets = [side for side in queries.sides() if side.state == "loaded"]
    return {
        "chimney": "pocket",
        "version": VERSION,
        "token": signing.dumps({"outing": found.pk, "made": found.made_at.isoformat()}, salt=SALT),
        "name": str(found),
        "place": str(found.place),
        "day": found.day.isoformat(),
        "shots": [_shot(shot, proposals[shot.paper_id].ei, last_f, iso) for shot in shots],
        "sides": [
            {
                "key": side.key,
                "words": side.words,
                "sheet": side.loading.sheet.code,
                "paper": side.loading.sheet.paper_id,
            }
            for side in sheets
        ],
        "ev_of": EVS,
        "seconds_of": SECONDS,
        "meter": {"f": number(last_f), "iso": number(iso)},
    }


def _shot(shot, ei, last_f, iso):
    school = shot.paper.schools[shot.paper.school]
    n = shot.camera.f_number

    def time_s(reading, stops=0.0):
        done = exposure.work_out(reading, f_number=n, ei=ei, school=school, compensation_stops=stops)
        return round(done.exact_s, 2) if done.exact_s <= exposure.LONGEST_S else None

    evs = [exposure.read_ev(ev, 100, "") for ev in EVS]
    readings = [exposure.Reading("seconds", "", seconds, last_f, iso) for seconds in SECONDS]
    stops = bracket(shot)
    return {
        "pk": shot.pk,
        "subject": shot.subject,
        "camera": str(shot.camera),
        "paper": str(shot.paper),
        "paper_pk": shot.paper_id,
        "ei": number(ei),
        "f": number(n),
        "size": shot.camera.size,
        "planned": "" if shot.sheets in (Shot.Sheets.SINGLE, Shot.Sheets.BRACKET) else shot.get_sheets_display(),
        "stops": stops,
        "ev": [[f"EV {number(ev, 3)}", *(time_s(one, s) for s in stops)] for ev, one in zip(EVS, evs, strict=True)],
        "seconds": [[said(s), *(time_s(one, k) for k in stops)] for s, one in zip(SECONDS, readings, strict=True)],
    }


def bracket(shot):
    """Stops of effect of each sheet of a shot, the middle first."""
    apart = shot.bracket_stops
    return [0, -apart, apart] if shot.sheets == Shot.Sheets.BRACKET and apart else [0]


def said(seconds):
    return f"1/{round(1 / seconds)} s" if seconds < 0.3 else durations.say(seconds)


def _counted(seconds):
    """The countable time in words, or that it is beyond counting."""
    return durations.say(durations.countable_s(seconds)) if seconds <= exposure.LONGEST_S else "over a day"


CARD_EVS = tuple(range(15, 7, -1))


def card_rows(found):
    """For the printed page: [(shot, EI, [time at EV 15, 14, ... 8])]."""
    shots = [shot for shot in shots_of(found) if not shot.done]
    proposals = lessons.usual_proposals({shot.paper for shot in shots})
    return [
        (
            shot,
            proposals[shot.paper_id].ei,
            [
                _counted(
                    exposure.work_out(
                        exposure.read_ev(ev, 100, ""),
                        f_number=shot.camera.f_number,
                        ei=proposals[shot.paper_id].ei,
                        school=shot.paper.schools[shot.paper.school],
                    ).exact_s
                )
                for ev in CARD_EVS
            ],
        )
        for shot in shots
    ]
