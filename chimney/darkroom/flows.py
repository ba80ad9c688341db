"""Work in the dark, taken back when it was a slip of the finger. Every tap counts from when it was
made.
"""

from datetime import UTC, datetime

from chimney.darkroom import craft, queries
from chimney.darkroom.models import Development, LaneTap, Run
from chimney.darkroom.signals import corrected
from chimney.kit import flows as kit
from chimney.kit.catalogue.failings import UNRINSED
from chimney.kit.models import Observation
from chimney.ledger.once import current, verb
from chimney.logbook import flows as logbook
from chimney.logbook.flows import corrections
from chimney.logbook.models import Sheet
from chimney.parts import clock
from chimney.parts.refusal import Refused
from pinhole import developing

AFTERWARDS = "logged afterwards"


@verb
def begin(sheets, process, developer, *, together, steps=None, baths=(), **kept):
    """Start a run of these sheets through a Process; all or none. steps: its Steps, where they are
    longer this time; kept: what else a Run keeps, as its fields are called.
    """
    _refuse_thrown(baths)
    run = Run.objects.create(
        process_key=process.key,
        process_name=process.name,
        steps_data=developing.to_data(steps or process.steps),
        developer=developer,
        in_camera=process.vessels[:1] == ("camera",),
        began_at=clock.now(),
        **kept,
    )
    run.baths.set(baths)
    for lane, sheet in enumerate(sheets):
        logbook.move(sheet, Sheet.Stage.DEVELOPING)
        lane = 0 if together or run.in_camera else lane
        taken_at = corrections.leave(sheet)
        Development.objects.create(run=run, sheet=sheet, lane=lane, taken_at=taken_at)
        if run.in_camera:
            _to_be_rinsed(sheet)
    return run


def _refuse_thrown(baths):
    thrown = next((bath for bath in map(current, baths) if bath.thrown_at), None)
    if thrown:
        raise Refused(f"{thrown} was thrown away.", "Choose another bath", "darkroom:run")


def _to_be_rinsed(sheet):
    exposure = sheet.last_exposure
    if exposure:
        kit.observe(exposure.camera, UNRINSED, _unrinsed(sheet))


@verb
def develop(sheets, developer, *, parts, seconds, process=None, baths=(), **kept):
    """Log a run that nobody timed, each sheet leaving its holder; all or none. kept: what else a
    Run keeps, as its fields are called.
    """
    _refuse_thrown(baths)
    step = developing.Step("Developer", "develop", seconds, seconds)
    run = Run.objects.create(
        process_key=process.key if process else "",
        process_name=process.name if process else AFTERWARDS,
        steps_data=developing.to_data([step]),
        developer=developer,
        parts=parts,
        timed=False,
        began_at=clock.now(),
        **kept,
    )
    run.baths.set(baths)
    for sheet in sheets:
        logbook.move(sheet, Sheet.Stage.DEVELOPED)
        left = corrections.leave(sheet)
        Development.objects.create(
            run=run, sheet=sheet, seconds=seconds, taken_at=left, developed_at=left
        )
    return run


@verb
def tap(run, number, moves, word):
    """One tap on a lane, made for the state it had after so many moves; one that comes second
    changes nothing and says so.
    """
    run = _fresh(run)
    lane = _lane(run, number, moves)
    if word == "back" and run.white_at:
        raise _refused(run, "White light is on: what is not fixed would be fogged by now.")
    more_s = 0.0
    if word == "longer" and lane.now:
        more_s = craft.longer_s(run.steps[lane.now.step])
    fields = {"word": word, "more_s": more_s, "at": _moment(run, number)}
    _settle(run, number, [LaneTap.objects.create(run=run, lane=number, **fields)])


def _moment(run, number):
    """Now, but not before anything that is in the log of the lane: clocks of devices differ."""
    moments = [run.began_at, *(tap.at for tap in run.taps.all() if tap.lane == number)]
    return max(clock.now(), *moments)


def _fresh(run):
    return current(run, queries.log(Run.objects))


def _refused(run, message):
    return Refused(message, "See the run", "darkroom:going", run.pk)


def _lane(run, number, moves):
    lanes = craft.lanes_of(run)
    if not 0 <= number < len(lanes) or not run.timed:
        raise _refused(run, "There is no such sheet in this run.")
    lane = lanes[number]
    if lane.moves != moves:
        last = [tap for tap in run.taps.all() if tap.lane == number][-1:]
        when = f" at {clock.local(last[0].at):%H:%M:%S}" if last else ""
        raise _refused(run, f"That step was ended already{when}.")
    return lane


def _settle(run, number, also=()):
    """Write down what taps changed for the sheets of a lane: their time in the developer, their
    stage.
    """
    try:
        lane = craft.lanes_of(run, also)[number]
    except ValueError as error:
        raise _refused(run, f"That cannot be done now: {error}.") from error
    end = lane.visits[-1].until_s if lane.is_over else None
    for development in run.developments.all():
        if development.lane != number:
            continue
        development.seconds = craft.in_developer_s(run, lane)
        development.developed_at = datetime.fromtimestamp(end, UTC) if end else None
        development.save(update_fields=["seconds", "developed_at"])
        _move_on(
            development.sheet, Sheet.Stage.DEVELOPED if lane.is_over else Sheet.Stage.DEVELOPING
        )
    if run.in_camera:
        _tell_the_camera(run, lane)


def _move_on(sheet, stage):
    if not corrections.go_on_without(sheet, stage) and sheet.stage != stage:
        logbook.move(sheet, stage)


def _tell_the_camera(run, lane):
    """Tell its camera whether it is rinsed and may be loaded again: all that is ticked at the end
    is.
    """
    checks = [n for n, step in enumerate(run.steps) if step.purpose == developing.CHECK]
    rinsed = lane.is_over or (lane.now and lane.now.step > max(checks, default=len(run.steps)))
    for exposure in _exposures(run):
        sentence = _unrinsed(exposure.sheet)
        for observation in Observation.objects.filter(camera=exposure.camera, words=sentence):
            if bool(observation.mended_at) != bool(rinsed):
                kit.mend(observation, mended=bool(rinsed))


def _unrinsed(sheet):
    return f"{sheet} was developed in it"


def _exposures(run):
    exposures = (development.sheet.last_exposure for development in run.developments.all())
    return [exposure for exposure in exposures if exposure]


@verb
def undo(run, number, moves):
    """The last tap of a lane was a slip of the finger."""
    run = _fresh(run)
    _lane(run, number, moves)
    last = LaneTap.objects.filter(run=run, lane=number).last()
    if last is None:
        raise _refused(run, "Nothing was tapped there yet.")
    judged = [d.sheet for d in run.developments.all() if d.sheet.stage == Sheet.Stage.READ]
    if any(d.lane == number and d.sheet in judged for d in run.developments.all()):
        raise _refused(run, "It was read since.")
    last.delete()
    run = _fresh(run)
    _settle(run, number)
    if run.white_at and not all(
        developing.is_light_safe(run.steps, lane) for lane in craft.lanes_of(run)
    ):
        Run.objects.filter(pk=run.pk).update(white_at=None)


@verb
def white(run, *, on=True):
    """White light is switched on, everybody's paper away; or that taken back."""
    run = _fresh(run)
    open_still = [
        lane.number for lane in craft.lanes_of(run) if not developing.is_light_safe(run.steps, lane)
    ]
    if on and open_still:
        sheets = [str(d.sheet) for d in run.developments.all() if d.lane in open_still]
        raise _refused(run, f"{', '.join(sheets)} would be fogged: not through the fixer yet.")
    Run.objects.filter(pk=run.pk).update(white_at=clock.now() if on else None)


@verb
def call_off(run):
    """The run was never begun: its sheets wait again, where they lay before."""
    run = _fresh(run)
    if any(development.developed_at for development in run.developments.all()):
        raise _refused(run, "Some of its sheets are through already.")
    for development in run.developments.all():
        _wait_again(development)
    if run.in_camera:
        for exposure in _exposures(run):
            kit.unobserve(exposure.camera, UNRINSED, _unrinsed(exposure.sheet))
    run.delete()


@verb
def take_back(development):
    """It was never developed: it waits again, where it lay before, as what its log says by now."""
    development = current(development, Development.objects.select_related("sheet", "run"))
    if development.developed_at is None:
        refusal = f"{development.sheet} is in a run that is still going."
        raise _refused(development.run, refusal)
    logbook.move(development.sheet, Sheet.Stage.EXPOSED)
    _lay_back(development)
    development.delete()
    if not development.run.developments.exists():
        development.run.delete()


def _wait_again(development):
    sheet = development.sheet
    if corrections.go_on_without(sheet, Sheet.Stage.EXPOSED):
        return
    logbook.move(sheet, Sheet.Stage.EXPOSED)
    _lay_back(development)


def _lay_back(development):
    """Lay it back where it lay before; a slip may have been written down meanwhile."""
    corrections.lay_back(development.sheet, development.taken_at)
    logbook.settle(development.sheet)


@verb
def correct(development, *, seconds, process=None, **kept):
    """Correct what was really done: kept says it of the whole run, as its fields are called,
    seconds of one sheet. What was learned of its sheets is learned anew.
    """
    development = current(development, Development.objects.select_related("run"))
    run = development.run
    for name, value in kept.items():
        setattr(run, name, value)
    if process:
        run.process_key, run.process_name = process.key, process.name
    run.save()
    development.seconds = seconds
    development.save(update_fields=["seconds"])
    corrected.send(Run, run=run)


@verb
def note(run, *, temperature_c, remarks):
    """Write down what was measured and seen, while it runs and after."""
    run = current(run)
    run.temperature_c, run.remarks = temperature_c, remarks
    run.save(update_fields=["temperature_c", "remarks"])
