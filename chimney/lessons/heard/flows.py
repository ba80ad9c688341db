"""Learning anew when something changes that sheets were judged by."""

from chimney.kit.models import Box
from chimney.ledger.once import setting
from chimney.lessons import flows
from chimney.lessons.models import Evidence
from chimney.logbook.models import Sheet


def run_corrected(sender, run, **kwargs):
    """Every sheet of a run that was corrected says what it says now."""
    for development in run.developments.select_related("sheet__paper"):
        flows.learn_from(development.sheet)


def eye_trained(sender, **kwargs):
    """Learn anew, as the doubt and the lean of verdicts stand in every lesson."""
    flows.ask_to_learn()


@setting
def kit_saved(sender, instance, **kwargs):
    """A paper's starting EI and school, and a camera as it was measured, are where every lesson of
    theirs starts; a new box is a share of its own.
    """
    is_of = {"paper": instance.paper_id} if sender is Box else {sender.__name__.lower(): instance}
    taught = Evidence.objects.filter(**is_of).select_related("sheet__paper")
    if not taught.exists():
        return
    if sender is not Box:
        flows.write_anew(taught)
    flows.ask_to_learn()


@setting
def sheet_cut(sender, instance, created, **kwargs):
    """The first sheet of a box: from here on the paper is that box's."""
    if not created or instance.box_id is None:
        return
    earlier = Sheet.objects.filter(box=instance.box_id).exclude(pk=instance.pk)
    if not earlier.exists() and Evidence.objects.filter(paper=instance.paper_id).exists():
        flows.ask_to_learn()
