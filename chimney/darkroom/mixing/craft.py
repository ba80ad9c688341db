"""A bath worked out: how much covers the sheets, what goes into it in which order, and what it
takes from the cupboard.
"""

from dataclasses import dataclass
from math import ceil

from chimney.darkroom.mixing.catalogue import (
    COFFEE,
    COFFEE_CHOICES,
    COFFEES,
    SIMPLE,
    SODA,
    VITAMIN_C,
)
from chimney.parts.scales import number
from pinhole import chemistry, durations

# A tray is so much longer and wider than its sheet.
TRAY_MORE_MM = 40


@dataclass(frozen=True)
class Mix:
    """headline; steps in their order; notes; shopping: household words, if powders are bought;
    total_ml, least_ml: poured, and what covers the sheets; short: whether that is too little.
    """

    headline: str
    steps: tuple
    notes: tuple
    shopping: tuple
    total_ml: float
    least_ml: float

    @property
    def short(self):
        """True if the bath does not cover the sheets."""
        return self.total_ml < self.least_ml * 0.995


def least_ml(cleaned):
    """Volume that covers the sheets in the vessel [ml]."""
    short, long = sorted(cleaned["sheet"])
    if cleaned["vessel"] == "tank":
        return chemistry.tank_ml(cleaned["tank_mm"], short)
    if cleaned["vessel"] == "drum":
        return chemistry.drum_ml(short * long, cleaned["sheets"])[0]
    return chemistry.tray_ml(*tray_of(cleaned))


def tray_of(cleaned):
    """The tray's inside, as typed or as such sheets want it [mm]."""
    return cleaned["tray"] or tuple(side + TRAY_MORE_MM for side in cleaned["sheet"])


def mix(cleaned):
    """The Mix of a cleaned MixForm."""
    needed_ml = least_ml(cleaned)
    total = cleaned["total_ml"] or 10.0 * ceil(needed_ml / 10)
    maker = {"parts": _parts, "percent": _percent, "coffee": _coffee}.get(cleaned["what"], _simple)
    headline, steps, notes, shopping = maker(cleaned, total)
    return Mix(headline, tuple(steps), tuple(notes), tuple(shopping), total, needed_ml)


PURPOSE = {"coffee": "develop", "citric": "clear", "salt": "fix", "parts": "develop"}


RECIPE_NAMES = {"coffee": "coffee developer", "citric": "citric acid", "salt": "strong salt"}


def as_bath(cleaned, maker):
    """Fields of a bath for such a Mix; makes: the developer that it is, by its name."""
    bath = {"volume_ml": f"{maker.total_ml:g}", "went_in": maker.headline}
    bath["purpose"] = PURPOSE.get(cleaned["what"], "fix")
    if cleaned["what"] in RECIPE_NAMES:
        bath["name"] = RECIPE_NAMES[cleaned["what"]]
    if cleaned["what"] == "coffee":
        bath["makes"] = RECIPE_NAMES["coffee"]
    return bath | ({"parts": f"{cleaned['parts']:g}"} if cleaned["parts"] else {})


def _parts(cleaned, total):
    concentrate, water = chemistry.dilute(cleaned["parts"], total)
    sentence = f"{_ml(concentrate)} of concentrate and {_ml(water)} of water"
    steps = f"{_ml(water)} of water first.", f"{_ml(concentrate)} of concentrate into it."
    n = number(cleaned["parts"])
    return sentence, steps, (f"1+{n} is one part and {n} of water.",), ()


def _percent(cleaned, total):
    stock, water = chemistry.percent(cleaned["stock_percent"], cleaned["wanted_percent"], total)
    sentence = f"{_ml(stock)} of stock and {_ml(water)} of water"
    steps = f"{_ml(water)} of water first.", f"{_ml(stock)} of stock into it, never the other way."
    return sentence, steps, ("Acid goes into water, never water into acid.",), ()


def _coffee(cleaned, total):
    recipe = COFFEES[cleaned["coffee"]]
    soda, *others = recipe.powders
    per_l = chemistry.soda_mass_g(soda.grams_per_l, soda.form, cleaned["soda_form"])
    powders = (chemistry.Powder(SODA, per_l, cleaned["soda_form"]), *others)
    grams = chemistry.weighed_g(powders, total)
    steps = [f"{_ml(0.8 * total)} of water, warm to the hand."]
    steps += [
        f"{_weighed(powder.name, mass, cleaned)}: stir until it is dissolved."
        for powder, mass in zip(powders, grams, strict=True)
    ]
    rest = durations.say(recipe.rest_s)
    steps.append(f"Water up to {_ml(total)}; let it rest {rest}, until the foam is gone.")
    shopping = [
        f"{number(mass, 2)} g: {recipe.shop[powder.name]}"
        for powder, mass in zip(powders, grams, strict=True)
    ]
    notes = [*_cupboard(powders, cleaned, total), _alkali(powders), *_other(cleaned["coffee"])]
    notes += [recipe.remark, NOTHING_COMES]
    return f"Coffee developer, {_ml(total)}", steps, notes, shopping


def _simple(cleaned, total):
    """A bath of one powder."""
    recipe = SIMPLE[cleaned["what"]]
    steps = [f"{_ml(0.8 * total)} of water, warm to the hand."]
    shopping = []
    for powder, mass in zip(
        recipe.powders, chemistry.weighed_g(recipe.powders, total), strict=True
    ):
        steps.append(f"{number(mass, 3)} g of {powder.name} into it: stir until it is clear.")
        shopping.append(f"{number(mass, 2)} g: {recipe.shop[powder.name]}")
    rest = f"; let it rest {durations.say(recipe.rest_s)}" if recipe.rest_s else ""
    steps.append(f"Water up to {_ml(total)}{rest}.")
    return f"{recipe.name.capitalize()}, {_ml(total)}", steps, [recipe.remark], shopping


def _weighed(name, mass_g, cleaned):
    if name == VITAMIN_C and cleaned["tablet_mg"]:
        count, held_g = chemistry.tablets(mass_g, cleaned["tablet_mg"])
        return f"{count} tablets of {name} ({number(held_g, 3)} g), ground"
    return f"{number(mass_g, 3)} g of {name}"


def _cupboard(powders, cleaned, total):
    """The mix that the cupboard allows, where something is short."""
    stock_g = {SODA: cleaned["soda_g"], COFFEE: cleaned["coffee_g"], VITAMIN_C: cleaned["acid_g"]}
    stock = {name: mass for name, mass in stock_g.items() if mass is not None}
    if not stock:
        return []
    made_ml, name = chemistry.makes_ml(powders, stock)
    sentence = f"You have {number(stock[name], 3)} g of {name}: {_ml(made_ml)}"
    return [f"{sentence}, less than wanted." if made_ml < total else f"{sentence}, enough."]


NOTHING_COMES = (
    "If nothing comes up in ten minutes, look whether the soda is what you took it for. Try a drop "
    "on litmus paper. Stir in more soda, a spoon at a time, while the sheet waits in water."
)


def _alkali(powders):
    """Alkalinity when it is mixed and when its gas is gone, with what that means."""
    per_l = {powder.name: powder.grams_per_l for powder in powders}
    soda_g = chemistry.soda_mass_g(per_l[SODA], powders[0].form, "anhydrous")
    carbonate = soda_g / chemistry.SODA_G_PER_MOL["anhydrous"]
    acid = per_l[VITAMIN_C] / chemistry.ACID_G_PER_MOL
    ratio = chemistry.carbonate_to_acid(per_l[SODA], powders[0].form, per_l[VITAMIN_C])
    mixed = chemistry.ph(carbonate, acid)
    at_rest = chemistry.ph(carbonate, acid, open_to_air=True)
    needs = chemistry.DEVELOPS_FROM_PH
    sentence = (
        f"{number(ratio, 2)} moles of carbonate to one of acid: pH about {mixed:.1f} as mixed, "
        f"{at_rest:.1f} when its gas is gone. Vitamin C develops from about {needs:g} on"
    )
    if at_rest >= needs - 0.1:
        return f"{sentence}: it does here."
    more_soda = chemistry.soda_for_ph(acid, needs) - carbonate
    grams = more_soda * chemistry.SODA_G_PER_MOL[powders[0].form]
    return (
        f"{sentence}: here hardly. {number(grams, 2)} g more of that soda a litre bring it there."
    )


def _other(chosen):
    """Doubt of each school of coffee, the chosen one first."""
    first = f"This recipe: {COFFEES[chosen].sure}."
    schools = [
        f"The other school, {label}: {COFFEES[name].sure}."
        for name, label in COFFEE_CHOICES
        if name != chosen
    ]
    return [first, *schools]


def _ml(volume):
    """A volume as a measure shows it: a syringe tenths and halves, a cylinder whole millilitres."""
    step = 0.1 if volume < 2 else 0.5 if volume < 10 else 1.0
    return f"{number(round(volume / step) * step, 4)} ml"
