"""The least a story needs: one camera, one paper, one developer, one holder, and a plan for
them.
"""

import uuid

import numpy as np

from chimney.field import craft as field
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.lessons.models import WholeLog
from chimney.lessons.proposing import queries as lessons
from chimney.logbook import flows as logbook
from pinhole import lessons as teaching


def kit(*, kind="negative", box_ei=6.0, size="4x5 in"):
    camera = Camera.objects.create(
        name="Plank",
        focal_mm=150,
        diameter_mm=0.5,
        size=size,
        cut_width_mm=125,
        cut_height_mm=99.6,
        visible_width_mm=119,
        visible_height_mm=93.6,
    )
    paper = Paper.objects.create(name="grade-2 RC", kind=kind, box_ei=box_ei)
    developer = Developer.objects.create(name="paper developer", parts=10, usual_s=60)
    holder = Holder.objects.create(name="1", size=size)
    return camera, paper, developer, holder


def typed(camera, paper, **more):
    """What the plan page posts for 2 s at f/128, ISO 6."""
    return {
        "camera": camera.pk,
        "paper": paper.pk,
        "for_paper": paper.pk,
        "kind": "seconds",
        "seconds": "2",
        "meter_f": "128",
        "meter_iso": "6",
        "ev_iso": "100",
        "sky": "sun",
        "height": "high",
        "ei_from": "learned",
        "school": "none",
    } | more


def planned(camera, paper, developer=None, seconds=2.0, **more):
    given = {
        "kind": "seconds",
        "seconds": seconds,
        "meter_f": 128.0,
        "meter_iso": 6.0,
        "camera": camera,
        "paper": paper,
        "ei_from": "learned",
        "school": "none",
    } | more
    return field.make_plan(given, lessons.offered(paper, developer))


def known(shares):
    """Write down the log's knowledge as if it had been learned: {(kind, key): (mean, sd)}, none of
    which pulls on another.
    """
    means, sds = zip(*shares.values(), strict=True)
    size = np.zeros(0)
    learned = teaching.Learned(
        {name: n for n, name in enumerate(shares)},
        np.array(means),
        np.diag(np.square(sds)),
        np.full(len(sds), 5),
        size,
        size,
    )
    WholeLog.objects.update_or_create(pk=1, defaults={"data": teaching.to_data(learned)})


def opened(camera, paper, holder, side="A", **more):
    loading = logbook.load(paper, holder, side)
    return logbook.open_hole(loading, camera, planned(camera, paper, **more).calculation)


def pocket_event(shot, holder, at, lasts_s, **more):
    """One exposure as a pocket sheet gives it back: 2 s at f/128, ISO 6, from a moment on."""
    opened_ms = int(at.timestamp() * 1000)
    return {
        "id": str(uuid.uuid4()),
        "shot": shot.pk,
        "side": f"{holder.pk}A",
        "code": "S-001",
        "kind": "seconds",
        "value": 2.0,
        "meter_f": 128,
        "meter_iso": 6,
        "opened": opened_ms,
        "closed": opened_ms + 1000 * lasts_s,
    } | more
