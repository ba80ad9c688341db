"""Calls of printing to the craft: strips and their times, at another distance too."""

from chimney.darkroom.printing.forms import STRIP
from chimney.parts import scales, sizes
from chimney.parts.scales import number
from pinhole import contact, durations
from pinhole.developing import Step

# A corner that lacks more than this is worth a word [stops].
WORTH_STOPS = 0.15


def times_of(cleaned):
    """[seconds of each band in all] of a cleaned PrintForm; one where it is no strip."""
    if cleaned["kind"] != STRIP:
        return [cleaned["seconds"]]
    return contact.bands_s(cleaned["first_s"], cleaned["step_stops"], cleaned["bands"])


def choices(strip):
    """[(place, words)] of the bands of a strip and of what lies between two."""
    options = []
    for place in range(2 * len(strip.times_s) - 1):
        seconds = contact.from_strip_s(strip.times_s, place / 2)
        between = "" if place % 2 == 0 else "between: "
        options.append((f"{place / 2:g}", f"{between}{durations.say(seconds)}"))
    return options


def best_s(strip, place):
    """The time that a read strip says [s]."""
    return contact.from_strip_s(strip.times_s, place)


def at_s(strip, distance_mm):
    """Time by a read strip or a print for another distance [s]."""
    seconds = strip.best_s or strip.times_s[0]
    return contact.time_at_s(seconds, strip.distance_mm, distance_mm, strip.lamp_mm)


# Times that follow the distance of the lamp.
FOLLOW = ("seconds", "first_s")


def followed(typed):
    """Typed values, with each time that was left as it stood moved to the distance that was typed:
    shown_mm is the one that the times stood for, shown_seconds and shown_first_s how they stood.
    """
    shown_mm, distance_mm = (_read(typed.get(name)) for name in ("shown_mm", "distance_mm"))
    lamp_mm = _read(typed.get("lamp_mm")) or 0.0
    if not (shown_mm and distance_mm) or shown_mm == distance_mm:
        return typed
    moved = {}
    for name in FOLLOW:
        seconds = _read_s(typed.get(name))
        if seconds and typed[name] == typed.get(f"shown_{name}"):
            moved[name] = f"{contact.time_at_s(seconds, shown_mm, distance_mm, lamp_mm):.3g}"
    return typed | moved


def _read(text):
    """A number above 0, None for anything else."""
    try:
        value = float((text or "").replace(",", "."))
    except ValueError:
        return None
    return value if 0 < value < 1e6 else None


def _read_s(text):
    try:
        return durations.parse_s(text or "")
    except ValueError:
        return None


def steps(times_s):
    """The clock of an exposure: from one covering of a band to the next."""
    if len(times_s) == 1:
        return [Step("In the light", "light", times_s[0], times_s[0], light="white")]
    pairs = zip((0.0, *times_s), times_s, strict=False)
    return [
        Step(_covered(n), "light", time - before, time - before, light="white")
        for n, (before, time) in enumerate(pairs)
    ]


def _covered(n):
    return f"Cover band {n}" if n else "All bands in the light"


def notes(distance_mm, lamp_mm, size, before=None):
    """Sentences about the lamp: how even it is, and where the square of the distance fails."""
    width, height = sizes.parse(size)
    sentences = []
    corner = contact.corner_stops(distance_mm, width, height)
    if corner > WORTH_STOPS:
        sentences.append(
            f"The corners get {scales.size_of_stops(corner)} less than the middle there."
        )
    if lamp_mm and distance_mm < contact.NEAR_WIDTHS * lamp_mm:
        sentences.append(
            f"The lamp is broad for {number(distance_mm)} mm: twice as far is less than four times "
            "as long. It is reckoned as an even disc."
        )
    if before and before.distance_mm != distance_mm:
        difference_stops = contact.point_off_stops(before.distance_mm, distance_mm, lamp_mm)
        remark = (
            ""
            if abs(difference_stops) < 0.02
            else f"; the plain square would be {difference_stops:+.2f} stop off"
        )
        sentences.append(
            f"From {number(before.distance_mm)} mm to {number(distance_mm)} mm{remark}."
        )
    return sentences
