"""The dark room of the invented photographer: what stands in it, and runs through the same flows as
a real one.
"""

from datetime import timedelta

from chimney.darkroom import flows, queries
from chimney.darkroom.models import Bath, LightTest, SafeLight, Vessel
from chimney.darkroom.room import catalogue
from chimney.darkroom.room import flows as room
from chimney.kit import flows as kit
from chimney.kit.models import Developer, Paper
from chimney.parts import clock

VESSELS = (
    {"name": "white trays", "kind": "tray", "width_mm": 180, "height_mm": 240, "holds": 1},
    {"name": "big trays", "kind": "tray", "width_mm": 300, "height_mm": 400, "holds": 1},
    {"name": "grey tank", "kind": "tank", "diameter_mm": 85, "high_mm": 180, "holds": 2},
)
# name, purpose, developer, parts, ml, what went in, days old.
BATHS = (
    ("bath 12", "develop", "paper developer", 10, 1100, "100 ml of concentrate", 0.15),
    ("coffee, Sunday", "develop", "coffee", None, 500, "12 g soda crystals, 15 g coffee", 3.2),
    ("vinegar", "stop", None, 4, 1000, "kitchen vinegar", 2),
    ("fixer, autumn", "fix", None, 9, 1000, "non-hardening", 19),
)


def furnish(now):
    """Vessels, a lamp with its tests, and baths of different age."""
    for vessel in VESSELS:
        kit.keep(Vessel(**vessel))
    lamp = kit.keep(SafeLight(name="red torch", note="Two layers of red film before it."))
    with clock.at(now - timedelta(days=200)):
        for name, shows in (("grade-2 RC", 480.0), ("direct positive fibre", 480.0)):
            times = list(catalogue.TEST_TIMES_S)
            paper = Paper.objects.get(name=name)
            fields = {"distance_mm": 1200.0, "times_s": times, "tested_at": clock.now()}
            room.keep_test(LightTest(light=lamp, paper=paper, shows_s=shows, **fields))
    for name, purpose, developer, parts, volume, went_in, days in BATHS:
        with clock.at(now - timedelta(days=days)):
            bath = Bath(name=name, purpose=purpose, parts=parts, volume_ml=volume, went_in=went_in)
            bath.developer = Developer.objects.filter(name=developer).first()
            bath.capacity_m2 = catalogue.M2_PER_L[purpose] * volume / 1000
            bath.lasts_days = catalogue.LASTS_DAYS[purpose]
            room.mix(bath)


def process_for(paper, developer):
    """The process such a sheet goes through."""
    processes = queries.all_processes()
    return processes[queries.proposed(paper, processes, developer)[0]]


def hung_up(chance, sheets, developer, when):
    """A run that ends with its sheets on the line."""
    return run_through(chance, sheets, developer, when, 19.5, "rc-trays", but=1)


def run_through(chance, sheets, developer, when, warm, key="", but=0):
    """A run from its first tap to the dry sheet, each step for about as long as it should be; key:
    of another process than the proposed one; but: so many steps at its end are still to come.
    """
    paper = sheets[0].paper
    process = queries.all_processes()[key] if key else process_for(paper, developer)
    with clock.at(when):
        run = flows.begin(
            sheets,
            process,
            developer,
            together=True,
            parts=developer.parts,
            by_eye=process.by_eye,
            temperature_c=warm,
        )
    moment = when
    for number, step in enumerate(process.steps[: len(process.steps) - but]):
        moment += timedelta(seconds=chance.uniform(step.least_s, step.most_s) or 40)
        with clock.at(moment):
            flows.tap(run, 0, number, "next")
    return run


def in_progress(sheets, developer, now):
    """A run of two sheets one after the other: the first in the stop, the second going in."""
    process = queries.all_processes()["rc-trays"]
    baths = list(Bath.objects.filter(name__in=("bath 12", "vinegar", "fixer, autumn")))
    fields = {"vessel": Vessel.objects.first(), "light": SafeLight.objects.first()}
    with clock.at(now - timedelta(seconds=150)):
        run = flows.begin(
            sheets,
            process,
            developer,
            together=False,
            baths=baths,
            parts=developer.parts,
            safe_s=240.0,
            temperature_c=19.5,
            **fields,
        )
    for lane, moves, ago_s in ((0, 0, 118), (0, 1, 47), (1, 0, 43), (0, 2, 24)):
        with clock.at(now - timedelta(seconds=ago_s)):
            flows.tap(run, lane, moves, "next")
    return run
