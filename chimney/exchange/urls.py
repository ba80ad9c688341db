from django.urls import path

from chimney.exchange.feed import views as feed
from chimney.exchange.own import views as own
from chimney.exchange.tables import views as tables
from chimney.exchange.whole import views as whole

app_name = "exchange"
urlpatterns = [
    path("", own.data, name="data"),
    path("log/", whole.write, name="write"),
    path("schema.json", whole.schema, name="schema"),
    path("brought/<row:pk>/", whole.brought, name="brought"),
    path("brought/<row:pk>/bring/", whole.bring, name="bring"),
    path("brought/<row:pk>/take-out/", whole.take_out, name="take_out"),
    path("brought/<row:pk>/forget/", whole.forget, name="forget"),
    path("table/<slug:name>.csv", tables.table, name="table"),
    path("places.geojson", tables.places_on_a_map, name="places_on_a_map"),
    path("places/bring/", own.bring_places, name="bring_places"),
    path("light/", feed.light, name="light"),
    path("calendar/<str:secret>.ics", feed.calendar, name="calendar"),
    path("light/now/", feed.light_now, name="light_now"),
    path("light/let-in/", own.let_in, name="let_in"),
    path("light/<row:pk>/put-out/", feed.put_out, name="put_out"),
]
