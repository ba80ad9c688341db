"""The field in words: where the sun stands to the camera, what may move, and what a plan comes
to.
"""

from math import isinf

from django.urls import reverse

from chimney.logbook.models import Exposure
from chimney.parts import calculation as parts
from chimney.parts.scales import number, size_of_stops
from chimney.places import flows as places
from pinhole import durations, exposure, shake, sun

# Rating schools, by what the medium forgives (common practice).
ADVICE = {
    "negative": "Meter the middle of the scene. A dense negative still scans: when in doubt give "
    "+1/2.",
    "positive": "Contrasty paper: meter the middle, or hold the sunlit highlights with -2/3.",
    "reversal": "Meter the highlights you want to keep: what bleaches out is gone.",
    "film": "Meter the shadows you want to keep; film forgives more than paper.",
}
WINDS = {wind.code: wind for wind in shake.WINDS}
SIDES = {
    "behind": "The sun is behind {shoulder}: good for paper.",
    "side": "The sun comes from the {hand}: long shadows, sky paler on that side.",
    "against": "You look towards the sun: what stands before it comes out black, and the sky is "
    "lost.",
}
RISKS = (
    "",
    "The camera may shake: a weight on it, a bag against the wind.",
    "The camera will shake: low, weighted, or wait.",
)


def stance(place, moment, azimuth_deg, camera):
    """One or two sentences on the sun against a camera that looks that way at that moment."""
    return say_stance(
        sun_stance(place, moment, azimuth_deg, camera), places.sun_at(place, moment)[1]
    )


def sun_stance(place, moment, azimuth_deg, camera):
    sun_azimuth, altitude = places.sun_at(place, moment)
    across = min(360.0, camera.geometry.field_deg()[0])
    return sun.stance(sun_azimuth, altitude, azimuth_deg, across)


def say_stance(found, altitude_deg):
    if altitude_deg < -0.8:
        return "The sun is down."
    hand = "right" if found.off_deg > 0 else "left"
    shoulder = "you" if abs(found.off_deg) > 165 else f"your {hand} shoulder"
    said = SIDES[found.side].format(shoulder=shoulder, hand=hand)
    if found.in_field:
        length = number(found.shadow_mm / 1000, 2)
        said += f" Your own shadow, {length} m long, falls into the picture: step aside or crouch."
    return said


def risk(wind, seconds, *, hand=False):
    """What may move in an exposure of that length: the camera and the subject, two things."""
    found = shake.risk(WINDS[wind], seconds, hand=hand)
    said = [RISKS[found.camera]] if found.camera else []
    if found.flap_share > 0.1 and not hand:
        said.append("Hold a hand before the hole while the flap goes up.")
    if found.stirs:
        said.append(f"{found.stirs[0].upper()}{found.stirs[1:]} will blur.")
    if found.vanish_s >= 2:
        said.append(
            f"Who passes within {durations.say(durations.countable_s(found.vanish_s))} "
            "leaves no trace."
        )
    return " ".join(said)


def comes_to(seconds):
    """ "comes to 31 h": how long that is, in the unit that a person would use."""
    days = seconds / 86_400
    if days > 1000:
        return "takes years" if not isinf(seconds) else "has no end"
    return f"comes to {number(days)} days" if days > 3 else f"comes to {number(seconds / 3600)} h"


def say_counted(seconds):
    """The countable time in words, or that it is beyond counting."""
    return (
        durations.say(durations.countable_s(seconds))
        if seconds <= exposure.LONGEST_S
        else "over a day"
    )


def say_sheet(sheet):
    """ "30 s (-1 of effect)"."""
    return (
        f"{durations.say(sheet.seconds)} ({sheet.words})"
        if sheet.words
        else durations.say(sheet.seconds)
    )


def say_short(stops):
    """ "a stop short", or that nothing comes of it."""
    if isinf(stops) or stops > 6:
        return "with hardly anything on it"
    return f"{size_of_stops(stops)} short"


def plan_tiles(calculation, proposal, camera, paper):
    """The tiles of a plan's calculation, each leading to where its number is from."""
    of_box = proposal.ei_from == Exposure.EiFrom.BOX
    links = parts.Links(
        camera_words=camera.name,
        camera_url=reverse("kit:edit", args=["camera", camera.pk]),
        paper_url=reverse("kit:edit", args=["paper", paper.pk]),
        ei_words="box says" if of_box else "you rate it",
        ei_source=proposal.why,
    )
    return parts.tiles(calculation, links)


def light_tile(place, still_s, ratio, *, falls_short):
    """What the light expected until then makes of the time, as a tile."""
    moves = f"the light {'falls' if ratio > 1 else 'rises'}"
    source = f"By the sun at {place}: {durations.say(still_s)} if the light stood still."
    label = "until it is dark" if falls_short else moves
    return parts.Tile("light", label, f"× {number(ratio)}", source, "#id_reckon")


def schools(plan):
    """Every school beside the chosen one: (name, words, time, stops against the chosen, chosen)."""
    return [
        (
            school.name,
            parts.school_words(school),
            durations.countable_s(exact_s),
            stops,
            school == plan.calculation.school,
        )
        for school, exact_s, stops in plan.schools
    ]
