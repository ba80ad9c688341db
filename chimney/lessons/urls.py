from django.urls import path

from chimney.lessons import views

app_name = "lessons"
urlpatterns = [
    path("", views.learned, name="learned"),
    path("of/<row:pk>/", views.of_paper, name="of_paper"),
    path("sheet/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<row:pk>/", views.lesson, name="lesson"),
    path("<row:pk>/answer/", views.answer, name="answer"),
]
