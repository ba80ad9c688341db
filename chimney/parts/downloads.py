"""Files that a page gives to be saved."""

from django.http import HttpResponse


def answer(content, content_type, name):
    """The file under its name."""
    return named(HttpResponse(content, content_type=content_type), name)


def calendar(book, name):
    """A calendar file (RFC 5545)."""
    return answer(book, "text/calendar; charset=utf-8", name)


def named(response, name):
    """Any answer, to be saved under a name."""
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
