"""What is mixed from powders, and how it is called in a household (common practice)."""

from dataclasses import dataclass

from pinhole.chemistry import Powder


@dataclass(frozen=True)
class Recipe:
    """name; powders per litre in the order in which they are dissolved; shop: what each is called
    there, and where; rest_s: how long it stands before use; remark.
    """

    name: str
    powders: tuple
    shop: dict
    rest_s: float
    remark: str


SODA, COFFEE, ACID = "washing soda", "instant coffee", "vitamin C"
COFFEE_DEVELOPER = Recipe(
    "coffee developer",
    (Powder(SODA, 23, "decahydrate"), Powder(COFFEE, 30), Powder(ACID, 20)),
    {
        SODA: "washing soda from the laundry shelf: look whether it is crystals or powder",
        COFFEE: "the cheapest instant coffee, not decaffeinated",
        ACID: "vitamin C as powder or tablets without anything else in them, from the chemist's",
    },
    300.0,
    "About 5 min in it, by eye; it stains with time, and is uneven on plain skies. With direct "
    "positive paper there was one trial, very dark, but that sheet had a stop less light than the "
    "paper wants as well: doubtful.",
)
FORMS = (
    ("decahydrate", "crystals (decahydrate)"),
    ("monohydrate", "fine powder (monohydrate)"),
    ("anhydrous", "heated dry powder (anhydrous)"),
)
