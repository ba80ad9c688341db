"""Verdict of a sheet from its strip."""

from chimney.field.models import Taken
from chimney.field.strip import craft
from chimney.ledger.once import current, verb
from chimney.results import flows as results


@verb
def read_strip(record, place):
    """The Verdict that a place on a strip is right."""
    record = current(record, Taken.objects.select_related("exposure__sheet__paper"))
    bands = craft.bands_made(record)
    place = min(max(place, 0.0), len(bands) - 1.0)
    stops = craft.stops_more(record, bands, place)
    return results.judge(record.exposure.sheet, stops_more=stops, band=place)
