"""Sentences of the dark room: ranges, next steps, doubts, light, and what an eye sees in red."""

from chimney.darkroom.catalogue.schools import DOUBTS
from chimney.darkroom.catalogue.steps import LID_TRIED
from pinhole import developing, durations

BY_EYE_HINTS = (
    "Under red light all looks darker than it is: pull it when it looks a little too dark, or hold "
    "it for a moment close to the lamp.",
    "It has stopped building when half a minute changes nothing: the deepest tone spreads no more.",
    "Wet it looks lighter and more brilliant than dry: it dries down by about a tenth.",
)


def times(step, more_s=0.0):
    """Time of a step in words: "1 min to 1:30", "20 s", or nothing where it is ticked."""
    if step.is_ticked:
        return ""
    shortest_s, longest_s = step.least_s, step.most_s + more_s
    if shortest_s == longest_s or more_s:
        return durations.say(longest_s)
    return f"{durations.say(shortest_s)} to {durations.say(longest_s)}"


# More sheets than these are counted, not named.
MOST_SHEETS_NAMED = 4
LIGHT = {
    "red": "red light",
    "dark": "total darkness",
    "closed": "the vessel is shut, room light",
    "white": "white light",
}


def manner(step):
    """Words for the manner of a step: moved, dripping, in which light, repeated."""
    moved = f"moved every {durations.say(step.beat_s)}" if step.beat_s else ""
    drips = f"drips for {durations.say(step.drip_s)}" if step.drip_s else ""
    repeated = "may be repeated" if step.again else ""
    return ", ".join(filter(None, (moved, drips, LIGHT[step.light], repeated)))


# A bath that is changed so rarely is called by its number [s].
LEAST_CALL_S = 600
ORDINALS = ("first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth")


def ordinal(number):
    """ "second" for 2; beyond ninth "12th"."""
    return ORDINALS[number - 1] if number <= len(ORDINALS) else f"{number}th"


def calls(step):
    """Names of the stretches between two calls of a step: "first soak", "second soak"; nothing
    where it is moved all the while.
    """
    if step.beat_s < LEAST_CALL_S:
        return ()
    return tuple(f"{ordinal(n + 1)} soak" for n in range(max(1, round(step.most_s / step.beat_s))))


LID_ON = f"{LID_TRIED} Then the light may come on."


def onward(steps, number):
    """Words on the button that ends a step; None is waiting."""
    after = developing.first_wet(steps) if number is None else number + 1
    if after == len(steps):
        return "Through: it waits to be read"
    goal = steps[after]
    return f"{goal.name} now"


def spoken(step):
    """Words that a voice says when a step begins."""
    return f"{step.name}. {times(step)}".strip()


def caution(step):
    """Caution at a step, its own words first."""
    return step.caution or developing.PURPOSES[step.purpose].caution


def doubts(paper, process, developer=None):
    """[(words, how sure)] of what is little known of such paper in such a process."""
    keys = {process.key, process.key.partition("-")[0]}
    if developer and "coffee" in developer.name.lower():
        keys.add("coffee")
    return [
        (doubt.words, doubt.sure)
        for doubt in DOUBTS
        if doubt.kind == paper.kind and doubt.process in keys
    ]


def light(steps, lanes, codes, white_at):
    """The sentence that says which light is allowed now; codes: of each lane's sheets."""
    if white_at:
        return "White light is on."
    open_still = [
        codes[lane.number]
        for lane in lanes
        if codes[lane.number] and not developing.is_light_safe(steps, lane)
    ]
    shut = [lane for lane in lanes if lane.now and steps[lane.now.step].light == "closed"]
    if not open_still and shut:
        until = max((n for n, step in enumerate(steps) if step.light == "closed"), default=0)
        return (
            f"It is shut: room light is allowed round it. It stays shut through "
            f"“{steps[until].name}”."
        )
    if not open_still:
        return "White light is allowed, once everybody's paper is away."
    now = {steps[lane.now.step].light for lane in lanes if lane.now}
    if any(lane.is_waiting and codes[lane.number] for lane in lanes):
        # What waits lies in the light in which everything was made ready.
        now.add(steps[0].light)
    word = "Total darkness" if "dark" in now else "Red light only"
    place = developing.white_from(steps)
    until = steps[place - 1].name if place else ""
    names = ", ".join(open_still).split(", ")
    are = "is" if len(names) == 1 else "are"
    return f"{word} until {named(names)} {are} through “{until}”."


def named(codes):
    """Sheets by their codes, or how many they are."""
    return ", ".join(codes) if len(codes) <= MOST_SHEETS_NAMED else f"{len(codes)} sheets"
