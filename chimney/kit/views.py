from dataclasses import dataclass

from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import Http404
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_POST

from chimney.kit import figures, flows, prints, queries, wording
from chimney.kit.catalogue.failings import PROTOCOL
from chimney.kit.forms.cameras import CameraForm
from chimney.kit.forms.cans import CanForm
from chimney.kit.forms.roster import RosterForm
from chimney.kit.forms.things import (
    BoxForm,
    DeveloperForm,
    DotsForm,
    HolderForm,
    MergeForm,
    MeterForm,
    NetForm,
    ObservationForm,
    PaperForm,
    PersonForm,
)
from chimney.kit.models import Box, Camera, Developer, Holder, Meter, Paper, Person
from chimney.kit.page import read, study_of
from chimney.ledger.keys import as_kept, row_key
from chimney.parts import adding, pdf
from chimney.parts.refusal import Refused

# What a camera's form says beside the camera.
KEPT_WITH_CAMERA = ("loads_directly", "is_new_hole")


@dataclass(frozen=True)
class Kind:
    """One kind of thing on the shelf: its word, model and form."""

    word: str
    model: type
    form: type


KIT_THINGS = {
    "camera": Kind("camera", Camera, CameraForm),
    "paper": Kind("paper", Paper, PaperForm),
    "holder": Kind("holder", Holder, HolderForm),
    "meter": Kind("meter", Meter, MeterForm),
    "box": Kind("box", Box, BoxForm),
    "person": Kind("person", Person, PersonForm),
    "developer": Kind("developer", Developer, DeveloperForm),
}


def shelf(request, roster=None, status=200):
    """Everything owned; what is retired stands behind a fold. roster: a RosterForm that was
    refused.
    """
    owned = _owned()
    retired = [
        (word, thing)
        for word, kind in KIT_THINGS.items()
        for thing in queries.things(kind.model, retired=True)
        if not getattr(thing, "camera_id", None)
    ]
    owned["starter_papers"] = [row[0] for row in queries.starter_papers()]
    owned["starter_developers"] = [row["name"] for row in queries.starter_developers()]
    page = owned | {"retired": retired, "roster": roster or RosterForm()}
    return render(request, "kit/shelf.html", page, status=status)


def _owned():
    """{kind of thing: those in use}, as the shelf lays them out."""
    owned = {f"{word}s": list(queries.things(kind.model)) for word, kind in KIT_THINGS.items()}
    owned["camera_count"] = len(owned["cameras"])
    owned["cameras"] = [(alike, figures.section(alike[0])) for alike in _alike(owned["cameras"])]
    owned["persons"].sort(key=lambda person: (person.period, person.name))
    owned["holders"] = [holder for holder in owned["holders"] if not holder.camera_id]
    return owned


def _alike(cameras):
    """Cameras by their measures: thirty cans cut from one pattern are drawn once."""
    counts = {}
    for camera in cameras:
        counts.setdefault(camera.measures, []).append(camera)
    return list(counts.values())


def add(request, kind):
    return _admit(request, _kind(kind), None)


def edit(request, kind, pk):
    page_kind = _kind(kind)
    return _admit(request, page_kind, get_object_or_404(page_kind.model, pk=pk))


def _admit(request, kind, thing):
    if request.htmx and kind.model is Camera and request.method == "GET":
        return render(request, "kit/_study_live.html", {"typed": read(request.GET, thing)})
    form = kind.form(
        request.POST or None, instance=thing, initial=None if thing else _start(request)
    )
    back = adding.way_back(request)
    if request.method == "POST" and form.is_valid() and (saved := _keep(form)):
        messages.success(request, f"{form.instance} is on the shelf.")
        return adding.lead_back(back, saved, "kit:shelf")
    # A wrong form has changed the instance in memory: the page speaks of the thing as it is kept.
    thing = thing and as_kept(thing)
    return _thing(request, kind, thing, form, status=422 if form.errors else 200, back=back)


def _thing(request, kind, thing, form, *, observed=None, merging=None, status=200, back=None):
    """The page of a thing; a camera with its study, a kept one with its log."""
    page = {"form": form, "kind": kind, "thing": thing, "back": back}
    if kind.model is Camera:
        page["study"] = study_of(form)
    if isinstance(thing, Camera):
        page |= {"log": thing.observations.all()[:30]}
        page |= {"observed": observed or ObservationForm(), "protocol": PROTOCOL}
        page |= {"dots_form": DotsForm()}
    if isinstance(thing, Paper):
        page["merging"] = merging or MergeForm(paper=thing)
    return render(request, "kit/thing.html", page, status=status)


def _start(request):
    """Initial values of a new thing: the address, or a camera that it is like or another setting
    of.
    """
    like_key = request.GET.get("of") or request.GET.get("like")
    camera = queries.camera_like(row_key(like_key))
    if camera is None:
        return request.GET.dict()
    start = CameraForm(instance=camera).initial | {"measured_on": None}
    if "like" in request.GET:
        return start | {"name": queries.free_name(Camera, camera.name), "body": None}
    return start | {
        "body": camera.body_pk,
        "name": f"{camera.name}, other setting",
        "loads_directly": False,
    }


def _keep(form):
    """The thing of a valid form, or None with the message where somebody took its name
    meanwhile.
    """
    try:
        if isinstance(form, CameraForm):
            options = {name: form.cleaned_data.get(name, False) for name in KEPT_WITH_CAMERA}
            return flows.keep_camera(form.save(commit=False), **options)
        thing = form.save(commit=False)
        if isinstance(form, HolderForm) and form.cleaned_data.get("count"):
            return flows.keep_holders(thing, form.cleaned_data["count"])
        return flows.keep(thing)
    except ValidationError as error:
        form.add_error("name", error.messages[0])
        return None


def can(request):
    """Does this sheet fit into that can, and what will it see? The same state stands in the
    address.
    """
    form = CanForm(request.GET or None)
    fits = form.ways() if form.is_bound else []
    drawn = [
        (fit, figures.unrolled(form.cleaned_data, fit), form.camera_query(fit)) for fit in fits
    ]
    page = {"form": form, "ways": drawn}
    return render(request, "kit/_can.html" if request.htmx else "kit/can.html", page)


@require_POST
def observe(request, pk):
    camera = get_object_or_404(Camera, pk=pk)
    form = ObservationForm(request.POST)
    if not form.is_valid():
        return _thing(
            request,
            KIT_THINGS["camera"],
            camera,
            CameraForm(instance=camera),
            observed=form,
            status=422,
        )
    observation = flows.observe(camera, form.cleaned_data["kind"], form.cleaned_data["words"])
    messages.success(request, f"{observation}.")
    return redirect("kit:edit", "camera", pk)


@require_POST
def mend(request, pk):
    observation = get_object_or_404(queries.observations(), pk=pk)
    flows.mend(observation, mended=observation.mended_at is None)
    return redirect("kit:edit", "camera", observation.camera_id)


@require_POST
def people(request):
    """Names of a class, pasted as a list; what it brought and what was there is told."""
    form = RosterForm(request.POST)
    if not form.is_valid():
        return shelf(request, roster=form, status=422)
    people, listed = flows.take_people(form.cleaned_data["names"], form.cleaned_data["period"])
    messages.success(request, wording.roster(len(people) - len(listed), listed))
    return redirect("kit:shelf")


@require_POST
def retire_period(request):
    """All people of a period leave the choices; their sheets stay theirs."""
    period = request.POST.get("period", "")
    people = flows.retire_period(period)
    if people:
        count_words = "One person" if len(people) == 1 else f"{len(people)} people"
        messages.success(request, f"{period}: {count_words} retired. They stand under Retired.")
    return redirect("kit:shelf")


@require_POST
def merge(request, pk):
    """This paper is that one, entered twice."""
    paper = get_object_or_404(Paper, pk=pk)
    form = MergeForm(request.POST, paper=paper)
    if not form.is_valid():
        return _thing(
            request, KIT_THINGS["paper"], paper, PaperForm(instance=paper), merging=form, status=422
        )
    into = flows.merge(paper, form.cleaned_data["into"])
    messages.success(request, f"All of {paper} belongs to {into} now.")
    return redirect("kit:edit", "paper", into.pk)


@require_POST
def starter(request):
    developer = flows.take_starter_developer(request.POST.get("developer"))
    if developer or "developer" in request.POST:
        messages.success(request, f"{developer or 'Nothing new'} is on the shelf.")
        return redirect("kit:shelf")
    added = flows.take_starter_papers(request.POST.get("paper"))
    count_words = "1 paper is" if len(added) == 1 else f"{len(added)} papers are"
    messages.success(
        request,
        f"{count_words} on the shelf. A starting EI only starts: yours comes from your sheets.",
    )
    return redirect("kit:shelf")


def label(request, pk):
    camera = get_object_or_404(Camera, pk=pk)
    return pdf.answer([prints.label(camera)], f"Label of {camera}", f"label-{camera.pk}")


def dots(request, pk):
    camera, form = get_object_or_404(Camera, pk=pk), DotsForm(request.GET)
    exit = f"See {camera}", "kit:edit", "camera", pk
    if not form.is_valid():
        raise Refused(next(iter(form.errors.values()))[0], *exit)
    templates = prints.dots(camera, **form.cleaned_data)
    if templates is None:
        raise Refused(f"{camera} sees too wide to be sighted along dots on its lid.", *exit)
    return pdf.answer(templates, f"Sighting dots of {camera}", f"dots-{camera.pk}")


def net(request):
    """The net of a box of that depth for that sheet, true to scale on A4."""
    form = NetForm(request.GET)
    if not form.is_valid():
        raise Refused(next(iter(form.errors.values()))[0], "See the kit", "kit:shelf")
    name = f"box-{form.cleaned_data['depth_mm']:g}mm"
    return pdf.answer(prints.box_net(**form.cleaned_data), "A box to cut and fold", name)


@require_POST
def retire(request, kind, pk):
    thing = get_object_or_404(_kind(kind).model, pk=pk)
    flows.retire(thing)
    messages.success(
        request, f"{thing} is retired. What was made with it stays; it can be taken back below."
    )
    return redirect("kit:shelf")


@require_POST
def use_again(request, kind, pk):
    thing = get_object_or_404(_kind(kind).model, pk=pk)
    flows.take_back_into_use(thing)
    messages.success(request, f"{thing} is in use again.")
    return redirect("kit:shelf")


def _kind(kind):
    if kind not in KIT_THINGS:
        raise Http404("There is no such kind of thing on the shelf.")
    return KIT_THINGS[kind]
