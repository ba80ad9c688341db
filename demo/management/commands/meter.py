import json
import math
import random
import time
import urllib.error
import urllib.request
from urllib.parse import urlencode

import numpy as np
from django.core.management.base import CommandError

from chimney.exchange.feed import flows
from chimney.parts import clock
from chimney.parts.commands import PagelessCommand
from chimney.places.queries import home
from pinhole import light, sun

# What a hand meter can show, in thirds of a stop.
DARKEST_EV, BRIGHTEST_EV = 1.0, 17.0
# Clouds pass in about so long, and take so much [stops] (made up).
PASSING_S, MOST_STOPS = 90.0, 2.5


class Command(PagelessCommand):
    help = "A simulated meter: it sends the light of a changing sky over home, until stopped."

    def add_arguments(self, parser):
        parser.add_argument("--url", default="http://127.0.0.1:8000/data/light/")
        parser.add_argument("--token", help="let in on the page of your data; else a passing one")
        parser.add_argument("--every", type=float, default=2.0, help="seconds")
        parser.add_argument("--times", type=int, default=0, help="how often; 0: until stopped")

    def handle(self, *, url, token, every, times, **options):
        passing = None
        if not token:
            passing, token = flows.let_in("simulated meter")
        chance, clouds, sent = random.Random(7), 0.5, 0
        try:
            while not times or sent < times:
                clouds += math.sqrt(every / PASSING_S) * chance.gauss(0, 0.6)
                clouds = min(1.0, max(0.0, clouds))
                answer = send(url, token, shown_ev(clouds * MOST_STOPS))
                self.stdout.write(answer)
                sent += 1
                time.sleep(every)
        except KeyboardInterrupt:
            self.stdout.write("Stopped.")
        finally:
            if passing:
                flows.put_out(passing)


def shown_ev(stops_less):
    """EV that the meter shows, in thirds, within its limits."""
    place, now = home(), np.datetime64(clock.now().replace(tzinfo=None), "s")
    coordinates = (place.latitude_deg, place.longitude_deg) if place else (57.1, 19.6)
    altitude = float(sun.position(now, *coordinates)[1])
    ev = float(light.scene_ev100(altitude, 0.0, stops_less=stops_less))
    ev = ev if math.isfinite(ev) else DARKEST_EV
    return min(BRIGHTEST_EV, max(DARKEST_EV, round(ev * 3) / 3))


def send(url, token, ev):
    """Send a reading and return what the other side answered."""
    body = urlencode({"ev": f"{ev:.2f}", "iso": "100"}).encode()
    head = {"Authorization": f"Bearer {token}"}
    try:
        with urllib.request.urlopen(urllib.request.Request(url, body, head), timeout=5) as answer:
            return f"EV {json.load(answer)['ev100']}"
    except urllib.error.HTTPError as error:
        if error.code == 429:
            return "told to wait"
        raise CommandError(f"{error.code}: {error.read().decode()[:200]}") from error
    except OSError as error:
        raise CommandError(f"Nobody answers at {url}: {error}.") from error
