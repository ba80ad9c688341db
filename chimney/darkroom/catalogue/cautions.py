"""Cautions where a step can hurt somebody: short, always, deferring to the safety data sheet and
local rules. Common practice.
"""

BLADE = "Edges of cut tin and drawer runners cut: feel for them with gloves on."
# Where what is used up may go.
AWAY = {
    "develop": "Mostly down the drain with much water, if local rules allow it.",
    "stop": "Down the drain with much water, if local rules allow it.",
    "fix": "It holds silver: to a collection point; local rules say where.",
    "bleach": "Left in an open vessel until it fizzes no more, then by local rules; never closed.",
    "clear": "Down the drain with much water, if local rules allow it.",
}
