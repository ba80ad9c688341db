"""A day out as a calendar file (RFC 5545)."""

from datetime import UTC

from icalendar import Calendar, Event

from chimney.parts import clock


def calendar_of(day):
    """The file's bytes: one event for each shot, from setting up to closing."""
    book = Calendar()
    book.add("prodid", "-//Chimney//outing//EN")
    book.add("version", "2.0")
    for slot in day.slots:
        event = Event()
        event.add("uid", f"shot-{slot.shot.pk}@chimney")
        event.add("dtstamp", clock.now().astimezone(UTC))
        event.add("dtstart", slot.begins.astimezone(UTC).replace(microsecond=0))
        event.add("dtend", slot.ends.astimezone(UTC).replace(microsecond=0))
        event.add("summary", f"{slot.shot}: {slot.shot.camera}, {slot.lengths}")
        event.add("location", f"{day.outing.place} ({day.outing.place.words})")
        event.add("geo", (day.outing.place.latitude_deg, day.outing.place.longitude_deg))
        event.add(
            "description",
            "\n".join(filter(None, [str(slot.shot.paper), slot.sun, slot.risk, slot.wrong])),
        )
        book.add_component(event)
    return book.to_ical()
