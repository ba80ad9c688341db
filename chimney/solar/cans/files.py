"""Files of the cans: checks and retrievals as a calendar (RFC 5545), and a photo of where one
hangs, made small and kept as a JPEG without what the phone wrote into it.
"""

from datetime import UTC, timedelta
from io import BytesIO

from icalendar import Calendar, Event
from PIL import ImageOps

from chimney.parts import clock
from chimney.parts.uploads import Limits, decoding, open_picture

PHOTO, SIDE_PX = Limits("photo", ("JPEG", "PNG", "WEBP"), 40, 80), 1000


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


def photo_of(upload):
    """The bytes of a small JPEG. Raises forms.ValidationError in words for what is no photo."""
    image = open_picture(upload, PHOTO)
    out = BytesIO()
    with decoding(PHOTO):
        image = ImageOps.exif_transpose(image).convert("RGB")
        image.thumbnail((SIDE_PX, SIDE_PX))
        image.save(out, "JPEG", quality=80)
    return out.getvalue()
