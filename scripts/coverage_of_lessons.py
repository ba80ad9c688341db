"""How often a plan's stated 90 % range holds the truth, in worlds that are not the model's.

Usage: python scripts/coverage_of_lessons.py [LOGS]     default: 200, four plans each

It prints the table of docs/learning.md.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.pinhole.worlds import BENT, CURVED, DRIFT, WORLDS, held_by_plans

SHEETS = (10, 60, 300)


def main(logs):
    heads = (f"{sheets} sheets" for sheets in SHEETS)
    print(f"| {4 * logs} plans each: held by the range, within half a stop | {' | '.join(heads)} |")
    print(f"|---|{'---|' * len(SHEETS)}")
    for kind in (*WORLDS, BENT, CURVED, DRIFT):
        cells = []
        for sheets in SHEETS:
            held, near = held_by_plans(kind, sheets, logs=logs, seed=1000 + sheets)
            cells.append(f"{100 * held:.0f} %, {100 * near:.0f} %")
        print(f"| {kind} | {' | '.join(cells)} |")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 200)
