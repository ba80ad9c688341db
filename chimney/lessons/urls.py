from django.urls import path

from chimney.lessons import views

app_name = "lessons"
urlpatterns = [
    path("", views.learned, name="learned"),
    path("<int:pk>/", views.lesson, name="lesson"),
    path("<int:pk>/answer/", views.answer, name="answer"),
]
