from django.urls import path, re_path

from chimney.solar.cans import views
from chimney.solar.marks import views as marks
from chimney.solar.planner import views as planning
from chimney.solar.round import views as rounds
from chimney.solar.season import views as seasons

app_name = "solar"
urlpatterns = [
    path("plan/sun/", planning.plan, name="plan"),
    path("plan/sun/<row:pk>/", planning.plan, name="kept"),
    path("plan/sun/<row:pk>/change/", planning.change, name="change"),
    path("plan/sun/<row:pk>/again/", planning.again, name="again"),
    path("plan/sun/best/", planning.best, name="best"),
    path("plan/sun/window/", planning.window, name="window"),
    path("plan/sun/season/", seasons.season, name="season"),
    path("plan/sun/keep/", planning.keep, name="keep"),
    path("plan/sun/preview/", planning.preview_of, name="preview"),
    path("plan/sun/picture.png", planning.picture, name="picture"),
    path("plan/sun/eclipses/<row:pk>/", planning.eclipses, name="eclipses"),
    path("plan/sun/place/", planning.skyline_of_place, name="skyline"),
    re_path(r"^plan/sun/(?P<kind>skyline|sunshine)\.csv$", planning.table, name="table"),
    path("expose/cans/", views.cans, name="cans"),
    path("expose/cans/out/", views.out, name="out"),
    path("expose/cans/to-scan/", views.to_scan, name="to_scan"),
    path("expose/cans/cans.ics", views.ics, name="ics"),
    path("expose/cans/round.pdf", rounds.printed, name="round"),
    path("expose/cans/round.html", rounds.carried, name="carry"),
    path("expose/cans/round/", rounds.bring_back, name="bring_back"),
    path("expose/cans/at/<row:pk>/", views.move_spot, name="move_spot"),
    path("expose/cans/of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("expose/cans/<row:pk>/", views.can, name="one"),
    path("expose/cans/<row:pk>/stood/", marks.marks, name="marks"),
    path("expose/cans/<row:pk>/stood/keep/", marks.keep, name="keep_stood"),
    path("expose/cans/<row:pk>/meant.png", marks.meant, name="meant"),
    path("expose/cans/<row:pk>/out/", views.put_out, name="put_out"),
    path("expose/cans/<row:pk>/spot/", views.describe, name="describe"),
    path("expose/cans/<row:pk>/close/", views.close, name="close"),
    path("expose/cans/<row:pk>/event/", views.event, name="event"),
    path("expose/cans/<row:pk>/event/<row:event_pk>/undo/", views.unnote_event, name="unnote"),
    path("expose/cans/<row:pk>/look/", views.look, name="look"),
    path("expose/cans/<row:pk>/drop/", views.drop, name="drop"),
    path("expose/cans/<row:pk>/undrop/", views.undrop, name="undrop"),
    path("expose/cans/<row:pk>/label.pdf", views.label, name="label"),
    path("expose/cans/<row:pk>/photo.jpg", views.photo, name="photo"),
    re_path(
        r"^expose/cans/(?P<pk>\d{1,18})/(?P<word>undo|reopen|light|fix|unfix|unlook)/$",
        views.step,
        name="step",
    ),
]
