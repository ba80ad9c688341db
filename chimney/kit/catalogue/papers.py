"""What is commonly known of papers: what they see, how they are handled, and a set to start from.
Common practice.
"""

# What the emulsion sees, and what that does to skies, reds and evening light.
SEES = {
    "blue": "Sees blue alone: skies go white, reds and foliage dark, evening light is slower "
    "than the meter says.",
    "green": "Sees blue and green: skies pale, reds dark, evening light a little slower than the "
    "meter says.",
    "ortho": "Blind to red: skies pale, reds dark; a red torch is safe for most, after a coin "
    "test.",
    "pan": "Sees all colours as the eye does: no light at all is safe.",
}
SAFELIGHT = {
    "blue": "Amber or red light, tested with a coin on a scrap; face down until it is needed.",
    "green": "Red light, tested with a coin on a scrap; face down until it is needed.",
    "ortho": "Deep red light, tested with a coin on a scrap.",
    "pan": "Total darkness, a tank or a bag.",
}
EMULSION = {
    "rc": "The shinier side faces the hole; it curls a little inward.",
    "fibre": "The side it curls toward faces the hole; a damp lip sticks to it.",
    "film": "Notches in the upper right corner as you hold it: the emulsion faces you.",
}
# How many stops of scene each kind holds; an EI that nothing reads, for paper that darkens by
# itself. Common practice.
RANGE_STOPS = {"negative": 5.0, "positive": 4.0, "reversal": 4.5, "film": 9.0, "solargraph": 12.0}
UNUSED_EI = 6.0
# What most papers are developed in first.
FIRST_DEVELOPER = {"name": "paper developer", "parts": 9.0, "usual_s": 90.0}
FILM_TABLE = ((1, 2), (4, 20), (20, 180))
# name, kind, base, starting EI, what it sees, contrast, school, table, note. Starting values, all
# editable.
STARTER = (
    (
        "grade-2 RC",
        "negative",
        "rc",
        6,
        "blue",
        "normal",
        "none",
        (),
        "Forgiving; the first paper for negatives.",
    ),
    (
        "variable-contrast RC",
        "negative",
        "rc",
        4,
        "green",
        "by the light's colour",
        "none",
        (),
        "Yellow softens it.",
    ),
    (
        "grade-3 fibre",
        "negative",
        "fibre",
        6,
        "blue",
        "hard",
        "none",
        (),
        "Washes long, dries flat in a book.",
    ),
    (
        "direct positive fibre",
        "positive",
        "fibre",
        3,
        "blue",
        "very hard",
        "none",
        (),
        "Unique and mirrored; EI 5 holds highlights.",
    ),
    (
        "RC for reversal",
        "reversal",
        "rc",
        0.8,
        "blue",
        "hard",
        "none",
        (),
        "Bleached and redeveloped to a positive.",
    ),
    (
        "ISO 100 sheet film",
        "film",
        "film",
        100,
        "pan",
        "normal",
        "table",
        FILM_TABLE,
        "For comparison.",
    ),
    (
        "pearl RC for solargraphs",
        "solargraph",
        "rc",
        UNUSED_EI,
        "blue",
        "prints out by itself",
        "none",
        (),
        "Left for days to a year, never developed; pearl or matt looks better than glossy.",
    ),
)
