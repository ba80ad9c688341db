from django.urls import path

from chimney.kit import views
from chimney.kit.hole import views as hole
from chimney.kit.needs import views as needs
from chimney.kit.room import views as room

app_name = "kit"
urlpatterns = [
    path("", views.shelf, name="shelf"),
    path("needs/", needs.needs, name="needs"),
    path("room/", room.room, name="room"),
    path("people/", views.people, name="people"),
    path("people/retire/", views.retire_period, name="retire_period"),
    path("papers/starter/", views.starter, name="starter"),
    path("paper/<row:pk>/merge/", views.merge, name="merge"),
    path("can/", views.can, name="can"),
    path("net.pdf", views.net, name="net"),
    path("camera/<row:pk>/label.pdf", views.label, name="label"),
    path("camera/<row:pk>/hole/", hole.hole, name="hole"),
    path("camera/<row:pk>/hole/outline/", hole.outline, name="outline"),
    path("camera/<row:pk>/hole/keep/", hole.hole_keep, name="hole_keep"),
    path("camera/<row:pk>/observe/", views.observe, name="observe"),
    path("observed/<row:pk>/mend/", views.mend, name="mend"),
    path("camera/<row:pk>/dots.pdf", views.dots, name="dots"),
    path("<slug:kind>/new/", views.add, name="add"),
    path("<slug:kind>/<row:pk>/", views.edit, name="edit"),
    path("<slug:kind>/<row:pk>/retire/", views.retire, name="retire"),
    path("<slug:kind>/<row:pk>/use/", views.use_again, name="use_again"),
]
