"""Giving a verdict and taking it back."""

from django.db import transaction

from chimney.kit import flows as kit
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.results.models import Verdict
from chimney.results.signals import judged


@transaction.atomic
def judge(sheet, *, stops_more, faults=(), remarks="", left_out=False):
    """Give the verdict, or change the one given before."""
    sheet.refresh_from_db(fields=["stage"])
    if sheet.stage != Sheet.Stage.READ:
        if sheet.stage == Sheet.Stage.EXPOSED:
            raise Refused(f"{sheet} has not been developed yet.", "Log its development", "darkroom:run")
        logbook.move(sheet, Sheet.Stage.READ)
    given = {"stops_more": stops_more, "faults": list(faults), "remarks": remarks, "left_out": left_out}
    verdict, _ = Verdict.objects.update_or_create(sheet=sheet, defaults={**given, "judged_at": clock.now()})
    _tell_the_camera(sheet, verdict)
    judged.send(Verdict, sheet=sheet)
    return verdict


def _tell_the_camera(sheet, verdict):
    """Faults that speak of the camera go into its log."""
    exposure = sheet.exposures.select_related("camera").first()
    for fault in verdict.found:
        if exposure and fault.failing:
            kit.observe(exposure.camera, fault.failing, f"{sheet}: {fault.words}")


@transaction.atomic
def take_back(verdict):
    logbook.move(verdict.sheet, Sheet.Stage.DEVELOPED)
    verdict.delete()
    judged.send(Verdict, sheet=verdict.sheet)
