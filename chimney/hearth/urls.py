from django.urls import path

from chimney.hearth import views

app_name = "hearth"
urlpatterns = [
    path("", views.hearth, name="hearth"),
    path("keys/", views.keys, name="keys"),
    path("token/", views.token, name="token"),
    path("door/", views.door, name="door"),
    path("dress/", views.dress, name="dress"),
]
