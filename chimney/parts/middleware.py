from ipaddress import ip_address

from django.conf import settings
from django.http import HttpResponse
from django.http.request import split_domain_port
from django.shortcuts import redirect
from django.template.loader import render_to_string
from django.urls import Resolver404, resolve
from django.utils.cache import patch_vary_headers

from chimney import folder
from chimney.parts.darkroom_dress import worn


class VaryOnHtmx:
    """A page and its fragment share one URL, so caches have to tell them apart."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        patch_vary_headers(response, ["HX-Request"])
        return response


def address(request):
    """Address of who really asks: no header is believed but the one that the proxy on this machine
    sets.
    """
    asks = request.META.get("REMOTE_ADDR", "")
    if settings.TLS_HOST and _is_loopback(asks) and "HTTP_X_FORWARDED_FOR" in request.META:
        return request.META["HTTP_X_FORWARDED_FOR"].rpartition(",")[2].strip()
    return asks


def _is_loopback(asks):
    try:
        return ip_address(asks).is_loopback
    except ValueError:
        return False


class NothingBegun:
    """Keep every page from opening, and so making, an empty database where one is gone that held
    sheets. If not a byte is free, give up the reserve before one is needed.
    """

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if not settings.TESTING and folder.is_emptied():
            return troubled(request, folder.EMPTIED_TROUBLE)
        folder.give_reserve()
        return self.get_response(request)


def troubled(request, trouble):
    """The one page that says what is wrong, what is safe and what to do; it asks nothing of the
    database.
    """
    page = render_to_string("hearth/trouble.html", {"trouble": trouble, "dress": worn(request)})
    return HttpResponse(page, status=503, headers={"Retry-After": "60"})


class Door:
    """This machine comes in freely; anybody else by the passphrase, and only where the server was
    told to let them.

    A body that is too long for who asks is refused before a byte of it is read.
    """

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        request.let_in = _at_home(request) or (settings.SERVE and request.user.is_authenticated)
        if _is_too_long(request):
            return HttpResponse(
                "That is more than is taken in here.", status=413, headers={"Connection": "close"}
            )
        if request.let_in or (settings.SERVE and _is_door(request)):
            return self.get_response(request)
        if not settings.SERVE:
            return HttpResponse(
                "Chimney answers this machine alone: start it with make serve.", status=403
            )
        return redirect(settings.LOGIN_URL)


def _is_too_long(request):
    try:
        length = int(request.META.get("CONTENT_LENGTH") or 0)
    except ValueError:
        return True
    if not request.let_in:
        return length > settings.MOST_BYTES_OF_A_STRANGER
    if request.content_type != "multipart/form-data":
        return length > settings.MOST_UPLOAD_BYTES
    scans = any(_leads_to(request, name) for name in settings.SCANS_GO_TO)
    return length > (settings.MOST_BYTES_OF_SCANS if scans else settings.MOST_BYTES_WITH_PICTURE)


def _is_door(request):
    return any(_leads_to(request, name) for name in (settings.LOGIN_URL, *settings.OPEN_BY_TOKEN))


def _leads_to(request, name):
    try:
        return resolve(request.path_info).view_name == name
    except Resolver404:
        return False


def _at_home(request):
    host, _ = split_domain_port(request.get_host())
    return _is_loopback(address(request)) and (
        host in settings.LOOPBACK_HOSTS or (settings.TESTING and host == "testserver")
    )
