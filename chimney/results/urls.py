from django.urls import path

from chimney.results import views

app_name = "results"
urlpatterns = [
    path("", views.waiting, name="waiting"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<str:code>/", views.judge, name="judge"),
    path("<str:code>/take-back/", views.take_back, name="take_back"),
]
