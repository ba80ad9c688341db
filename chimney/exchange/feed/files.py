"""All that is to come as one calendar (RFC 5545), for a program that reads along."""

from datetime import timedelta

from chimney.field.models import Outing
from chimney.field.outing.files import events_of as events_of_day
from chimney.field.outing.page import schedule
from chimney.parts import calendars, clock
from chimney.solar.cans.files import events_of as events_of_can
from chimney.solar.cans.files import planned_of
from chimney.solar.cans.queries import out, planned

# The next days out; a day is reckoned shot by shot.
MOST_DAYS = 14


def calendar():
    """The file's bytes: cans to look after and shots of the days out that come."""
    today = clock.local(clock.now()).date()
    days = Outing.objects.filter(day__gte=today - timedelta(days=1)).order_by("day")[:MOST_DAYS]
    cans = [event for can in out() for event in events_of_can(can)]
    cans += [event for can in planned() for event in planned_of(can)]
    shots = [event for day in days for event in events_of_day(schedule(day))]
    return calendars.book("all", cans + shots)
