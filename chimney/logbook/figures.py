"""A holder's side as it lies in the hand: which edge of the dark slide is out."""

from chimney.parts import svg

SLIDE_WIDTH, SLIDE_HEIGHT = 54.0, 64.0
SLIDE_EDGE, BODY = 11.0, 15.0
SLIDE_WORDS = {
    "empty": "no slide: empty",
    "loaded": "light edge with bumps out: unexposed",
    "exposing": "slide drawn out: exposing",
    "exposed": "dark edge out: exposed",
}


def slide(side):
    """A Drawing of a queries.Side; one of its pictures for each state."""
    state = side.state
    shapes = [svg.rect(4.0, BODY, SLIDE_WIDTH - 8, SLIDE_HEIGHT - BODY - 2, "slide-body")]
    if state == "exposing":
        shapes.append(
            svg.rect(9.0, BODY + 5, SLIDE_WIDTH - 18, SLIDE_HEIGHT - BODY - 12, "slide-open")
        )
    elif state != "empty":
        shapes.append(
            svg.rect(9.0, BODY + 5, SLIDE_WIDTH - 18, SLIDE_HEIGHT - BODY - 12, "slide-in")
        )
        shapes.append(
            svg.rect(6.0, BODY - SLIDE_EDGE, SLIDE_WIDTH - 12, SLIDE_EDGE, f"slide-edge-{state}")
        )
    if state == "loaded":
        shapes += [
            svg.circle(x, BODY - SLIDE_EDGE / 2, 2.1, "slide-bump") for x in (18.0, 27.0, 36.0)
        ]
    return svg.Drawing(
        f"Side {side.letter}", SLIDE_WORDS[state], SLIDE_WIDTH, SLIDE_HEIGHT, tuple(shapes), "slide"
    )
