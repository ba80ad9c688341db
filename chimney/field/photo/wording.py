"""A photo of a scene, in words: how long, what becomes of the sheet, and how sure that is."""

from chimney.field.photo.craft.moving import PEOPLE
from chimney.field.wording import vanish_s
from chimney.parts.scales import number, size_of_stops
from pinhole import durations

# Shares of a print from which on its ends are worth a word.
WORTH_A_WORD = 0.05
# Less of a shift nobody sees; from that share of the time on people are no ghosts (common
# practice).
LEAST_SHIFT_DEG, STAYS_SHARE = 0.5, 0.7


def headline(page):
    """The answer first: how long, and what becomes of the ends."""
    camera, paper = page.scenery.camera, page.scenery.paper
    if not page.tells_light:
        return f"{camera} before your photo: type a reading"
    return f"Open {camera} for {durations.say(page.seconds)}; {_ends(page)} on {paper}"


def _ends(page):
    empty, blocked = (
        share >= WORTH_A_WORD for share in (page.foreseen.empty, page.foreseen.blocked)
    )
    if empty and blocked:
        return "both ends are lost"
    return "the shadows stay empty" if empty else "the highlights block" if blocked else "it holds"


def sentence(page):
    """Words and numbers of what stays empty and what blocks."""
    empty, blocked = page.foreseen.empty, page.foreseen.blocked
    parts = [f"{number(100 * empty, 2)} % stays empty, {number(100 * blocked, 2)} % blocks."]
    if page.scenery.black_reds:
        share = number(100 * page.scenery.black_reds, 2)
        parts.append(f"{share} % is red and comes out black on this paper.")
    if page.missing:
        parts.append(f"{number(100 * page.missing, 2)} % lies outside the photo.")
    return " ".join(parts)


def facts(page):
    """Sentences on corners, hole and paper."""
    corners = size_of_stops(page.scenery.corner_stops)
    blind = page.scenery.blindness_stops
    yield f"The corners get {corners} less."
    if shifted := _of_stand(page.scenery):
        yield shifted
    if page.scenery.sun_px:
        yield "The sun stood in this picture: flare, and a burnt disc."
    if page.moving_part.part == PEOPLE:
        yield _of_people(page)
    elif page.tells_light and (gone := vanish_s(page.seconds)) >= 2:
        yield f"Who passes within {durations.say(durations.countable_s(gone))} leaves no trace."
    if abs(blind) > 0.2:
        sense = "darker" if blind > 0 else "lighter"
        yield f"This paper sees the shadow {size_of_stops(abs(blind))} {sense} than the eye."


def _of_stand(scenery):
    """Words for how far what is near shifts; "" for nothing that one would see."""
    right, up = scenery.shifted_deg
    if max(abs(right), abs(up)) < LEAST_SHIFT_DEG:
        return ""
    senses = ((right, "right", "left"), (up, "higher", "lower"))
    ways = [
        f"{number(abs(away), 2)}° {less if away > 0 else more}"
        for away, more, less in senses
        if abs(away) >= LEAST_SHIFT_DEG
    ]
    return f"What is so near lies {' and '.join(ways)} for the pinhole than in your photo."


def _of_people(page):
    """A sentence on those in the frame."""
    share = page.moving_part.share
    if share >= STAYS_SHARE:
        return "They stay nearly all the time: they are in the picture."
    is_gone = page.tells_light and page.stay_s <= vanish_s(page.seconds)
    return (
        f"Who stays {durations.say(page.stay_s)} {'leaves no trace' if is_gone else 'is a ghost'}."
    )


def doubt(page):
    """Words for how sure its light is."""
    ends = page.calculation.low_s, page.calculation.high_s
    low, high = (durations.say(durations.countable_s(end)) for end in ends)
    whose = "your meter" if page.meter_ev100 is not None else "this photo"
    sentence = f"By {whose} nine times in ten from {low} to {high}."
    if page.meter_ev100 is None and page.phone.pairs:
        sense = "bright" if page.phone.stops < 0 else "dark"
        much = size_of_stops(abs(page.phone.stops))
        pairs = f"{page.phone.pairs} {'reading' if page.phone.pairs == 1 else 'readings'}"
        sentence += f" This phone reads {much} {sense}, by {pairs} beside a meter."
    return sentence
