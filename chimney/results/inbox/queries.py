"""State of the inbox and of whoever looks through it."""

from chimney.results.models import InboxFile

SHOWN_FILES = 5


def not_taken():
    """The newest files of the inbox that are scans and were not taken, with why."""
    return InboxFile.objects.exclude(trouble="")[:SHOWN_FILES]
