"""Steps with a can, in the order in which people do them: common practice."""

from chimney.parts.sentences import SHUT_FIRST

# Advice, never a condition.
CHECKLIST = (
    ("asked", "the owner says yes"),
    ("tape", "taped and tied: it can't turn"),
    ("cap", "rain stays out"),
)
HOMECOMING = (
    SHUT_FIRST,
    "Take it down with both hands, keep it dry, label it.",
    "Dim the room. Clean the scanner first; set colour, 1200 dpi or more, no "
    "corrections, 16 bits if it can.",
    "Open the can, lay the sheet face down, scan it now, and once only. Each second of lamp "
    "takes something away.",
    "Back between two cards into a light-tight box.",
)
# The schools on fixing, side by side; the default first, and why.
FIXING_SCHOOLS = (
    (
        "never",
        "Not fixed: the scan is the picture, and fixing bleaches most of it. The "
        "default, because nothing is lost "
        "that the box does not keep.",
    ),
    (
        "after",
        "Fixed after the scan: paler and brown, but it can hang on a wall. It cannot be undone.",
    ),
)
LATENT = (
    "This paper printed out: light itself turned silver salts dark, day after day. A "
    "sheet from a minute's exposure "
    "holds a latent image instead, which only a developer makes visible. A developer "
    "turns a solargraph black at once."
)
