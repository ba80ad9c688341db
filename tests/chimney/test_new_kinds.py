"""What is added says all of itself in one place: a made-up one is offered, planned with, kept and
shown on every page, without another line.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any, ClassVar
from unittest import mock

import numpy as np
from django.conf import settings
from django.core.exceptions import ValidationError
from django.test import TestCase

from chimney.darkroom import flows as dark
from chimney.darkroom.models import OwnProcess
from chimney.darkroom.procedure import flows as procedure
from chimney.field.models import Shot
from chimney.kit import figures
from chimney.kit.catalogue import backs
from chimney.kit.models import Camera, Paper
from chimney.lessons import flows as lessons
from chimney.logbook import flows as logbook
from chimney.logbook.models import Exposure, Sheet
from chimney.parts import sizes
from chimney.results.models import Verdict
from pinhole import developing, media, reciprocity
from pinhole.developing import Step
from pinhole.faults import FAULTS, Fault
from pinhole.media import Medium
from pinhole.projection import FlatBack
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


class Bellows(backs.Flat):
    """A flat back that folds: it cannot be longer than a hand, and is hung like a can."""

    name = "bellows"
    choice = "bellows of paper"
    depth_words = "Pulled out to"
    fields = (*backs.HOLE_FIELDS, "height_mm")
    noun = "concertina"
    hangs_first = True

    @classmethod
    def geometry(cls, camera):
        return FlatBack(camera.depth_mm / 2, camera.visible_width_mm, camera.visible_height_mm)

    @classmethod
    def limits(cls, depth_mm, length_mm, visible_mm):
        if depth_mm > 180:
            yield "focal_mm", "It tears."


class ABack(TestCase):
    """A kind of back that nobody has."""

    def setUp(self):
        years.a_year()
        kinds = {**backs.BACK_KINDS, Bellows.name: Bellows}
        self.enterContext(mock.patch.dict(backs.BACK_KINDS, kinds))

    def test_it_is_asked_for_drawn_refused_planned_and_hung(self):
        page = self.client.get("/kit/camera/new/")
        self.assertContains(page, "bellows of paper")
        self.assertContains(page, "Pulled out to")
        typed = {"name": "Squeeze", "back": "bellows", "focal_mm": "200", "diameter_mm": "0.3"}
        typed |= {"size": "4x5 in", "places": "1", "height_mm": "150", "body_mm": "99"}
        self.assertContains(
            self.client.post("/kit/camera/new/", typed), "It tears.", status_code=422
        )
        self.client.post("/kit/camera/new/", typed | {"focal_mm": "120"})
        camera = Camera.objects.get(name="Squeeze")
        self.assertEqual((camera.height_mm, camera.body_mm), (150, None))
        flat = Camera(**{name: getattr(camera, name) for name in SAME}, back="flat")
        across = [each.geometry.field_deg()[0] for each in (camera, flat)]
        self.assertGreater(across[0], across[1] + 20)
        drawn = self.client.get(f"/kit/camera/{camera.pk}/")
        self.assertContains(drawn, f"{across[0]:.0f}° across")
        pulled = figures.pulled(camera, figures.layout_of(camera), "sheet", 300.0, 40.0)
        self.assertIn(pulled["size"], sizes.NAMED_SIZES)
        self.assertEqual(self.client.get("/plan/", {"camera": camera.pk}).status_code, 200)
        asked = {"camera": camera.pk, "tilt_deg": "0", "azimuth_deg": "180"}
        sun = self.client.get("/plan/sun/", asked)
        self.assertContains(sun, "mm wide")
        Camera.objects.exclude(back="lens").update(back="bellows")
        for url in PAGES:
            self.assertEqual(self.client.get(url).status_code, 200, url)

    def test_what_other_backs_are_asked_is_hidden_by_a_rule_of_each(self):
        rules = (settings.ROOT / "chimney/static/css/chimney.css").read_text()
        missing = [name for name in backs.BACK_KINDS if f"[value={name}]:checked" not in rules]
        self.assertEqual(missing, [Bellows.name])


SAME = ("focal_mm", "diameter_mm", "size", "visible_width_mm", "visible_height_mm")
SAME += ("cut_width_mm", "cut_height_mm")


class AMedium(TestCase):
    """A kind of sheet that nobody has: glass that bleaches, rated to a quarter of a stop."""

    def setUp(self):
        years.a_year()
        glass = Medium(
            "glass",
            "glass that bleaches",
            -1,
            6.5,
            "Meter the window.",
            untried_sd_stops=0.25,
            is_printed_from=True,
        )
        kinds = {**media.MEDIA, glass.name: glass}
        self.enterContext(mock.patch.dict(media.MEDIA, kinds))

    def test_it_is_offered_planned_judged_and_shown_on_every_page(self):
        self.assertContains(self.client.get("/kit/paper/new/"), "glass that bleaches")
        typed = {"name": "Pane", "kind": "glass", "base": "fibre", "sees": "blue", "box_ei": "2"}
        typed |= {"school": "none", "exponent": "1.16", "onset_s": "1"}
        self.client.post("/kit/paper/new/", typed)
        pane = Paper.objects.get(name="Pane")
        self.assertEqual(pane.range_stops, 6.5)
        asked = {"kind": "seconds", "seconds": "4", "meter_f": "128", "meter_iso": "6"}
        page = self.client.get("/plan/", asked | {"paper": pane.pk})
        self.assertContains(page, "Meter the window.")
        self.assertEqual(page.context["page"].plan.proposal.sd_stops, 0.25)
        Paper.objects.timed().update(kind="glass")
        sheet = Sheet.objects.filter(stage=Sheet.Stage.DEVELOPED).first()
        self.assertContains(self.client.get(f"/read/{sheet}/"), "A positive too dark")
        self.client.post(f"/read/{sheet}/", {"look": "dark"})
        self.assertEqual(Verdict.objects.get(sheet=sheet).stops_more, 1.0)
        self.assertEqual(self.client.get(f"/develop/print/{sheet}/").status_code, 200)
        for url in PAGES:
            self.assertEqual(self.client.get(url).status_code, 200, url)

    def test_one_that_is_not_timed_goes_into_a_can_and_nowhere_else(self):
        with mock.patch.dict(media.MEDIA, {"glass": replace(media.MEDIA["glass"], is_timed=False)}):
            Paper.objects.filter(kind="solargraph").update(kind="glass")
            self.assertNotIn("glass", Paper.objects.timed().values_list("kind", flat=True))
            self.assertEqual({p.kind for p in Paper.objects.put_out()}, {"glass"})
            for url in PAGES:
                self.assertEqual(self.client.get(url).status_code, 200, url)


class AFault(TestCase):
    """A fault that nobody has: the sheet came back with a bite."""

    def setUp(self):
        years.a_year()
        bite = Fault(
            "bite",
            "a bite out of it",
            "a goat",
            "a higher fence",
            misleads=True,
            in_dark=lambda share, chance: np.where(np.indices(share.shape)[0] < 40, 1.0, share),
        )
        self.enterContext(mock.patch.dict(FAULTS, {**FAULTS, bite.code: bite}))

    def test_it_is_offered_drawn_counted_and_teaches_nothing(self):
        sheet = Sheet.objects.filter(stage=Sheet.Stage.DEVELOPED).first()
        self.assertContains(self.client.get(f"/read/{sheet}/"), "a bite out of it")
        self.client.post(f"/read/{sheet}/", {"look": "right", "faults": ["bite"]})
        self.assertContains(self.client.get("/read/faults/"), "a higher fence")
        bitten = self.client.get("/read/faults/bite.jpg").content
        self.assertNotEqual(bitten, self.client.get("/read/faults/dust.jpg").content)
        self.assertContains(self.client.get(f"/read/of/{sheet}/"), "A bite out of it")
        self.assertIn("bite", sheet.evidence.reason)
        for url in PAGES:
            self.assertEqual(self.client.get(url).status_code, 200, url)
