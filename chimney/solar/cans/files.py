"""Files of the cans: checks and retrievals as a calendar (RFC 5545)."""

from datetime import timedelta

from chimney.parts import calendars
from chimney.solar.craft import openings
from pinhole.solargraph import DAY_MIN

# Looked after at most so often.
MOST_CHECKS = 400


def calendar_of(out, planned):
    """The file's bytes: of cans that are out, and of planned ones."""
    events = [event for can in out for event in events_of(can)]
    return calendars.book("solargraphs", events + [e for can in planned for e in planned_of(can)])


def planned_of(can):
    """The whole days on which a can that is only planned is hung and comes home."""
    if can.last_day >= can.today:
        yield _event(can, f"hang-{can.pk}", f"Hang {can} and open it", can.first_day)
        yield from _openings(can)
        yield _home(can)


def events_of(can):
    """Whole days to look after it and to bring it home, on its place's own dates."""
    opened = can.opened_at.astimezone(can.place.tz).date()
    for number in range(1, MOST_CHECKS + 1):
        day = opened + timedelta(days=number * can.check_days)
        if day >= can.last_day:
            break
        if day >= can.today:
            yield _event(can, f"check-{can.pk}-{number}", f"Look after {can}", day)
    yield from _openings(can)
    yield _home(can)


def _openings(can):
    """The moment to open a can that is open at a time of the day only, and to shut it, on each of
    its days: on the standard clock, which keeps its distance from UTC.
    """
    if can.open_from is None or can.last_day < can.today:
        return
    first = max(can.first_day, can.today)
    _, begins = openings(can.place, [first], can.open_from)[0]
    lasts = timedelta(minutes=((can.open_to or can.open_from) - can.open_from) % DAY_MIN)
    ends = begins + max(lasts, timedelta(minutes=1))
    rule = {"freq": "daily", "count": (can.last_day - first).days + 1}
    yield _event(can, f"open-{can.pk}", f"Open {can}", begins, ends, rrule=rule)


def _home(can):
    return _event(can, f"home-{can.pk}", f"Bring {can} home: shut the hole first", can.last_day)


def _event(can, uid, summary, begins, ends=None, **more):
    where = f"{can.spot or can.place}, {can.place}"
    return calendars.event(uid, summary, begins, ends, location=where, geo=can.where, **more)
