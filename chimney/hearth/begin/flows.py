"""From a few answers to the thing itself: an open hole, a can that may hang, a class."""

from dataclasses import dataclass

from chimney.field.plan import flows as plans
from chimney.field.plan import page as plan_page
from chimney.hearth.begin.craft import BEHIND_CAMERA
from chimney.kit import flows as kit
from chimney.kit.catalogue import papers
from chimney.kit.models import Camera, Paper
from chimney.kit.queries import free_name
from chimney.ledger.once import verb
from chimney.logbook import flows as logbook
from chimney.places import flows as place_flows
from chimney.places.models import Place
from chimney.solar.models import Solargraph
from chimney.solar.planner import flows as planner


@verb
def take_kit(form):
    """(Camera, Paper) of a valid BeginForm, with all that a first exposure needs."""
    camera_form = form.camera_form
    return kit.begin(
        camera_form.save(commit=False),
        form.cleaned_data["paper"],
        loads_directly=camera_form.cleaned_data["loads_directly"],
    )


@verb
def start_clock(form, sun):
    """The Exposure that was opened just now, of a fresh sheet, by a valid MinutesForm; the place
    of its Sun becomes home where there is none.
    """
    camera, paper = take_kit(form)
    if sun.place.pk is None:
        place_flows.keep(sun.place)
    params = {
        "camera": str(camera.pk),
        "paper": str(paper.pk),
        "kind": "sky",
        "height": BEHIND_CAMERA,
    }
    params |= {"sky": form.cleaned_data["sky"], "reckon": "on", "ei_from": "learned"}
    side = next(side for side in plan_page.read(params).fitting if side.state == "empty")
    logbook.load(paper, side.holder, side.letter)
    page = plan_page.read(params | {"side": side.key}, judging=True)
    return plans.open_shot(
        page.form.cleaned_data, page.plan, page.side, None, page.place, page.typed
    )


@verb
def plan_can(camera_form, first_can):
    """The Solargraph that is planned by a FirstCan, its place and its camera kept with it."""
    place = Place.objects.filter(name__iexact=first_can.place.name).first()
    if place is None:
        first_can.place.home = not Place.objects.exists()
        place = place_flows.keep(first_can.place)
    camera = camera_form.save(commit=False)
    camera.name = free_name(Camera, camera.name)
    kit.keep_camera(camera, loads_directly=True)
    if not Paper.objects.in_use().exists():
        kit.take_starter_paper(papers.STARTER[-1][0])
    cleaned = {"camera": camera, "place": place, "kind": Solargraph.Kind.SPAN, "roll_deg": 0.0}
    cleaned["wall_deg"] = 0.0
    days = [day.item() for day in first_can.prediction.track.days[[0, -1]]]
    cleaned |= {"first_day": days[0], "last_day": days[1]}
    cleaned |= {"climate": "coast", "water": False, "horizon": place.horizon, "leaf": place.leaf}
    cleaned["upper"] = ()
    aim = first_can.prediction.pointing
    cleaned |= {"azimuth_deg": aim.azimuth_deg, "tilt_deg": aim.tilt_deg}
    return planner.keep([(camera, aim.azimuth_deg, aim.tilt_deg)], cleaned, None)[0]


@dataclass(frozen=True)
class Roster:
    """Result of a class that was made: how many people are new, names that were known."""

    added: int
    known: list


@verb
def take_class(camera_form, names, period):
    """The Roster of a class: its people, a camera of its own for each, paper and developer."""
    people, known = kit.take_people(names, period)
    camera = camera_form.save(commit=False)
    for _ in people:
        # Another row each time, numbered on.
        camera.pk, camera.name, camera._state.adding = None, "Box 1", True
        kit.begin(camera, papers.STARTER[0][0], loads_directly=True)
    return Roster(len(people) - len(known), known)
