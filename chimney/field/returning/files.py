"""Days on which a light comes back as a calendar file (RFC 5545)."""

from chimney.parts import calendars
from chimney.parts.scales import number
from pinhole import durations


def calendar_of(rows):
    """The file's bytes; rows: [(Then, Comeback)]."""
    return calendars.book("returns", [_entry(then, row) for then, row in rows])


def _entry(then, row):
    place, camera = then.place, then.fields["camera"]
    key = f"{then.code}-{camera}-{row.stamp}".replace(" ", "-")
    return calendars.event(
        f"return-{key}",
        f"{then.title} has its light again",
        row.begins,
        row.ends,
        location=f"{place} ({place.words})",
        geo=(place.latitude_deg, place.longitude_deg),
        description=(
            f"As for {then.code}, {number(row.off_deg, 2)}° off: open for "
            f"{durations.say(row.seconds)} under such a sky."
        ),
    )
