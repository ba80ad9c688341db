from django.urls import path

from chimney.results import views
from chimney.results.scans import views as scans

app_name = "results"
urlpatterns = [
    path("", views.waiting, name="waiting"),
    path("scans/", scans.scans, name="scans"),
    path("scans/<row:pk>/", scans.scan, name="scan"),
    path("scans/<row:pk>/sheet/", scans.assign, name="assign"),
    path("scans/<row:pk>/negative.jpg", scans.negative, name="negative"),
    path("scans/<row:pk>/positive.jpg", scans.positive, name="positive"),
    path("scans/<row:pk>/rung-<row:number>.jpg", scans.rung, name="rung"),
    path("scans/<row:pk>/export.<str:kind>", scans.export, name="export"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("pictures/<str:code>/", scans.of_sheet, name="pictures"),
    path("<str:code>/stamp.jpg", scans.thumb, name="thumb"),
    path("<str:code>/", views.judge, name="judge"),
    path("<str:code>/take-back/", views.take_back, name="take_back"),
]
