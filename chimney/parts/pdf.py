"""The shapes of parts.svg on paper at true scale: one unit is one millimetre."""

from datetime import UTC
from io import BytesIO

from django.conf import settings
from django.http import HttpResponse
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from chimney.parts import clock

A4_MM = (210.0, 297.0)
FONTS = {"regular": "source-sans-3-regular.ttf", "bold": "source-sans-3-bold.ttf"}
# How a class looks in print: line width and text height in mm, fill as a grey from black 0 to white
# 1.
LINES = {"fine": 0.15, "thick": 0.6}
TEXTS = {"huge": 7.0, "big": 5.0, "small": 2.6}
FILLS = {"dot": 0.0, "shade": 0.92}
LINE_MM, TEXT_MM = 0.25, 3.4
# Smaller letters are not read outdoors.
LEAST_TEXT_MM = 2.2


def pages(drawings, title):
    """The PDF of Drawings in mm, each centred on an A4 page of its own, landscape where it is wider
    than that; four of an A6 share a page.
    """
    for name, file in FONTS.items():
        pdfmetrics.registerFont(
            TTFont(name, settings.ROOT / "chimney" / "static" / "vendor" / file)
        )
    out = BytesIO()
    # The same twice but for its date: no number of its own in it.
    canvas = Canvas(out, invariant=1, lang="en")
    made_at = clock.now().astimezone(UTC)
    canvas.setDateFormatter(lambda *_: f"D:{made_at:%Y%m%d%H%M%S}+00'00'")
    canvas.setTitle(title)
    canvas.setSubject("; ".join(drawing.words for drawing in drawings if drawing.words)[:2000])
    canvas.setCreator("Chimney")
    for page in _on_pages(drawings):
        wide = page[0].width
        width, height = A4_MM if wide <= A4_MM[0] else A4_MM[::-1]
        canvas.setPageSize((width * mm, height * mm))
        for drawing, left, top in _laid_out(page, width, height):
            _draw_all(canvas, drawing, left, top)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _on_pages(drawings):
    """The Drawings page by page: four that are a quarter of an A4 share one."""
    quarters = A4_MM[0] / 2, A4_MM[1] / 2
    small = [d for d in drawings if d.width <= quarters[0] and d.height <= quarters[1]]
    if len(small) < len(drawings) or len(drawings) == 1:
        return [[drawing] for drawing in drawings]
    return [drawings[n : n + 4] for n in range(0, len(drawings), 4)]


def _laid_out(page, width, height):
    """(Drawing, left, top) in mm: one alone in the middle, several edge to edge from the corner."""
    if len(page) == 1:
        drawing = page[0]
        return [(drawing, (width - drawing.width) / 2, (height + drawing.height) / 2)]
    return [
        (drawing, n % 2 * drawing.width, height - n // 2 * drawing.height)
        for n, drawing in enumerate(page)
    ]


def answer(drawings, title, name):
    """The PDF as an answer that opens in the browser and is saved under its name."""
    response = HttpResponse(pages(drawings, title), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return response


def _draw_all(canvas, drawing, left, top):
    for shape in drawing.shapes:
        _draw(canvas, shape, lambda x, y: ((left + x) * mm, (top - y) * mm))


def _draw(canvas, shape, origin):
    attributes = shape.attributes
    css = set(attributes["class"].split())
    fill = next((FILLS[word] for word in css if word in FILLS), None)
    canvas.setLineWidth(next((LINES[word] for word in css if word in LINES), LINE_MM) * mm)
    if fill is not None:
        canvas.setFillGray(fill)
    DRAW[shape.tag](canvas, shape, attributes, origin, fill is not None)
    canvas.setFillGray(0)


def _line(canvas, shape, attributes, origin, filled):
    canvas.line(
        *origin(attributes["x1"], attributes["y1"]), *origin(attributes["x2"], attributes["y2"])
    )


def _rect(canvas, shape, attributes, origin, filled):
    x, y = origin(attributes["x"], attributes["y"] + attributes["height"])
    canvas.rect(
        x,
        y,
        attributes["width"] * mm,
        attributes["height"] * mm,
        stroke=int(not filled),
        fill=int(filled),
    )


def _circle(canvas, shape, attributes, origin, filled):
    canvas.circle(
        *origin(attributes["cx"], attributes["cy"]),
        attributes["r"] * mm,
        stroke=int(not filled),
        fill=int(filled),
    )


def _text(canvas, shape, attributes, origin, filled):
    css = attributes["class"].split()
    size = next((TEXTS[word] for word in css if word in TEXTS), TEXT_MM)
    font = "bold" if "bold" in css else "regular"
    text, size = _fitting(canvas, shape.text, font, size, attributes["data_fit"])
    canvas.setFont(font, size * mm)
    draw = {"middle": canvas.drawCentredString, "end": canvas.drawRightString}.get(
        attributes["text_anchor"], canvas.drawString
    )
    draw(*origin(attributes["x"], attributes["y"]), text)


def _fitting(canvas, words, font, size, fit_mm):
    """(words, size in mm) that are no longer than they may be: smaller first, then cut off."""

    def long_mm(text, high):
        return canvas.stringWidth(text, font, high * mm) / mm

    if not fit_mm or long_mm(words, size) <= fit_mm:
        return words, size
    small = max(size * fit_mm / long_mm(words, size), LEAST_TEXT_MM)
    while len(words) > 1 and long_mm(words, small) > fit_mm:
        words = f"{words[:-2].rstrip()}."
    return words, small


DRAW = {"line": _line, "rect": _rect, "circle": _circle, "text": _text}
