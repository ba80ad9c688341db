"""Files of the cans: checks and retrievals as a calendar (RFC 5545)."""

from datetime import timedelta

from chimney.parts import calendars

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
    yield _home(can)


def _home(can):
    return _event(can, f"home-{can.pk}", f"Bring {can} home: shut the hole first", can.last_day)


def _event(can, uid, summary, day):
    where = f"{can.spot or can.place}, {can.place}"
    return calendars.event(uid, summary, day, location=where, geo=can.where)
