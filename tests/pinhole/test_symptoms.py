"""Complaints and their causes: each is reached, none contradicts the medium, and each example
looks as it is called.
"""

import itertools
from unittest import TestCase

from chimney.results.wrong import craft
from pinhole import media, verdicts
from pinhole.faults import FAULTS
from pinhole.symptoms import MENDED_AT, symptoms


def every_way(symptom):
    """All answers to its questions, and all with one left open."""
    codes = [question.code for question in symptom.questions]
    for answers in itertools.product((True, False, None), repeat=len(codes)):
        yield {code: so for code, so in zip(codes, answers, strict=True) if so is not None}


class Symptoms(TestCase):
    def test_every_answer_leads_to_one_cause_or_to_the_next_question(self):
        for medium in media.MEDIA:
            for symptom in symptoms(medium):
                reached = set()
                for answers in every_way(symptom):
                    due, cause = list(symptom.ask(answers)), symptom.cause(answers)
                    is_open = any(so is None for _, so in due)
                    self.assertEqual(cause is None, is_open)
                    # Nothing is asked behind a yes or behind an open question.
                    self.assertTrue(all(so is False for _, so in due[:-1]))
                    reached.add(cause)
                causes = {question.cause for question in symptom.questions} | {symptom.otherwise}
                self.assertEqual(reached - {None}, causes)
                for cause in causes:
                    self.assertIn(cause.mended_at, MENDED_AT)

    def test_light_is_asked_for_in_the_sense_of_the_medium(self):
        """As the verdicts have it, whose sense is common practice: a dark negative had too much, a
        dark positive too little.
        """
        for medium in media.MEDIA:
            by_code = {symptom.code: symptom for symptom in symptoms(medium)}
            for code in ("dark", "pale"):
                wanted = by_code[code].otherwise.stops_more
                self.assertEqual(verdicts.sense(medium, wanted), code)

    def test_an_example_looks_as_it_is_called(self):
        for medium in craft.ASKED_MEDIA:
            right = craft.example(medium, "").mean()
            greys = {s.code: craft.example(medium, s.code).mean() for s in symptoms(medium)}
            self.assertLess(greys["dark"], right - 20)
            self.assertGreater(greys["pale"], right + 20)
            # Without light a negative stays white, a positive goes black.
            empty = greys["empty"]
            self.assertTrue(empty < 60 if media.medium(medium).is_positive else empty > 195, empty)
            self.assertEqual(len(set(greys.values())), len(greys))
            for symptom in symptoms(medium):
                self.assertIn(symptom.fault, {"", *FAULTS})
