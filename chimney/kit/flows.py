"""Changes of the kit."""

from django.utils import timezone

from chimney.kit import queries
from chimney.kit.catalogue import papers
from chimney.kit.models import Camera, Developer, Holder, Observation, Paper, Person
from chimney.kit.queries import free_name
from chimney.ledger.once import current, verb
from chimney.parts import clock
from chimney.parts.refusal import Refused


@verb
def keep(thing):
    """Keep a thing of the shelf. Raises ValidationError where its name was taken meanwhile, as its
    form would.
    """
    thing.validate_constraints()
    thing.save()
    return thing


@verb
def keep_holders(holder, count):
    """Keep a holder and so many more like it, each with the next free name; the first one."""
    holders = [
        keep(Holder(name=free_name(Holder, holder.name), size=holder.size, note=holder.note))
        for _ in range(count)
    ]
    return holders[0]


@verb
def keep_camera(camera, *, loads_directly, is_new_hole=False):
    """Keep a camera, and a back of its own when its paper goes straight in; other settings share
    their body's. A new hole says nothing of what sheets of the old one said.
    """
    camera.renewed_at = clock.now() if is_new_hole else camera.renewed_at
    keep(camera)
    if camera.body_id:
        return camera
    back = Holder.objects.filter(camera=camera).first()
    if loads_directly and back is None:
        Holder.objects.create(
            name=free_name(Holder, f"{camera.name}'s back"), size=camera.size, camera=camera
        )
    elif loads_directly:
        Holder.objects.filter(pk=back.pk).update(size=camera.size, retired_at=None)
    elif back is not None:
        Holder.objects.filter(pk=back.pk).update(retired_at=clock.now())
    return camera


@verb
def keep_measured(camera, *, diameter_mm, diameter_sd_mm, is_new_hole=False):
    """The hole as it was measured today; exposures made before keep their own numbers."""
    camera.renewed_at = clock.now() if is_new_hole else camera.renewed_at
    camera.diameter_mm, camera.diameter_sd_mm = diameter_mm, diameter_sd_mm
    camera.measured_on = timezone.localdate(clock.now())
    camera.save(update_fields=["diameter_mm", "diameter_sd_mm", "measured_on", "renewed_at"])


@verb
def merge(paper, into):
    """Two entries of one paper become one: all that hangs on the first hangs on the second."""
    paper, into = current(paper), current(into)
    if not paper.is_like(into):
        refusal = f"{paper} and {into} are papers of different kinds."
        raise Refused(refusal, f"See {paper}", "kit:edit", "paper", paper.pk)
    for relation in Paper._meta.get_fields(include_hidden=True):
        if not relation.one_to_many or getattr(relation.related_model, "IS_RECKONED", False):
            continue
        rows, name = relation.related_model._base_manager, relation.field.name
        rows.filter(**{name: paper}).update(**{name: into})
    paper.delete()
    # Whoever learns from its sheets is told.
    into.save()
    return into


@verb
def take_starter_papers(name=None):
    """The generic papers that are not on the shelf yet, or the one of that name; returns those that
    were added.
    """
    rows = [row for row in queries.starter_papers() if name in (None, row[0])]
    return [_starter_paper(row) for row in rows]


@verb
def take_starter_paper(name):
    """The paper of that name on the shelf, else the one of the starting set, kept now."""
    paper = queries.papers_called([name])[name]
    if paper.pk is None:
        paper.save()
    return paper


@verb
def take_starter_developer(name):
    """A generic developer that is not on the shelf yet; None where it is, or is none."""
    starters = {row["name"]: row for row in queries.starter_developers()}
    return Developer.objects.create(**starters[name]) if name in starters else None


def _starter_paper(row):
    paper = queries.starter_paper(row)
    paper.save()
    return paper


@verb
def take_people(names, period=""):
    """([Person] in the order of the names, names of those that were on the shelf already); new ones
    and those that were retired are of that period.
    """
    longest = Person._meta.get_field("name").max_length
    owned = {person.name.lower(): person for person in Person.objects.all()}
    people, listed = [], []
    for name in (name[:longest].strip() for name in names):
        if person := owned.get(name.lower()):
            listed.append(person.name)
            if person.retired_at:
                Person.objects.filter(pk=person.pk).update(retired_at=None, period=period)
        else:
            owned[name.lower()] = Person.objects.create(name=name, period=period)
        people.append(owned[name.lower()])
    return people, listed


@verb
def begin(camera, paper_name, *, loads_directly):
    """(Camera, Paper): all that a first exposure needs, from three answers: the camera, a starter
    paper, a holder if the camera takes one, and a developer.
    """
    paper = take_starter_paper(paper_name)
    camera.name = free_name(Camera, camera.name)
    keep_camera(camera, loads_directly=loads_directly)
    if not loads_directly:
        Holder.objects.create(name=free_name(Holder, "1"), size=camera.size)
    if not Developer.objects.in_use().exists():
        Developer.objects.create(**papers.FIRST_DEVELOPER)
    return camera, paper


@verb
def observe(camera, kind, words=""):
    """Write down what the camera did; the same words of the same kind are written once."""
    return Observation.objects.get_or_create(
        camera=camera, kind=kind, words=words, defaults={"seen_at": clock.now()}
    )[0]


@verb
def unobserve(camera, kind, words):
    """That was not seen after all; what was mended since stays in the log."""
    Observation.objects.filter(camera=camera, kind=kind, words=words, mended_at=None).delete()


@verb
def mend(observation, *, mended=True):
    """It was put right, or that taken back."""
    observation = current(observation)
    observation.mended_at = clock.now() if mended else None
    observation.save(update_fields=["mended_at"])


@verb
def retire(thing):
    """Put it out of use; what was made with it stays."""
    thing = current(thing)
    thing.retired_at = clock.now()
    thing.save(update_fields=["retired_at"])
    if isinstance(thing, Camera):
        Holder.objects.filter(camera=thing).update(retired_at=thing.retired_at)


@verb
def retire_period(period):
    """The people of a period who are in use, retired together; nobody for no period."""
    people = list(Person.objects.in_use().filter(period=period)) if period else []
    for person in people:
        retire(person)
    return people


@verb
def take_back_into_use(thing):
    """In use again."""
    thing = current(thing)
    thing.retired_at = None
    thing.save(update_fields=["retired_at"])
    if isinstance(thing, Camera):
        Holder.objects.filter(camera=thing).update(retired_at=None)
