"""What pages read of the kit."""

from chimney.kit.models import Camera

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
