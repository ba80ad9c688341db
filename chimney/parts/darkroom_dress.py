"""What a page wears: daylight, following the system, or red on black for the dark room."""

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
    dressed = "day" if worn(request) == DARKROOM else DARKROOM
    response.set_cookie(COOKIE, dressed, max_age=A_YEAR_S, httponly=True, samesite="Lax")
