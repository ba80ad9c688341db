"""The card of a year for the back of a camera, A6, two sides: months by hours, and the sun's height
by the sky.
"""

import numpy as np

from chimney.field.hours.craft.heights import HEIGHTS_ON_CARD_DEG, ByHeight
from chimney.field.hours.wording import SHORT_SKIES, minutes_of
from chimney.field.year.figures import over
from chimney.parts import clock, svg
from chimney.parts.scales import compass, number
from chimney.places.craft import local
from pinhole import light

A6_WIDE, A6_HIGH = 105.0, 148.0
LEFT_MM, MONTH_MM, HOUR_MM, TABLE_TOP_MM = 12.0, 7.4, 5.3, 30.0
SKY_MM, HEIGHT_MM = 13.5, 7.0


def cards(page):
    """[the two sides as Drawings in mm] of a YearPage."""
    return [_year_side(page), _sky_side(page)]


def _year_side(page):
    year, cleaned = page.year, page.form.cleaned_data
    shapes = [svg.rect(0.0, 0.0, A6_WIDE, A6_HIGH, "fine")]
    looks = cleaned["azimuth_deg"]
    where = f"{cleaned['place']}" + (f", looking {compass(looks)}" if looks is not None else "")
    shapes += _head(page, where, page.sky.words)
    shadow = over.own_shadow(year, cleaned["camera"]) if looks is not None else None
    for month in range(12):
        x = LEFT_MM + MONTH_MM * (month + 0.5)
        shapes.append(svg.text(x, TABLE_TOP_MM - 2, "JFMAMJJASOND"[month], "bold small", "middle"))
    rows = list(page.table_hours)
    for row, (hour, openings) in enumerate(rows):
        y = TABLE_TOP_MM + HOUR_MM * row
        shapes.append(svg.text(LEFT_MM - 3, y + 3.9, f"{hour}", "small", "end"))
        for month, opened in enumerate(openings):
            shapes += _cell(year, opened, LEFT_MM + MONTH_MM * month, y, shadow)
    foot = TABLE_TOP_MM + HOUR_MM * len(rows) + 4
    for line in _foot_lines(page, shadow is not None):
        shapes.append(svg.text(4.0, foot, line, "small"))
        foot += 3.6
    name = f"Card of {cleaned['camera']}, months by hours"
    return svg.Drawing(name, where, A6_WIDE, A6_HIGH, tuple(shapes), "print")


def _foot_lines(page, has_shadow):
    yield "Minutes by the place's clock, mid-month; s: seconds; – over an hour, or dusk first."
    if has_shadow:
        yield "Grey: your own shadow falls into the picture."
    yield "A card knows no cloud of today: meter when you can. Never look into the sun."


def _head(page, *lines):
    cleaned, spec = page.form.cleaned_data, page.year.specify()
    camera, paper = cleaned["camera"], cleaned["paper"]
    yield svg.text(4.0, 8.0, f"{camera}, f/{number(spec.f_number)}", "bold big")
    date_line = f"{local(clock.now(), cleaned['place']):%Y-%m-%d}"
    yield svg.text(A6_WIDE - 4, 8.0, date_line, "small", "end")
    yield svg.text(
        4.0, 13.0, f"{paper}, EI {number(spec.ei, 2)}, {spec.school.words}"[:62], "small"
    )
    for n, line in enumerate(lines):
        yield svg.text(4.0, 17.0 + 4 * n, line[:62], "small")


def _cell(year, opened, x, y, shadow):
    if opened.is_dark:
        return
    if shadow is not None and _at(year, opened, shadow) > 0:
        yield svg.rect(x, y, MONTH_MM, HOUR_MM, "shade")
    yield svg.text(x + MONTH_MM / 2, y + 3.9, minutes_of(opened.seconds), "small", "middle")


def _at(year, opened, values):
    """A value of (n, t) at an Opened."""
    n = year.days.index(opened.day)
    return float(np.interp(opened.minute, year.minutes, values[n]))


def _sky_side(page):
    camera, paper = (page.form.cleaned_data[name] for name in ("camera", "paper"))
    table = ByHeight(camera, paper, page.ratings)
    shapes = [svg.rect(0.0, 0.0, A6_WIDE, A6_HIGH, "fine")]
    shapes += _head(page, "Minutes by the sun's height and the sky, the sun behind you")
    for n, sky in enumerate(light.SKIES):
        x = 36.0 + SKY_MM * (n + 0.5)
        shapes.append(svg.text(x, TABLE_TOP_MM - 3, SHORT_SKIES[sky.name], "bold small", "middle"))
    shapes.append(svg.text(4.0, TABLE_TOP_MM - 3, "height   shadow", "small"))
    for row, (height, shadow, times) in enumerate(table.rows):
        y = TABLE_TOP_MM + HEIGHT_MM * row
        if row % 2 == 0:
            shapes.append(svg.rect(1.0, y, A6_WIDE - 2, HEIGHT_MM, "shade"))
        shapes.append(svg.text(12.0, y + 4.8, f"{height}°", "bold", "end"))
        shapes.append(svg.text(29.0, y + 4.8, f"{number(shadow, 2)} ×", "small", "end"))
        for n, seconds in enumerate(times):
            shapes.append(
                svg.text(36.0 + SKY_MM * (n + 0.5), y + 4.8, minutes_of(seconds), "bold", "middle")
            )
    y = TABLE_TOP_MM + HEIGHT_MM * len(HEIGHTS_ON_CARD_DEG) + 5
    for line in _turned_lines(table):
        shapes.append(svg.text(4.0, y, line, "small"))
        y += 4.0
    name = f"Card of {camera}, the sun's height by the sky"
    return svg.Drawing(
        name, page.year.specify().school.words, A6_WIDE, A6_HIGH, tuple(shapes), "print"
    )


def _turned_lines(table):
    """Factors of the time where the sun does not stand behind."""
    aside, against = (number(factor, 2) for factor in table.turned)
    yield f"Clear, sun from the side: times {aside}; against it: times {against}."
    yield "Shadow: its length in lengths of the stick that throws it."
    yield "A hand at arm's length covers about 10°. Never look into the sun."
