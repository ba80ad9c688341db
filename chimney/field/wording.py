"""The field in words: where the sun stands to the camera, and what may move."""

from math import isinf

from chimney.parts.scales import number
from chimney.places import craft as places
from pinhole import durations, exposure, shake, sun

SIDES = {
    "behind": "The sun is behind {shoulder}: good for paper.",
    "side": "The sun comes from the {hand}: {shadows}, sky paler on that side.",
    "against": "You look towards the sun: what stands before it comes out black, and the sky is "
    "lost.",
}
CLOUDED = {
    "behind": "The sun stands behind {shoulder}, without shadows.",
    "side": "The sun stands to the {hand}, without shadows.",
    "against": "You look to where the sun stands, without shadows: the sky there is the brightest.",
}
# With the sun under this height shadows are longer than twice what throws them.
LONG_SHADOWS_DEG = 25
RISKS = (
    "",
    "The camera may shake: a weight on it, a bag against the wind.",
    "The camera will shake: low, weighted, or wait.",
)


def stance(place, moment, azimuth_deg, camera, *, shadows):
    """One or two sentences on the sun against a camera that looks that way at that moment; shadows:
    whether it throws any.
    """
    stance_data, altitude = (
        sun_stance(place, moment, azimuth_deg, camera),
        places.sun_at(place, moment)[1],
    )
    return say_stance(stance_data, altitude, shadows=shadows)


def sun_stance(place, moment, azimuth_deg, camera):
    sun_azimuth, altitude = places.sun_at(place, moment)
    across = min(360.0, camera.geometry.field_deg()[0])
    return sun.stance(sun_azimuth, altitude, azimuth_deg, across)


def say_stance(sun_stance, altitude_deg, *, shadows):
    if altitude_deg < sun.RISE_DEG:
        return "The sun is down."
    hand = "right" if sun_stance.off_deg > 0 else "left"
    shoulder = "you" if abs(sun_stance.off_deg) > 165 else f"your {hand} shoulder"
    long = "long shadows" if altitude_deg < LONG_SHADOWS_DEG else "shadows to one side"
    phrases = SIDES if shadows else CLOUDED
    sentence = phrases[sun_stance.side].format(shoulder=shoulder, hand=hand, shadows=long)
    if sun_stance.in_field and shadows:
        length = number(sun_stance.shadow_mm / 1000, 2)
        sentence += (
            f" Your own shadow, {length} m long, falls into the picture: step aside or crouch."
        )
    return sentence


def risk(wind, seconds, *, hand=False, lens=False):
    """Words for what may move in an exposure of that length: the camera and the subject, two
    things; lens: whether a shutter opens and no flap.
    """
    shaking = shake.risk(shake.WIND_BY_CODE[wind], seconds, hand=hand)
    # In still air only the flap shakes it, and against that a hand helps, not waiting.
    sentences = [RISKS[shaking.camera]] if shaking.camera and shake.WIND_BY_CODE[wind].sways else []
    if shaking.flap_share > 0.1 and not hand and not lens:
        sentences.append(
            "So short, the flap itself shakes the camera: hold a hand before the hole while it "
            "goes up."
        )
    if shaking.stirs:
        sentences.append(f"{shaking.stirs[0].upper()}{shaking.stirs[1:]} will blur.")
    if shaking.vanish_s >= 2:
        sentences.append(
            f"Who passes within {durations.say(durations.countable_s(shaking.vanish_s))} "
            "leaves no trace."
        )
    return " ".join(sentences)


def vanish_s(seconds):
    """Seconds within which somebody passes a hole that is open so long and leaves no trace."""
    return shake.risk(shake.WINDS[0], seconds).vanish_s


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
