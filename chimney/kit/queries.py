"""Queries of the kit."""

import re

from chimney.kit.catalogue import papers
from chimney.kit.models import Camera, Developer, Observation, Paper, Person
from pinhole import media

# What a list needs of a camera: how it is called, whose setting it is, how many sheets lie in it.
NAMED_BY = {"id", "name", "body", "places", "size", "back", "retired_at"}


def but_its_measures(path):
    """Names for `defer`: a camera at the end of a path of relations without its measures, which
    lists do not show.
    """
    return [
        f"{path}__{field.name}"
        for field in Camera._meta.concrete_fields
        if field.name not in NAMED_BY
    ]


def free_name(model, name):
    """The next name of that kind that nothing has: "Can 3" leads to "Can 4", "Plank" to "Plank 2";
    the name itself if it is free.
    """
    names = {other.lower() for other in model.objects.values_list("name", flat=True)}
    stem, number = re.fullmatch(r"(.*?)(\d{0,6})", name).groups()
    count = int(number or 1)
    while name.lower() in names:
        count += 1
        name = f"{stem}{count}" if number else f"{stem.rstrip()} {count}"
    return name


def starter_papers():
    """Rows of the starting set that are not on the shelf."""
    owned = {name.lower() for name in Paper.objects.values_list("name", flat=True)}
    return [row for row in papers.STARTER if row[0].lower() not in owned]


STARTER_FIELDS = ("name", "kind", "base", "box_ei", "sees", "contrast", "school", "table", "note")


def starter_paper(row):
    """A Paper from a row of the starting set, not kept yet."""
    fields = dict(zip(STARTER_FIELDS, row, strict=True))
    fields["table"] = [list(point) for point in fields["table"]]
    usual = media.medium(fields["kind"]).range_stops
    return Paper(**fields, range_stops=papers.STARTER_RANGES.get(fields["name"], usual))


def papers_called(names):
    """{name: the paper of that name on the shelf, else the one of the starting set, not kept
    yet}.
    """
    owned = {paper.name.lower(): paper for paper in Paper.objects.all()}
    rows = {row[0]: row for row in papers.STARTER}
    return {name: owned.get(name.lower()) or starter_paper(rows[name]) for name in names}


def starter_developers():
    """Developers of the starting set that are not on the shelf, as their columns."""
    owned = {name.lower() for name in Developer.objects.values_list("name", flat=True)}
    return [row for row in papers.STARTER_DEVELOPERS if row["name"].lower() not in owned]


def developed_papers():
    """Papers in use that are developed."""
    return Paper.objects.developed()


def any_camera():
    """True if there is a camera, be it retired."""
    return Camera.objects.exists()


def camera_like(key):
    """The Camera of that number, which a new one is to be like, or None."""
    return Camera.objects.filter(pk=key).first()


def observations():
    """Observations with their cameras."""
    return Observation.objects.select_related("camera")


def people():
    """People in use, by period and name."""
    return list(Person.objects.in_use().order_by("period", "name"))


def things(model, *, retired=False):
    """Things of a kind in use, or those that were retired."""
    return model.objects.exclude(retired_at=None) if retired else model.objects.in_use()
