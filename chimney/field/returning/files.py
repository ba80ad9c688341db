"""A comeback of a sheet's light as a calendar file (RFC 5545)."""

from chimney.parts import calendars
from chimney.parts.scales import number
from pinhole import durations


def calendar_of(exposure, row):
    """The file's bytes."""
    place = exposure.place
    entry = calendars.event(
        f"return-{exposure.pk}-{row.stamp}",
        f"{exposure.title or exposure.sheet} has its light again",
        row.begins,
        row.ends,
        location=f"{place} ({place.words})",
        geo=(place.latitude_deg, place.longitude_deg),
        description=(
            f"As for {exposure.sheet}, {number(row.off_deg, 2)}° off: {exposure.camera} open for "
            f"{durations.say(row.seconds)} under such a sky."
        ),
    )
    return calendars.book("returns", [entry])
