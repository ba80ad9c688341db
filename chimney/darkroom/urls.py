from django.urls import path

from chimney.darkroom import views
from chimney.darkroom.mixing import views as mixing
from chimney.darkroom.printing import views as printing
from chimney.darkroom.procedure import views as procedure
from chimney.darkroom.room import views as room
from chimney.darkroom.running import views as running

app_name = "darkroom"
# A lane of a run, as it was after so many moves.
LANE = "run/<row:pk>/<row:lane>/<row:moves>"
urlpatterns = [
    path("", views.run, name="run"),
    path("mix/", mixing.mix, name="mix"),
    path("of/<str:code>/", views.of_sheet, name="of_sheet"),
    path("run/<row:pk>/", running.going, name="going"),
    path("run/<row:pk>/white/", running.white, name="white"),
    path("run/<row:pk>/call-off/", running.call_off, name="call_off"),
    path("run/<row:pk>/note/", running.note, name="note"),
    path(f"{LANE}/ask-back/", running.back, name="back"),
    path(f"{LANE}/<slug:word>/", running.tap, name="tap"),
    path("place/", room.place, name="place"),
    path("room/", room.room, name="room"),
    path("room/bath/<row:pk>/top-up/", room.top_up, name="top_up"),
    path("room/bath/<row:pk>/throw-away/", room.throw_away, name="throw_away"),
    path("room/bath/<row:pk>/label.pdf", room.label, name="bath_label"),
    path("room/light/<row:pk>/test/", room.light_test, name="light_test"),
    path("room/<str:kind>/new/", room.add, name="add"),
    path("room/<str:kind>/<row:pk>/", room.edit, name="edit"),
    path("room/<str:kind>/<row:pk>/retire/", room.retire, name="retire"),
    path("print/strip/<row:pk>/", printing.read_strip, name="read_strip"),
    path("print/<row:pk>/take-back/", printing.take_back, name="take_back_print"),
    path("print/<str:code>/", printing.print_of, name="print"),
    path("process/new/", procedure.change, name="new_process"),
    path("process/<slug:key>/", procedure.process, name="process"),
    path("process/<slug:key>/change/", procedure.change, name="change"),
    path("process/<slug:key>/drop/", procedure.drop, name="drop_process"),
    path("process/<slug:key>/school/<row:number>/", procedure.take_school, name="take_school"),
    path("process/<slug:key>/sheet.pdf", procedure.sheet, name="process_sheet"),
    path("process/<slug:key>/clock/", procedure.clock, name="clock"),
    path("<row:pk>/take-back/", views.take_back, name="take_back"),
    path("<row:pk>/correct/", views.correct, name="correct"),
]
