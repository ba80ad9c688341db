from django.urls import path

from chimney.results import views
from chimney.results.comparing import views as comparing
from chimney.results.curves import views as curves
from chimney.results.pictures import views as pictures
from chimney.results.scans import views as scans
from chimney.results.training import views as training
from chimney.results.wedges import views as wedges
from chimney.results.wrong import views as wrong

app_name = "results"
urlpatterns = [
    path("", views.waiting, name="waiting"),
    path("scans/", scans.scans, name="scans"),
    path("scans/in-order/", scans.match_all, name="match_all"),
    path("scans/group/", scans.group, name="group"),
    path("scans/settings/<row:pk>/forget/", scans.forget, name="forget_setting"),
    path("scans/<row:pk>/", scans.scan, name="scan"),
    path("scans/<row:pk>/corners/", scans.corners, name="corners"),
    path("scans/<row:pk>/read-by/", scans.read_by, name="read_by"),
    path("scans/<row:pk>/wedge/", wedges.wedge, name="wedge"),
    path("scans/<row:pk>/sheet/", scans.assign, name="assign"),
    path("scans/<row:pk>/stamp.jpg", pictures.stamp, name="stamp"),
    path("scans/<row:pk>/negative.jpg", pictures.negative, name="negative"),
    path("scans/<row:pk>/upright.jpg", pictures.upright, name="upright"),
    path("scans/<row:pk>/positive.jpg", pictures.positive, name="positive"),
    path("scans/<row:pk>/rung-<row:number>.jpg", pictures.rung, name="rung"),
    path("scans/<row:pk>/export.<str:kind>", pictures.export, name="export"),
    path("scans/<row:pk>/scale.jpg", pictures.one_scale, name="one_scale"),
    path("curve/<row:pk>/", curves.of_paper, name="curve"),
    path("wrong/", wrong.wrong, name="wrong"),
    path("wrong/<slug:medium>/<slug:looks>.jpg", wrong.picture, name="wrong_picture"),
    path("faults/", training.faults, name="faults"),
    path("faults/<slug:code>.jpg", training.example, name="example"),
    path("trainer/", training.trainer, name="trainer"),
    path("trainer/<row:seed>.jpg", training.puzzle_picture, name="puzzle"),
    path("trainer/<row:seed>/rung-<row:number>.jpg", training.rung, name="trainer_rung"),
    path("trainer/forget/", training.forget, name="forget"),
    path("compare/", comparing.compare, name="compare"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("pictures/<str:code>/", scans.of_sheet, name="pictures"),
    path("<str:code>/stamp.jpg", pictures.thumb, name="thumb"),
    path("<str:code>/", views.judge, name="judge"),
    path("<str:code>/take-back/", views.take_back, name="take_back"),
]
