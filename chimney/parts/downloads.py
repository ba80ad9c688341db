"""Files that a page gives to be saved."""

from pathlib import Path

from django.contrib.staticfiles import finders
from django.http import HttpResponse
from django.utils.safestring import mark_safe


def answer(content, content_type, name):
    """The file under its name."""
    return named(HttpResponse(content, content_type=content_type), name)


def calendar(book, name):
    """A calendar file (RFC 5545)."""
    return answer(book, "text/calendar; charset=utf-8", name)


def inside(path):
    """Text of a style or a script of ours, to travel inside a file."""
    return mark_safe(Path(finders.find(path)).read_text())


def named(response, name):
    """Any answer, to be saved under a name."""
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
