from django.urls import path

from chimney.field import views

app_name = "field"
urlpatterns = [
    path("", views.plan, name="plan"),
    path("card/<int:pk>.pdf", views.card, name="card"),
    path("<int:pk>/", views.plan, name="kept"),
    path("<int:pk>/drop/", views.drop, name="drop"),
]
