from django.urls import path

from chimney.lessons import views

app_name = "lessons"
urlpatterns = [
    path("", views.learned, name="learned"),
    path("of/<int:pk>/", views.of_paper, name="of_paper"),
    path("<int:pk>/", views.lesson, name="lesson"),
    path("<int:pk>/answer/", views.answer, name="answer"),
]
