from django.urls import path

from chimney.lessons import views
from chimney.lessons.search import views as search

app_name = "lessons"
urlpatterns = [
    path("", views.learned, name="learned"),
    path("seen/", views.seen, name="seen"),
    path("search/", search.search, name="search"),
    path("search/keep/", search.keep, name="keep_search"),
    path("search/<row:pk>/forget/", search.forget, name="forget_search"),
    path("notebook/", search.notebook, name="notebook"),
    path("year/<row:number>/", search.year, name="year"),
    path("nearest/", views.nearest, name="nearest"),
    path("finding/<row:pk>/answer/", views.answer_finding, name="answer_finding"),
    path("of/<row:pk>/", views.of_paper, name="of_paper"),
    path("sheet/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<row:pk>/", views.lesson, name="lesson"),
    path("<row:pk>/answer/", views.answer, name="answer"),
]
