"""One form is answered once, whoever sends it twice; a tap is acknowledged in a way that its sender
can tell.
"""

import hashlib

from django.contrib import messages
from django.db import IntegrityError
from django.http import HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme

from chimney.ledger import devices, once
from chimney.parts.refusal import Refused

TOKEN_FIELD = "csrfmiddlewaretoken"
# What a tap that was kept in the browser carries: its own identity.
TAP = "tap"
DONE_ALREADY = "That was done already, so nothing was done twice."
WRITTEN_AT_ONCE = Refused(
    "Somebody else wrote the same thing at the same moment.",
    "See how it stands now",
    "hearth:hearth",
)


def is_tap(request):
    """True if a script sent this from what it kept, and wants an acknowledgement instead of a
    page.
    """
    return request.headers.get("X-Requested-With") == TAP


class Once:
    """Gives each form that is posted its identity, and answers the second of the same with what
    became of the first.
    """

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        with once.asking(_identity(request)) as question:
            if receipt := once.known(question.key):
                return _already(request, receipt)
            response = self.get_response(request)
            if question.claimed and response.status_code == 302:
                once.led_to(question.key, response["Location"])
            elif response.status_code in (409, 422) and (receipt := once.known(question.key)):
                # Its twin was taken in while this one was looked at, and so it found the world
                # changed.
                return _already(request, receipt)
        return (
            _acknowledged(response) if is_tap(request) and response.status_code < 400 else response
        )

    def process_exception(self, request, error):
        if isinstance(error, once.AlreadyDone):
            return _already(request, error.receipt)
        if request.method == "POST" and once.is_busy(error):
            return _busy(request)
        if isinstance(error, IntegrityError):
            error = WRITTEN_AT_ONCE
        if not isinstance(error, Refused):
            return None
        if is_tap(request):
            return JsonResponse({"refused": error.sentence}, status=409)
        return render(request, "parts/refused.html", {"refused": error}, status=409)


class Seen:
    """Notes now and then that a device that was let in is still about."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if request.user.is_authenticated:
            devices.seen(request)
        return self.get_response(request)


def _identity(request):
    """Identity of a form: its own mark, else its token with where it went and what stood in it."""
    if request.method != "POST":
        return ""
    if request.POST.get(TAP):
        return f"tap {request.POST[TAP]}"[:64]
    if not request.POST.get(TOKEN_FIELD):
        return ""
    files = [(name, file.name, file.size) for name, file in request.FILES.items()]
    identity = f"{request.path} {request.POST.urlencode()} {files}"
    return hashlib.sha256(identity.encode()).hexdigest()


def _acknowledged(response):
    """The receipt of a tap: nothing else means that it arrived."""
    return JsonResponse({"done": True}) if response.status_code in (200, 204, 302) else response


def _busy(request):
    """Somebody else writes for longer than anybody waits: nothing was written, and what was typed
    can be sent again.
    """
    page = {"fields": _typed(request), "again": request.get_full_path()}
    answer = render(request, "parts/busy.html", page, status=503)
    answer["Retry-After"] = "2"
    return answer


def _typed(request):
    """[(name, value)] of all that stood in a form, but the token."""
    pairs = request.POST.lists()
    return [(name, value) for name, values in pairs if name != TOKEN_FIELD for value in values]


def _already(request, receipt):
    if is_tap(request):
        return JsonResponse({"done": True})
    if request.POST.get(TAP):
        # A page that is used without looking is not loaded anew under the hand; it asks how things
        # stand.
        return HttpResponse(status=204)
    led_to = receipt.led_to or _came_from(request)
    since, last = once.done_since(receipt)
    if since and not request.FILES:
        # From a page that is old by now: what was done after it may have taken it back.
        page = {"receipt": receipt, "since": since, "last": last, "see": led_to}
        page["fields"] = _typed(request)
        return render(request, "parts/again.html", page, status=409)
    messages.info(request, DONE_ALREADY)
    if request.headers.get("HX-Request") == "true":
        return HttpResponse(status=204, headers={"HX-Refresh": "true"})
    return redirect(led_to)


def _came_from(request):
    came_from = request.headers.get("Referer", "")
    is_ours = url_has_allowed_host_and_scheme(came_from, allowed_hosts={request.get_host()})
    return came_from if is_ours else "/"
