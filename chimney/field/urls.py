from django.urls import path

from chimney.field.again import views as again
from chimney.field.ahead import views as ahead
from chimney.field.foreseen import views as foreseen
from chimney.field.notebook import views as notebook
from chimney.field.outing import views as outings
from chimney.field.photo import views as photos
from chimney.field.plan import views as plans
from chimney.field.pocket import views as pockets
from chimney.field.practice import views as practising
from chimney.field.returning import views as returning
from chimney.field.strip import views as strips
from chimney.field.today import views as todays
from chimney.field.together import views as together
from chimney.field.year import views as years

app_name = "field"
urlpatterns = [
    path("", plans.plan, name="plan"),
    path("card/<row:pk>.pdf", plans.card, name="card"),
    path("outings/", outings.outings, name="outings"),
    path("outings/new/", outings.new, name="new_outing"),
    path("outings/<row:pk>/", outings.outing, name="outing"),
    path("outings/<row:pk>/edit/", outings.new, name="edit_outing"),
    path("outings/<row:pk>/drop/", outings.drop_outing, name="drop_outing"),
    path("outings/<row:pk>/undrop/", outings.undrop_outing, name="undrop_outing"),
    path("outings/<row:pk>/move/", outings.move, name="move"),
    path("outings/<row:pk>/sky/", outings.change_sky, name="change_sky"),
    path("outings/sky/<row:pk>/undo/", outings.undo_sky, name="undo_sky"),
    path("outings/<row:pk>/shot/", outings.shot, name="add_shot"),
    path("outings/<row:pk>/shot/<row:shot_pk>/", outings.shot, name="shot"),
    path("outings/<row:pk>/shot/<row:shot_pk>/drop/", outings.drop_shot, name="drop_shot"),
    path("outings/<row:pk>/shot/<row:shot_pk>/again/", outings.shoot_again, name="again"),
    path("outings/<row:pk>/packing/", outings.pack, name="packing"),
    path("outings/<row:pk>/notebook/", notebook.notebook, name="notebook"),
    path("outings/<row:pk>/outing.ics", outings.ics, name="ics"),
    path("outings/<row:pk>/pocket.html", pockets.pocket_sheet, name="pocket"),
    path("outings/<row:pk>/pocket/", pockets.bring_back, name="pocket_back"),
    path("strip/<row:pk>/", strips.strip, name="strip"),
    path("together/", together.together, name="together"),
    path("ahead/", ahead.test_ahead, name="test_ahead"),
    path("practice/", practising.practice, name="practice"),
    path("practice/sheet.png", practising.picture, name="practice_sheet"),
    path("photo/", photos.bring, name="bring_photo"),
    path("photo/<row:pk>/", photos.photo, name="photo"),
    path("photo/<row:pk>/keep/", photos.keep, name="keep_photo"),
    path("photo/<row:pk>/drop/", photos.drop, name="drop_photo"),
    path("photo/<row:pk>/photo.jpg", photos.jpeg, name="photo_jpeg"),
    path("photo/<row:pk>/print.png", photos.foreseen, name="foreseen"),
    path("photo/of/<str:code>/", foreseen.of_sheet, name="foreseen_of"),
    path("year/", years.year, name="year"),
    path("year/card.pdf", years.card, name="year_card"),
    path("today/", todays.today, name="today"),
    path("today/line/", todays.line, name="today_line"),
    path("today/forecast/", todays.forecast, name="forecast"),
    path("again/", again.last, name="again_last"),
    path("again/<row:pk>/", again.again, name="again"),
    path("after/<row:pk>/", plans.after, name="after"),
    path("beside/<row:pk>/", plans.beside, name="beside"),
    path("of/<str:code>/", plans.of_sheet, name="of_sheet"),
    path("returns/", returning.returns_of, name="returns_of"),
    path("returns/<int:stamp>.ics", returning.ics_of, name="returns_of_ics"),
    path("returns/views.ics", returning.views_ics, name="views_ics"),
    path("returns/<str:code>/", returning.returns, name="returns"),
    path("returns/<str:code>/<int:stamp>.ics", returning.ics, name="returns_ics"),
    path("<row:pk>/", plans.plan, name="kept"),
    path("<row:pk>/drop/", plans.drop, name="drop"),
    path("<row:pk>/undrop/", outings.undrop_shot, name="undrop_shot"),
]
