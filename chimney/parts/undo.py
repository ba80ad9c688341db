"""A message that can take back what it tells, for as long as its page is open."""

from django.contrib import messages
from django.urls import reverse

UNDO_MARK = "undo "


def offer(request, message, url_name, *args):
    """Say what was done, with the button that undoes it."""
    messages.success(request, message, extra_tags=f"{UNDO_MARK}{reverse(url_name, args=args)}")
