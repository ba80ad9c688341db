"""A process on a sheet of paper with boxes to tick, for rooms without screens, in millimetres."""

from chimney.darkroom import wording
from chimney.parts import svg

WIDTH, HEIGHT = 190.0, 270.0
ROW_MM, SHEETS = 15.0, 6


def sheet(process):
    """A Drawing of the process with a box for each of six sheets at each step."""
    first = WIDTH - SHEETS * 10
    shapes = [
        svg.text(0.0, 8.0, process.name, "bold huge", fit=WIDTH),
        svg.text(0.0, 14.0, process.why, fit=WIDTH),
        svg.text(0.0, 21.0, "Day:               Developer:               °C:          Whose:"),
        svg.text(first, 27.0, "sheets", "small"),
    ]
    for number, step in enumerate(process.steps):
        shapes += _row(step, number, 32.0 + number * ROW_MM, first)
    said = f"{len(process.steps)} steps with {SHEETS} boxes each"
    return svg.Drawing(process.name, said, WIDTH, HEIGHT, tuple(shapes), "print")


def _row(step, number, y, first):
    told = f"{number + 1}  {step.name}   {wording.times(step)}"
    small = " ".join(filter(None, (step.remark, wording.caution(step))))
    shapes = [
        svg.line(0.0, y - 4.5, WIDTH, y - 4.5, "fine"),
        svg.text(0.0, y, told, "bold", fit=first - 4),
        svg.text(0.0, y + 5.0, small, "small", fit=first - 4),
    ]
    return shapes + [svg.rect(first + n * 10, y - 2.5, 8.0, 8.0) for n in range(SHEETS)]
