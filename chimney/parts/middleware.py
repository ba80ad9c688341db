from django.shortcuts import render
from django.utils.cache import patch_vary_headers

from chimney.parts.refusal import Refused


class VaryOnHtmx:
    """A page and its fragment share one URL, so caches have to tell them apart."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        response = self.get_response(request)
        patch_vary_headers(response, ["HX-Request"])
        return response


class RefusalPage:
    """A refused step answers with its sentence and the way out, never with a broken page."""

    def __init__(self, get_response):
        self.get_response = get_response

    def __call__(self, request):
        return self.get_response(request)

    def process_exception(self, request, refused):
        if not isinstance(refused, Refused):
            return None
        return render(request, "parts/refused.html", {"refused": refused}, status=409)
