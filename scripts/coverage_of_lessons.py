"""Share of synthetic logbooks in which the stated 90 % ranges of the lessons hold the truth.

Usage: python scripts/coverage_of_lessons.py [LOGBOOKS]     default: 500

It prints the table of docs/learning.md.
"""

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parent.parent))

from tests.pinhole.logbooks import coverage

SHEETS = (5, 10, 25, 60)


def main(books):
    rows = [coverage(books, sheets, seed=1000 + sheets) for sheets in SHEETS]
    rows.append(coverage(books, 25, seed=7, odd=0.05))
    heads = [*(f"{sheets} sheets" for sheets in SHEETS), "25, 1 in 20 mistaken by 3 stops"]
    print(f"| {books} logbooks each | {' | '.join(heads)} |")
    print(f"|---|{'---|' * len(heads)}")
    for name in rows[0]:
        print(f"| {name} | {' | '.join(f'{100 * row[name]:.1f} %' for row in rows)} |")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 500)
