"""Giving a verdict and taking it back."""

from chimney.kit import flows as kit
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.results.models import Verdict
from chimney.results.signals import judged


@verb
def judge(sheet, *, stops_more, faults=(), remarks="", left_out=False, band=None, source="hand"):
    """Give the verdict, or change the one given before; band: which place of a test strip was
    right.
    """
    sheet = current(sheet, Sheet.objects.select_related("paper"))
    if sheet.stage != Sheet.Stage.READ:
        if sheet.stage == Sheet.Stage.EXPOSED:
            raise Refused(
                f"{sheet} has not been developed yet.", "Log its development", "darkroom:run"
            )
        logbook.move(sheet, Sheet.Stage.READ)
    columns = {
        "stops_more": stops_more,
        "faults": list(faults),
        "remarks": remarks,
        "left_out": left_out,
        "band": band,
        "source": source,
    }
    verdict, _ = Verdict.objects.update_or_create(
        sheet=sheet, defaults={**columns, "judged_at": clock.now()}
    )
    _tell_the_camera(sheet, verdict)
    judged.send(Verdict, sheet=sheet)
    return verdict


def _tell_the_camera(sheet, verdict):
    """Faults that speak of the camera go into its log."""
    for camera, fault, sentence in _of_the_camera(sheet, verdict):
        kit.observe(camera, fault.failing, sentence)


def _of_the_camera(sheet, verdict):
    """[(camera, fault, words)] of what a verdict says of the camera."""
    exposure = sheet.exposures.select_related("camera").first()
    faults = [fault for fault in verdict.found if exposure and fault.failing]
    return [(exposure.camera, fault, f"{sheet}: {fault.words}") for fault in faults]


@verb
def take_back(verdict):
    """The sheet waits to be read again, if it is still there to be read."""
    verdict = current(verdict, Verdict.objects.select_related("sheet__paper"))
    logbook.move(verdict.sheet, Sheet.Stage.DEVELOPED)
    for camera, fault, sentence in _of_the_camera(verdict.sheet, verdict):
        kit.unobserve(camera, fault.failing, sentence)
    verdict.delete()
    judged.send(Verdict, sheet=verdict.sheet)
