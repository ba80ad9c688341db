"""What went wrong, found on its page by how the picture looks."""

from urllib.parse import parse_qs, urlsplit

from chimney.logbook.models import Sheet
from chimney.results.wrong import craft
from pinhole.symptoms import symptoms
from tests.chimney.kitchen import kit, opened
from tests.chimney.pages import TestCase


class Wrong(TestCase):
    def test_each_complaint_is_answered_to_its_end_and_its_button_leads_somewhere(self):
        for medium in craft.ASKED_MEDIA:
            page = self.client.get("/read/wrong/", {"medium": medium})
            self.assertEqual(page.status_code, 200)
            for symptom in symptoms(medium):
                self.assertContains(page, symptom.words)
                picture = self.client.get(f"/read/wrong/{medium}/{symptom.code}.jpg")
                self.assertEqual(picture.content[:2], b"\xff\xd8")
                answers = {"medium": medium, "looks": symptom.code}
                for question in symptom.questions:
                    asked = self.client.get("/read/wrong/", answers)
                    self.assertContains(asked, question.words)
                    yes = self.client.get("/read/wrong/", answers | {question.code: "yes"})
                    self.assertContains(yes, question.cause.words)
                    address = yes.context["page"].button[1]
                    self.assertEqual(self.client.get(address).status_code, 200, address)
                    answers[question.code] = "no"
                self.assertContains(
                    self.client.get("/read/wrong/", answers), symptom.otherwise.words
                )

    def test_of_a_sheet_the_button_plans_it_again_with_what_it_wanted(self):
        camera, paper, _, holder = kit()
        exposure = opened(camera, paper, holder)
        sheet = exposure.sheet
        answers = {"looks": "pale", "short_in": "no", "low_sun": "no", "sheet": sheet.code}
        page = self.client.get("/read/wrong/", answers)
        self.assertContains(page, f"wrong with {sheet}")
        address = page.context["page"].button[1]
        self.assertEqual(parse_qs(urlsplit(address).query)["compensation_stops"], ["+1"])
        plan = self.client.get(f"{address}&seconds=4&kind=seconds").context["page"].plan
        plain = self.client.get(
            f"/plan/?camera={camera.pk}&paper={paper.pk}&seconds=4&kind=seconds"
        )
        ratio = plan.calculation.exact_s / plain.context["page"].plan.calculation.exact_s
        self.assertAlmostEqual(ratio, 2.0)
        Sheet.objects.update(stage="developed")
        self.assertContains(self.client.get(f"/read/of/{sheet.code}/"), "/read/wrong/?sheet=")

    def test_what_nobody_offers_is_no_error(self):
        for query in (
            "medium=glass&looks=dark",
            "looks=lost",
            "sheet=R-999",
            "sheet=%00",
            "rim=yes",
        ):
            self.assertEqual(self.client.get(f"/read/wrong/?{query}").status_code, 200)
        for name in ("negative/lost", "glass/dark"):
            self.assertEqual(self.client.get(f"/read/wrong/{name}.jpg").status_code, 404)
