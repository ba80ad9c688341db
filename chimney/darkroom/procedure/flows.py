"""Processes changed, made and dropped."""

from dataclasses import replace

from django.core.exceptions import ValidationError

from chimney.darkroom.catalogue.processes import BY_KEY
from chimney.darkroom.models import OwnProcess
from chimney.ledger.once import verb
from chimney.parts import clock
from pinhole import developing


@verb
def keep(key, steps, *, name, kinds, vessels, together, by_eye, why):
    """Keep a process under a key, a new one if that is None; returns its key.

    Raises ValidationError where its name is another's.
    """
    row = OwnProcess.objects.filter(key=key).first() or OwnProcess(key=key or _free_key())
    same_name = OwnProcess.objects.filter(name__iexact=name, retired_at=None).exclude(pk=row.pk)
    of_set = any(
        process.name.lower() == name.lower() for k, process in BY_KEY.items() if k != row.key
    )
    if same_name.exists() or of_set:
        raise ValidationError("Another process has this name.")
    row.name, row.kinds, row.vessels, row.note = name, list(kinds), list(vessels), why
    row.together, row.by_eye, row.retired_at = together, by_eye, None
    row.steps_data = developing.to_data(developing.checked_steps(steps))
    row.validate_constraints()
    row.save()
    return row.key


def _free_key():
    last = OwnProcess.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
    return f"own-{last + 1}"


@verb
def take_school(process, school):
    """Another way to take a step: it stands in the place of what was there for that purpose."""
    steps = [step for step in process.steps if step.purpose != school.of]
    places = [n for n, step in enumerate(process.steps) if step.purpose == school.of]
    if school.step and places:
        light = process.steps[places[0]].light
        steps.insert(places[0], replace(school.step, light=light))
    elif school.step:
        steps.insert(_before_washing(steps), school.step)
    values = {"kinds": process.kinds, "vessels": process.vessels, "why": process.why}
    values |= {"together": process.together, "by_eye": process.by_eye, "name": process.name}
    return keep(process.key, steps, **values)


def _before_washing(steps):
    later = ("wash", "dry", "check")
    last = [n for n, step in enumerate(steps) if step.purpose in later]
    return last[0] if last else len(steps)


@verb
def drop(key):
    """One's own is retired; one of the starting set is as it was."""
    if key in BY_KEY:
        OwnProcess.objects.filter(key=key).delete()
    else:
        OwnProcess.objects.filter(key=key).update(retired_at=clock.now())
