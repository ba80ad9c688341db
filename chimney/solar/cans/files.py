"""Checks and retrievals as a calendar file (RFC 5545)."""

from datetime import UTC, timedelta

from icalendar import Calendar, Event

from chimney.parts import clock


def calendar_of(cans):
    """The file's bytes: whole-day events on each place's own dates."""
    book = Calendar()
    book.add("prodid", "-//Chimney//solargraphs//EN")
    book.add("version", "2.0")
    for can in cans:
        day, number = can.today, 0
        opened = can.opened_at.astimezone(can.place.tz).date()
        while True:
            number += 1
            day = opened + timedelta(days=number * can.check_days)
            if day >= can.last_day or number > 400:
                break
            if day >= can.today:
                book.add_component(
                    _event(f"check-{can.pk}-{number}", f"Look after {can}", day, can)
                )
        book.add_component(
            _event(f"home-{can.pk}", f"Bring {can} home: shut the hole first", can.last_day, can)
        )
    return book.to_ical()


def _event(uid, summary, day, can):
    event = Event()
    event.add("uid", f"{uid}@chimney")
    event.add("dtstamp", clock.now().astimezone(UTC))
    event.add("dtstart", day)
    event.add("summary", summary)
    event.add("location", f"{can.spot or can.place}, {can.place}")
    event.add("geo", can.where)
    return event
