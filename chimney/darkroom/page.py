"""Start of a run: as it was done last, as far as that is still there."""

from django.db.models import OuterRef, Subquery

from chimney.darkroom import queries, wording
from chimney.darkroom.catalogue.steps import WATER_STOP
from chimney.darkroom.forms import ONE, TOGETHER
from chimney.darkroom.models import Bath, Development, LightTest, Run, Vessel


def of_begin(form, waiting, room):
    """Context of the page: the sheets with whether each is ticked, the baths as they stand, and
    what was logged last.
    """
    ticked, poured = _ticked(form, "sheets"), _ticked(form, "baths")
    developed = Development.objects.exclude(developed_at=None)
    return {
        "form": form,
        "waiting": [(sheet, str(sheet.pk) in ticked) for sheet in waiting],
        "baths": [(state, str(state.bath.pk) in poured) for state in room.baths],
        "recent": developed.select_related("sheet", "run__developer")[:6],
        "developers": room.developers,
        "folded": _folded(form, room),
        "process": _process(form),
        "doubts": _doubts(form, waiting, ticked, room),
        "periods": sorted({sheet.person.period for sheet in waiting if sheet.person}),
    }


def _folded(form, room):
    """Words for what stands in the fields that are folded away."""
    developer = room.row("developer", form["developer"].value())
    parts = form["parts"].value()
    return ", ".join(filter(None, (developer and str(developer), parts and f"1+{parts}")))


def _ticked(form, name):
    if form.is_bound:
        return set(form.data.getlist(name))
    return {str(getattr(item, "pk", item)) for item in form.initial.get(name) or ()}


def _process(form):
    key = form.data.get("process") if form.is_bound else form.initial.get("process")
    return form.known.get(key)


def _doubts(form, waiting, ticked, room):
    process = _process(form)
    key = form.data.get("developer") if form.is_bound else form.initial.get("developer")
    developer = room.row("developer", key)
    papers = {sheet.paper for sheet in waiting if str(sheet.pk) in ticked}
    if process is None:
        return []
    pairs = [pair for paper in papers for pair in wording.doubts(paper, process, developer)]
    return list(dict.fromkeys(pairs))


def start_of(waiting, code, room, period="", *, process=None):
    """Initial values of a run: the first sheet, or the one with that code, or of a period, all that
    is like it, the process that a link names or that such paper is offered, and what it brings.
    """
    candidates = (
        [s for s in waiting if s.person and s.person.period == period] if period else waiting
    )
    candidates = [sheet for sheet in candidates if sheet.code == code] or candidates
    if not candidates:
        return {"sheets": []}
    first = candidates[0]
    pair = first.paper, _meant(first)
    alike = [sheet for sheet in candidates if (sheet.paper, _meant(sheet)) == pair]
    start = {"sheets": alike} | of_sheets(alike, room)
    named_process = room.processes.get(process)
    return start | (brought_by(named_process, alike, room) if named_process else {})


def of_sheets(sheets, room):
    """The process that the first of these sheets is offered, and what it brings."""
    first = sheets[0]
    offered = queries.proposed(first.paper, room.processes, _meant(first), is_print=first.is_print)
    if not offered:
        return {}
    process = room.processes[offered[0]]
    return {"process": process.key} | brought_by(process, sheets, room)


def brought_by(process, sheets, room):
    """Initial values that a process brings, field by field: its developer, dilution and time,
    whether it ends by eye, vessel, lamp, baths and order. All of them are one choice; what nobody
    knows stays empty.
    """
    of_paper, last, timed = queries.last_runs(process, sheets)
    developer = _developer_of(process, sheets, room, (of_paper, last))
    usual = _usual_room(process, room.baths, developer, timed)
    vessel = room.row("vessel", usual["vessel"])
    brought = {"by_eye": process.by_eye, "developer": "", "parts": "", "seconds": ""}
    brought |= _usual_dilution(process, developer) | usual
    brought["order"] = order_of(process, vessel, len(sheets))
    return brought | {"made_for": made_for(process, sheets)}


def made_for(process, sheets):
    """Key of what the proposals of a form were made for."""
    papers = sorted({sheet.paper_id for sheet in sheets})
    return f"{process.key if process else ''} {'-'.join(map(str, papers))}"


def order_of(process, vessel, count):
    """TOGETHER where so many sheets usually go through at once and the vessel takes them, else
    ONE.
    """
    fits = vessel is None or vessel.holds >= count
    shut = vessel is not None and vessel.kind in (Vessel.Kind.TANK, Vessel.Kind.DRUM)
    return TOGETHER if (process.together or shut) and fits else ONE


def _meant(sheet):
    """The developer that was meant when it was exposed, or None."""
    return sheet.last_exposure.developer if sheet.last_exposure else None


def _developer_of(process, sheets, room, runs):
    """The developer of a process: the one meant for these sheets if it is one for it, else that of
    the first of these runs, where it is still one, else the only one for it; None where nobody
    knows.
    """
    usable = [developer for developer in room.developers if process.develops_in(developer.name)]
    by_pk = {developer.pk: developer for developer in usable}
    meant = _meant(sheets[0]) if sheets else None
    meant = meant and by_pk.get(meant.pk)
    used = (by_pk.get(run.developer_id) for run in runs if run)
    return meant or next(filter(None, used), None) or (usable[0] if len(usable) == 1 else None)


def _usual_dilution(process, developer):
    """A developer as it was used last, in that process first."""
    if developer is None:
        return {}
    runs = Run.objects.filter(developer=developer)
    first = Development.objects.filter(run=OuterRef("pk")).values("seconds")[:1]
    runs = runs.annotate(logged_s=Subquery(first))
    last = runs.filter(process_key=process.key).first() or runs.first()
    seconds = (last and last.logged_s) or developer.usual_s
    parts = last.parts if last else developer.parts
    return {"developer": developer.pk, "parts": parts, "seconds": seconds}


def _usual_room(process, states, developer, last):
    """Vessel, lamp and baths as this process had them in its last run, if any, as far as they are
    still good.
    """
    fresh = [state for state in states if not state.is_tired]
    # Plain water is no bath of anybody's.
    purposes = {step.purpose for step in process.steps if step.name != WATER_STOP.name}
    mine = {None, developer and developer.pk}
    baths = [state.bath for state in fresh if last and last.pk in state.runs]
    baths = [b for b in baths if b.developer_id in mine and b.purpose in purposes]
    poured = {bath.purpose for bath in baths}
    for bath in (state.bath for state in fresh):
        if bath.purpose in purposes - poured and bath.developer_id in mine:
            baths.append(bath)
            poured.add(bath.purpose)
    room = {"baths": [bath.pk for bath in baths], "vessel": "", "light": ""}
    parts = next((b.parts for b in baths if b.purpose == Bath.Purpose.DEVELOP), None)
    room |= {"parts": parts} if parts else {}
    return room | ({"vessel": last.vessel_id, "light": last.light_id} if last else {})


def follow(typed, waiting, room):
    """New values for a form that was typed in: other sheets or another process bring their own,
    another vessel its order. typed: a QueryDict that says what its proposals were made for.
    """
    ticked = set(typed.getlist("sheets"))
    sheets = [sheet for sheet in waiting if str(sheet.pk) in ticked]
    process = room.processes.get(typed.get("process"))
    if not sheets:
        return {}
    was, _, papers = typed.get("made_for", "").partition(" ")
    if process and process.key == was and not process.suits(sheets[0].paper):
        # Other sheets want another process.
        return of_sheets(sheets, room)
    if process and made_for(process, sheets) != f"{was} {papers}":
        return brought_by(process, sheets, room)
    vessel = room.row("vessel", typed.get("vessel"))
    if process and vessel and vessel.holds < len(sheets):
        return {"order": ONE}
    return {}


def safe_s(light, sheets):
    """Time that the most sensitive of these papers lies safely under a lamp [s], as far as each was
    tested; None where one was not.
    """
    if light is None:
        return None
    newest = {}
    for test in LightTest.objects.filter(light=light).order_by("tested_at", "pk"):
        newest[test.paper_id] = test.safe_s
    tested_s = [newest.get(sheet.paper_id) for sheet in sheets]
    return None if None in tested_s else min(tested_s, default=None)
