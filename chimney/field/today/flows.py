"""Flow of today's light: a forecast is kept with its place."""

from chimney.ledger.once import current, verb


@verb
def keep_clouds(place, clouds):
    """Keep a forecast of cloud for a place, instead of the one before; none to forget it."""
    place = current(place)
    place.clouds = clouds
    place.save(update_fields=["clouds"])
