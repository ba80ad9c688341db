"""The test sheet that tells most of the shots that are planned."""

from chimney.field.ahead import queries
from chimney.field.craft import filter_stops_of
from chimney.field.plan import page as plans
from chimney.field.plan import queries as plan_queries
from chimney.lessons.craft import light_in, metered_at_box_s
from chimney.lessons.explained import craft, wording
from chimney.lessons.explained.page import test_fields
from chimney.lessons.explained.queries import Occasion
from chimney.lessons.proposing import queries as proposing
from chimney.lessons.whole.craft import filter_key
from chimney.parts.scales import counted


def test_ahead():
    """Context of that test sheet, None where no shot is planned of which sheets are judged."""
    ratings, shots = proposing.ratings(), queries.planned()
    planned = _explained(shots, ratings) if ratings.knowledge and shots else []
    trials = craft.tests_for(planned)
    if not trials or trials[0][2] <= 0:
        return None
    explained, trial, narrowing = trials[0]
    return {
        "where": wording.trial_place(trial, explained),
        "shots": counted(len(planned), "planned shot", "planned shots"),
        "narrowing": narrowing,
        "fields": test_fields(trial, explained),
    }


def _explained(shots, ratings):
    """[Explained] of the shots whose pair has judged sheets."""
    knowledge, lessons, held = ratings.knowledge, ratings.lessons, plan_queries.at_hand()
    every = []
    for shot in shots:
        pair = shot.paper_id, shot.developer_id or ratings.usual.get(shot.paper_id)
        if pair in lessons and pair[1]:
            seconds, light = _metered(shot, knowledge.usual(*pair), held)
            # A filter by name takes what it takes of this paper's light.
            stops = filter_stops_of(shot)
            asked = {"subject": shot.subject, "glass": filter_key(stops)}
            occasion = Occasion(lessons[pair], shot.camera, light, seconds, **asked)
            every.append(craft.Explained(occasion, knowledge))
    return every


def _metered(shot, usual_s, held):
    """(seconds at the box EI, kind of light) of a shot: the usual ones while nothing is metered."""
    plan = plans.read({}, shot=shot, held=held).plan if shot.reading else None
    if plan is None:
        return float(usual_s), ""
    return metered_at_box_s(plan.calculation, shot.paper), light_in(plan.calculation)
