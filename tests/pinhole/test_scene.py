"""Pictures of a camera as a meter, against what exposure values and codes are known to mean."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from skimage import color

from pinhole import scene

HUNDREDTH = 0.01
SUNNY = {"f_number": 16, "seconds": 1 / 125, "iso": 100}


class Metered(TestCase):
    def test_the_exposure_that_was_set_is_the_light_of_code_118(self):
        for exposed, ev in (
            # Sunny 16 is EV 15; each doubling of the ISO, and of the time, is one less.
            (SUNNY, 14.97),
            (SUNNY | {"iso": 400}, 12.97),
            (SUNNY | {"seconds": 1 / 500}, 16.97),
            ({"f_number": 1.0, "seconds": 1.0, "iso": 100}, 0.0),
        ):
            for picture, bits in (
                (np.full((4, 5), 118, np.uint8), 8),
                (np.full((4, 5, 3), 118, np.uint8), 8),
                (np.full((4, 5, 3), 118 * 257, np.uint16), 16),
            ):
                seen = scene.ev100(picture, **exposed, bits=bits)
                self.assertEqual(seen.shape, (4, 5))
                np.testing.assert_allclose(seen, ev, atol=HUNDREDTH)

    def test_luminance_is_that_of_the_colour(self):
        """Y of CIE XYZ by scikit-image, for each of a thousand colours by chance."""
        chance = np.random.default_rng(3)
        codes = chance.integers(1, 256, (40, 25, 3)).astype(np.uint8)
        y = color.rgb2xyz(codes)[..., 1] / color.rgb2xyz(np.full((1, 1, 3), 118, np.uint8))[0, 0, 1]
        np.testing.assert_allclose(
            scene.ev100(codes, **SUNNY), scene.ev100([[118]], **SUNNY) + np.log2(y), atol=0.002
        )

    @given(
        some.integers(1, 255), some.floats(0.5, 600), some.floats(1e-4, 4000), some.floats(1, 25600)
    )
    def test_a_stop_is_a_stop(self, code, number, seconds, iso):
        def seen(number, seconds, iso):
            return float(scene.ev100([[code]], f_number=number, seconds=seconds, iso=iso)[0, 0])

        base = seen(number, seconds, iso)
        for other, stops in (
            (seen(number * 2, seconds, iso), 2),
            (seen(number, seconds * 2, iso), -1),
            (seen(number, seconds, iso * 2), -1),
        ):
            self.assertAlmostEqual(other - base, stops, places=9)

    def test_black_is_no_light_and_limits_are_told(self):
        self.assertEqual(scene.ev100([[0]], **SUNNY)[0, 0], -np.inf)
        for codes, more in (
            ([1, 2], {}),
            (np.zeros((2, 2, 4)), {}),
            ([[256]], {}),
            ([[-1]], {}),
            ([[1]], {"iso": 0}),
            ([[1]], {"seconds": -1}),
            ([[1]], {"f_number": np.inf}),
            ([[1]], {"bits": 12}),
        ):
            self.assertRaises(ValueError, scene.ev100, codes, **(SUNNY | more))
