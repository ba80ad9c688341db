"""Mixing on its page: what is poured, what covers a sheet, and what is refused beside its
field.
"""

import re
from html import unescape

from chimney.darkroom.models import Bath
from tests.chimney.pages import TestCase

URL = "/develop/mix/"
BATH = ("name", "purpose", "developer", "parts", "volume_ml", "went_in", "makes")


class Mixing(TestCase):
    def page(self, **typed):
        return self.client.get(URL, typed)

    def test_a_concentrate_for_what_covers_the_sheet(self):
        # A tray of 141.6 x 167 mm, 8 mm deep: 189 ml, rounded up to 190; 1+10 of that.
        page = self.page()
        self.assertContains(page, "17 ml of concentrate and 173 ml of water")
        self.assertContains(page, "At least 189 ml cover the sheet")
        # 15 ml and 150 ml (common practice), which do not cover it.
        page = self.page(total_ml="165")
        self.assertContains(page, "15 ml of concentrate and 150 ml of water")
        self.assertContains(page, "189 ml cover the sheet in that vessel; 165 ml do not")

    def test_a_drum_takes_what_practitioners_say(self):
        # 40 ml for two 4x5 in sheets (common practice).
        self.assertContains(self.page(vessel="drum", sheets="2"), "At least 40 ml cover")

    def test_acid_goes_into_water(self):
        page = self.page(what="percent", stock_percent="30", wanted_percent="3", total_ml="500")
        self.assertContains(page, "50 ml of stock and 450 ml of water")
        self.assertContains(page, "never water into acid")

    def test_coffee_is_made_of_what_is_in_the_cupboard(self):
        mild = {"what": "coffee", "coffee": "mild", "total_ml": "1000"}
        page = self.page(**mild, soda_g="18", tablet_mg="500")
        self.assertContains(page, "23 g of washing soda: stir until it is dissolved")
        self.assertContains(page, "40 tablets of vitamin C (20 g), ground")
        self.assertContains(page, "You have 18 g of washing soda: 783 ml, less than wanted")
        # By a balance of charge: too sour, and what is missing is said.
        words = "0.71 moles of carbonate to one of acid: pH about 6.5 as mixed, 8.3 when its gas"
        self.assertContains(page, words)
        self.assertContains(page, "here hardly")
        self.assertContains(page, "The other school, 54 g/l heated dry soda")
        self.assertContains(page, "If nothing comes up in ten minutes")
        # The same alkali from dry powder: 23 g / 2.7.
        dry = self.page(**mild, soda_form="anhydrous")
        self.assertContains(dry, "8.52 g of washing soda")
        self.assertContains(dry, "0.71 moles")
        html = dry.content.decode()
        order = [
            html.index(name)
            for name in ("of washing soda: stir", "of instant coffee", "of vitamin C")
        ]
        self.assertEqual(order, sorted(order))
        # The default develops by its own pH: 54 g of dry soda are 146 g of crystals.
        strong = self.page(what="coffee", total_ml="1000")
        self.assertContains(strong, "146 g of washing soda")
        self.assertContains(strong, "it does here")

    def test_coffee_that_was_mixed_is_written_down_as_a_bath_of_its_developer(self):
        page = self.page(what="coffee", total_ml="500")
        start = re.search(r'href="(/develop/room/bath/new/\?[^"]+)"', page.content.decode())
        form = self.client.get(unescape(start[1]))
        self.assertContains(form, 'value="coffee developer"')
        fields = {name: form.context["form"][name].value() for name in BATH}
        self.client.post("/develop/room/bath/new/", {n: v or "" for n, v in fields.items()})
        bath = Bath.objects.get()
        self.assertEqual((bath.name, bath.developer.name), ("coffee developer",) * 2)
        # The second one is of the same developer.
        again = self.client.get(unescape(start[1])).context["form"]
        self.assertEqual(again["developer"].value(), bath.developer_id)

    def test_one_powder_is_weighed_and_the_bath_is_written_down(self):
        # 300 g of salt a litre, 20 g of citric acid (common practice).
        page = self.page(what="salt", total_ml="500")
        self.assertContains(page, "150 g of table salt")
        self.assertContains(self.page(what="citric", total_ml="500"), "10 g of citric acid")
        start = re.search(r'href="(/develop/room/bath/new/\?[^"]+)"', page.content.decode())
        form = self.client.get(unescape(start[1]))
        self.assertContains(form, 'value="500"')
        self.assertContains(form, '<option value="fix" selected>')

    def test_what_cannot_be_is_told_beside_its_field(self):
        for typed, field, words in (
            ({"parts": "0"}, "parts", "between 0.1 and 1000"),
            ({"total_ml": "-5"}, "total_ml", "between 1 and 100000 ml"),
            ({"what": "percent", "wanted_percent": "40"}, "wanted_percent", "has only 30 %"),
            ({"tray": "90x90"}, "tray", "does not lie flat"),
            ({"vessel": "tank", "tank_mm": "30"}, "tank_mm", "would cover itself"),
            (
                {"vessel": "tank", "tank_high_mm": "100", "total_ml": "900"},
                "total_ml",
                "full with 567 ml",
            ),
            ({"sheets": "0"}, "sheets", "between 1 and 50"),
            ({"what": "soup"}, "what", "valid choice"),
        ):
            with self.subTest(**typed):
                page = self.page(**typed)
                html = page.content.decode()
                start = html.index(f'id="id_{field}_error"')
                self.assertIn(words, html[start : html.index("</div>", start)])
                self.assertContains(page, "Something is missing or wrong")
        # What is not asked for is not judged.
        self.assertContains(self.page(what="coffee", parts="much"), "Coffee developer")
