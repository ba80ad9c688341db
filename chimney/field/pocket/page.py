"""Tables of a pocket sheet that hold on any day."""

from chimney.field.hours.craft.heights import ByHeight
from chimney.field.hours.wording import minutes_of
from chimney.field.outing.queries import shots_of
from chimney.lessons.proposing import queries as lessons


def by_height(outing):
    """[(camera, paper, [(height of the sun, [time by sky])])] of the shots to do."""
    ratings = lessons.ratings()
    pairs = {(shot.camera, shot.paper): None for shot in shots_of(outing) if not shot.done}
    for camera, paper in pairs:
        rows = [
            (height, [minutes_of(seconds) for seconds in times])
            for height, _, times in ByHeight(camera, paper, ratings).rows
        ]
        yield camera, paper, rows
