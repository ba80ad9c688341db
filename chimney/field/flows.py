"""From a plan to a time, and from a time to an open hole."""

from dataclasses import dataclass

from django.db import transaction

from chimney.field.models import Shot
from chimney.kit.models import Developer
from chimney.lessons import flows as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.parts.refusal import Refused
from chimney.parts.scales import number
from pinhole import exposure, light

SKIES = {sky.name: sky for sky in light.SKIES}
HEIGHTS = {height.name: height for height in light.HEIGHTS}


@dataclass(frozen=True)
class Plan:
    """A worked-out plan: its Sum, the proposal it used, and what the other schools make of the same light."""

    done: exposure.Sum
    proposal: lessons.Proposal
    schools: list


def proposals(paper, developer):
    """The EIs offered: learned (or None) and the box's."""
    return lessons.propose(paper, developer), lessons.box(paper)


def usual_proposal(paper):
    """What a plan for the paper would start from: its last developer's learned EI, else the box's."""
    developer = Developer.objects.filter(pk=lessons.usual_developer_id(paper)).first()
    learned, box = proposals(paper, developer)
    return learned or box


def meter_setting(meter, camera, ei):
    """(iso to set, factor) for a meter of the kit."""
    return exposure.meter_setting(ei, camera.f_number, lowest_iso=meter.lowest_iso, last_f_number=meter.last_f_number)


def rated(given, offered):
    """The Proposal that the form chose; a learned one that is not there falls back to the box."""
    learned, box = offered
    if given["ei_from"] == Exposure.EiFrom.TYPED and given.get("ei"):
        why = "Typed for this sheet."
        return lessons.Proposal(given["ei"], exposure.EI_SD_STOPS, Exposure.EiFrom.TYPED, why)
    return learned if learned and given["ei_from"] == Exposure.EiFrom.LEARNED else box


def read(given):
    """The Reading that was typed, in whichever of the four forms."""
    kind = given["kind"]
    if kind == "ev":
        return exposure.read_ev(
            given["ev"], given["ev_iso"], f"EV {number(given['ev'])} at ISO {number(given['ev_iso'])}"
        )
    if kind == "lux":
        return exposure.read_lux(given["lux"], f"{number(given['lux'])} lux")
    if kind == "sky":
        sky, height = SKIES[given["sky"]], HEIGHTS[given["height"]]
        return exposure.read_sky(sky, height, f"{sky.words.partition(',')[0]}, {height.words.partition(',')[0]}")
    seconds, meter_f, iso = given["seconds"], given["meter_f"], given["meter_iso"]
    said = f"{number(seconds)} s at f/{number(meter_f)}, ISO {number(iso)}"
    return exposure.Reading("seconds", said, seconds, meter_f, iso)


def work_out(given, offered):
    """The Plan of a cleaned form."""
    camera, paper = given["camera"], given["paper"]
    proposal = rated(given, offered)
    done = exposure.work_out(
        read(given),
        f_number=camera.f_number,
        hole_sd_stops=camera.hole_sd_stops,
        ei=proposal.ei,
        ei_sd_stops=proposal.sd_stops,
        filter_stops=given.get("filter_stops") or 0.0,
        compensation_stops=given.get("compensation_stops") or 0.0,
        school=paper.schools[given["school"]],
    )
    return Plan(done, proposal, exposure.schools_beside(done, paper.schools.values()))


@transaction.atomic
def open_shot(given, plan, side, shot=None):
    """Load a fresh sheet if the side is empty, and open the hole; all or nothing."""
    loading = side.loading
    if loading is None:
        loading = logbook.load(given["paper"], side.holder, side.letter)
    elif loading.sheet.stage == "loaded" and loading.sheet.paper_id != given["paper"].pk:
        raise Refused(
            f"{side.words.capitalize()} holds {loading.sheet}, {loading.sheet.paper}: the sum is for {given['paper']}.",
            "See the bag",
            "logbook:bag",
        )
    opened = logbook.open_hole(
        loading,
        given["camera"],
        plan.done,
        subject=given["subject"],
        ei_from=plan.proposal.ei_from,
        developer=given["developer"],
        note=given["note"],
        again=given["again"],
    )
    if shot:
        Shot.objects.filter(pk=shot.pk).update(exposure=opened, done=True)
    return opened


def keep(given, typed, shot=None):
    """Keep the plan for later, as it was typed."""
    shot = shot or Shot(kept_at=clock.now())
    shot.subject = given["subject"] or f"{given['camera']} on {given['paper']}"
    shot.camera, shot.paper, shot.typed = given["camera"], given["paper"], typed
    shot.save()
    return shot
