"""A judgement in training, kept."""

from chimney.ledger.once import verb
from chimney.parts import clock
from chimney.results.models import Trial
from chimney.results.signals import trained

# An eye changes: the newest count.
KEPT_TRIALS = 200


@verb
def judge(puzzle, stops, fault):
    """Keep what was said of a Puzzle; the Trial."""
    trial = Trial.objects.create(
        seed=puzzle.seed,
        medium=puzzle.medium,
        said_stops=stops,
        true_stops=puzzle.true_stops,
        said_fault=fault,
        true_fault=puzzle.fault,
        at=clock.now(),
    )
    old = Trial.objects.values_list("pk", flat=True)[KEPT_TRIALS:]
    Trial.objects.filter(pk__in=list(old)).delete()
    trained.send(Trial)
    return trial


@verb
def forget():
    """Begin anew."""
    Trial.objects.all().delete()
    trained.send(Trial)
