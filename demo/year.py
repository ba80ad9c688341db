"""An invented year of an invented photographer, lived through the same flows as a real one.

The papers have a true speed that nobody in the story knows. Each sheet is metered, exposed at the
EI that Chimney would have proposed that day, and judged by what the true speed makes of it, give or
take a human eye.
"""

import math
import random
from datetime import timedelta

from django.db import transaction

from chimney.darkroom import flows as darkroom
from chimney.field import craft as field
from chimney.field.plan import flows as plans
from chimney.field.plan.craft import lit_of
from chimney.kit.models import Camera, Developer, Holder, Paper
from chimney.lessons import flows as lessons
from chimney.lessons.craft import metered_at_box_s
from chimney.lessons.models import Finding, Lesson
from chimney.lessons.proposing import queries as ratings
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections
from chimney.logbook.models import Exposure, Loading, Sheet
from chimney.parts import clock
from chimney.places import craft as place_craft
from chimney.places import queries as places
from chimney.results import flows as results
from demo import cans, dark, days, shelf
from pinhole import light

SEED = 1851
SUBJECTS = (
    "kiln mouth, from the tramway",
    "tramway points",
    "slipway at low water",
    "net loft, north wall",
    "beech hedge",
    "snow fence",
    "pump house",
    "three kilns in a row",
    "slipway, looking back",
    "net loft stairs",
    "pump house door",
    "tramway bend",
    "harbour wall",
    "lime kiln, inside",
)
# What one notes of a sky, by its name.
WEATHER = {
    "sun": ("full sun", "clear and still", ""),
    "haze": ("bright haze, no wind", "thin cloud over the sun", ""),
    "bright": ("white sky, gusts, bag as windbreak", "bright cloud", ""),
    "grey": ("grey, light wind from the sea", "drizzle before, dry now", ""),
}
# What a meter can show, in seconds at its last f-number: third stops.
METER_S = tuple(round(2 ** (third / 3), 2) for third in range(-12, 25))
# What nobody knows: the true EI of each paper of the starter set, by developer.
TRUTH = {
    "grade-2 RC": {"paper developer": 4.9, "coffee": 3.6},
    "variable-contrast RC": {"paper developer": 5.2},
    "direct positive fibre": {"paper developer": 4.1},
    "grade-3 fibre": {"paper developer": 6.3, "coffee": 4.4},
    "ISO 100 sheet film": {"film developer": 80},
    "RC for reversal": {"paper developer": 0.9},
}
# A hole that is not what was measured [stops more], and a paper that does need more at long times
# [of an exponent, from a minute on].
SLOW = {"Wedge": 1.5}
LONGER = {"grade-2 RC": 0.16}
# A low sun that asks for more than its colour alone, a process, and an eye that calls every sky
# brighter than it is [stops more].
LOW_SUN, PROCESS, EYE = 1.2, {"rc-drawers": 1.6}, 0.9
ANSWERED = (Finding.Kind.CAMERA, Finding.Kind.LIGHT, Finding.Kind.EYE)
PAPERS, RC = tuple(TRUTH), ("grade-2 RC", "variable-contrast RC")
# One letter a sheet through the year: the paper by its place above; lower case goes into coffee.
STORY = "0013022030aa102a3011d2a0402a03d104205a0c0210"
FAULTY = {
    5: ["leak"],
    9: ["stain"],
    17: ["double"],
    23: ["shake"],
    30: ["uneven"],
    36: ["fog"],
    12: ["corners"],
}
REMARKS = {
    5: "bright streak from the lid: taped since",
    9: "brown tide mark from the coffee",
    17: "the tramway over the slipway: slide not turned",
    36: "old box, fogged at the edges",
}


# Nobody stands beside a camera for longer than this.
LONGEST_S, QUICKEST = 3 * 3600.0, "Wedge"


@transaction.atomic
def a_year():
    """Make everything; returns how many sheets there are."""
    now, chance = clock.now(), random.Random(SEED)
    with clock.at(now - timedelta(days=364)):
        shelf.fill()
        days.make_places(now)
    plates = [_plate(letter) for letter in STORY]
    for place, (paper, developer) in enumerate(plates):
        when = (now - timedelta(days=358 * (1 - place / len(plates)) + 3)).replace(
            hour=10, minute=chance.randrange(60)
        )
        _whole_sheet(chance, place, paper, developer, when)
    dark.furnish(days.last_evening(now))
    _mishaps(chance, days.last_light(now))
    _today(chance, now)
    days.make_day(now)
    cans.put_cans_out(days.last_light(now))
    return Sheet.objects.count()


def _plate(letter):
    """The paper and the developer that a letter of the story stands for."""
    place = int(letter) if letter.isdecimal() else "abcdef".index(letter)
    name = PAPERS[place]
    speeds = TRUTH[name]
    bath = "coffee" if letter.isalpha() and "coffee" in speeds else next(iter(speeds))
    return Paper.objects.get(name=name), Developer.objects.get(name=bath)


def _given(chance, paper, developer, subject, camera, when):
    """Values that the photographer types on the plan page, in daylight as it was there then."""
    sun = _sun(subject, when)
    clear = float(light.scene_ev100(sun["altitude_deg"], sun["off_deg"]))
    ev100 = min(chance.uniform(10.2, 14.6), clear + 0.2)
    meter_iso = 6 if paper.box_ei < 50 else 100
    exact = light.metered_s(ev100, 128, meter_iso)
    seconds = min(METER_S, key=lambda shown: abs(math.log2(shown / exact)))
    mood = chance.randrange(6)
    fields = {
        "kind": "seconds",
        "seconds": seconds,
        "meter_f": 128.0,
        "meter_iso": float(meter_iso),
        "camera": camera,
        "paper": paper,
        "developer": developer,
        "subject": subject,
        "azimuth_deg": days.looking(subject),
        "ei_from": Exposure.EiFrom.LEARNED,
        "school": paper.school,
        "filter_stops": None,
        "compensation_stops": None,
    }
    # What such an eye would call it, which is noted beside every other reading of the meter.
    sky_seen = min(light.SKIES[:4], key=lambda sky: abs(_by_eye(sky, sun) - EYE - ev100))
    if int(ev100 * 100) % 2:
        fields |= {"seen": sky_seen.name, "seen_height": "high"}
    form = chance.random()
    if form < 0.1:
        sky = chance.choice(light.SKIES[:4])
        fields |= {"kind": "sky", "sky": sky.name, "height": "high"}
    elif form < 0.2:
        fields |= {"kind": "ev", "ev": round(ev100 * 3) / 3, "ev_iso": 100.0}
    noted = WEATHER[fields.get("sky", sky_seen.name)]
    return fields | {"note": noted[mood % len(noted)]}


def _sun(subject, when):
    """Stand of the sun to a camera that looks at a subject, by the names of the craft."""
    stands = place_craft.stands(places.home(), when, days.looking(subject))
    return {"off_deg": 0.0} | stands


def _by_eye(sky, sun):
    return light.by_eye(sky, light.HEIGHT_BY_NAME["high"], **sun)[0]


def _expose(chance, paper, developer, when, camera=None, code="", subject=None):
    """Meter, load, open and close; returns the closed exposure."""
    camera = camera or Camera.objects.get(
        name=chance.choices(("Plank", "Wedge", "Long Tom"), (5, 3, 2))[0]
    )
    subject = subject or chance.choice(SUBJECTS)
    fields = _given(chance, paper, developer, subject, camera, when)
    with clock.at(when):
        lit = lit_of(fields, None, places.home(), when)
        plan = field.make_plan(fields, _offered(paper, developer), lit)
        if plan.calculation.seconds > LONGEST_S:
            # What would take all day goes into the quickest camera there is.
            camera = fields["camera"] = Camera.objects.get(name=QUICKEST)
            plan = field.make_plan(fields, _offered(paper, developer), lit)
        while plan.calculation.seconds > LONGEST_S:
            # Nor does anybody begin what is over after dark: a brighter part of the day, then.
            fields |= {"kind": "seconds", "seconds": fields["seconds"] / 2}
            plan = field.make_plan(fields, _offered(paper, developer), lit)
        loading = logbook.load(paper, _empty_holder(camera.size), "A", code)
        exposure = logbook.open_hole(
            loading,
            camera,
            plan.calculation,
            subject=fields["subject"],
            note=fields["note"],
            developer=developer,
            ei_from=plan.proposal.ei_from,
            place=places.home(),
            azimuth_deg=days.looking(subject),
        )
    with clock.at(
        when + timedelta(seconds=max(1.0, plan.calculation.seconds + chance.gauss(0.4, 0.8)))
    ):
        logbook.close_hole(exposure)
        corrections.slide_back(exposure)
        logbook.unload(loading)
    return exposure


def _offered(paper, developer):
    return ratings.offered(paper, developer)


def _empty_holder(size):
    full = Loading.objects.filter(unloaded_at=None).values("holder")
    return Holder.objects.filter(size=size).exclude(pk__in=full).last()


def _develop(chance, sheet, developer, when):
    """Some runs were timed by Chimney, others written down the day after."""
    warm = round(chance.uniform(17.5, 22), 1)
    seconds = developer.usual_s * chance.choice((1, 1, 1, 1.25))
    hand = random.Random(sheet.code)
    if hand.random() < 0.75:
        is_rc = sheet.paper.name in RC and developer.name == "paper developer"
        away = int(sheet.code[2:]) % 3 == 1
        key = ("rc-drawers" if away else "rc-trays") if is_rc else ""
        dark.run_through(hand, [sheet], developer, when, warm, key)
        return
    with clock.at(when):
        darkroom.develop(
            [sheet],
            developer,
            parts=developer.parts,
            seconds=seconds,
            temperature_c=warm,
        )


def lacked_stops(exposure, developer):
    """Light that a sheet lacked: what it truly needed against what it got, whatever its plan had
    learned by then.
    """
    calculation, paper = exposure.calculation, exposure.sheet.paper
    metered_s = metered_at_box_s(calculation, paper)
    got_s = paper.schools[paper.school].metered_s(exposure.given_s)
    return (
        math.log2(metered_s / got_s)
        + math.log2(paper.box_ei / TRUTH[paper.name][developer.name])
        + SLOW.get(exposure.camera.name, 0.0)
        + LOW_SUN * bool(calculation.specification.colour_stops)
        + PROCESS.get(exposure.sheet.development.run.process_key, 0.0)
        + LONGER.get(paper.name, 0.0) * math.log2(metered_s / 60)
    )


def _whole_sheet(chance, place, paper, developer, when):
    """One sheet from the box to the lesson."""
    exposure = _expose(chance, paper, developer, when, code="R-071" if place == 0 else "")
    sheet = exposure.sheet
    _develop(chance, sheet, developer, when + timedelta(hours=9))
    # Seen by an eye that is half a stop unsure.
    judged_stops = round((lacked_stops(exposure, developer) + chance.gauss(0, 0.35)) * 2) / 2
    with clock.at(when + timedelta(days=5, hours=8)):
        results.judge(
            sheet,
            stops_more=max(-3.0, min(3.0, judged_stops)),
            faults=FAULTY.get(place, []),
            remarks=REMARKS.get(place, ""),
        )
        for lesson in Lesson.objects.filter(standing=Lesson.Standing.NEW, sheets__gte=3):
            lessons.answer(lesson, Lesson.Standing.KEPT)
        # Long times and the process still wait for an answer at the end of the year.
        for finding in Finding.objects.filter(standing=Lesson.Standing.NEW, kind__in=ANSWERED):
            if finding.is_clear:
                lessons.answer_finding(finding, Lesson.Standing.KEPT)


def _mishaps(chance, now):
    """A sheet that blew into the harbour and one whose slide stayed out."""
    paper, developer = _plate("0")
    lost = _expose(chance, paper, developer, now - timedelta(days=2, hours=2))
    corrections.give_up(lost.sheet, Sheet.Stage.LOST)
    with clock.at(now - timedelta(days=2, hours=1)):
        plan = field.make_plan(
            _given(chance, paper, developer, "snow fence", lost.camera, clock.now()),
            _offered(paper, developer),
        )
        loading = logbook.load(paper, Holder.objects.filter(size=lost.camera.size).first(), "B")
        slipped = logbook.open_hole(
            loading, lost.camera, plan.calculation, subject="snow fence", developer=developer
        )
    with clock.at(now - timedelta(days=2, hours=1) + timedelta(seconds=plan.calculation.seconds)):
        corrections.log_slip(slipped, Exposure.Slip.SLIDE_OUT)
        logbook.unload(loading)


def _today(chance, now):
    """Make what waits, what is loaded and what burns: by day in daylight, at night by lamps."""
    light_s, evening = days.last_light(now), days.last_evening(now)
    for number, letter in enumerate("2030"):
        paper, developer = _plate(letter)
        moment_s = light_s - timedelta(days=7, minutes=20 * number)
        exposure = _expose(chance, paper, developer, moment_s)
        _develop(chance, exposure.sheet, developer, evening - timedelta(days=6, hours=number / 2))
    for number, letter in enumerate("00a12"):
        paper, developer = _plate(letter)
        _expose(chance, paper, developer, light_s - timedelta(hours=3, minutes=-20 * number))
    plank, long_tom = Camera.objects.get(name="Plank"), Camera.objects.get(name="Long Tom")
    for camera, letter, holder, share, by_day, by_night in (
        (long_tom, "2", "5", 0.31, ("slipway, direct positive", 10.3), ("net loft stairs", 8.3)),
        (plank, "0", "1", 0.5, ("kiln mouth, from the tramway", 12.3), ("lime kiln, inside", 9.3)),
    ):
        subject, ev100 = by_day if light_s == now else by_night
        subject += "" if light_s == now else ", by two work lamps"
        burning = _burning(chance, now, camera, letter, holder, subject, share, ev100)
    days.read_again(burning, now)
    for holder, side, letter in (("2", "A", "0"), ("2", "B", "0"), ("3", "A", "2")):
        logbook.load(_plate(letter)[0], Holder.objects.get(name=holder), side)
    _keep(now, "pump house, its pair", "Plank", "2", "2.5")
    _keep(now, "net loft before dark", "Wedge", "0", "6")
    newest = Lesson.objects.exclude(developer=None).first()
    Lesson.objects.filter(pk=newest.pk).update(standing=Lesson.Standing.NEW, answered_ei=None)
    _in_the_dark(chance, now)


def _in_the_dark(chance, now):
    """A run of two sheets that is going on."""
    paper, developer = _plate("0")
    wet = [
        _expose(
            chance,
            paper,
            developer,
            days.last_light(now) - timedelta(hours=2, minutes=-20 * number),
            Camera.objects.get(name="Wedge"),
        ).sheet
        for number in range(2)
    ]
    if days.is_night(now):
        # Begun in the evening, and hung up to dry.
        dark.hung_up(random.Random(SEED), wet, developer, days.last_evening(now))
    else:
        dark.in_progress(wet, developer, now)


def _burning(chance, now, camera, letter, holder, subject, share, ev100):
    paper, developer = _plate(letter)
    fields = _given(chance, paper, developer, subject, camera, now) | {
        "kind": "ev",
        "ev": ev100,
        "ev_iso": 100.0,
    }
    plan = field.make_plan(fields, _offered(paper, developer))
    with clock.at(now - timedelta(seconds=plan.calculation.seconds * share)):
        loading = logbook.load(paper, Holder.objects.get(name=holder), "A")
        return logbook.open_hole(
            loading,
            camera,
            plan.calculation,
            subject=subject,
            developer=developer,
            ei_from=plan.proposal.ei_from,
        )


def _keep(now, subject, camera, letter, seconds):
    paper, developer = _plate(letter)
    camera = Camera.objects.get(name=camera)
    fields = {
        "subject": subject,
        "camera": camera,
        "paper": paper,
        "developer": developer,
        "school": paper.school,
    }
    typed = {"kind": "seconds", "seconds": seconds, "meter_f": "128", "meter_iso": "6"}
    with clock.at(now - timedelta(days=1)):
        plans.keep(fields, typed)
