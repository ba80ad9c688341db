"""An exposure as the form of a plan for its scene once more, and the papers for that."""

from django.db.models import F, OuterRef, Subquery

from chimney.field.models import Shot
from chimney.kit.models import Paper
from chimney.logbook.models import Exposure, Opening
from chimney.parts.scales import number, typed_stops

# Other papers that a scene is offered again on.
MOST_OTHERS = 2


def again(exposure, paper=None):
    """The form of a plan for the scene of an exposure once more, on its own paper or another."""
    reading, spec = exposure.calculation.reading, exposure.calculation.specification
    fields = {"camera": str(exposure.camera_id), "subject": exposure.subject}
    fields |= {"paper": str(paper.pk if paper else exposure.sheet.paper_id)}
    if reading.kind == "seconds":
        fields |= {"kind": "seconds", "seconds": f"{reading.seconds:.6g}"}
        fields |= {"meter_f": number(reading.f_number), "meter_iso": number(reading.iso)}
    else:
        fields |= {"kind": "ev", "ev": f"{reading.ev100:.2f}", "ev_iso": "100"}
    fields |= {"filter_stops": typed_stops(spec.filter_stops).removeprefix("+")}
    fields |= {"compensation_stops": typed_stops(spec.compensation_stops)}
    if exposure.azimuth_deg is not None:
        fields["azimuth_deg"] = f"{exposure.azimuth_deg:g}"
    fields |= _arranged(exposure)
    return {name: text for name, text in fields.items() if text}


def _arranged(exposure):
    """The fields of a bracket or a strip that it was a sheet of: that is one shot, whole again."""
    record = getattr(exposure, "taken", None)
    if record is None or record.shot.sheets == Shot.Sheets.SINGLE:
        return {}
    shot = record.shot
    fields = {"sheets": shot.sheets, "bracket_by": shot.bracket_by, "bands": str(shot.bands)}
    return fields | {"bracket_stops": typed_stops(shot.bracket_stops).removeprefix("+")}


def other_papers(exposure):
    """Papers in use that a scene may be taken on besides, those exposed last first."""
    last = Exposure.objects.filter(sheet__paper=OuterRef("pk")).order_by("-pk").values("pk")[:1]
    others = Paper.objects.developed().exclude(pk=exposure.sheet.paper_id)
    return others.annotate(last=Subquery(last)).order_by(F("last").desc(nulls_last=True))[
        :MOST_OTHERS
    ]


def exposures():
    """Exposures with their sheets, papers and cameras, the newest first."""
    related = "sheet__paper", "camera", "taken__shot"
    return Exposure.objects.select_related(*related).order_by("-pk")


def last():
    """The newest exposure whose hole is shut, or None."""
    shut = Opening.objects.filter(closed_at__isnull=False).values("exposure")
    return exposures().filter(pk__in=shut).first()
