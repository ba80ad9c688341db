"""The whole log goes out, as it is at one moment."""

from chimney.exchange.whole import files
from chimney.exchange.whole.flows import apart


def write(file):
    """The ZIP of the whole log into an open file."""
    path = files.folder() / "going-out.sqlite3"
    apart.away_with(path)
    try:
        with apart.within(apart.copied(path)):
            files.write(file)
    finally:
        apart.away_with(path)
