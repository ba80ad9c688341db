"""A test strip in the camera, simulated band by band: whoever says which band is right is told the
EI that the paper really has, whatever was planned and whenever the hole was shut.
"""

import math
from datetime import UTC, datetime, timedelta

import numpy as np

from chimney.darkroom import flows as darkroom
from chimney.field.plan import flows as plans
from chimney.field.strip import craft, flows
from chimney.lessons.models import Evidence
from chimney.logbook import flows as logbook
from chimney.logbook import queries
from chimney.logbook.models import Exposure
from chimney.parts import clock
from chimney.results import flows as results
from tests.chimney.kitchen import kit, planned
from tests.chimney.pages import TestCase

NOON = datetime(2026, 6, 2, 10, tzinfo=UTC)


def density(stops):
    """Of a paper of the test's own: a bell's sum over stops, and no curve of ours."""
    return 0.07 + 0.8 * (1 + math.erf(stops / 2.1))


class Strips(TestCase):
    def setUp(self):
        self.camera, self.paper, self.developer, self.holder = kit()

    def exposed(self, *, bands=7, step=0.5, shut_s=None, school="none"):
        """A strip of that many bands, shut when its last band is done or earlier."""
        plan = planned(
            self.camera, self.paper, seconds=8.0, sheets="strip", bands=bands,
            bracket_stops=step, school=school,
        )  # fmt: skip
        given = {"camera": self.camera, "paper": self.paper, "subject": "wall"}
        given |= {"developer": None, "note": "", "again": False, "sheets": "strip"}
        with clock.at(NOON):
            made = plans.open_shot(given, plan, queries.sides()[0])
        with clock.at(NOON + timedelta(seconds=shut_s or made.planned_s)):
            logbook.close_hole(made)
        logbook.unload(made.loading)
        darkroom.develop([made.sheet], self.developer, parts=10, seconds=60)
        return Exposure.objects.get(pk=made.pk).taken

    def seen(self, taken, true_ei):
        """The place that an eye picks: the band whose density is nearest the one that is right.

        Each band's light is reckoned by the test: seconds against what the paper really needs, less
        the fall-off of a flat back at its middle.
        """
        bands, right_s = craft.bands_made(taken), 8 * (300 / 128) ** 2 * 6 / true_ei
        half = self.camera.visible_width_mm / 2
        count, densities = len(taken.bands), []
        for n, band in enumerate(bands):
            last = n == len(bands) - 1
            place = (n + count - 1) / 2 if last and not band.covered else n
            x = half * (2 * (place + 0.5) / count - 1)
            lost = -4 * math.log2(math.cos(math.atan(x / self.camera.focal_mm)))
            densities.append(density(math.log2(band.seconds / right_s) - lost))
        return float(np.argmin(np.abs(np.array(densities) - density(0.0))))

    def test_the_right_band_teaches_the_papers_real_speed(self):
        for true_ei in (2.5, 4.0, 6.0, 9.0):
            taken = self.exposed()
            flows.read_strip(taken, self.seen(taken, true_ei))
            evidence = Evidence.objects.get(sheet=taken.exposure.sheet)
            with self.subTest(true_ei=true_ei):
                self.assertEqual(evidence.reason, "")
                # Half a step between the bands, and what counting in whole seconds does to it.
                self.assertLess(abs(math.log2(evidence.ei / true_ei)), 0.3)

    def test_a_strip_that_was_shut_early_lists_the_bands_that_were_made(self):
        taken = self.exposed(bands=5, shut_s=40)
        pulls = [band["pull_s"] for band in taken.bands]
        covered = [at for at in pulls if at < 40]
        bands = craft.bands_made(taken)
        self.assertEqual([band.seconds for band in bands], [*covered, 40])
        self.assertEqual(bands[-1].words, f"{len(covered) + 1} to 5")
        page = self.client.get(f"/plan/strip/{taken.exposure_id}/")
        self.assertContains(page, "free to the end")
        self.assertNotContains(page, f"{pulls[-1]:g} s")
        flows.read_strip(taken, len(bands) - 1)
        verdict = taken.exposure.sheet.verdict
        # The whole sheet had what its last band had, but for the edge's own light.
        self.assertAlmostEqual(verdict.stops_more, 0, delta=0.6)

    def test_it_is_read_on_its_page_and_nothing_is_taught_before(self):
        taken = self.exposed()
        results.judge(taken.exposure.sheet, stops_more=0)
        self.assertIn("which of its bands", Evidence.objects.get().reason)
        judge = self.client.get(f"/read/{taken.exposure.sheet}/")
        self.assertContains(judge, f"/plan/strip/{taken.exposure_id}/")
        url = f"/plan/strip/{taken.exposure_id}/"
        self.assertContains(self.client.get(url), "between 2 and 3")
        self.assertEqual(self.client.post(url, {"band": "99"}).status_code, 200)
        answer = self.client.post(url, {"band": "2.5"}, follow=True)
        self.assertContains(answer, "between bands 3 and 4 it is right")
        self.assertEqual(Evidence.objects.get().reason, "")

    def test_between_two_bands_is_midway_in_stops_whatever_the_school(self):
        for school in ("none", "power"):
            taken = self.exposed(school=school)
            bands = craft.bands_made(taken)
            low, high = (craft.stops_more(taken, bands, place) for place in (2.0, 3.0))
            middle = craft.stops_more(taken, bands, 2.5)
            self.assertAlmostEqual(middle, (low + high) / 2)
            self.assertAlmostEqual(high - low, 0.5, delta=0.2)
