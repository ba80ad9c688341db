from django.urls import path

from chimney.places import views

app_name = "places"
urlpatterns = [
    path("", views.places, name="places"),
    path("new/", views.place, name="add"),
    path("<int:pk>/", views.place, name="place"),
    path("<int:pk>/view/", views.view, name="view"),
    path("view/<int:pk>/", views.edit_view, name="edit_view"),
    path("view/<int:pk>/undrop/", views.undrop_view, name="undrop_view"),
]
