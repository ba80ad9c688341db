"""Words for days, and for how a can stands."""

from chimney.parts.scales import number
from chimney.solar.craft import wedge_mm


def say_day(day):
    """ "2 May" of a date."""
    return f"{day.day} {day:%B}"


def say_spans(spans):
    """ "2 May to 4 June, 8 July and later" of [(first, last)] days."""
    days = ", ".join(
        f"{say_day(first)} to {say_day(last)}" if first != last else say_day(first)
        for first, last in spans[:3]
    )
    return days + (" and later" if len(spans) > 3 else "")


def wedge_under(prediction, tilt_deg):
    """ " (a wedge of 17 mm under a 66 mm can)" for a camera that leans so, "" for none."""
    wedge = wedge_mm(prediction, tilt_deg)
    if not wedge:
        return ""
    camera = prediction.camera
    deep, noun = number(camera.length_mm), camera.back_kind.noun
    return f" (a wedge of {wedge:.0f} mm under a {deep} mm {noun})"


def cannot_lie(error):
    """Words for a back in which its paper cannot lie, and why."""
    return f"Its paper cannot lie in it: {error}."
