from django.urls import path

from chimney.field import outings, views

app_name = "field"
urlpatterns = [
    path("", views.plan, name="plan"),
    path("card/<int:pk>.pdf", views.card, name="card"),
    path("outings/", outings.outings, name="outings"),
    path("outings/new/", outings.new, name="new_outing"),
    path("outings/<int:pk>/", outings.outing, name="outing"),
    path("outings/<int:pk>/edit/", outings.new, name="edit_outing"),
    path("outings/<int:pk>/drop/", outings.drop_outing, name="drop_outing"),
    path("outings/<int:pk>/undrop/", outings.undrop_outing, name="undrop_outing"),
    path("outings/<int:pk>/move/", outings.move, name="move"),
    path("outings/<int:pk>/shot/", outings.shot, name="add_shot"),
    path("outings/<int:pk>/shot/<int:shot_pk>/", outings.shot, name="shot"),
    path("outings/<int:pk>/shot/<int:shot_pk>/drop/", outings.drop_shot, name="drop_shot"),
    path("outings/<int:pk>/shot/<int:shot_pk>/again/", outings.shoot_again, name="again"),
    path("outings/<int:pk>/packing/", outings.pack, name="packing"),
    path("outings/<int:pk>/notebook/", outings.notebook, name="notebook"),
    path("outings/<int:pk>/outing.ics", outings.ics, name="ics"),
    path("outings/<int:pk>/pocket.html", outings.pocket_sheet, name="pocket"),
    path("outings/<int:pk>/pocket/", outings.bring_back, name="pocket_back"),
    path("beside/<int:pk>/", views.beside, name="beside"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("<int:pk>/", views.plan, name="kept"),
    path("<int:pk>/drop/", views.drop, name="drop"),
    path("<int:pk>/undrop/", outings.undrop_shot, name="undrop_shot"),
]
