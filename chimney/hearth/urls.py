from django.urls import path

from chimney.hearth import views
from chimney.hearth.begin import views as begin
from chimney.hearth.guests import views as guests
from chimney.hearth.made import views as made

app_name = "hearth"
urlpatterns = [
    path("", views.hearth, name="hearth"),
    path("begin/", begin.begin, name="first_door"),
    path("begin/<slug:door>/", begin.begin, name="begin"),
    path("words/", views.words, name="words"),
    path("keys/", views.keys, name="keys"),
    path("token/", views.token, name="token"),
    path("made/<row:pk>/", made.making, name="making"),
    path("made/<row:pk>/file/", made.fetch, name="fetch"),
    path("door/", views.door, name="door"),
    path("door/devices/", views.devices_page, name="devices"),
    path("door/guests/", guests.guests, name="guests"),
    path("door/who/", guests.who, name="who"),
    path("door/devices/<row:pk>/name/", views.call_device, name="call_device"),
    path("door/devices/<row:pk>/out/", views.put_out, name="put_out"),
    path("door/leave/", views.leave, name="leave"),
    path("dress/", views.dress, name="dress"),
]
