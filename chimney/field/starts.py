"""What a plan begins with: a hand meter's usual settings, what was used last, what a kept shot was typed with."""

from chimney.logbook.models import Exposure, Opening
from chimney.parts.readings import FIELDS_OF
from chimney.parts.scales import number
from pinhole import optics

# What a hand meter without a history is set to: its last f-number, and a speed near that of paper.
FIRST = {
    "kind": "seconds",
    "meter_f": f"{optics.METER_F_NUMBER}",
    "meter_iso": "6",
    "ev_iso": "100",
    "sky": "sun",
    "height": "high",
    "ei_from": "learned",
    "subject": "",
    "seconds": "",
    "ev": "",
    "lux": "",
    "ei": "",
    "filter_stops": "",
    "compensation_stops": "",
    "note": "",
    "darkest": "",
    "brightest": "",
    "hold": "middle",
    "felt_s": "",
    "azimuth_deg": "",
    "sheets": "single",
    "bracket_stops": "1",
    "bracket_by": "effect",
    "bands": "5",
    "hand_s": "0",
    "reckon": "on",
}
# What a meter says, which a pair shares.
READING = ("kind", *(name for names in FIELDS_OF.values() for name in names), "darkest", "brightest")


def last_reading():
    """The camera, the paper and the meter's settings used last; a camera that is open now is busy."""
    made = Exposure.objects.select_related("sheet")
    last = made.exclude(camera__in=Opening.objects.filter(closed_at=None).values("camera")).first() or made.first()
    if last is None:
        return {}
    found = {"camera": str(last.camera_id), "paper": str(last.sheet.paper_id), "hand_s": str(last.hand_s)}
    reading = last.done.reading
    if reading.kind == "seconds":
        found |= {"meter_f": number(reading.f_number), "meter_iso": number(reading.iso)}
    return found


def of_shot(shot):
    """What a kept plan was typed with; a shot of an outing that was never typed knows its camera, paper and sheets."""
    if shot is None:
        return {}
    known = {"camera": str(shot.camera_id), "paper": str(shot.paper_id), "subject": shot.subject}
    known |= {"sheets": shot.sheets, "bracket_stops": f"{shot.bracket_stops:g}", "bracket_by": shot.bracket_by}
    if shot.azimuth_deg is not None:
        known["azimuth_deg"] = f"{shot.azimuth_deg:g}"
    return known | _reading_beside(shot) | shot.typed


def _reading_beside(shot):
    """The reading of the shot that it stands beside, or that stands beside it: one scene is metered once."""
    others = [shot.beside, *shot.pairs.all()] if shot.outing_id else []
    metered = next((other.typed for other in others if other and other.typed), {})
    return {name: metered[name] for name in READING if name in metered}
