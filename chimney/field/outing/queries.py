"""Queries of days out, of their shots and of what was exposed of each."""

from django.db.models import Prefetch, Q

from chimney.field.models import Outing, Shot, Taken
from chimney.logbook.models import Exposure


def shots_of(outing):
    """The shots of an Outing with all that their times are reckoned by, in the order of the day."""
    exposures = Exposure.objects.select_related("opening_row").prefetch_related("rereads")
    shots = outing.shots.select_related("camera", "paper", "view").prefetch_related(
        Prefetch("taken__exposure", exposures)
    )
    return list(shots.order_by("starts_at", "pk"))


def outings():
    """Days out with their places, the last one first."""
    return Outing.objects.select_related("place")


def shot_to_do(outing, key):
    """The Shot of that number, if it is of the outing and not done; else None."""
    return Shot.objects.filter(outing=outing, done=False, pk=key).first()


def next_of(shot):
    """Shots that are still to do beside this one: the rest of itself, its pair, the next one of the
    day.
    """
    together = Q(pk=shot.pk) | Q(beside=shot.pk) | Q(pk=shot.beside_id)
    to_do = Shot.objects.filter(done=False).select_related("camera", "paper")
    together_now = list(to_do.filter(together))
    if shot.outing_id:
        later = to_do.filter(outing=shot.outing_id).exclude(
            pk__in=[shot_row.pk for shot_row in together_now]
        )
        together_now += later.order_by("starts_at", "pk")[:1]
    return together_now


def others_beside(shot, sheet):
    """The exposures of a shot and of its pair on other sheets than this one."""
    shots = [shot.pk, shot.beside_id, *shot.pairs.values_list("pk", flat=True)]
    exposures = Exposure.objects.filter(taken__shot__in=shots).exclude(sheet=sheet)
    return exposures.select_related("sheet__paper", "camera", "taken").order_by("pk")


def shots():
    """Shots with what was exposed of each."""
    return Shot.objects.prefetch_related("taken__exposure")


def taken(**of):
    """The Taken of an exposure or of a sheet, with its shot and day, or None."""
    relations = "shot__outing__place", "shot__beside", "exposure"
    return Taken.objects.select_related(*relations).filter(**of).first()
