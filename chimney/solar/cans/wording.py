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
    "Damp inside? Let it dry before the scan: in the dark, can open, emulsion up, a day without "
    "heat. What sticks to the tin is soaked off in cool water and dried, never torn.",
    "Dim the room. Clean the scanner first; set colour, 1200 dpi or more, no "
    "corrections, 16 bits if it can.",
    "Open the can, lay the sheet face down, scan it now, and once only. Each second of lamp "
    "takes something away.",
    "Back between two cards into a light-tight box.",
)
# What weather may do to the paper, and what helps: common practice.
HARMS = {
    "frost": "frost: water in it freezes, seams and tape let go; a cap over the lid keeps it dry",
    "heat": "heat: tape creeps and paper curls in a closed tin; paint the lid white, tie it too",
    "dew": "dew inside: it runs over the emulsion; prick a drain into the lowest seam",
    "mould": "mould: it eats gelatin that has been damp for weeks; load with dry hands, a dry tin",
}
# What to do with one that is found so.
FOUND_SO = (
    "Wet inside: a finger on the hole, tip the water out by the seam, lift a drop from the hole "
    "with a corner of blotting paper, tape the seam anew. Trails are printed already: water takes "
    "little of them.",
    "Rusted: flakes fall into the hole, and edges cut. Gloves on; look through the hole and lift "
    "what lies in it with a hair, never with a needle. Rusted through: bring it home today.",
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


def weathered(weathering):
    """[sentences] of a craft.Weathering: its days beside a year, then each harm."""
    share = weathering.year_share
    words = "more than" if share > 1 else f"{round(100 * share)} % of"
    sentences = [f"Its {weathering.days} days are {words} the year that emulsion lasted elsewhere."]
    for harm in weathering.harms:
        sentences.append(f"On some {harm.days} of them {HARMS[harm.code]}.")
    return sentences
