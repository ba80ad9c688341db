"""The field card: light down the side, papers across, times one can count."""

from textwrap import wrap

from django.utils import timezone

from chimney.field.craft import specification
from chimney.field.light.craft import Lit, colour_in
from chimney.field.wording import say_counted
from chimney.parts import clock, svg
from chimney.parts.scales import number
from pinhole import exposure, light

# Lights judged by eye, as the plan page judges them: words, sky, how the sun stands.
CARD_ROWS = (
    ("full sun in its face", "sun", "high"),
    ("low sun in its face", "sun", "low"),
    ("bright haze", "haze", "high"),
    ("sun from the side", "sun", "side"),
    ("bright cloud", "bright", "high"),
    ("shade, or against the sun", "sun", "shade"),
    ("grey cloud", "grey", "high"),
    ("heavy cloud, rain", "heavy", "high"),
)
PAPERS_A_SIDE, A6_MM = 2, (105.0, 148.0)
# A paper's name has two lines of so many letters.
NAME_LETTERS = 18
# Nobody counts less than this.
LEAST_HAND_S = 0.7
NAME_W, COLUMN_W, ROW_H, CARD_TOP = 50.0, 27.0, 11.0, 42.0


def cards(camera, rated):
    """[A6 Drawing in mm]: two papers a side, as many sides as it takes. rated: [(paper, proposal)],
    the EI that each column stands on.
    """
    sides = [rated[n : n + PAPERS_A_SIDE] for n in range(0, len(rated), PAPERS_A_SIDE)] or [[]]
    return [_side(camera, two, f"{n} of {len(sides)}") for n, two in enumerate(sides, 1)]


def _side(camera, rated, part):
    aperture = f"f/{number(camera.f_number)}"
    shapes = [svg.rect(0.0, 0.0, *A6_MM, "fine"), *_head(camera, aperture, part)]
    shapes += [shape for row in range(len(CARD_ROWS)) for shape in _row(row, A6_MM[0])]
    for place, (paper, proposal) in enumerate(rated):
        shapes += _column(camera, paper, proposal, NAME_W + COLUMN_W * place)
    shapes += _foot(camera)
    name = f"Field card of {camera.name}, side {part}"
    return svg.Drawing(name, aperture, *A6_MM, tuple(shapes), "print")


def _head(camera, aperture, part):
    date_line = f"{timezone.localtime(clock.now()):%Y-%m-%d}"
    caution = "Times by eye: half of them may be a stop off. Meter when you can."
    yield svg.text(4.0, 9.0, f"{camera.name}, {aperture}", "bold big")
    yield svg.text(A6_MM[0] - 4, 9.0, f"side {part}", "small", "end")
    yield svg.text(4.0, 15.0, caution, "small")
    yield svg.text(4.0, 19.0, f"Made {date_line}.", "small")


def _row(row, width):
    """Row of a light with its name."""
    label, *sky_and_height = CARD_ROWS[row]
    y = CARD_TOP + ROW_H * row
    if row % 2 == 0:
        yield svg.rect(1.0, y, width - 2, ROW_H, "shade")
    yield svg.text(4.0, y + 6.8, label)
    yield svg.text(NAME_W - 4, y + 6.8, f"EV {_light(*sky_and_height):.1f}", "small", "end")


def _column(camera, paper, proposal, x):
    """A paper, how it is rated, and its time in each light."""
    whose = "yours" if proposal.lesson else "box"
    for line, line_text in enumerate(wrap(paper.name, NAME_LETTERS)[:2]):
        yield svg.text(x, 25.0 + 3.6 * line, line_text, "bold small")
    yield svg.text(x, 33.0, f"EI {number(proposal.ei)} ({whose})", "small")
    yield svg.text(x, 38.0, paper.schools[paper.school].words, "small")
    for row, (_, *sky_and_height) in enumerate(CARD_ROWS):
        y = CARD_TOP + ROW_H * row + 6.8
        yield svg.text(x, y, _time(camera, paper, proposal, *sky_and_height), "bold")


def _light(sky, height):
    """EV at ISO 100 of a light by its names."""
    return light.by_eye(light.SKY_BY_NAME[sky], light.HEIGHT_BY_NAME[height])[0]


def _foot(camera):
    y = CARD_TOP + ROW_H * len(CARD_ROWS) + 6
    factor = number(camera.meter_factor)
    how = "EV at ISO 100. Long times as headed; rounded to what one can count."
    yield svg.text(4.0, y, f"Or a reading at f/128 and ISO = EI, times {factor}.", "small")
    yield svg.text(4.0, y + 5, how, "small")


def _time(camera, paper, proposal, sky, height):
    """The countable time, as a plan by eye has it, or a word where it is beyond counting."""
    stands = light.HEIGHT_BY_NAME[height]
    lit = Lit(stands.altitude_deg, stands.off_deg, stands.shade, light.SKY_BY_NAME[sky].stops_less)
    spec = specification(camera, paper, proposal, colour=colour_in(paper, lit), seen=(sky, True))
    calculation = exposure.calculate(exposure.read_sky(light.SKY_BY_NAME[sky], stands, ""), spec)
    return "too short" if calculation.exact_s < LEAST_HAND_S else say_counted(calculation.exact_s)
