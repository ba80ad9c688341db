"""Form for what a start shall do, and for the known prices of its things."""

from django import forms

from chimney.kit.needs.craft import DARK_PLACES, THINGS
from chimney.parts.fields import NumberField, SizeField
from chimney.parts.sentences import SIZES_LIKE


class NeedsForm(forms.Form):
    sheet = SizeField(label="Sheet", help_text=SIZES_LIKE)
    place = forms.ChoiceField(label="You have", choices=list(DARK_PLACES.items()))
    film = forms.BooleanField(label="Film too, not paper alone", required=False)
    tank_height_mm = NumberField(
        label="A tank: inner height",
        unit="mm",
        least=20,
        most=1000,
        noun="The height",
        required=False,
    )
    tank_diameter_mm = NumberField(
        label="and diameter", unit="mm", least=20, most=1000, noun="The diameter", required=False
    )

    START = {"sheet": "4x5 in", "place": "cupboard"}

    def __init__(self, data):
        super().__init__(data)
        for code, label in THINGS.items():
            self.fields[f"price_{code}"] = NumberField(
                label=label, least=0, most=100_000, noun="A price", required=False
            )

    @property
    def prices(self):
        return [self[f"price_{code}"] for code in THINGS]
