"""Form for what shall be mixed, how much of it, and for which vessel."""

from django import forms

from chimney.darkroom.mixing.catalogue import COFFEE_CHOICES, FORMS
from chimney.parts.fields import DilutionField, NumberField, SizeField, WholeField, leave_out
from chimney.parts.scales import number
from chimney.parts.sentences import SIZES_LIKE
from pinhole import chemistry
from pinhole.solargraph import can

VESSELS = (
    ("tray", "a tray"),
    ("tank", "a round tank, the sheet standing"),
    ("drum", "a drum that is rolled"),
)
RECIPE_CHOICES = (
    ("parts", "a concentrate, 1 + parts"),
    ("percent", "a stock solution, by percent"),
    ("coffee", "coffee developer, from powders"),
    ("citric", "citric acid, for reversal"),
    ("salt", "strong salt, instead of fixer"),
)


class MixForm(forms.Form):
    what = forms.ChoiceField(label="What is mixed", choices=RECIPE_CHOICES)
    parts = DilutionField()
    stock_percent = NumberField(
        label="The stock has", unit="%", least=0.01, most=100, noun="The stock"
    )
    wanted_percent = NumberField(label="wanted", unit="%", least=0.001, most=100, noun="The bath")
    coffee = forms.ChoiceField(label="By which recipe", choices=COFFEE_CHOICES)
    soda_form = forms.ChoiceField(label="Your washing soda is", choices=FORMS)
    soda_g = NumberField(
        label="In the cupboard: soda",
        unit="g",
        least=0,
        most=1e5,
        noun="The soda",
        required=False,
        help_text="Left empty: enough.",
    )
    coffee_g = NumberField(
        label="coffee", unit="g", least=0, most=1e5, noun="The coffee", required=False
    )
    acid_g = NumberField(
        label="vitamin C", unit="g", least=0, most=1e5, noun="The vitamin C", required=False
    )
    tablet_mg = NumberField(
        label="As tablets of",
        unit="mg",
        least=1,
        most=10_000,
        noun="A tablet",
        required=False,
        help_text="Left empty: as powder.",
    )
    vessel = forms.ChoiceField(label="Into", choices=VESSELS)
    sheet = SizeField(label="Sheets of", help_text=SIZES_LIKE)
    sheets = WholeField(label="how many at once", least=1, most=50, noun="The number of sheets")
    tray = SizeField(
        label="Tray, inside",
        required=False,
        help_text="Left empty: 40 mm longer and wider than the sheet.",
    )
    tank_mm = NumberField(
        label="Tank, inner diameter", unit="mm", least=20, most=1000, noun="The tank"
    )
    tank_high_mm = NumberField(
        label="Tank, inner height",
        unit="mm",
        least=10,
        most=2000,
        noun="The height",
        required=False,
        help_text="Left empty: high enough.",
    )
    total_ml = NumberField(
        label="Volume wanted",
        unit="ml",
        least=1,
        most=1e5,
        noun="The volume",
        required=False,
        help_text="Left empty: as little as covers the sheets.",
    )

    START = {"what": "parts", "parts": "10", "stock_percent": "30", "wanted_percent": "3"}
    START |= {
        "coffee": "strong",
        "soda_form": "decahydrate",
        "vessel": "tray",
        "sheet": "4x5 in",
        "sheets": "1",
    }
    START |= {"tank_mm": "85"}
    # Which fields what is chosen asks for; the others are neither shown nor judged.
    OF_WHAT = {
        "parts": ("parts",),
        "percent": ("stock_percent", "wanted_percent"),
        "coffee": ("coffee", "soda_form", "soda_g", "coffee_g", "acid_g", "tablet_mg"),
        "citric": (),
        "salt": (),
    }
    OF_VESSEL = {"tray": ("tray",), "tank": ("tank_mm", "tank_high_mm"), "drum": ()}

    def _clean_fields(self):
        super()._clean_fields()
        for chosen, fields in ((self.OF_WHAT, "what"), (self.OF_VESSEL, "vessel")):
            for choice, names in chosen.items():
                if self.cleaned_data.get(fields) not in (choice, None):
                    leave_out(self, names)

    def clean(self):
        cleaned = super().clean()
        stock, target_percent = cleaned.get("stock_percent"), cleaned.get("wanted_percent")
        if stock and target_percent and target_percent > stock:
            self.add_error("wanted_percent", f"The stock has only {stock:g} %.")
        tray, sheet = cleaned.get("tray"), cleaned.get("sheet")
        if tray and sheet and any(a < b for a, b in zip(sorted(tray), sorted(sheet), strict=True)):
            self.add_error("tray", "The sheet does not lie flat in that tray.")
        tank = cleaned.get("tank_mm")
        if tank and sheet and not can.tank_takes(min(sheet), tank, sheet):
            self.add_error(
                "tank_mm", f"A sheet {max(sheet):.0f} mm long would cover itself in that tank."
            )
        high, total = cleaned.get("tank_high_mm"), cleaned.get("total_ml")
        if tank and high and total and total > chemistry.tank_ml(tank, high, 0.0):
            full = number(chemistry.tank_ml(tank, high, 0.0))
            self.add_error("total_ml", f"That tank is full with {full} ml.")
        return cleaned

    @property
    def rows(self):
        """[(field, its classes)]: what is asked for what is chosen."""
        css_classes = {
            name: f"for-some for-{key}" for key, names in self.OF_WHAT.items() for name in names
        }
        css_classes |= {
            name: f"for-some for-{key}" for key, names in self.OF_VESSEL.items() for name in names
        }
        return [(field, css_classes.get(field.name, "")) for field in self]
