"""The shapes of parts.svg on paper at true scale: one unit is one millimetre."""

from io import BytesIO

from django.conf import settings
from django.http import HttpResponse
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

A4_MM = (210.0, 297.0)
FONTS = {"regular": "source-sans-3-regular.ttf", "bold": "source-sans-3-bold.ttf"}
# How a class looks in print: line width and text height in mm, fill as a grey from black 0 to white
# 1.
LINES = {"fine": 0.15, "thick": 0.6}
TEXTS = {"huge": 7.0, "big": 5.0, "small": 2.6}
FILLS = {"dot": 0.0, "shade": 0.92}
LINE_MM, TEXT_MM = 0.25, 3.4


def pages(drawings, title):
    """The PDF of Drawings in mm, each centred on an A4 page of its own; landscape where it is wider
    than high.
    """
    for name, file in FONTS.items():
        pdfmetrics.registerFont(
            TTFont(name, settings.ROOT / "chimney" / "static" / "vendor" / file)
        )
    out = BytesIO()
    canvas = Canvas(out, invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Chimney")
    for drawing in drawings:
        width, height = A4_MM if drawing.width <= A4_MM[0] else A4_MM[::-1]
        canvas.setPageSize((width * mm, height * mm))
        left, top = (width - drawing.width) / 2, (height + drawing.height) / 2
        for shape in drawing.shapes:
            _draw(canvas, shape, lambda x, y, left=left, top=top: ((left + x) * mm, (top - y) * mm))
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def answer(drawings, title, name):
    """The PDF as an answer that opens in the browser and is saved under its name."""
    response = HttpResponse(pages(drawings, title), content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return response


def _draw(canvas, shape, at):
    given = shape.attributes
    css = set(given["class"].split())
    fill = next((FILLS[word] for word in css if word in FILLS), None)
    canvas.setLineWidth(next((LINES[word] for word in css if word in LINES), LINE_MM) * mm)
    if fill is not None:
        canvas.setFillGray(fill)
    DRAW[shape.tag](canvas, shape, given, at, fill is not None)
    canvas.setFillGray(0)


def _line(canvas, shape, given, at, filled):
    canvas.line(*at(given["x1"], given["y1"]), *at(given["x2"], given["y2"]))


def _rect(canvas, shape, given, at, filled):
    x, y = at(given["x"], given["y"] + given["height"])
    canvas.rect(
        x, y, given["width"] * mm, given["height"] * mm, stroke=int(not filled), fill=int(filled)
    )


def _circle(canvas, shape, given, at, filled):
    canvas.circle(
        *at(given["cx"], given["cy"]), given["r"] * mm, stroke=int(not filled), fill=int(filled)
    )


def _text(canvas, shape, given, at, filled):
    css = given["class"].split()
    size = next((TEXTS[word] for word in css if word in TEXTS), TEXT_MM)
    canvas.setFont("bold" if "bold" in css else "regular", size * mm)
    draw = {"middle": canvas.drawCentredString, "end": canvas.drawRightString}.get(
        given["text_anchor"], canvas.drawString
    )
    draw(*at(given["x"], given["y"]), shape.text)


DRAW = {"line": _line, "rect": _rect, "circle": _circle, "text": _text}
