"""Baths against molar masses of a reference library, against what practitioners pour, and against
what must hold for any of them.
"""

from unittest import TestCase, mock

import numpy as np
from hypothesis import given
from hypothesis import strategies as some
from molmass import Formula
from pHcalc import Acid, Inert, System

from pinhole import chemistry
from pinhole.chemistry import Powder

FORMULAS = {"anhydrous": "Na2CO3", "monohydrate": "Na2CO3(H2O)", "decahydrate": "Na2CO3(H2O)10"}
# Per litre (common practice): washing soda crystals, vitamin C, cheap instant coffee.
COFFEE = (Powder("soda", 23, "decahydrate"), Powder("acid", 20), Powder("coffee", 30))
TEN_PPM = 1e-5
FORMS = some.sampled_from(list(FORMULAS))
POSITIVE = some.floats(1e-3, 1e4)


class Chemistry(TestCase):
    def test_molar_masses_are_those_of_molmass(self):
        for form, formula in FORMULAS.items():
            known = Formula(formula).mass
            self.assertLess(abs(chemistry.SODA_G_PER_MOL[form] / known - 1), TEN_PPM)
        acid = Formula("C6H8O6").mass
        self.assertLess(abs(chemistry.ACID_G_PER_MOL / acid - 1), TEN_PPM)
        for one, a in FORMULAS.items():
            for other, b in FORMULAS.items():
                by_hand = 23 * Formula(b).mass / Formula(a).mass
                told = chemistry.soda_mass_g(23, one, other)
                self.assertLess(abs(told / by_hand - 1), 2 * TEN_PPM)
        # Up to 2.7 times as much for the same alkali (common practice).
        self.assertAlmostEqual(chemistry.soda_mass_g(1, "anhydrous", "decahydrate"), 2.7, places=3)

    def test_what_is_poured_and_weighed(self):
        # 15 ml and 150 ml are 1+10 (common practice).
        self.assertEqual(chemistry.dilute(10, 165), (15, 150))
        np.testing.assert_allclose(chemistry.dilute([1, 4], 100), [[50, 20], [50, 80]])
        self.assertTrue(np.isnan(chemistry.dilute(np.nan, 100)[0]))
        # A 30 % peroxide to 3 %: one part in ten.
        self.assertEqual(chemistry.percent(30, 3, 500), (50, 450))
        self.assertEqual(chemistry.weighed_g(COFFEE, 500), [11.5, 10, 15])
        # 18 g of crystals at 23 g a litre, by hand.
        made, short = chemistry.makes_ml(COFFEE, {"soda": 18, "coffee": 100})
        self.assertAlmostEqual(made, 782.6, places=1)
        self.assertEqual(short, "soda")
        self.assertEqual(chemistry.tablets(10, 1000), (10, 10))
        self.assertEqual(chemistry.tablets(10.2, 500), (21, 10.5))
        # 23 g of crystals hold 0.0804 mol, 20 g of acid 0.1136: 0.71 to one.
        ratio = chemistry.carbonate_to_acid(23, "decahydrate", 20)
        by_hand = (23 / Formula("Na2CO3(H2O)10").mass) / (20 / Formula("C6H8O6").mass)
        self.assertAlmostEqual(ratio, by_hand, places=4)

    def test_how_alkaline_a_bath_is_by_the_balance_of_a_chemistry_package(self):
        """Closed: pHcalc's balance of charge with the same acids. By hand, 23 g/l crystals to 20
        g/l acid: 0.0472 mol of bicarbonate to 0.0332 of gas, 6.35 + log(0.0472 / 0.0332) = 6.5;
        without the gas bicarbonate beside ascorbate, under its own 8.34; 54 g/l dry soda to 16 g/l:
        over 10.
        """
        for carbonate, acid in ((0.0804, 0.1136), (0.509, 0.0908), (0.3, 0.1), (0.05, 0), (0, 0.1)):
            known = [
                Acid(pKa=list(pk), charge=0, conc=amount)
                for pk, amount in (((6.35, 10.33), carbonate), ((4.17, 11.57), acid))
                if amount
            ]
            balance = System(*known, Inert(charge=1, conc=2 * carbonate + 1e-12))
            with mock.patch.object(np, "cumproduct", np.cumprod, create=True):
                balance.pHsolve(guess_est=True)
            with self.subTest(carbonate=carbonate, acid=acid):
                self.assertAlmostEqual(chemistry.ph(carbonate, acid), balance.pH, delta=0.02)
        self.assertAlmostEqual(chemistry.ph(0.0804, 0.1136), 6.5, delta=0.02)
        self.assertAlmostEqual(chemistry.ph(0.0804, 0.1136, open_to_air=True), 8.31, delta=0.02)
        self.assertGreater(chemistry.ph(0.509, 0.0908, open_to_air=True), 10)
        # Bicarbonate alone lies midway between carbonic acid's two constants.
        self.assertAlmostEqual(chemistry.ph(0, 0, bicarbonate_mol_l=0.1), 8.34, delta=0.02)
        self.assertEqual(chemistry.ph([0.1, 0.2], 0.05).shape, (2,))
        self.assertTrue(np.isnan(chemistry.ph(np.nan, 0.1)))
        with self.assertRaisesRegex(ValueError, "ascorbic_mol_l must be at least 0"):
            chemistry.ph(0.1, -1)
        # More soda is never sourer, and what is said to be needed is.
        rising = chemistry.ph(np.linspace(0, 1, 200), 0.1, open_to_air=True)
        self.assertTrue((np.diff(rising) >= -1e-9).all())
        # The least alkaline one has gas to lose, the other hardly any.
        for wanted in (7.6, 9.5):
            needed = chemistry.soda_for_ph(0.1136, wanted)
            reached = chemistry.ph(needed, 0.1136, open_to_air=True)
            self.assertAlmostEqual(reached, wanted, delta=0.01)

    def test_what_covers_a_sheet(self):
        self.assertEqual(chemistry.tray_ml(200, 250, 10), 500)
        # A tank 80 mm wide with a sheet standing 102 mm: a cylinder of 112 mm, by hand 563 ml.
        self.assertAlmostEqual(chemistry.tank_ml(80, 102), 563, delta=0.1)
        # 8 mm deep where nobody says otherwise (common practice).
        self.assertEqual(chemistry.tray_ml(200, 250), 400)
        # 40 to 100 ml for two 4x5 in sheets (common practice).
        np.testing.assert_allclose(chemistry.drum_ml(101.6 * 127, 2), (40, 100))

    def test_a_bath_ages(self):
        # Half of its paper went through it, but two thirds of its days are over.
        self.assertAlmostEqual(chemistry.used_up(500, 1000, 4, 6), 2 / 3)
        self.assertAlmostEqual(chemistry.used_up(900, 1000, 4, 6), 0.9)
        # No longer up to the middle of its life, half as long again at its end (common practice).
        np.testing.assert_allclose(chemistry.longer([0, 0.5, 0.75, 1, 3]), [1, 1, 1.25, 1.5, 1.5])
        # 1+9 in a litre holds 100 ml; 50 ml more are 150 in 1050: 1+6, by hand.
        np.testing.assert_allclose(chemistry.topped_up(9, 1000, 50), (6, 1050))
        np.testing.assert_allclose(chemistry.topped_up(0.5, 150, 50), (1 / 3, 200))
        np.testing.assert_allclose(
            chemistry.topped_up(9, 1000, [0, 0.5]), [[9, 8.9552], [1000, 1000.5]], atol=1e-4
        )

    @given(POSITIVE, POSITIVE)
    def test_the_parts_are_the_whole(self, parts, total):
        concentrate, water = chemistry.dilute(parts, total)
        self.assertAlmostEqual(concentrate + water, total)
        self.assertAlmostEqual(water / concentrate / parts, 1)

    @given(
        some.floats(0, 1e4), some.sampled_from(list(FORMULAS)), some.sampled_from(list(FORMULAS))
    )
    def test_to_another_form_and_back_is_the_same(self, mass, one, other):
        there = chemistry.soda_mass_g(mass, one, other)
        self.assertAlmostEqual(chemistry.soda_mass_g(there, other, one), mass)

    @given(some.dictionaries(some.sampled_from(["soda", "acid", "coffee"]), POSITIVE, min_size=1))
    def test_what_is_in_the_cupboard_is_enough_for_what_it_makes_and_for_no_more(self, stock):
        made, short = chemistry.makes_ml(COFFEE, stock)
        needed = dict(
            zip(("soda", "acid", "coffee"), chemistry.weighed_g(COFFEE, made), strict=True)
        )
        for name, mass in stock.items():
            self.assertLessEqual(needed[name], mass * (1 + 1e-9))
        self.assertAlmostEqual(needed[short] / stock[short], 1)

    def test_what_cannot_be_is_told(self):
        for call, words in (
            (lambda: chemistry.dilute(0, 100), "parts must be above 0"),
            (lambda: chemistry.dilute(10, -5), "total_ml must be above 0"),
            (lambda: chemistry.percent(3, 30, 100), "at most stock_percent"),
            (lambda: chemistry.percent(130, 30, 100), "at most 100"),
            (lambda: chemistry.soda_mass_g(-1, "anhydrous", "monohydrate"), "at least 0"),
            (lambda: chemistry.soda_mass_g(1, "powder", "monohydrate"), "one of anhydrous"),
            (lambda: chemistry.soda_mass_g(1, "anhydrous", "crystals"), "one of anhydrous"),
            (lambda: chemistry.makes_ml(COFFEE, {"salt": 3}), "at least one"),
            (lambda: chemistry.tablets(1, 0), "tablet_mg must be above 0"),
            (lambda: chemistry.drum_ml(100, 0), "sheets must be at least 1"),
        ):
            with self.assertRaisesRegex(ValueError, words):
                call()
