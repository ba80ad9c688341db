"""Changes of a log by another: handing one over, bringing it in, taking it out again."""

from chimney.exchange.whole.flows.coming import come_in
from chimney.exchange.whole.flows.handing import forget, hand_over, look_through, unwant, want
from chimney.exchange.whole.flows.leaving import leave
from chimney.exchange.whole.flows.working import give_up, waiting, work
from chimney.exchange.whole.flows.writing import write

__all__ = [
    "come_in",
    "forget",
    "give_up",
    "hand_over",
    "leave",
    "look_through",
    "unwant",
    "waiting",
    "want",
    "work",
    "write",
]
