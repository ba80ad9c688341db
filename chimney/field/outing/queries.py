"""The shots of a day out."""


def shots_of(outing):
    """The shots of an Outing with all that their times are reckoned by, in the order of the day."""
    shots = outing.shots.select_related("camera", "paper", "view").prefetch_related(
        "taken__exposure__openings", "taken__exposure__rereads"
    )
    return list(shots.order_by("starts_at", "pk"))
