"""Initial values of a plan: a hand meter's usual settings, those used last, those of a kept
shot.
"""

import json

from chimney.field.models import Shot
from chimney.kit.models import Camera, Developer, Paper
from chimney.kit.queries import but_its_measures
from chimney.ledger.keys import row_key
from chimney.lessons.proposing import queries as lessons
from chimney.logbook.models import Exposure, Opening, Reread
from chimney.logbook.queries import sides as all_sides
from chimney.parts import plain_json
from chimney.parts.scales import number, typed_stops
from pinhole import optics

# What a hand meter without a history is set to: its last f-number, and a speed near that of paper.
FIRST_PLAN = {
    "kind": "seconds",
    "meter_f": f"{optics.METER_F_NUMBER}",
    "meter_iso": "6",
    "ev_iso": "100",
    "sky": "sun",
    "height": "high",
    "ei_from": "learned",
    "hold": "middle",
    "sheets": "single",
    "bracket_stops": "1",
    "bracket_by": "effect",
    "bands": "5",
    "hand_s": "0",
    "reckon": "on",
}
# Fields that begin empty.
FIRST_PLAN |= dict.fromkeys(("subject", "seconds", "ev", "lux", "ei", "filter_name"), "")
FIRST_PLAN |= dict.fromkeys(("filter_stops", "compensation_stops", "preflash_stops", "note"), "")
FIRST_PLAN |= dict.fromkeys(("darkest", "brightest", "felt_s", "azimuth_deg", "aperture"), "")
FIRST_PLAN |= {"plain_light": "", "by_photo": ""}


# What the last reading offers.
OFFERED = {"camera", "paper", "hand_s", "kind", "meter_f", "meter_iso"}


def last_reading(typed):
    """The camera, the paper and the meter's settings used last; a camera that is open now is
    busy. Nothing is asked where all of it is typed.
    """
    if typed.keys() >= OFFERED:
        return {}
    exposures = Exposure.objects.select_related("sheet")
    last = (
        exposures.exclude(
            camera__in=Opening.objects.filter(closed_at=None).values("camera")
        ).first()
        or exposures.first()
    )
    if last is None:
        return {}
    offers = {
        "camera": str(last.camera_id),
        "paper": str(last.sheet.paper_id),
        "hand_s": str(last.hand_s),
    }
    reading = last.calculation.reading
    offers["kind"] = reading.kind
    if reading.kind == "seconds":
        offers |= {"meter_f": number(reading.f_number), "meter_iso": number(reading.iso)}
    return offers


# Whose rating is remembered while a form goes from paper to paper.
RATING_FIELDS = ("ei_from", "ei", "school", "developer")


def rating(paper, typed, params, shot):
    """{field: how a paper that was just chosen is rated}; params: of a link, which says what it
    wants.
    """
    if not paper or str(typed.get("for_paper", "")) == str(paper.pk):
        return {}
    fields = rating_of(paper, typed)
    if shot and "for_paper" not in typed and paper.pk == shot.paper_id:
        # What its paper usually goes through, but rated as the shot says.
        fields |= {name: typed[name] for name in ("ei_from", "ei")}
    if "for_paper" not in params:
        fields |= {name: params[name] for name in RATING_FIELDS if name in params}
    return fields


def rating_of(paper, typed):
    """Rating of a paper that was just chosen, field by field: as it was in this form before, else
    as it was when it was last exposed in the developer it goes into; and what every paper of this
    form was rated at.
    """
    rated = _rated(typed.get("rated"))
    left = str(typed.get("for_paper") or "")
    if left:
        rated[left] = [str(typed.get(name) or "") for name in RATING_FIELDS]
    fields = rated.get(str(paper.pk))
    if fields and len(fields) == len(RATING_FIELDS):
        rating = dict(zip(RATING_FIELDS, fields, strict=True))
    else:
        rating = _rated_last(paper)
    return rating | {"for_paper": str(paper.pk), "rated": json.dumps(rated) if rated else ""}


def _rated(text):
    """{paper's pk: its fields of RATING_FIELDS} of this form; nothing for what is no such thing."""
    try:
        rated = plain_json.loads(text or "{}")
    except ValueError:
        return {}
    good = isinstance(rated, dict) and all(
        isinstance(row, list) and all(isinstance(word, str) and len(word) <= 40 for word in row)
        for row in rated.values()
    )
    return rated if good and len(rated) <= MOST_RATED else {}


# Nobody goes through more papers in one form.
MOST_RATED = 60


def _rated_last(paper):
    """An EI belongs to a paper in a developer: the one typed when it was last exposed so."""
    exposures = Exposure.objects.filter(sheet__paper=paper)
    usual = lessons.developers_of(paper)
    last = exposures.filter(developer=usual[:1]).first()
    developer = last and last.developer_id
    if last is None:
        developer = usual.first() or _only_developer()
        last = exposures.filter(developer=developer).first()
    was_typed = last and last.ei_from == Exposure.EiFrom.TYPED
    return {
        "developer": str(developer or ""),
        "school": paper.school,
        "ei_from": "typed" if was_typed else "learned",
        "ei": number(last.calculation.specification.ei) if was_typed else "",
    }


def _only_developer():
    """The one developer there is; of several none is taken for granted."""
    developers = list(Developer.objects.in_use().values_list("pk", flat=True)[:2])
    return developers[0] if len(developers) == 1 else None


def of_shot(shot):
    """The form of a kept plan or of a shot of an outing, field by field as a person would type
    it.
    """
    if shot is None:
        return {}
    numbers = {"bands": shot.bands, "hand_s": shot.hand_s}
    numbers |= {"azimuth_deg": shot.azimuth_deg, "ei": shot.ei, "aperture": shot.aperture}
    typed = {name: "" if value is None else f"{value:.6g}" for name, value in numbers.items()}
    typed |= {
        "bracket_stops": typed_stops(shot.bracket_stops).removeprefix("+"),
        "filter_stops": typed_stops(shot.filter_stops).removeprefix("+"),
        "compensation_stops": typed_stops(shot.compensation_stops),
    }
    fields = {
        "camera": str(shot.camera_id),
        "paper": str(shot.paper_id),
        "subject": shot.subject,
        "note": shot.note,
    }
    fields |= {"sheets": shot.sheets, "bracket_by": shot.bracket_by, "ei_from": shot.ei_from}
    fields |= {"reckon": "on" if shot.reckon else ""}
    fields |= {"preflash_stops": f"{shot.preflash_stops:g}" if shot.preflash_stops else ""}
    if shot.outing and shot.starts_at:
        fields["sky"] = shot.outing.sky_at(shot.starts_at).name
    # A school or a developer belongs to a paper; without one of its own the shot takes what its
    # paper usually has.
    if shot.school:
        fields |= {
            "school": shot.school,
            "developer": str(shot.developer_id or ""),
            "for_paper": str(shot.paper_id),
        }
    return typed | fields | _reading_of(shot)


def _reading_of(shot):
    """Its own reading, or that of the shot that it stands beside, or that stands beside it: a scene
    is metered once.
    """
    shots_beside = [shot.beside, *shot.pairs.all()] if shot.outing_id else []
    read_again = _read_again(shot)
    if read_again is not None:
        return {"kind": "ev", "ev": f"{read_again:.2f}", "ev_iso": "100"}
    return shot.reading or next(
        (
            shot_beside.reading
            for shot_beside in shots_beside
            if shot_beside and shot_beside.reading
        ),
        {},
    )


def _read_again(shot):
    """EV at ISO 100 of the last reading made while a sheet of the shot was open, None without one:
    the rest of a bracket stands in that light.
    """
    rereads = Reread.objects.filter(exposure__taken__shot=shot).order_by("-at", "-pk")
    last = rereads.select_related("exposure").first()
    return last and last.ev100


def kept():
    """Plans kept for later that belong to no outing."""
    shots = Shot.objects.filter(done=False, outing=None).select_related("camera", "paper")
    return shots.defer(*but_its_measures("camera"))


def usable():
    """{field: its rows} of what a plan is made with."""
    return {"camera": list(Camera.objects.in_use()), "paper": list(Paper.objects.timed())}


def at_hand():
    """(sides of the bag, usable rows) that every plan is made with."""
    return all_sides(), usable()


def _pick(usable, wanted):
    """The row typed, else the first, else None."""
    key = row_key(wanted)
    return next((row for row in usable if row.pk == key), usable[0] if usable else None)


def camera(typed, sides, usable, *, chosen=True):
    """The camera typed; where none was chosen, the one that the side belongs to: paper that goes
    straight into a camera is exposed in it.
    """
    side_typed = _side_of(typed, sides)
    fitting = usable
    if not chosen and side_typed and side_typed.holder.camera_id:
        body = side_typed.holder.camera.body_pk
        fitting = [
            camera_row for camera_row in usable if body in (camera_row.pk, camera_row.body_id)
        ]
    return _pick(fitting, typed.get("camera")) or _pick(usable, None)


def _side_of(typed, sides):
    return next((side for side in sides if side.key == typed.get("side")), None)


def paper(typed, sides, usable):
    """The paper typed; on a plain link to a loaded side, and for a second exposure of a sheet, the
    paper that lies there.
    """
    side_typed = _side_of(typed, sides)
    lies = side_typed.loading.sheet.paper if side_typed and side_typed.loading else None
    twice = side_typed and side_typed.state == "exposed" and typed.get("again")
    if lies and ("for_paper" not in typed or twice) and lies.medium.is_timed:
        return lies
    return _pick(usable, typed.get("paper"))


def fits(side, camera):
    if side.loading and not side.loading.sheet.paper.medium.is_timed:
        return False
    return side.holder.size == camera.size and side.holder.camera_id in (None, camera.body_pk)


def side(key, fitting, paper):
    """The side wanted if it can be exposed with this paper, else a loaded one, else an empty one;
    no empty one for what no light may see.
    """
    if paper is None:
        return ""

    def ready(side):
        return side.state == "loaded" and side.loading.sheet.paper_id == paper.pk

    if key in [side.key for side in fitting if side.state in ("exposed", "empty") or ready(side)]:
        return key
    ordered = [*filter(ready, fitting)]
    if not paper.medium.is_blind_loaded:
        ordered += [side for side in fitting if side.state == "empty"]
    return ordered[0].key if ordered else ""
