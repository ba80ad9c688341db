"""What is added says all of itself in one place: a made-up one is offered, planned with, kept and
shown on every page, without another line.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar
from unittest import mock

from django.core.exceptions import ValidationError
from django.test import TestCase

from chimney.darkroom import flows as dark
from chimney.darkroom.models import OwnProcess
from chimney.darkroom.procedure import flows as procedure
from chimney.field.models import Shot
from chimney.kit.models import Paper
from chimney.lessons import flows as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure
from pinhole import developing, reciprocity
from pinhole.developing import Step
from tests import years
from tests.chimney.kitchen import kit, opened
from tests.chimney.test_year import PAGES


@dataclass(frozen=True)
class Doubling:
    """Twice the metered time, whatever it is: nobody's school."""

    name: ClassVar[str] = "doubling"
    choice: ClassVar[str] = "twice as long, always"
    corrects: ClassVar[bool] = True
    wants: ClassVar[str] = ""
    missing: ClassVar[str] = ""
    times: float = 2.0

    @property
    def words(self):
        return f"always × {self.times:g}"

    @classmethod
    def of_paper(cls, numbers: Mapping[str, Any]):
        return cls()

    def adjusted_s(self, metered_s):
        return self.times * metered_s

    def metered_s(self, adjusted_s):
        return adjusted_s / self.times

    def steeper(self, exponent):
        return Doubling(self.times * 2.0**exponent)

    def as_data(self):
        return {"name": self.name, "times": self.times}


class WithDoubling(TestCase):
    def setUp(self):
        kinds = {**reciprocity.SCHOOL_KINDS, Doubling.name: Doubling}
        self.enterContext(mock.patch.dict(reciprocity.SCHOOL_KINDS, kinds))


class Keeping(WithDoubling):
    def test_what_was_timed_by_it_is_kept_and_read_back(self):
        camera, paper, _, holder = kit()
        Paper.objects.filter(pk=paper.pk).update(school=Doubling.name)
        exposure = opened(camera, Paper.objects.get(pk=paper.pk), holder, school=Doubling.name)
        again = Exposure.objects.get(pk=exposure.pk)
        self.assertEqual(again.calculation.school, Doubling())
        self.assertContains(
            self.client.get(f"/sheets/{exposure.sheet}/"), "lways × 2, applied last"
        )
        self.assertEqual(self.client.get(f"/expose/{exposure.pk}/").status_code, 200)


class Showing(WithDoubling):
    def setUp(self):
        super().setUp()
        years.a_year()

    def test_it_is_offered_planned_with_kept_and_shown_on_every_page(self):
        paper = Paper.objects.timed().first()
        form = self.client.get(f"/kit/paper/{paper.pk}/")
        self.assertContains(form, Doubling.choice)
        Paper.objects.update(school=Doubling.name)
        Shot.objects.update(school=Doubling.name)
        asked = {"kind": "seconds", "seconds": "4", "meter_f": "128", "meter_iso": "6"}
        asked |= {"paper": paper.pk, "school": Doubling.name, "for_paper": paper.pk}
        asked |= {"ei_from": "box"}
        page = self.client.get("/plan/", asked)
        calculation = page.context["page"].plan.calculation
        self.assertEqual(calculation.school, Doubling())
        self.assertAlmostEqual(calculation.exact_s, 2 * calculation.metered_s)
        self.assertContains(page, "always × 2")
        lessons.relearn()
        for url in PAGES:
            self.assertEqual(self.client.get(url).status_code, 200, url)

    def test_a_school_that_wants_a_number_is_refused_without_it_in_its_own_words(self):
        paper = Paper.objects.timed().first()
        with (
            mock.patch.object(Doubling, "wants", "table"),
            mock.patch.object(Doubling, "missing", "Twice what?"),
        ):
            self.assertNotIn(Doubling.name, Paper(table=[], school="none").schools)
            answer = self.client.get(f"/kit/paper/{paper.pk}/")
            fields = {f.name: f.value() for f in answer.context["form"] if f.value() is not None}
            answer = self.client.post(
                f"/kit/paper/{paper.pk}/", fields | {"school": Doubling.name, "table": ""}
            )
            self.assertContains(answer, "Twice what?", status_code=422)

    def test_no_school_of_that_name_is_none(self):
        with self.assertRaises(ValidationError):
            Paper(name="x", box_ei=6, school="nobody's").full_clean()


class APurpose(TestCase):
    """A kind of step that nobody has: its caution is said wherever the step is."""

    def setUp(self):
        etch = developing.Purpose("etch", "etch the plate", "Etch bites: gloves and goggles.")
        kinds = {**developing.PURPOSES, "etch": etch}
        self.enterContext(mock.patch.dict(developing.PURPOSES, kinds))

    def test_it_is_offered_and_its_caution_is_said_at_its_step(self):
        form = self.client.get("/develop/process/rc-trays/change/")
        self.assertContains(form, "etch the plate")
        camera, paper, developer, holder = kit()
        steps = (Step("Developer", "develop", 60, 90), Step("Etch", "etch", 30, 60))
        steps += (Step("Fixer", "fix", 120, 120), Step("Drying", "dry", 1800, 3600))
        told = {"kinds": ["negative"], "vessels": ["tray"], "together": False, "by_eye": False}
        key = procedure.keep(None, steps, name="etched", why="to try it", **told)
        process = OwnProcess.objects.get(key=key).process
        exposure = opened(camera, paper, holder)
        logbook.close_hole(exposure)
        logbook.unload(exposure.loading)
        run = dark.begin([exposure.sheet], process, developer, together=False)
        for word in ("next", "next"):
            dark.tap(run, 0, run.taps.count(), word)
        page = self.client.get(f"/develop/run/{run.pk}/")
        self.assertContains(page, "Etch bites: gloves and goggles.")
        self.assertContains(self.client.get(f"/develop/process/{key}/"), "Etch bites")
