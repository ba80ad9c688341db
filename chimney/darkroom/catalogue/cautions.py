"""Cautions where a step can hurt somebody: short, always, deferring to the safety data sheet and
local rules. Common practice.
"""

GLOVES = "Gloves and eye protection; the supplier's safety data sheet comes first."
ACID = "Acid goes into water. Chlorine bleach never meets acid or ammonia."
PEROXIDE = (
    "Peroxide stings in cuts: gloves, eyes. Used peroxide never goes into a closed bottle: it "
    "bursts."
)
FIXER = "Used fixer holds silver: disposal by local rules, never down the drain unasked."
ROOM = "The door opens from inside, and somebody knows you are in. No wet hands on anything mains."
BLADE = "Edges of cut tin and drawer runners cut: feel for them with gloves on."
# By purpose of a step; a step may have its own words beside them.
OF_PURPOSE = {
    "ready": ROOM,
    "develop": GLOVES,
    "redevelop": GLOVES,
    "stop": ACID,
    "clear": ACID,
    "bleach": PEROXIDE,
    "fix": FIXER,
}
# Where what is used up may go.
AWAY = {
    "develop": "Mostly down the drain with much water, if local rules allow it.",
    "stop": "Down the drain with much water, if local rules allow it.",
    "fix": "It holds silver: to a collection point; local rules say where.",
    "bleach": "Left in an open vessel until it fizzes no more, then by local rules; never closed.",
    "clear": "Down the drain with much water, if local rules allow it.",
}
