"""Things that lie over the year of light: how the sun stands to the camera, what it throws into the
picture, and where words find room.
"""

from dataclasses import dataclass

import numpy as np

from chimney.parts import svg
from chimney.places import craft as places
from pinhole import sun
from pinhole.projection import Pointing

# A stretch of so many minutes and days has room for a name.
ROOM_MIN, ROOM_DAYS = 75, 25
NAME_LETTER_WIDE, WORD_HIGH = 6.4, 15.0


def sides(hours):
    """{side: how deep inside it each look lies [degrees], below 0 outside and while the sun is
    down}, (n, t).
    """
    aside_deg = places.off_deg(hours.azimuth_deg, hours.outlook.looks_deg + 180)
    aside_deg = (aside_deg + 180) % 360 - 180
    behind, against = np.abs(aside_deg) - sun.BEHIND_DEG, sun.AGAINST_DEG - np.abs(aside_deg)
    aside = np.minimum(-behind, -against)
    depths = {"behind": behind, "against": against}
    depths |= {
        "left": np.where(aside_deg < 0, aside, -90.0),
        "right": np.where(aside_deg > 0, aside, -90.0),
    }
    up = hours.altitude_deg > sun.RISE_DEG
    return {side: np.where(up, depth, np.nan) for side, depth in depths.items()}


def in_picture(hours, camera):
    """Depth at which the sun itself stands in the picture of a level camera [mm of its paper],
    below 0 outside and where it is down or hidden, (n, t).
    """
    aim, (half_across, half_high) = Pointing(hours.outlook.looks_deg), camera.geometry.half_mm
    landed = camera.geometry.land(aim, hours.azimuth_deg, hours.altitude_deg)
    margins = half_across - np.abs(landed.x_mm), half_high - np.abs(landed.y_mm)
    inside = np.nan_to_num(np.minimum(*margins), nan=-half_across)
    return np.minimum(inside, np.minimum(hours.altitude_deg - sun.RISE_DEG, -hours.behind_deg))


def own_shadow(hours, camera):
    """Depth at which the photographer's own shadow falls into the picture [degrees], below 0 where
    it does not, (n, t).
    """
    across = min(360.0, camera.geometry.field_deg()[0])
    where = hours.azimuth_deg, hours.altitude_deg, hours.outlook.looks_deg, across
    return np.minimum(sun.shadow_depth_deg(*where), -hours.behind_deg)


@dataclass(frozen=True)
class Name:
    """A label in the middle of (x, y)."""

    label: str
    x: float
    y: float

    @property
    def box(self):
        half = len(self.label) * NAME_LETTER_WIDE / 2 + 4
        return self.x - half, self.y - WORD_HIGH + 2, self.x + half, self.y + 5


def names(frame, regions, standing=()):
    """[Name] of each (key, label, values (n, t)) that has room for it, in the middle of its longest
    stretch; none over another. standing: Names that stand already.
    """
    placed = list(standing)
    for key, label, values in regions:
        for name in _rooms(frame, key, label, values):
            if not any(_over(name.box, beside.box) for beside in placed):
                placed.append(name)
                break
    return placed[len(standing) :]


def _rooms(frame, key, label, values):
    """Names in the middles of the longest stretches of some days, the longest first."""
    rooms = []
    for run in frame.stretches.runs(key, values):
        for n in range(ROOM_DAYS // 2, len(run.days), ROOM_DAYS // 2):
            for start, end, *_ in run.days[n]:
                if end - start > ROOM_MIN:
                    x, y = frame.x(run.first + n), frame.y.inside((start + end) / 2) + 5
                    rooms.append((end - start, Name(label, x, y)))
    rooms.sort(key=lambda row: -row[0])
    for _, name in rooms:
        if _is_inside(frame, name):
            yield name


def on_lines(label, lines, frame, standing):
    """A Name on one of some lines, where no other stands; None without room."""
    for line in sorted(lines, key=len, reverse=True):
        for share in (0.5, 0.35, 0.65, 0.22, 0.78, 0.1, 0.9):
            x, y = line[int(share * (len(line) - 1))]
            name = Name(label, x, y + 5)
            free = not any(_over(name.box, beside.box) for beside in standing)
            if free and _is_inside(frame, name):
                return name
    return None


def _is_inside(frame, name):
    left, top, right, foot = name.box
    across = left > frame.x.start and right < frame.x.end
    return across and top > frame.y.start and foot < frame.y.end


def _over(box, beside):
    return box[0] < beside[2] and beside[0] < box[2] and box[1] < beside[3] and beside[1] < box[3]


def written(names, css):
    """Their texts."""
    return [svg.text(name.x, name.y, name.label, css, "middle") for name in names]
