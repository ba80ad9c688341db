from django.urls import path

from chimney.places import views

app_name = "places"
urlpatterns = [
    path("", views.places, name="places"),
    path("new/", views.place, name="add"),
    path("<row:pk>/", views.place, name="place"),
    path("<row:pk>/view/", views.view, name="view"),
    path("view/<row:pk>/", views.edit_view, name="edit_view"),
    path("view/<row:pk>/undrop/", views.undrop_view, name="undrop_view"),
]
