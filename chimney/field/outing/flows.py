"""Changes of a day out: shots added, paired, dropped."""

from datetime import datetime, timedelta

from chimney.field.models import Outing, Shot, SkyChange, Taken
from chimney.kit.models import Camera, Paper
from chimney.ledger.once import current, setting, verb
from chimney.logbook.models import Exposure
from chimney.parts import clock


def usual_shot(outing, day):
    """Initial values of a new shot: the last one's kit, a little after it ends, or an hour after
    sunrise.
    """
    last = day.slots[-1] if day.slots else None
    start = last.ends if last else day.sun.rise + timedelta(hours=1) if day.sun.rise else None
    start = max(start, day.now) if start and day.now else start
    newest = Exposure.objects.select_related("sheet").first()
    camera = (
        last.shot.camera if last else newest.camera if newest else Camera.objects.in_use().first()
    )
    paper = (
        last.shot.paper
        if last
        else newest.sheet.paper
        if newest
        else Paper.objects.developed().first()
    )
    return {
        "time": start and (start + timedelta(minutes=10)).time().replace(second=0, microsecond=0),
        "set_up_s": 300.0,
        "camera": camera and camera.pk,
        "paper": paper and paper.pk,
        "bracket_stops": 1.0,
    }


@verb
def keep_outing(form):
    """Keep the day of a cleaned OutingForm. Once the light was read on it, another sky is one that
    changed: what was read before keeps its own.
    """
    day_out, sky = form.instance, form.cleaned_data["sky"]
    day_out.made_at = day_out.made_at or clock.now()
    if day_out.pk is None:
        return form.save()
    before = current(day_out)
    now_sky = before.sky_at(clock.now()).name
    was_read = before.skies.exists() or Taken.objects.filter(shot__outing=before).exists()
    day_out.sky = before.sky if was_read or sky == now_sky else sky
    day_out = form.save()
    if was_read and sky != now_sky:
        SkyChange.objects.create(outing=day_out, at=clock.now(), sky=sky)
    return day_out


@verb
def change_sky(day_out, sky):
    """The SkyChange to a sky from now on, by its name; None where it is that sky already."""
    day_out = current(day_out)
    if day_out.sky_at(clock.now()).name == sky:
        return None
    return SkyChange.objects.create(outing=day_out, at=clock.now(), sky=sky)


@verb
def undo_change_of_sky(change):
    """Take the change away again."""
    SkyChange.objects.filter(pk=change.pk).delete()


@verb
def keep_shot(outing, form):
    """Keep the shot of a cleaned ShotForm, and its pair."""
    outing = current(outing, Outing.objects.select_related("place"))
    cleaned, shot = form.cleaned_data, form.instance
    if shot.pk:
        shot.done = current(shot).done
    shot.outing, shot.kept_at = outing, shot.kept_at or clock.now()
    shot.starts_at = datetime.combine(outing.day, cleaned["time"], outing.place.tz)
    # How another paper was to be rated is not this shot's any more.
    if "paper" in form.changed_data:
        shot.school, shot.developer, shot.ei_from, shot.ei = "", None, Exposure.EiFrom.LEARNED, None
    shot.save()
    if cleaned.get("pair_camera"):
        _pair(shot, cleaned["pair_camera"], cleaned["pair_paper"])
    shot.pairs.update(starts_at=shot.starts_at, subject=shot.subject, azimuth_deg=shot.azimuth_deg)
    return shot


def _pair(shot, camera, paper):
    """A second shot of the same scene that stays beside the first."""
    Shot.objects.create(
        outing=shot.outing,
        beside=shot,
        subject=shot.subject,
        camera=camera,
        paper=paper,
        starts_at=shot.starts_at,
        set_up_s=shot.set_up_s,
        azimuth_deg=shot.azimuth_deg,
        shade=shot.shade,
        kept_at=clock.now(),
    )


@verb
def again(shot):
    """The same shot once more, after it: one tap on the spot."""
    shot = current(shot)
    fresh = Shot(
        outing=shot.outing,
        view=shot.view,
        set_up_s=shot.set_up_s / 2,
        kept_at=clock.now(),
        starts_at=shot.starts_at and shot.starts_at + timedelta(seconds=1),
    )
    for name in SHOT_AGAIN_FIELDS:
        setattr(fresh, name, getattr(shot, name))
    fresh.save()
    return fresh


# What a shot taken once more has from the one before.
SHOT_AGAIN_FIELDS: tuple[str, ...] = (
    "subject",
    "camera",
    "paper",
    "azimuth_deg",
    "shade",
    "sheets",
    "bracket_stops",
    "bracket_by",
    "bands",
)
SHOT_AGAIN_FIELDS += (
    "developer",
    "school",
    "ei_from",
    "ei",
    "filter_stops",
    "compensation_stops",
    "preflash_stops",
    "aperture",
    "hand_s",
    "reckon",
)


@setting
def move(shot, starts_at):
    """To another hour."""
    shot = current(shot)
    shot.starts_at = starts_at
    shot.save(update_fields=["starts_at"])


@verb
def drop(shot):
    """Off the day: what was exposed of it stays on its sheets, and its pair goes on alone."""
    current(shot).drop()


@verb
def undrop(shot):
    """It stays after all."""
    current(shot, Shot.everything.all()).undrop()


@verb
def drop_outing(outing):
    """The day and its shots; what was exposed stays."""
    outing, now = current(outing), clock.now()
    outing.shots.update(dropped_at=now)
    outing.drop(now)


@verb
def undrop_outing(day_out):
    """The day stays after all, with the shots that were dropped with it."""
    day_out = current(day_out, Outing.everything.all())
    Shot.everything.filter(outing=day_out, dropped_at=day_out.dropped_at).update(dropped_at=None)
    day_out.undrop()
