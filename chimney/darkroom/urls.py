from django.urls import path

from chimney.darkroom import views

app_name = "darkroom"
urlpatterns = [
    path("", views.run, name="run"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<row:pk>/take-back/", views.take_back, name="take_back"),
]
