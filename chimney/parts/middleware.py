from ipaddress import ip_address

from django.conf import settings
from django.http import HttpResponse
from django.http.request import split_domain_port
from django.shortcuts import redirect
from django.urls import resolve
from django.utils.cache import patch_vary_headers


class VaryOnHtmx:
    """A page and its fragment share one URL, so caches have to tell them apart."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        patch_vary_headers(response, ["HX-Request"])
        return response


def address(request):
    """Who really asks, whatever a header says."""
    return request.META.get("REMOTE_ADDR", "")


class Door:
    """This machine comes in freely; anybody else by the passphrase, and only where the server was told to let them."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        if _at_home(request) or resolve(request.path_info).view_name == settings.LOGIN_URL:
            return self.get_response(request)
        if not settings.SERVE:
            return HttpResponse("Chimney answers this machine alone: start it with make serve.", status=403)
        if request.user.is_authenticated:
            return self.get_response(request)
        return redirect(settings.LOGIN_URL)


def _at_home(request):
    host, _ = split_domain_port(request.get_host())
    try:
        near = ip_address(address(request)).is_loopback
    except ValueError:
        near = False
    return near and (host in settings.LOOPBACK_HOSTS or (settings.TESTING and host == "testserver"))
