import csv
import io
import urllib.request
from http.client import HTTPException
from urllib.parse import urlencode

import numpy as np
from django.core.management.base import CommandError
from django.utils import timezone

from chimney.parts import clock
from chimney.parts.commands import PagelessCommand
from chimney.places.models import Place
from chimney.solar.planner import flows
from pinhole.solargraph import climate

MOST_WEATHER_BYTES = 400_000


class Command(PagelessCommand):
    help = "Reads days of sunshine for a place from a service that answers date,hours as CSV."

    def add_arguments(self, parser):
        parser.add_argument("place")
        parser.add_argument("--url", default="http://127.0.0.1:8090/days.csv")
        parser.add_argument("--since", help="a day, a year ago by default")

    def handle(self, *, place, url, since, **options):
        known_place = Place.objects.filter(name__iexact=place).first()
        if known_place is None:
            raise CommandError(f"There is no place called {place}.")
        today = timezone.localdate(clock.now())
        first = since or today.replace(year=today.year - 1, day=min(today.day, 28)).isoformat()
        query = {"latitude": known_place.latitude_deg, "longitude": known_place.longitude_deg}
        query |= {"from": first, "until": today.isoformat()}
        if not url.startswith(("http://", "https://")):
            raise CommandError("A service is asked over http or https.")
        try:
            with urllib.request.urlopen(f"{url}?{urlencode(query)}", timeout=20) as answer:
                text = answer.read(MOST_WEATHER_BYTES + 1).decode("utf-8-sig")
            rows = list(csv.reader(io.StringIO(text)))
            days = np.arange(np.datetime64(first), np.datetime64(today.isoformat()))
            climate.read_csv(rows, days, np.full(len(days), 24.0))
        except (OSError, ValueError, HTTPException, csv.Error) as error:
            raise CommandError(f"Not read: {error}.") from error
        flows.keep_sunshine(known_place, rows, f"{url} on {today}"[:120])
        self.stdout.write(f"{len(rows) - 1} days of sunshine are kept for {known_place}.")
