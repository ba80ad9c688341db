"""A calendar file (RFC 5545) from its events."""

from datetime import UTC, datetime

from icalendar import Calendar, Event

from chimney.parts import clock


def event(uid, summary, begins, ends=None, **more):
    """An event; begins and ends are moments, or begins a whole day. more: location, geo,
    description.
    """
    entry = Event()
    entry.add("uid", f"{uid}@chimney")
    entry.add("dtstamp", clock.now().astimezone(UTC))
    for name, when in (("dtstart", begins), ("dtend", ends)):
        if when is not None:
            entry.add(name, _in_utc(when))
    entry.add("summary", summary)
    for name, value in more.items():
        entry.add(name, value)
    return entry


def _in_utc(when):
    is_moment = isinstance(when, datetime)
    return when.astimezone(UTC).replace(microsecond=0) if is_moment else when


def book(of, events):
    """The bytes of a file; of: what it is a calendar of."""
    calendar = Calendar()
    calendar.add("prodid", f"-//Chimney//{of}//EN")
    calendar.add("version", "2.0")
    for entry in events:
        calendar.add_component(entry)
    return calendar.to_ical()
