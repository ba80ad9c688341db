"""From a plan to an open hole, and plans kept for later."""

from chimney.field.craft import scene_stops
from chimney.field.models import Shot, Taken
from chimney.field.photo import flows as photos
from chimney.field.plan.craft import azimuth_of, forecast, lit_of
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Loading
from chimney.parts import clock
from chimney.parts.readings import FIELDS_OF
from chimney.parts.refusal import Refused

# What a Shot has of a cleaned PlanForm, name by name, and what of its reading.
# An empty field leaves SHOT_FIELDS as the shot knows them, and sets the others to SHOT_DEFAULTS.
SHOT_FIELDS: tuple[str, ...] = (
    "school",
    "ei_from",
    "hand_s",
    "reckon",
    "note",
    "sheets",
    "bracket_stops",
    "bands",
)
SHOT_FIELDS += ("azimuth_deg", "camera", "paper")
SHOT_DEFAULTS: dict[str, object] = {
    "developer": None,
    "ei": None,
    "filter_stops": 0.0,
    "compensation_stops": 0.0,
}
SHOT_DEFAULTS |= {"preflash_stops": 0.0, "aperture": None}
SHOT_DEFAULTS |= {"bracket_by": Shot.By.EFFECT, "subject": ""}
READING_FIELDS: tuple[str, ...] = (
    "kind",
    *(name for names in FIELDS_OF.values() for name in names),
)
READING_FIELDS += ("darkest", "brightest", "hold", "felt_s", "filter_name", "plain_light")
READING_FIELDS += ("by_photo",)


@verb
def open_shot(cleaned, plan, side, shot=None, place=None, typed=None):
    """Load a fresh sheet if the side is empty, and open the hole on the next sheet of the plan; all
    or nothing.

    typed: what stood in the form, whose reading the shot's other sheets and its pair begin with.
    """
    shot = shot and _still_to_do(shot, cleaned.get("made"))
    loading, loaded_by_it = _loading(cleaned, side)
    made_shot = shot is None and (len(plan.sheets) > 1 or bool(plan.sheets[0].bands))
    before = _specified(shot) if shot else None
    if made_shot or shot:
        shot = _specify(shot or Shot(kept_at=clock.now()), cleaned, typed or {})
    number, sheet = next_sheet(plan, shot)
    opened = logbook.open_hole(
        loading,
        cleaned["camera"],
        sheet.calculation,
        subject=cleaned["subject"],
        ei_from=plan.proposal.ei_from,
        developer=cleaned["developer"],
        note=cleaned["note"],
        again=cleaned["again"],
        planned_s=sheet.seconds,
        hand_s=cleaned.get("hand_s", 0),
        is_strip=bool(sheet.bands),
        loaded_by_it=loaded_by_it,
        **_light_to_come(cleaned, sheet, place, shot),
        **_where(place, cleaned, shot),
    )
    if shot:
        take(shot, opened, sheet, number, made_shot=made_shot, shot_before=before)
    if cleaned.get("by_photo"):
        photos.expose(cleaned["by_photo"], opened, plan.calculation.reading)
    return opened


def _where(place, cleaned, shot):
    """Place of an exposure: that of its outing, or home if the camera's direction was given."""
    out, azimuth_deg = bool(shot and shot.outing), azimuth_of(cleaned, shot)
    return {"place": place if out or azimuth_deg is not None else None, "azimuth_deg": azimuth_deg}


def _light_to_come(cleaned, sheet, place, shot):
    """The forecast kept with an exposure, where one is wanted and moves its end."""
    if not cleaned.get("reckon") or sheet.bands:
        return {}
    lit = lit_of(cleaned, shot, place, clock.now())
    coming = forecast(place, sheet.calculation, sheet.seconds, clock.now(), lit)
    return (
        {"forecast": coming.points, "dark_at": coming.dark_at} if coming and coming.matters else {}
    )


def _still_to_do(shot, steps_made):
    """The shot as it is now; refused if the sheet that the form was about has been exposed since.

    steps_made: how many of its sheets were exposed when the form was shown, None if it does not
    say.
    """
    shot = current(shot, Shot.objects.prefetch_related("taken__exposure"))
    steps = shot.steps_made
    if shot.done or (steps_made is not None and steps_made != len(steps)):
        last = shot.taken.last()
        exit = (
            ("See its timer", "logbook:timer", last.exposure_id)
            if last
            else ("See the plans", "field:plan")
        )
        raise Refused(f"{shot} was opened meanwhile, from another page or device.", *exit)
    return shot


def _loading(cleaned, side):
    """(the Loading that lies in the side, whether it was put there just now)."""
    lies = (
        current(side.loading, Loading.objects.select_related("sheet__paper"))
        if side.loading
        else None
    )
    if lies is None:
        return logbook.load(cleaned["paper"], side.holder, side.letter), True
    if lies.sheet.paper_id != cleaned["paper"].pk:
        where = f"{side.words[0].upper()}{side.words[1:]}"
        refusal = (
            f"{where} holds {lies.sheet}, {lies.sheet.paper}: the time is for {cleaned['paper']}."
        )
        raise Refused(refusal, "See the bag", "logbook:bag")
    return lies, False


def next_sheet(plan, shot):
    """(number, PlannedSheet) of the first sheet of the plan that is not exposed yet, of the last
    one if all are.
    """
    steps_made = shot.steps_made if shot and shot.pk else ()
    last = len(plan.sheets) - 1
    number = next((n for n in range(last + 1) if n not in steps_made), last)
    return number, plan.sheets[number]


def take(shot, opened, sheet, number, *, made_shot=False, shot_before=None):
    """Write down that an exposure was made of a shot, its sheet of that number; it is done with its
    last sheet.
    """
    bands = [
        {
            "pull_s": band.pull_s,
            "effect_stops": band.effect_stops,
            "corrected_stops": band.corrected_stops,
        }
        for band in sheet.bands
    ]
    counts = {"made_shot": made_shot, "shot_before": shot_before}
    Taken.objects.create(
        shot=shot, exposure=opened, words=sheet.words, bands=bands, step=number, **counts
    )
    count(shot)


def count(shot):
    """Set whether a shot is done, from what was exposed of it."""
    exposed = (
        Taken.objects.filter(shot=shot)
        .exclude(exposure__slip=Exposure.Slip.SLIDE_IN)
        .values("step")
        .distinct()
    )
    Shot.everything.filter(pk=shot.pk).update(done=exposed.count() >= shot.wanted)


def untake(exposure):
    """The hole was never opened: its shot is as it was before, or is none if the tap had made
    it.
    """
    record = Taken.objects.select_related("shot").filter(exposure=exposure).first()
    if record is None:
        return
    shot = record.shot
    record.delete()
    if record.made_shot and not Taken.objects.filter(shot=shot).exists():
        shot.delete()
        return
    if record.shot_before is not None:
        Shot.everything.filter(pk=shot.pk).update(**record.shot_before)
    count(shot)


def count_slip(exposure):
    """A slide that was never pulled leaves its sheet of the shot still to do."""
    record = Taken.objects.select_related("shot").filter(exposure=exposure).first()
    if record:
        count(record.shot)


@verb
def keep(cleaned, typed, shot=None):
    """Keep the plan of a cleaned PlanForm for later, its reading as it was typed."""
    return _specify(current(shot) if shot else Shot(kept_at=clock.now()), cleaned, typed)


def _specify(shot, cleaned, typed):
    """Write into a Shot what it is made with."""
    for name in SHOT_FIELDS:
        if cleaned.get(name) is not None:
            setattr(shot, name, cleaned[name])
    for name, empty in SHOT_DEFAULTS.items():
        setattr(shot, name, cleaned.get(name) or empty)
    shot.subject = shot.subject or f"{shot.camera} on {shot.paper}"
    shot.reading = {name: typed[name] for name in READING_FIELDS if typed.get(name)}
    if held := scene_stops(cleaned):
        # What its scene asks for is its own, for whoever reads its times without its meter.
        shot.reading["scene_stops"] = held
    shot.save()
    return shot


def _specified(shot):
    """Columns of a Shot that `_specify` may change, as plain data by name."""
    columns = [
        Shot._meta.get_field(name).attname for name in (*SHOT_FIELDS, *SHOT_DEFAULTS, "reading")
    ]
    return {name: getattr(shot, name) for name in columns}
