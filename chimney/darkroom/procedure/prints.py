"""A process on a sheet of paper with boxes to tick, for rooms without screens, in millimetres."""

from chimney.darkroom import wording
from chimney.parts import svg

PAGE_WIDTH_MM, PAGE_HEIGHT_MM = 190.0, 270.0
SHEET_ROW_MM, SHEET_ROWS, SHEETS = 15.0, 15, 6
SHEET_HEADINGS = ("Day", "Developer", "°C", "Whose")


def sheets(process):
    """Drawings of the process, page by page, with a box for each of six sheets at each step."""
    rows = list(enumerate(process.steps))
    pages = [rows[n : n + SHEET_ROWS] for n in range(0, len(rows), SHEET_ROWS)]
    return [_page(process, page) for page in pages]


def _page(process, rows):
    first, name = PAGE_WIDTH_MM - SHEETS * 10, f"{process.name[0].upper()}{process.name[1:]}"
    shapes = [
        svg.text(0.0, 8.0, name, "bold huge", fit=PAGE_WIDTH_MM),
        svg.text(0.0, 14.0, process.why, fit=PAGE_WIDTH_MM),
        svg.text(first, 27.0, "sheets", "small"),
    ]
    shapes += [svg.text(45.0 * n, 21.0, f"{heading}:") for n, heading in enumerate(SHEET_HEADINGS)]
    for place, (number, step) in enumerate(rows):
        shapes += _row(step, number, 32.0 + place * SHEET_ROW_MM, first)
    title = f"{len(rows)} steps with {SHEETS} boxes each"
    return svg.Drawing(name, title, PAGE_WIDTH_MM, PAGE_HEIGHT_MM, tuple(shapes), "print")


def _row(step, number, y, first):
    times = ", ".join(filter(None, (wording.times(step), wording.LIGHT[step.light])))
    line, fit = f"{number + 1}  {step.name}   {times}", first - 4
    shapes = [
        svg.line(0.0, y - 4.5, PAGE_WIDTH_MM, y - 4.5, "fine"),
        svg.text(0.0, y, line, "bold", fit=fit),
        svg.text(0.0, y + 4.4, step.remark, "small", fit=fit),
        svg.text(0.0, y + 8.2, wording.caution(step), "small", fit=fit),
    ]
    return shapes + [svg.rect(first + n * 10, y - 2.5, 8.0, 8.0) for n in range(SHEETS)]
