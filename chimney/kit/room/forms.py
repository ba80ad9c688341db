"""A room, its hole and its light, as they are typed."""

from django import forms

from chimney.parts.fields import NumberField
from pinhole import light


class RoomForm(forms.Form):
    hole_mm = NumberField(label="Hole", unit="mm", least=0.5, most=100, noun="The hole")
    throw_m = NumberField(
        label="Hole to wall or screen", unit="m", least=0.2, most=50, noun="The throw"
    )
    sky = forms.ChoiceField(label="Outside", choices=[(sky.name, sky.words) for sky in light.SKIES])
    iso = NumberField(
        label="Digital camera at ISO", least=25, most=102400, noun="The ISO", prefixes=("iso",)
    )
    f_number = NumberField(
        label="and f/", least=0.7, most=64, noun="The f-number", prefixes=("f/", "f")
    )
    ei = NumberField(
        label="Paper on a table, EI", least=0.05, most=3200, noun="The EI", prefixes=("ei",)
    )
    dioptres = NumberField(
        label="Reading-glass lens",
        unit="dioptres",
        least=0.25,
        most=20,
        noun="The lens",
        required=False,
    )

    START = {
        "hole_mm": "7",
        "throw_m": "3.5",
        "sky": "sun",
        "iso": "800",
        "f_number": "4",
        "ei": "6",
    }
