from django.urls import path

from chimney.darkroom import views
from chimney.darkroom.mixing import views as mixing

app_name = "darkroom"
urlpatterns = [
    path("", views.run, name="run"),
    path("mix/", mixing.mix, name="mix"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<row:pk>/take-back/", views.take_back, name="take_back"),
]
