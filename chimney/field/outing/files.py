"""A day out as a calendar file (RFC 5545)."""

from chimney.parts import calendars


def calendar_of(day):
    """The file's bytes."""
    return calendars.book("outing", events_of(day))


def events_of(day):
    """One for each shot to come, from setting up to closing."""
    return [_event(day.outing.place, slot) for slot in day.to_come]


def _event(place, slot):
    hours = f"Open at {slot.opens:%H:%M}, close at {slot.ends:%H:%M} ({place.zone})."
    details = (hours, str(slot.shot.paper), slot.sun, slot.risk, slot.wrong)
    return calendars.event(
        f"shot-{slot.shot.pk}",
        f"{slot.shot}: {slot.shot.camera}, {slot.lengths}",
        slot.begins,
        slot.ends,
        alarms={slot.opens - slot.begins: f"Open the hole: {slot.shot}"},
        location=f"{place} ({place.words})",
        geo=(place.latitude_deg, place.longitude_deg),
        description="\n".join(filter(None, details)),
    )
