"""The clock swept round: every address at every hour of solstices, an equinox and a change of
summer time, near the date line, under the midnight sun and in half-hour zones, with holes open: no
page breaks and none says anything absurd.
"""

import random
import re
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from django.utils import timezone

from chimney.field.models import Outing, Shot
from chimney.field.plan.craft import forecast
from chimney.kit.models import Camera, Holder, Paper
from chimney.logbook.flows import while_open
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import clock
from chimney.places.models import Place
from pinhole import exposure as craft
from tests import LARGE
from tests.chimney import addresses
from tests.chimney.kitchen import kit, opened, typed
from tests.chimney.pages import TestCase

DAYS = (date(2026, 6, 21), date(2026, 12, 21), date(2026, 9, 23), date(2026, 10, 25))
ZONES = (
    ("Europe/Stockholm", 57.1, 19.6),
    ("Pacific/Auckland", -43.95, 171.6),
    ("Arctic/Longyearbyen", 78.2, 15.6),
    ("Asia/Kathmandu", 27.7, 85.3),
)
# Readings that made trouble late in the day: film by its table, a power law, and none at all with a
# slow camera.
LONG = (
    {"seconds": "2m", "school": "table", "camera": "Plank", "paper": "film"},
    {"seconds": "30m", "school": "power", "camera": "Wedge", "paper": "grade-2 RC"},
    {"seconds": "30m", "school": "none", "camera": "Plank", "paper": "grade-2 RC"},
    {"seconds": "24h", "meter_f": "1", "school": "power", "camera": "Wedge", "paper": "steep"},
    {
        "seconds": "3",
        "school": "none",
        "camera": "Plank",
        "paper": "grade-2 RC",
        "sheets": "bracket",
    },
)
# What no page about pinholes says: days of countdown, years to come, and what computers say when
# they give up.
ABSURD = re.compile(
    r"\b(\d{3,}) h\b|\b(nan|inf|None|Traceback)\b|\b(20[3-9]\d|[3-9]\d{3})-\d\d-\d\d|\d{4,}:\d\d"
)


class Sweep(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.camera, cls.paper, cls.developer, cls.holder = kit()
        measures = {
            field.name: getattr(cls.camera, field.name)
            for field in Camera._meta.fields
            if field.name != "id"
        }
        for name, focal in (("Wedge", 68), ("Long Tom", 300), ("Third", 100), ("Fourth", 100)):
            Camera.objects.create(**measures | {"name": name, "focal_mm": focal})
        for name in "2345":
            Holder.objects.create(name=name, size="4x5 in")
        table = [[1, 2], [4, 20], [20, 180]]
        Paper.objects.create(name="film", kind="film", box_ei=100, school="table", table=table)
        Paper.objects.create(
            name="steep", kind="negative", box_ei=0.05, school="power", exponent=3, onset_s=0.01
        )
        cls.place = Place.objects.create(
            name="home", home=True, latitude_deg=0, longitude_deg=0, zone="UTC"
        )

    def at(self, day, zone):
        """Stand at that place on that day, with holes opened through the hours before and shots to
        come.
        """
        name, self.place.latitude_deg, self.place.longitude_deg = zone
        self.place.zone = name
        self.place.save()
        Sheet.objects.all().delete()
        Outing.everything.all().delete()
        start = datetime.combine(day, time(), ZoneInfo(name))
        outing = Outing.objects.create(name="day", place=self.place, day=day, made_at=start)
        for hour, camera in ((9, "Plank"), (14, "Wedge")):
            more = {
                "camera": Camera.objects.get(name=camera),
                "paper": Paper.objects.get(name="steep"),
                "kept_at": start,
            }
            Shot.objects.create(
                outing=outing,
                subject="kiln",
                starts_at=start + timedelta(hours=hour),
                azimuth_deg=10,
                **more,
            )
        return start

    def open_holes(self, now):
        """A short one, a long one in a forecast, one covered, one read again at an absurd time, one
        with a hand.
        """
        Sheet.objects.all().delete()
        cameras, holders = list(Camera.objects.order_by("pk")), list(Holder.objects.order_by("pk"))
        made = []
        for number, hours in enumerate((0.01, 3, 1, 2)):
            with clock.at(now - timedelta(hours=hours)):
                done = opened(
                    cameras[number],
                    self.paper,
                    holders[number],
                    seconds=(20.0, 600.0, 90.0, 60.0)[number],
                )
                made.append(done)
        coming = forecast(
            self.place, made[1].calculation, made[1].planned_s, now - timedelta(hours=3)
        )
        if coming:
            Exposure.objects.filter(pk=made[1].pk).update(
                forecast=coming.points, dark_at=coming.dark_at
            )
        with clock.at(now - timedelta(minutes=20)):
            while_open.cover(made[2])
            while_open.reread(made[3], craft.Reading("seconds", "24 h", 86_400.0, 1.0, 6.0))
        return [exposure.pk for exposure in made]

    def look(self, url, fine=(200, 302, 404, 405, 409, 422)):
        answer = self.client.get(url)
        self.assertIn(answer.status_code, fine, url)
        if "text/html" in answer.get("Content-Type", ""):
            text = re.sub(r"<[^>]*>", " ", answer.content.decode())
            self.assertIsNone(
                ABSURD.search(text),
                (url, ABSURD.search(text) and text[ABSURD.search(text).start() - 90 :][:200]),
            )
        return answer

    def long_plans(self):
        cameras, papers = (
            {one.name: one for one in model.objects.all()} for model in (Camera, Paper)
        )
        for long in LONG:
            data = typed(cameras[long["camera"]], papers[long["paper"]], reckon="on")
            yield {**data, **long, "camera": data["camera"], "paper": data["paper"]}

    def test_every_hour(self):
        chance = random.Random(8)
        plans = list(self.long_plans())
        for number, day in enumerate(DAYS):
            for zone in ZONES if LARGE else ZONES[number : number + 1]:
                with timezone.override(zone[0]):
                    start = self.at(day, zone)
                    for hour in range(0, 24, 1 if LARGE else 3):
                        now = start + timedelta(
                            hours=hour + (0 if LARGE else number % 3), minutes=7
                        )
                        with clock.at(now), self.subTest(now=f"{now}", zone=zone[0]):
                            self.one_hour(now, chance, plans)

    def one_hour(self, now, chance, plans):
        pks = self.open_holes(now)
        for pk in pks:
            self.assertContains(self.look(f"/expose/{pk}/"), "Close the hole")
        for url in ("/", "/expose/", f"/plan/outings/{Outing.objects.get().pk}/"):
            self.look(url, (200,))
        plan = chance.choice(plans)
        self.look(f"/plan/?{'&'.join(f'{name}={value}' for name, value in plan.items())}", (200,))
        found = addresses.every((chance.choice(pks), self.place.pk, Outing.objects.get().pk))
        for _, url in found if LARGE and now.hour % 6 == 0 else chance.sample(found, 4):
            self.look(url)
        # Whatever its sum says, each of them is shut from the page.
        for pk in pks:
            self.assertEqual(self.client.post(f"/expose/{pk}/close/").status_code, 302)
            self.look(f"/expose/{pk}/", (200,))
