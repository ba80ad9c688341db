from django.urls import path, re_path

from chimney.logbook import views
from chimney.logbook.row import views as row

app_name = "logbook"
urlpatterns = [
    path("expose/", views.bag, name="bag"),
    path("expose/row/", row.row, name="row"),
    path("expose/row/unload/", row.unload, name="unload_row"),
    path("expose/stock/", views.stock, name="stock"),
    path("expose/packet/", views.packet, name="packet"),
    path("expose/unload/<row:pk>/", views.unload, name="unload"),
    path("expose/unload/<row:pk>/undo/", views.lay_in_again, name="lay_in_again"),
    path("expose/<row:pk>/", views.timer, name="timer"),
    re_path(
        r"^expose/(?P<pk>\d{1,18})/(?P<word>close|reopen|cover|uncover|slide-back|slide-out|unslip)/$",
        views.step,
        name="step",
    ),
    path("expose/<row:pk>/take-back/", views.take_back, name="take_back"),
    path("expose/<row:pk>/reading/", views.reread, name="reread"),
    path("sheets/<str:code>/owner/", views.owner, name="owner"),
    path("sheets/<str:code>/purpose/", views.purpose, name="purpose"),
    path("expose/close-all/", views.close_all, name="close_all"),
    path("expose/<row:pk>/note/", views.note, name="note"),
    path("expose/<row:pk>/photo.jpg", views.photo, name="photo"),
    path("expose/<row:pk>/slip/", views.slip, name="slip"),
    path("sheets/", views.sheets, name="sheets"),
    path("sheets/<str:code>/", views.sheet, name="sheet"),
    path("sheets/<str:code>/give-up/", views.give_up, name="give_up"),
    path("sheets/<str:code>/restore/", views.restore, name="restore"),
]
