"""How the inbox and whoever looks through it are doing."""

from chimney import beside
from chimney.results.models import InboxFile
from pinhole import durations

SHOWN = 5


def overdue():
    """What to do where nobody is at work beside the server any more, in words; empty if somebody
    is.
    """
    silent_s = beside.silent_s()
    if silent_s is None or silent_s < beside.LATE_S:
        return ""
    said = durations.say(60 * round(silent_s / 60))
    return (
        f"Nobody has been at work beside the server for {said}: stop Chimney and start it again. "
        "Scans and logs that were sent are kept and wait."
    )


def not_taken():
    """The newest files of the inbox that are scans and were not taken, with why."""
    return InboxFile.objects.exclude(trouble="")[:SHOWN]
