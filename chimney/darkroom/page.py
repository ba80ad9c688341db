"""What a run begins with: as it was done last, as far as that is still there."""

from chimney.darkroom import queries, wording
from chimney.darkroom.forms import ONE, TOGETHER
from chimney.darkroom.models import Bath, Development, LightTest, Run
from chimney.kit.models import Developer
from chimney.ledger.keys import row_key


def of_begin(form, waiting, states):
    """What the page shows: the sheets with whether each is ticked, the baths as they stand, and
    what was logged last.
    """
    ticked, poured = _ticked(form, "sheets"), _ticked(form, "baths")
    done = Development.objects.exclude(developed_at=None)
    return {
        "form": form,
        "waiting": [(sheet, str(sheet.pk) in ticked) for sheet in waiting],
        "baths": [(state, str(state.bath.pk) in poured) for state in states],
        "recent": done.select_related("sheet", "run__developer")[:6],
        "developers": Developer.objects.in_use().exists(),
        "folded": _folded(form),
        "process": _process(form),
        "doubts": _doubts(form, waiting, ticked),
        "periods": sorted({sheet.person.period for sheet in waiting if sheet.person}),
    }


def _folded(form):
    """What stands in the fields that are folded away, in words."""
    developer = Developer.objects.filter(pk=row_key(form["developer"].value())).first()
    parts = form["parts"].value()
    return ", ".join(filter(None, (developer and str(developer), parts and f"1+{parts}")))


def _ticked(form, name):
    if form.is_bound:
        return set(form.data.getlist(name))
    return {str(getattr(one, "pk", one)) for one in form.initial.get(name) or ()}


def _process(form):
    key = form.data.get("process") if form.is_bound else form.initial.get("process")
    return form.known.get(key)


def _doubts(form, waiting, ticked):
    process = _process(form)
    key = form.data.get("developer") if form.is_bound else form.initial.get("developer")
    developer = Developer.objects.filter(pk=row_key(key)).first()
    papers = {sheet.paper for sheet in waiting if str(sheet.pk) in ticked}
    if process is None:
        return []
    found = [pair for paper in papers for pair in wording.doubts(paper, process, developer)]
    return list(dict.fromkeys(found))


def start_of(waiting, code, known, states, period=""):
    """The intended developer of the first sheet, or of the one with that code, or of a period, with
    all of its paper meant for the same, as it was used last; else what was used last.
    """
    wanted = [s for s in waiting if s.person and s.person.period == period] if period else waiting
    wanted = [sheet for sheet in wanted if sheet.code == code] or wanted
    if not wanted:
        return {"sheets": []} | _usual_developer(None)
    first = wanted[0]
    pair = first.paper, _meant(first)
    alike = [sheet for sheet in wanted if (sheet.paper, _meant(sheet)) == pair]
    start = {"sheets": alike} | _usual_developer(pair[1])
    meant = Developer.objects.filter(pk=start.get("developer")).first()
    offered = queries.proposed(first.paper, known, meant, is_print=first.is_print)
    if not offered:
        return start
    process = known[offered[0]]
    start |= {"process": process.key, "order": TOGETHER if process.together else ONE}
    return start | {"by_eye": process.by_eye} | _usual_room(process, states, start)


def _meant(sheet):
    return sheet.last_exposure.developer_id if sheet.last_exposure else None


def _usual_developer(intended):
    """The developer meant, else that used last, with its dilution and time."""
    runs = Run.objects.filter(developer=intended) if intended else Run.objects.all()
    last = runs.filter(developer__retired_at=None).first()
    usable = Developer.objects.in_use()
    first = last.developer if last else usable.filter(pk=intended).first() or usable.first()
    if first is None:
        return {}
    logged = Development.objects.filter(run=last).first() if last else None
    seconds = logged.seconds if logged and logged.seconds else first.usual_s
    parts = last.parts if last else first.parts
    return {"developer": first.pk, "parts": parts, "seconds": seconds}


def _usual_room(process, states, start):
    """Vessel, lamp and baths as this process had them last, as far as they are still good."""
    last = Run.objects.filter(process_key=process.key, timed=True).prefetch_related("baths").first()
    fresh = {state.bath.pk: state.bath for state in states if not state.is_tired}
    wanted = {step.purpose for step in process.steps}
    baths = [fresh[bath.pk] for bath in last.baths.all() if bath.pk in fresh] if last else []
    poured = {bath.purpose for bath in baths}
    for bath in fresh.values():
        if bath.purpose in wanted - poured and bath.developer_id in (None, start.get("developer")):
            baths.append(bath)
            poured.add(bath.purpose)
    baths = [b for b in baths if b.developer_id in (None, start.get("developer"))]
    room = {"baths": [bath.pk for bath in baths]}
    parts = next((b.parts for b in baths if b.purpose == Bath.Purpose.DEVELOP), None)
    room |= {"parts": parts} if parts else {}
    return room | ({"vessel": last.vessel_id, "light": last.light_id} if last else {})


def safe_s(light, sheets):
    """How long the most sensitive of these papers was found to lie safely under a lamp [s], as far
    as each was tested; None where one was not.
    """
    if light is None:
        return None
    newest = {}
    for test in LightTest.objects.filter(light=light).order_by("tested_at", "pk"):
        newest[test.paper_id] = test.safe_s
    found = [newest.get(sheet.paper_id) for sheet in sheets]
    return None if None in found else min(found, default=None)
