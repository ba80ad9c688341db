"""The thread of sheets as a machine of states: whatever is tapped in whatever order, by clocks that
jump, what must hold between the tables holds, every button that is offered works, and every undo
restores the world.
"""

import os
import re
from collections import Counter
from contextlib import ExitStack
from datetime import UTC, datetime, timedelta
from functools import cache

from django.apps import apps
from django.db import connection, transaction
from django.test import Client, TestCase
from hypothesis import HealthCheck, Phase, settings
from hypothesis import strategies as some
from hypothesis.stateful import (
    RuleBasedStateMachine,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from chimney.darkroom.models import Run
from chimney.field.models import Shot
from chimney.hearth import invariants
from chimney.kit import flows as kit_flows
from chimney.kit.models import Camera, Holder, Paper
from chimney.logbook.models import Exposure, Loading, Sheet
from chimney.parts import clock
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.solar.cans.wording import CHECKLIST
from chimney.solar.models import Solargraph
from tests.chimney.kitchen import kit, typed
from tests.chimney.monkey import Page
from tests.chimney.told import differences

NOON = datetime(2026, 6, 1, 10, tzinfo=UTC)
CAN = {"back": "can", "focal_mm": 66, "diameter_mm": 0.3, "size": "5x7 in", "cut_width_mm": 177.8}
CAN |= {"cut_height_mm": 120, "visible_width_mm": 177.8, "visible_height_mm": 120}
# Where a button stands that takes the last tap back, by the words on it.
UNDO = ("undo", "take the verdict back", "take back")
# What the world is: rows without their names in the database, and without when somebody looked.
WORLD = ("logbook", "field", "solar", "darkroom", "results", "lessons")
APART = {"id", "learned_at", "exposed_at", "shot_before", "reading", "standing", "answered_ei"}
# What was typed about a can stays typed when putting it out is taken back.
APART |= {
    "spot",
    "contact",
    "permission",
    "mounting",
    "check_days",
    "note",
    "latitude_deg",
    "longitude_deg",
}
PICK = some.integers(0, 10**6)


@cache
def _asked():
    """[(name of a kind of row, what the database is asked of its rows)]."""
    asked = []
    for label in WORLD:
        for model in apps.get_app_config(label).get_models():
            if model.__name__ in ("LongSkyline", "Pocketed"):
                continue
            names = [
                field.attname for field in model._meta.concrete_fields if field.name not in APART
            ]
            rows = model._default_manager.order_by().values_list(*names)
            asked.append((model.__name__, rows.query.sql_with_params()))
    return asked


def world():
    """Everything the log says: how often it has each row, as the database keeps it."""
    rows = Counter()
    with connection.cursor() as cursor:
        for name, asked in _asked():
            cursor.execute(*asked)
            rows.update((name, *row) for row in cursor.fetchall())
    return rows


class Thread(RuleBasedStateMachine):
    """A camera with two holders, one whose paper goes straight in, a second depth, two cans, two
    papers.
    """

    def __init__(self):
        super().__init__()
        self.stack, self.now, self.client = ExitStack(), NOON, Client()
        self.stack.enter_context(transaction.atomic())
        self.stack.enter_context(clock.at(NOON))
        camera, self.paper, self.developer, _ = kit()
        Holder.objects.create(name="2", size="4x5 in")
        kit_flows.keep_camera(Camera(**{**_measures(camera), "name": "Box"}), loads_directly=True)
        Camera.objects.create(
            **{**_measures(camera), "name": "Plank, short", "body": camera, "focal_mm": 75}
        )
        Paper.objects.create(name="direct positive fibre", kind="positive", box_ei=3)
        Paper.objects.create(name="pearl", kind="solargraph", box_ei=6)
        self.place = place_flows.keep(
            Place(name="Rauholm", latitude_deg=57.1, longitude_deg=19.6, zone="Europe/Stockholm")
        )
        for number in (1, 2):
            kit_flows.keep_camera(Camera(name=f"Can {number}", **CAN), loads_directly=True)
        self.client.cookies.clear()

    def teardown(self):
        try:
            told = differences(self.client)
            assert not told, told
        finally:
            transaction.set_rollback(True)
            self.stack.close()

    def get(self, url):
        answer = self.client.get(url)
        assert answer.status_code == 200, f"{url} answers {answer.status_code}"
        return Page(answer.content.decode(), url)

    def post(self, url, data, fine=(200, 302, 204)):
        answer = self.client.post(url, data)
        assert answer.status_code in fine, f"{url} with {data} answers {answer.status_code}"
        return answer

    @rule(seconds=some.sampled_from([-7200, -30, 0, 1, 4, 40, 700, 20_000, 86_400 * 40]))
    def time_passes(self, seconds):
        """Also backwards: clocks are set, and devices differ."""
        self.now += timedelta(seconds=seconds)
        self.stack.enter_context(clock.at(self.now))

    @rule(pick=PICK, paper=PICK)
    def load(self, pick, paper):
        page = self.get("/expose/")
        form = next((form for form in page.forms if "paper" in form["data"]), None)
        if form:
            papers = list(Paper.objects.values_list("pk", flat=True))
            self.post("/expose/", form["data"] | {"paper": papers[paper % len(papers)]}, (302, 422))

    @rule(
        pick=PICK,
        again=some.booleans(),
        hand=some.sampled_from(["0", "5"]),
        sheets=some.integers(0, 5),
        side=PICK,
    )
    def open(self, pick, again, hand, sheets, side):
        cameras = list(Camera.objects.exclude(back="can"))
        camera, timed = cameras[pick % len(cameras)], list(Paper.objects.developed())
        kept = Shot.objects.filter(done=False).order_by("pk").first() if sheets == 5 else None
        data = typed(
            camera, timed[pick % len(timed)], seconds="30", reckon="on", hand_s=hand, note=""
        )
        data |= {
            "sheets": ("single", "bracket", "schools", "strip", "single", "bracket")[sheets],
            "bands": "3",
        }
        page = self.get(f"/plan/{kept.pk}/" if kept else "/plan/")
        sides = [one.pk for one in Holder.objects.filter(size="4x5 in")]
        data |= {
            "side": f"{sides[side % len(sides)]}{'AB'[side % 2]}",
            "again": "on" if again else "",
        }
        form = next((form for form in page.forms if "made" in form["data"]), None)
        if form:
            self.post(page.url, data | {"made": form["data"]["made"], "open": ""}, (302, 409, 422))

    @rule(pick=PICK)
    def keep(self, pick):
        self.post("/plan/", typed(Camera.objects.first(), self.paper, subject="hedge", keep="1"))

    @rule(pick=PICK, tap=PICK)
    def tap(self, pick, tap):
        """Any button of any page about the log; what is offered works, and what undoes it restores
        the world.
        """
        pages = ["/expose/", "/plan/", "/develop/", "/read/", "/expose/cans/"]
        pages += [f"/expose/{pk}/" for pk in Exposure.objects.values_list("pk", flat=True)[:6]]
        pages += [f"/sheets/{code}/" for code in Sheet.objects.values_list("code", flat=True)[:8]]
        pages += [f"/expose/cans/{pk}/" for pk in Solargraph.objects.values_list("pk", flat=True)]
        finished = Sheet.objects.filter(stage__in=["developed", "read"])
        pages += [
            f"/develop/run/{pk}/"
            for pk in Run.objects.filter(timed=True).values_list("pk", flat=True)
        ]
        pages += [f"/read/{code}/" for code in finished.values_list("code", flat=True)]
        self.press(self.get(pages[pick % len(pages)]), tap)

    @rule(pick=PICK, tap=PICK)
    @precondition(lambda self: Exposure.objects.exists())
    def tap_a_timer(self, pick, tap):
        exposures = Exposure.objects.values_list("pk", flat=True)
        self.press(self.get(f"/expose/{exposures[pick % len(exposures)]}/"), tap)

    def press(self, page, tap):
        offers = [offer for offer in page.offers if self.means_something(offer)]
        if not offers:
            return
        offer, before = offers[tap % len(offers)], world()
        # A slip logged while the hole is open shuts it as well, and that is no slip to be taken
        # back.
        shuts = offer.action.endswith("/slip/") and any(
            "Close the hole" in one.words for one in page.offers
        )
        # Forms with boxes to fill may miss something; a bare button may not.
        bare = not set(offer.data) - {"csrfmiddlewaretoken", "slip", "stage", "sheets", "made"}
        answer = offer.send(self.client, **self.filled(offer))
        fine = (200, 302, 204) if bare else (200, 302, 409, 422)
        assert answer.status_code in fine, (
            f"{offer.words} on {page.url} answers {answer.status_code}"
        )
        if answer.status_code == 302 and not _is_undo(offer) and not shuts and world() != before:
            self.undo(answer, page, before, offer)

    def means_something(self, offer):
        return offer.method == "post" and not offer.action.startswith(
            ("/dress", "/door", "/kit", "/learn")
        )

    def filled(self, offer):
        """What a person would type where the form asks for more."""
        if offer.action.endswith("/out/"):
            return {"ticked": [code for code, _ in CHECKLIST], "spot": "hedge", "check_days": "60"}
        if offer.action.startswith("/read/") and "remarks" in offer.data:
            return {"look": "dark", "faults": ["shake"]}
        return {}

    def undo(self, answer, page, before, done):
        """Where the page that follows offers to take that very tap back, it restores the world; it
        is done anew.
        """
        url = answer["Location"]
        offers = [
            offer for offer in self.get(url).offers if _is_undo(offer) and _takes_back(offer, done)
        ]
        if not offers:
            return
        taken = offers[0].send(self.client)
        assert taken.status_code in (200, 302), (
            f"{offers[0].words} after {done.words} answers {taken.status_code}"
        )
        now = world()
        lost, new = (
            [row for row in before if row not in now],
            [row for row in now if row not in before],
        )
        assert now == before, f"{offers[0].words!r} after {done.words!r}: lost {lost}, new {new}"
        if page.url != "/plan/":
            # From a page shown anew: the very same form is taken in once.
            again = done.send(self.client, **self.filled(done), csrfmiddlewaretoken="")
            assert again.status_code == 302, (
                f"{done.words!r} cannot be done again once it was taken back"
            )

    @rule(pick=PICK, azimuth=some.sampled_from(["180", "90"]))
    def plan_a_can(self, pick, azimuth):
        if Solargraph.objects.count() < 4:
            cans = list(Camera.objects.filter(back="can"))
            data = {
                "place": self.place.pk,
                "camera": cans[pick % len(cans)].pk,
                "azimuth_deg": azimuth,
                "tilt_deg": "0",
            }
            data |= {
                "first_day": "2026-06-01",
                "last_day": "2026-06-21",
                "kind": "span",
                "climate": "clear",
            }
            self.post("/plan/sun/keep/", data | {"view": "positive"})

    @rule(pick=PICK, kind=some.sampled_from(["missing", "found", "wet"]))
    @precondition(lambda self: Solargraph.objects.exists())
    def something_befalls_a_can(self, pick, kind):
        cans = list(Solargraph.objects.values_list("pk", flat=True))
        self.post(f"/expose/cans/{cans[pick % len(cans)]}/event/", {"kind": kind, "words": ""})

    @rule(pick=PICK, slip=some.sampled_from(["slide_in", "slide_out"]))
    @precondition(lambda self: Exposure.objects.exists())
    def late_slip(self, pick, slip):
        exposures = list(Exposure.objects.values_list("pk", flat=True))
        self.post(f"/expose/{exposures[pick % len(exposures)]}/slip/", {"slip": slip})

    @rule(seconds=some.sampled_from(["10", "60", "24h"]), pick=PICK)
    @precondition(lambda self: Exposure.objects.filter(given_s=None).exists())
    def read_again(self, seconds, pick):
        open_now = list(Exposure.objects.filter(given_s=None).values_list("pk", flat=True))
        data = {
            "kind": "seconds",
            "seconds": seconds,
            "meter_f": "1" if seconds == "24h" else "128",
            "meter_iso": "6",
        }
        self.post(f"/expose/{open_now[pick % len(open_now)]}/reading/", data)

    @invariant()
    def everything_agrees(self):
        found = list(invariants.broken())
        assert not found, found

    @invariant()
    def whatever_is_open_can_be_seen_and_closed(self):
        for pk in Exposure.objects.filter(given_s=None).values_list("pk", flat=True):
            words = [offer.words for offer in self.get(f"/expose/{pk}/").offers]
            assert any(word.startswith("Close the hole") for word in words), words
        self.get("/")


def _measures(camera):
    names = [
        field.name for field in Camera._meta.fields if field.name not in ("id", "name", "body")
    ]
    return {name: getattr(camera, name) for name in names}


def _is_undo(offer):
    return any(words in offer.words.lower() for words in UNDO)


# Which button takes which tap back, by what stands in their addresses.
TAKEN_BACK = (
    ("/plan/", "/take-back/"),
    ("/close/", "/reopen/"),
    ("/slide-back/", "/slide-out/"),
    ("/slip/", "/unslip/"),
    ("/give-up/", "/restore/"),
    ("/drop/", "/undrop/"),
    ("/develop/", "/call-off/"),
    ("/develop/", "/take-back/"),
    ("/read/", "/take-back/"),
    ("/out/", "/undo/"),
)


def _takes_back(offer, done):
    lane = re.match(r"(/develop/run/\d+/\d+)/\d+/(?!undo)", done.action)
    if lane or "/run/" in done.action:
        return bool(lane) and re.fullmatch(rf"{lane[1]}/\d+/undo/", offer.action) is not None
    pairs = [(a, b) for a, b in TAKEN_BACK if a != "/plan/" or "open" in done.data]
    return any(a in done.action and b in offer.action for a, b in pairs)


class Model(TestCase):
    def test_the_thread_of_sheets(self):
        large = os.environ.get("CHIMNEY_FUZZ") == "1"
        run_state_machine_as_test(
            Thread,
            settings=settings(
                max_examples=200 if large else 10,
                stateful_step_count=60 if large else 22,
                deadline=None,
                derandomize=not large,
                phases=[Phase.generate, *([Phase.shrink] if large else [])],
                database=None,
                suppress_health_check=list(HealthCheck),
            ),
        )
        self.assertFalse(Loading.objects.exists())
