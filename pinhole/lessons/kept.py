"""A Learned as plain data, and back."""

from __future__ import annotations

import base64
from typing import Any

import numpy as np

from pinhole.lessons.model import Learned
from pinhole.ranges import Array


def to_data(learned: Learned) -> dict[str, Any]:
    """Shares of a Learned as plain data; keys are numbers, words or pairs of them."""
    return {
        "names": [
            [kind, list(key) if isinstance(key, tuple) else key] for kind, key in learned.names
        ],
        "mean": learned.mean.tolist(),
        "lower": _packed(learned.spread),
        "sheets": learned.sheets.tolist(),
        "judgement_sd": learned.judgement_sd,
        "pivots": [[paper, pivot] for paper, pivot in learned.pivots.items()],
    }


def _packed(spread: Array) -> str:
    """Lower half of a symmetric matrix: as numbers it would be read for longer than all the rest of
    a page takes.
    """
    return base64.b64encode(spread[np.tril_indices(len(spread))].tobytes()).decode()


def from_data(data: dict[str, Any]) -> Learned:
    """The Learned kept by to_data, without its sheets. Raises KeyError on other data."""
    names = [(kind, tuple(key) if isinstance(key, list) else key) for kind, key in data["names"]]
    size, nothing = len(names), np.zeros(0)
    spread = np.zeros((size, size))
    spread[np.tril_indices(size)] = np.frombuffer(base64.b64decode(data["lower"]))
    return Learned(
        {name: n for n, name in enumerate(names)},
        np.array(data["mean"], float).reshape(size),
        spread + np.tril(spread, -1).T,
        np.array(data["sheets"], int).reshape(size),
        nothing,
        nothing,
        judgement_sd=float(data["judgement_sd"]),
        pivots={paper: float(pivot) for paper, pivot in data.get("pivots", ())},
    )
