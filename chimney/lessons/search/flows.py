"""Searches kept by name."""

from chimney.ledger.once import verb
from chimney.lessons.models import KeptSearch


@verb
def keep(name, query):
    """The KeptSearch of that name, new or as it is now."""
    return KeptSearch.objects.update_or_create(name=name, defaults={"query": query})[0]


@verb
def forget(kept):
    """Forget a search; what it found stays."""
    kept.delete()
