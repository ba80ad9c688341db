"""Queries for pages, each a constant number."""

from collections import defaultdict
from dataclasses import dataclass
from functools import reduce
from operator import or_

from django.core.paginator import Paginator
from django.db.models import (
    Count,
    Exists,
    F,
    FilteredRelation,
    OuterRef,
    Prefetch,
    Q,
    prefetch_related_objects,
)

from chimney.kit.models import Box, Holder
from chimney.kit.queries import but_its_measures
from chimney.logbook import figures
from chimney.logbook.models import Exposure, Loading, Opening, Photo, Sheet
from chimney.logbook.stages import RULES, which
from pinhole import media


@dataclass(frozen=True)
class Side:
    """One side of a holder as it is in the bag: state is "empty", "loaded", "exposing", "exposed"
    or "out".
    """

    holder: Holder
    letter: str
    loading: Loading | None

    @property
    def state(self):
        return RULES[self.loading.sheet.stage].side if self.loading else "empty"

    @property
    def state_words(self):
        """Words for what is to be done with it, where something is; else its state."""
        stays = self.state not in ("exposed", "out")
        return self.state if stays else self.loading.sheet.get_stage_display()

    @property
    def key(self):
        return f"{self.holder.pk}{self.letter}"

    @property
    def words(self):
        return self.holder.place(self.letter)

    @property
    def drawing(self):
        return figures.slide(self)


def with_thread(sheets=None, exposures=None):
    """Sheets with all that a strip shows: paper, exposures with camera, where it lies; exposures:
    with what else is read of them.
    """
    sheets = _lying(Sheet.objects if sheets is None else sheets)
    return sheets.select_related("paper", "person").prefetch_related(
        Prefetch("exposures", _brief() if exposures is None else exposures)
    )


def page_of(sheets, per_page, number):
    """That page of sheets with their threads; they are counted without what hangs on them."""
    page = Paginator(sheets, per_page).get_page(number)
    page.object_list = with_thread(page.object_list)
    return page


def _lying(sheets):
    """Sheets with where they lie, which Sheet.open_loading else asks for."""
    sheets = sheets.annotate(lying=_not_taken_out()).annotate(lies=F("lying__pk"))
    in_holders = sheets.select_related("lying__holder__camera")
    return in_holders.defer(*but_its_measures("lying__holder__camera"))


def _not_taken_out():
    """Loadings of sheets that still lie there, one a sheet and one a side."""
    return FilteredRelation("loadings", condition=Q(loadings__unloaded_at=None))


def _brief():
    """Exposures for a list with their cameras' names, without the long numbers of their
    calculations.
    """
    return Exposure.objects.select_related("camera").defer(
        "calculation_data", "forecast", *but_its_measures("camera")
    )


def waiting(stage):
    """Sheets of a stage with their threads, and the developer that was meant for each."""
    return with_thread(Sheet.objects.filter(stage=stage), _brief().select_related("developer"))


def newest(limit, *belongs):
    """[the newest sheets of a group, with all that a strip shows] for each group; belongs: what
    fields of its sheets hold. All of them in one go.
    """
    rows = (Sheet.objects.filter(**group).values("pk")[:limit] for group in belongs)
    sheets = list(with_thread(Sheet.objects.filter(reduce(or_, (Q(pk__in=pks) for pks in rows)))))
    return [
        [
            sheet
            for sheet in sheets
            if all(getattr(sheet, name) == value for name, value in group.items())
        ][:limit]
        for group in belongs
    ]


def running():
    """Exposures whose hole is open, first to finish not sorted out: the newest first."""
    # Few of all openings, which an index knows.
    openings = Opening.objects.filter(closed_at=None).values("exposure")
    return whole(Exposure.objects.filter(pk__in=openings))


def whole(exposures=None):
    """Exposures with all that a timer shows."""
    exposures = Exposure.objects if exposures is None else exposures
    rows = exposures.select_related(
        "sheet__paper", "sheet__person", "camera", "loading__holder__camera", "opening_row"
    )
    rows = rows.defer(*but_its_measures("camera"), *but_its_measures("loading__holder__camera"))
    photos = Photo.objects.filter(exposure=OuterRef("pk"))
    return rows.annotate(has_photo=Exists(photos)).prefetch_related(
        "opening_row__covers", "rereads"
    )


def bag():
    """Every holder in use or not yet empty, with its sides and the exposures of what lies in
    them.
    """
    holders = _with_sides()
    loadings = [side.loading for _, members in holders for side in members if side.loading]
    prefetch_related_objects(loadings, Prefetch("sheet__exposures", _brief()))
    return holders


def sides():
    """Every side of the bag, with what lies there."""
    return [side for _, members in _with_sides() for side in members]


def _with_sides():
    """[(holder, [Side])] of holders in use or not yet empty."""
    loadings = {}
    for holder in _holders():
        lying = getattr(holder, "lying", None)
        loadings.setdefault(holder, {}).update({lying.side: lying} if lying else {})
    return [
        (holder, [Side(holder, letter, by_side.get(letter)) for letter in holder.sides])
        for holder, by_side in loadings.items()
    ]


def _holders():
    """Holders in use or not yet empty, each once with every sheet that lies in it, and once where
    none does.
    """
    holders = Holder.objects.annotate(lying=_not_taken_out())
    holders = holders.filter(Q(retired_at=None) | Q(lying__isnull=False))
    holders = holders.select_related("camera", "lying__sheet__paper", "lying__sheet__person")
    return holders.defer(*but_its_measures("camera")).order_by("camera", "name")


def loaded():
    """{(paper's pk, size): how many sheets lie loaded in holders}."""
    lying = Loading.objects.filter(unloaded_at=None, sheet__stage=Sheet.Stage.LOADED).order_by()
    counts = lying.values_list("sheet__paper", "holder__size").annotate(Count("pk"))
    return {(paper, size): number for paper, size, number in counts}


def found_by(text):
    """Sheets that have all of those words in their code, paper, owner, subject, camera or place, or
    whose owner is of that period.
    """
    rows = Sheet.objects.all()
    for word in text.split():
        rows = rows.filter(Q(person__period__iexact=text) | with_word(word))
    return rows


def with_word(word):
    """That a word stands in a sheet's code, paper, owner, subject, camera or place."""
    of_exposure = Q(subject__icontains=word) | Q(camera__name__icontains=word)
    of_exposure |= Q(place__name__icontains=word)
    return (
        Q(code__icontains=word)
        | Q(paper__name__icontains=word)
        | Q(person__name__icontains=word)
        | Q(pk__in=Exposure.objects.filter(of_exposure).values("sheet"))
    )


def packet():
    """[(person or None, [sheets exposed, not developed])]: one's own, then by period and name."""
    by_sheet = defaultdict(list)
    for sheet in waiting(Sheet.Stage.EXPOSED).order_by("code"):
        by_sheet[sheet.person].append(sheet)
    return sorted(
        by_sheet.items(), key=lambda pair: (pair[0].period, pair[0].name) if pair[0] else ("", "")
    )


def stock():
    """[(box, sheets left)] of boxes in use, the oldest opened first."""
    boxes = (
        Box.objects.in_use()
        .select_related("paper")
        .annotate(taken=Count("cut", ~Q(cut__stage="boxed")))
    )
    return [(box, box.pieces - box.taken) for box in boxes.order_by("opened_on", "pk")]


def box_for(paper, size):
    """The box that a sheet of this paper and size is taken from: the oldest that still has one, or
    None.
    """
    fitting = (
        box for box, left in stock() if left > 0 and box.paper_id == paper.pk and box.piece == size
    )
    return next(fitting, None)


def counts():
    """Number of sheets at each stage that waits; those that are done are not counted, however
    many.
    """
    return dict.fromkeys(which("waits"), 0) | dict(stage_counts())


def stage_counts():
    """(stage, how many sheets) of the stages that wait, as rows."""
    waits = Sheet.objects.filter(stage__in=which("waits")).order_by()
    return waits.values_list("stage").annotate(Count("pk"))


def boxed():
    """Sheets that lie in their box with a code of their own."""
    return Sheet.objects.filter(stage=Sheet.Stage.BOXED)


def any_sheet():
    """True if there was ever a sheet."""
    return Sheet.objects.exists()


def timed_sheets():
    """Sheets that are no solargraphs."""
    return Sheet.objects.filter(paper__kind__in=media.timed())


def loadings():
    """Loadings, those of now and of before, with sheet and holder."""
    return Loading.objects.select_related("sheet", "holder")


def exposures_of(keys):
    """The Exposures of these numbers."""
    return Exposure.objects.filter(pk__in=keys)


def looked_for(words):
    """Sheets that have these words; all of them where there are none."""
    return found_by(words) if words else Sheet.objects.all()
