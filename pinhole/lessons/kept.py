"""A Learned as plain data, and back."""

from __future__ import annotations

from typing import Any

import numpy as np

from pinhole.lessons.model import Learned


def to_data(learned: Learned) -> dict[str, Any]:
    """Shares of a Learned as plain data; keys are numbers, words or pairs of them."""
    return {
        "names": [
            [kind, list(key) if isinstance(key, tuple) else key] for kind, key in learned.names
        ],
        "mean": learned.mean.tolist(),
        "spread": learned.spread.tolist(),
        "sheets": learned.sheets.tolist(),
        "pivots": [[paper, pivot] for paper, pivot in learned.pivots.items()],
    }


def from_data(data: dict[str, Any]) -> Learned:
    """The Learned kept by to_data, without its sheets. Raises KeyError on other data."""
    names = [(kind, tuple(key) if isinstance(key, list) else key) for kind, key in data["names"]]
    size, nothing = len(names), np.zeros(0)
    return Learned(
        {name: n for n, name in enumerate(names)},
        np.array(data["mean"], float).reshape(size),
        np.array(data["spread"], float).reshape(size, size),
        np.array(data["sheets"], int).reshape(size),
        nothing,
        nothing,
        pivots={paper: float(pivot) for paper, pivot in data.get("pivots", ())},
    )
