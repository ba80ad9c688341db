"""The addresses follow the courses."""

from django.urls import include, path

import chimney.parts.converters  # noqa: F401 - before the addresses that use it

urlpatterns = [
    path("", include("chimney.hearth.urls")),
    path("kit/", include("chimney.kit.urls")),
    path("plan/places/", include("chimney.places.urls")),
    path("", include("chimney.solar.urls")),
    path("plan/", include("chimney.field.urls")),
    path("", include("chimney.logbook.urls")),
    path("develop/", include("chimney.darkroom.urls")),
    path("read/", include("chimney.results.urls")),
    path("learn/", include("chimney.lessons.urls")),
    path("data/", include("chimney.exchange.urls")),
]
handler400 = "chimney.hearth.views.bad_request"
handler404 = "chimney.hearth.views.not_found"
handler500 = "chimney.hearth.views.server_error"
