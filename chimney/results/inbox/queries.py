"""How the inbox and whoever looks through it are doing."""

from chimney import beside
from chimney.results.models import InboxFile
from pinhole import durations

SHOWN = 5


def overdue():
    """What to do where nobody looks through scans any more, in words; empty if somebody does."""
    silent_s = beside.silent_s()
    if silent_s is None or silent_s < beside.LATE_S:
        return ""
    return (
        f"Nobody has looked through scans for {durations.say(60 * round(silent_s / 60))}: stop "
        "Chimney and start it again. What was sent is kept and waits."
    )


def not_taken():
    """The newest files of the inbox that are scans and were not taken, with why."""
    return InboxFile.objects.exclude(trouble="")[:SHOWN]
