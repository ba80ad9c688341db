from django.urls import path

from chimney.kit import views

app_name = "kit"
urlpatterns = [
    path("", views.shelf, name="shelf"),
    path("needs/", views.needs, name="needs"),
    path("room/", views.room, name="room"),
    path("papers/starter/", views.starter, name="starter"),
    path("can/", views.can, name="can"),
    path("camera/<int:pk>/label.pdf", views.label, name="label"),
    path("camera/<int:pk>/hole/", views.hole, name="hole"),
    path("camera/<int:pk>/hole/outline/", views.outline, name="outline"),
    path("camera/<int:pk>/hole/keep/", views.hole_keep, name="hole_keep"),
    path("camera/<int:pk>/observe/", views.observe, name="observe"),
    path("observed/<int:pk>/mend/", views.mend, name="mend"),
    path("camera/<int:pk>/dots.pdf", views.dots, name="dots"),
    path("<slug:kind>/new/", views.add, name="add"),
    path("<slug:kind>/<int:pk>/", views.edit, name="edit"),
    path("<slug:kind>/<int:pk>/retire/", views.retire, name="retire"),
    path("<slug:kind>/<int:pk>/use/", views.use_again, name="use_again"),
]
