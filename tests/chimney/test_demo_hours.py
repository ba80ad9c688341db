"""The invented year, begun at odd hours: daylight by day, the dark room in the evening."""

from datetime import UTC, datetime

from django.db import transaction

from chimney.darkroom.models import Run
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.places import craft as places
from chimney.places import queries as place_queries
from chimney.solar.models import Event, Solargraph
from demo import year as demo
from pinhole import sun
from tests.chimney.pages import TestCase

# A winter's night, a midsummer evening, a night of January in local time, the morning after the
# clocks went forward.
BEGUN = (
    datetime(2026, 11, 24, 1, 41, tzinfo=UTC),
    datetime(2026, 6, 21, 18, 15, tzinfo=UTC),
    datetime(2026, 1, 31, 22, 5, tzinfo=UTC),
    datetime(2027, 3, 28, 5, 0, tzinfo=UTC),
)
PAGES = ("/", "/plan/", "/plan/outings/1/", "/expose/", "/expose/cans/", "/develop/", "/read/")


class Hours(TestCase):
    def test_a_year_begun_at_any_hour_is_a_year_one_could_have_had(self):
        for begun in BEGUN:
            with self.subTest(begun=begun), clock.at(begun):
                kept = transaction.savepoint()
                try:
                    demo.a_year()
                    self.by_daylight(begun)
                    self.nobody_up_at_night()
                    for url in PAGES:
                        self.assertEqual(self.client.get(url).status_code, 200, url)
                finally:
                    transaction.savepoint_rollback(kept)

    def by_daylight(self, begun):
        home = place_queries.home()
        for made in Exposure.objects.exclude(subject__contains="lamp").filter(
            sheet__solargraph=None
        ):
            for moment in (made.opening.opened_at, made.opening.closed_at or begun):
                self.assertLessEqual(moment, begun)
                altitude_deg = places.sun_at(home, moment)[1]
                self.assertGreater(altitude_deg, sun.RISE_DEG, (made.subject, moment))
        seen = [(event.solargraph.place, event.at) for event in Event.objects.all()]
        for can in Solargraph.objects.exclude(opened_at=None):
            seen += [(can.place, moment) for moment in (can.opened_at, can.closed_at) if moment]
        for place, moment in seen:
            self.assertGreater(places.sun_at(place, moment)[1], 0, (str(place), moment))

    def nobody_up_at_night(self):
        for run in Run.objects.all():
            hour = run.began_at.astimezone(place_queries.home().tz).hour
            self.assertTrue(6 <= hour < 23, (str(run), run.began_at))
