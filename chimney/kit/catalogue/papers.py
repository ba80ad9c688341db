"""Common knowledge of papers: what they see, how they are handled, and a set to start from. Common
practice.
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
# An EI that nothing reads, for paper that darkens by itself.
UNUSED_EI = 6.0
# Starting EI of a kind that says nothing else of itself: a packet without a name.
USUAL_EI = {"negative": 6.0, "positive": 3.0, "reversal": 0.8, "film": 100.0}
# How much of what blue-sensitive paper misses or gains in coloured light each kind does.
BLUENESS = {"blue": 1.0, "green": 0.6, "ortho": 0.3, "pan": 0.0}
# Filters by name, and the stops they take of what each kind sees. Common practice; None: hardly
# anything comes through.
FILTERS = {
    "yellow": {"blue": 3.0, "green": 2.0, "ortho": 1.5, "pan": 1.0},
    "orange": {"blue": None, "green": 4.0, "ortho": 3.0, "pan": 2.0},
    "red": {"blue": None, "green": None, "ortho": None, "pan": 3.0},
    "green": {"blue": 3.5, "green": 2.0, "ortho": 1.5, "pan": 2.0},
    "blue": {"blue": 0.7, "green": 1.0, "ortho": 1.5, "pan": 2.5},
    "polariser": dict.fromkeys(("blue", "green", "ortho", "pan"), 1.5),
    "grey 0.3": dict.fromkeys(("blue", "green", "ortho", "pan"), 1.0),
    "grey 0.6": dict.fromkeys(("blue", "green", "ortho", "pan"), 2.0),
    "grey 0.9": dict.fromkeys(("blue", "green", "ortho", "pan"), 3.0),
}
# What most papers are developed in first.
FIRST_DEVELOPER = {"name": "paper developer", "parts": 9.0, "usual_s": 90.0}
STARTER_DEVELOPERS = (
    FIRST_DEVELOPER,
    {"name": "coffee developer", "parts": None, "usual_s": 420.0},
    {"name": "film developer", "parts": 25.0, "usual_s": 480.0},
)
FILM_TABLE = ((1, 2), (4, 20), (20, 180))
# name, kind, base, starting EI, what it sees, contrast, school, table, note. Starting values, all
# editable.
# Scenes that starters hold beside what is usual for their kind: grade 3 is ISO R 80 (from memory)
# [stops].
STARTER_RANGES = {"grade-3 fibre": 2.7}
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
