"""Recipes mixed from powders, and what powders are called in a household (common practice)."""

from dataclasses import dataclass

from chimney.darkroom.catalogue.steps import HELD_SO_FAR
from pinhole.chemistry import Powder


@dataclass(frozen=True)
class Recipe:
    """name; powders per litre in the order in which they are dissolved; shop: what each is called
    there, and where; rest_s: how long it stands before use; remark; sure: how sure it is.
    """

    name: str
    powders: tuple
    shop: dict
    rest_s: float
    remark: str
    sure: str = ""


SODA, COFFEE, VITAMIN_C = "washing soda", "instant coffee", "vitamin C"
SHOP = {
    SODA: "washing soda from the laundry shelf: look whether it is crystals or powder",
    COFFEE: "the cheapest instant coffee, not decaffeinated",
    VITAMIN_C: "vitamin C as powder or tablets without anything else in them, from the chemist's",
}
COFFEE_REMARK = (
    "It stains with time, and is uneven on plain skies. With direct positive paper doubtful: "
    "the one trial came out very dark, with a stop too little light besides."
)
# Two schools that differ in their soda by a factor of six. The strong one is the default, because
# by its own pH it develops.
STRONG_COFFEE = Recipe(
    "coffee developer",
    (Powder(SODA, 54, "anhydrous"), Powder(COFFEE, 40), Powder(VITAMIN_C, 16)),
    SHOP,
    300.0,
    f"5 to 10 min in it, by eye. {COFFEE_REMARK}",
    "as others report it, and by its pH it develops",
)
MILD_COFFEE = Recipe(
    "coffee developer",
    (Powder(SODA, 23, "decahydrate"), Powder(COFFEE, 30), Powder(VITAMIN_C, 20)),
    SHOP,
    300.0,
    f"About 5 min in it, by eye, as it is told. {COFFEE_REMARK}",
    "as some practise it; by its pH it hardly can, unless the soda had lost its water",
)
COFFEES = {"strong": STRONG_COFFEE, "mild": MILD_COFFEE}
COFFEE_CHOICES = (
    ("strong", "54 g/l heated dry soda, 16 g/l vitamin C"),
    ("mild", "23 g/l soda crystals, 20 g/l vitamin C"),
)
# Powders that are weighed a litre at a time, by the name of the choice.
CITRIC_ACID = Recipe(
    "citric acid",
    (Powder("citric acid", 20),),
    {"citric acid": "citric acid, as for descaling, with nothing else in it"},
    0.0,
    "Between developer and bleach, and after it. Two percent is what most take; it keeps a week.",
)
STRONG_SALT = Recipe(
    "strong salt",
    (Powder("table salt", 300),),
    {"table salt": "plain table salt, not iodised if there is a choice"},
    600.0,
    f"As much as will dissolve, instead of a fixer. {HELD_SO_FAR}",
)
SIMPLE = {"citric": CITRIC_ACID, "salt": STRONG_SALT}
FORMS = (
    ("decahydrate", "crystals (decahydrate)"),
    ("monohydrate", "fine powder (monohydrate)"),
    ("anhydrous", "heated dry powder (anhydrous)"),
)
