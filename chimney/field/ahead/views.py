"""The page of a test sheet before a day out."""

from django.http import HttpResponse

from chimney.field.ahead import page
from chimney.parts import fragments


def test_ahead(request):
    """Fragment of the test sheet that tells most of the planned shots, empty without any."""
    context = page.test_ahead()
    if context is None:
        return HttpResponse()
    return fragments.answer(request, "field/_test_ahead.html", context, "A test for your plans")
