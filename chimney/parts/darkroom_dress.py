"""Dress of a page: daylight, following the system, or red on black for the dark room."""

from django.conf import settings

from chimney.parts import clock

COOKIE = "dress"
DARKROOM = "darkroom"
A_YEAR_S = 365 * 86400


def worn(request):
    return DARKROOM if request.COOKIES.get(COOKIE) == DARKROOM else "day"


def dress(request):
    """Context: the dress, and the server's moment from which pages count."""
    now = clock.now()
    return {
        "dress": worn(request),
        "server_now": now,
        "server_ms": int(now.timestamp() * 1000),
        "clock_stands": bool(settings.FROZEN_NOW),
    }


def change(request, response):
    """Put the other dress on with the answer."""
    return take_off(response) if worn(request) == DARKROOM else put_on(response)


def put_on(response):
    """The answer and what follows in red on black."""
    return _wear(response, DARKROOM)


def take_off(response):
    """The answer and what follows in daylight."""
    return _wear(response, "day")


def _wear(response, dressed):
    response.set_cookie(COOKIE, dressed, max_age=A_YEAR_S, httponly=True, samesite="Lax")
    return response
