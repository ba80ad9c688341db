"""Flows of photos of scenes: brought in, read, dropped, and what came of them."""

from chimney.field.light.craft import SAME_READING_STOPS
from chimney.field.models import ScenePhoto
from chimney.field.photo.craft import STAND_FIELDS
from chimney.ledger.once import current, verb
from chimney.parts import clock

# Readings of a scene, and how far one may lie from its photo's and still be of the same spot
# (common practice) [stops].
METERED, MOST_APART_STOPS = ("seconds", "ev"), 3.0
BROUGHT_FIELDS: tuple[str, ...] = (
    "jpeg",
    "wide_px",
    "high_px",
    "set_ev100",
    "said",
    "equivalent_mm",
    "taken_at",
)
BROUGHT_FIELDS += ("facing_deg", "latitude_deg", "longitude_deg", "phone", "is_night")


@verb
def bring(brought, view=None):
    """Keep a files.Brought as a ScenePhoto; view: that it is of, or None."""
    fields = {name: getattr(brought, name) for name in BROUGHT_FIELDS} | {"view": view}
    if view and fields["facing_deg"] is None:
        fields["facing_deg"] = view.azimuth_deg
    return ScenePhoto.objects.create(came_at=clock.now(), **fields)


@verb
def keep(photo, cleaned, spots, reading):
    """Keep how a photo is read: a cleaned PhotoForm, its spots and the Reading of the middle one,
    None where it tells no light.
    """
    photo = current(photo)
    for name in ("camera", "paper", "upright", "equivalent_mm", "meter_ev100"):
        setattr(photo, name, cleaned[name])
    for name in STAND_FIELDS[:3]:
        setattr(photo, name, cleaned[name] or 0.0)
    photo.away_m = cleaned["away_m"]
    photo.turn_deg, photo.tilt_deg = cleaned["turn_deg"] or 0.0, cleaned["tilt_deg"] or 0.0
    photo.spots = [[round(spot.x, 4), round(spot.y, 4)] for spot in spots]
    photo.middle_ev100 = spots[1].ev100 if photo.set_ev100 is not None else None
    is_own = reading is not None and photo.meter_ev100 is None
    photo.corrected_ev100 = reading.ev100 if is_own else None
    if is_own:
        photo.sd_stops = reading.sd_stops
    photo.save()
    return photo


@verb
def drop(photo):
    """It is gone, with its picture."""
    current(photo).delete()


@verb
def expose(photo, exposure, reading):
    """A sheet was exposed for it; what a meter said beside it teaches what its phone is worth."""
    photo = current(photo)
    if ScenePhoto.objects.filter(exposure=exposure).exists():
        return
    photo.exposure = exposure
    own_ev = photo.corrected_ev100
    if own_ev is not None and reading.kind in METERED:
        away = abs(reading.ev100 - own_ev)
        if SAME_READING_STOPS < away < MOST_APART_STOPS:
            photo.meter_ev100 = reading.ev100
    photo.save(update_fields=["exposure", "meter_ev100"])
