"""Pages that wait for work beside the server."""

from django.http import HttpResponse
from django.shortcuts import render

from chimney import beside
from pinhole import durations

NOBODY = (
    "Nothing is at work beside the server, so it waits: start Chimney by make run, or let "
    "manage.py work do it once."
)


def answer(request, page, fragment, context, *, waits):
    """The whole page; to one that asks how far it has come its fragment while it waits, and then
    itself anew.
    """
    context = context | {"nobody": "" if beside.is_alive() else NOBODY}
    if not request.htmx:
        return render(request, page, context)
    if waits:
        return render(request, fragment, context)
    return HttpResponse(headers={"HX-Refresh": "true"})


def overdue():
    """Words for what to do where nobody is at work any more; empty if somebody is, or never was."""
    silent_s = beside.silent_s()
    if silent_s is None or silent_s < beside.LATE_S:
        return ""
    silence = durations.say(60 * round(silent_s / 60))
    return (
        f"Nobody has been at work beside the server for {silence}: stop Chimney and start it "
        "again. Scans and logs that were sent are kept and wait."
    )
