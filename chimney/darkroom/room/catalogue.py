"""Baths as they usually last, the room as it is usually set up, and the test with a coin. Common
practice.
"""

# How long a working bath lasts [days] and how much paper a litre takes [m2], by purpose.
LASTS_DAYS = {"develop": 1.0, "stop": 7.0, "fix": 30.0, "bleach": 0.25, "clear": 7.0}
M2_PER_L = {"develop": 2.0, "stop": 2.0, "fix": 2.0, "bleach": 0.5, "clear": 1.0}

SETUPS = (
    (
        "room",
        "A room without a window",
        (
            "Wet side and dry side, a towel between them; paper lives on the dry side.",
            "Baths in their order from left to right, a tongs for each.",
            "Lamp at its tested distance, tried with a coin.",
            "The door is shut but opens from inside; somebody outside knows, and calls before it "
            "opens.",
            "Five minutes in the dark: look for light at the door, the keyhole, plugs that glow.",
            "Clock and phone turned down and away, or outside.",
        ),
    ),
    (
        "bathroom",
        "A bathroom",
        (
            "Window and the gap under the door covered; a towel along the sill.",
            "Trays in the tub or on a board over it, never where they can fall on a plug.",
            "No mains lead near water: a battery lamp, or a lead out of reach of wet hands.",
            "Fan on: chemicals want air.",
            "Bolt off: the door opens from inside and, if you faint, from outside.",
            "Five minutes in the dark: look for light. Then toothbrushes and cups out of the room.",
        ),
    ),
    (
        "bag",
        "A changing bag or tent",
        (
            "Struts or a frame, so that no fabric touches wet paper.",
            "What goes in: drawers or tank with lids, drip tray, holders, a dry cloth. Count it.",
            "Both zips shut, sleeves above the elbow, watch and rings off.",
            "Try it in sunshine first, with a scrap of paper for five minutes.",
            "The bag's fold goes into the box first, and is shut again before anything is wet.",
            "Breaks: hands sweat, and damp fabric sticks.",
        ),
    ),
)
# The test with a coin: a strip of the paper under the lamp, one part after the other covered.
TEST_TIMES_S = (60.0, 120.0, 240.0, 480.0)
TEST = (
    "Give a strip of the paper a faint grey first, as a short flash: fog shows on grey sooner than "
    "on white.",
    "Lay it where sheets lie, face up, a coin on every part; lamp on.",
    "After each time cover one part more, with its coin.",
    "Lamp off, coins away, develop the strip in total darkness, fix, white light.",
    "Look for the coins: the first part in which one shows was too long.",
)
