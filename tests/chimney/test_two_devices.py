"""Two devices tap at the same moment: one is served, the other is told, nothing is doubled."""

from threading import Barrier, Thread

from django.core.exceptions import ValidationError
from django.db import connection
from django.test import TransactionTestCase

from chimney.kit.models import Holder
from chimney.logbook import flows
from chimney.logbook.models import Exposure, Opening
from chimney.parts.refusal import Refused
from tests.chimney.kitchen import kit, opened, planned


class Together(TransactionTestCase):
    def at_once(self, *taps):
        """What each tap came to: "done", or the refusal's sentence."""
        start, found = Barrier(len(taps)), []

        def tap(flow):
            start.wait()
            try:
                flow()
                found.append("done")
            except Refused as refused:
                found.append(refused.sentence)
            except ValidationError as error:
                found.append(error.messages[0])
            except Exception as error:
                found.append(f"broken: {error!r}")
            finally:
                connection.close()

        threads = [Thread(target=tap, args=(flow,)) for flow in taps]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual([words for words in found if words.startswith("broken")], [])
        return sorted(found, key=lambda words: words != "done")


class TwoDevices(Together):
    def test_one_camera_is_opened_once_and_closed_once(self):
        camera, paper, _, holder = kit()
        done = planned(camera, paper).calculation
        loadings = [flows.load(paper, holder, side) for side in "AB"]
        first, second = self.at_once(
            *(lambda at=at: flows.open_hole(at, camera, done) for at in loadings)
        )
        self.assertEqual((first, Opening.objects.count()), ("done", 1))
        self.assertIn("already open", second)
        exposure = Exposure.objects.get()
        first, second = self.at_once(
            lambda: flows.close_hole(exposure), lambda: flows.close_hole(exposure)
        )
        self.assertEqual(first, "done")
        self.assertIn("is shut", second)

    def test_one_side_is_loaded_once_and_codes_do_not_clash(self):
        _, paper, _, holder = kit()
        other = Holder.objects.create(name="2", size=holder.size)
        self.assertIn(
            "already holds", self.at_once(*[lambda: flows.load(paper, holder, "A")] * 2)[1]
        )
        self.assertEqual(
            self.at_once(*(lambda at=at: flows.load(paper, at, "B") for at in (holder, other))),
            ["done"] * 2,
        )

    def test_a_refused_opening_leaves_nothing_behind(self):
        camera, paper, _, holder = kit()
        opened(camera, paper, holder)
        self.assertIn("already open", self.at_once(lambda: opened(camera, paper, holder, "B"))[0])
