"""Long work in short strokes: each holds the write lock for less than a tap notices."""

import time
from dataclasses import dataclass

from chimney.ledger.once import setting

# What a stroke is aimed at, well under the 50 ms that it may hold anybody up.
AIM_S, FEWEST_ROWS, MOST_ROWS_AT_ONCE = 0.015, 10, 2000


@dataclass
class Pace:
    """Number of rows for the next stroke, by the time of the last; longest_s: longest hold of the
    lock.
    """

    rows: int = 50
    longest_s: float = 0.0

    def stroke(self, act):
        """Result of act(number of rows), in one transaction; then as long a rest, in which others
        write.
        """
        result, began = _held(act, self.rows)
        took_s = time.monotonic() - began
        self.longest_s = max(self.longest_s, took_s)
        self.rows = round(
            min(
                MOST_ROWS_AT_ONCE, max(FEWEST_ROWS, self.rows * min(2.0, AIM_S / max(took_s, 1e-4)))
            )
        )
        time.sleep(min(took_s, 1.0))
        return result


@setting
def _held(act, rows):
    began = time.monotonic()
    return act(rows), began
