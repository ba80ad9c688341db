"""A calendar file (RFC 5545) from its events."""

from datetime import UTC, datetime, timedelta
from hashlib import sha256

from django.conf import settings
from icalendar import Alarm, Calendar, Event

from chimney.parts import clock

# On a whole day, in the morning of it; before a moment, in time to set up.
IN_THE_MORNING, BEFORE = timedelta(hours=8), timedelta(minutes=-15)


def event(uid, summary, begins, ends=None, *, alarms=(), **more):
    """An event; begins and ends are moments, or begins a whole day; alarms: {how long after it
    begins: words}, beside the one that every event has. more: location, geo, description.
    """
    entry = Event()
    entry.add("uid", f"{uid}@{_house()}.chimney")
    entry.add("dtstamp", clock.now().astimezone(UTC))
    for name, when in (("dtstart", begins), ("dtend", ends)):
        if when is not None:
            entry.add(name, _in_utc(when))
    entry.add("summary", summary)
    for name, value in more.items():
        entry.add(name, value)
    first = BEFORE if isinstance(begins, datetime) else IN_THE_MORNING
    for after, text in ({first: summary} | dict(alarms)).items():
        entry.add_component(_alarm(after, text))
    return entry


def _house():
    """Name of this installation in the world: its events are nobody else's."""
    return sha256(f"calendar {settings.SECRET_KEY}".encode()).hexdigest()[:16]


def _alarm(after, text):
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", text)
    alarm.add("trigger", after)
    return alarm


def _in_utc(when):
    is_moment = isinstance(when, datetime)
    return when.astimezone(UTC).replace(microsecond=0) if is_moment else when


def book(title, events):
    """The bytes of a file; title: what it is a calendar of."""
    calendar = Calendar()
    calendar.add("prodid", f"-//Chimney//{title}//EN")
    calendar.add("version", "2.0")
    for entry in events:
        calendar.add_component(entry)
    return calendar.to_ical()
