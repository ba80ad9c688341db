"""Several holes opened by one tap."""

from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.models import Loading


@verb
def open_together(planned, subject=""):
    """Open every camera of the CameraPlans; all or none. Returns the exposures."""
    return [
        logbook.open_hole(
            current(planned_one.side.loading, Loading.objects.select_related("sheet__paper")),
            planned_one.camera,
            planned_one.plan.sheets[0].calculation,
            subject=subject,
            ei_from=planned_one.plan.proposal.ei_from,
            planned_s=planned_one.seconds,
        )
        for planned_one in planned
    ]
