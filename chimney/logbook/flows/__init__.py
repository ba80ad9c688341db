"""Changes that move a sheet along, those while the hole is open, and those that put right."""

from chimney.logbook.flows.sheets import (
    close_all,
    close_hole,
    expose_behind,
    load,
    load_all,
    move,
    next_code,
    open_hole,
    settle,
    unload,
)

__all__ = [
    "close_all",
    "close_hole",
    "expose_behind",
    "load",
    "load_all",
    "move",
    "next_code",
    "open_hole",
    "settle",
    "unload",
]
