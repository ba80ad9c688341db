"""Baths: dilutions, powders by mass and chemical form, tablets, and how much covers a sheet.

Molar masses [g/mol] from IUPAC's atomic weights.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, pi

import numpy as np

from pinhole.ranges import Array, ArrayLike, Numbers, checked, plain

# Washing soda is sold with more or less water in it: crystals are the decahydrate.
SODA_G_PER_MOL = {"anhydrous": 105.988, "monohydrate": 124.004, "decahydrate": 286.141}
# Ascorbic acid, vitamin C.
ACID_G_PER_MOL = 176.124
# Dissociation of water, ascorbic and carbonic acid at 25 C (handbook values, from memory).
PKW = 14.0
ASCORBIC_PK = (4.17, 11.57)
CARBONIC_PK = (6.35, 10.33)
# Ascorbate develops from about here on (common practice).
DEVELOPS_FROM_PH = 9.5
# A tray is covered by so deep a bath, a tank by so much over the sheet (common practice) [mm].
TRAY_DEEP_MM, OVER_SHEET_MM = 8.0, 10.0
# Two 4x5 in sheets take 40 to 100 ml in a drum rolled by hand (common practice).
DRUM_ML_PER_MM2 = tuple(ml / (2 * 101.6 * 127) for ml in (40, 100))
# A bath is tired when as much paper as it has room for went through it, or when it is too old;
# from the middle of its life on it takes longer, half as long again at the end (common practice).
GROWS_FROM, GROWS_TO = 0.5, 1.5


def dilute(parts: Numbers, total_ml: float) -> tuple[Numbers, Numbers]:
    """(concentrate_ml, water_ml) of "1 + parts" that make total_ml.

    parts [above 0], total_ml [ml, above 0]; scalars or arrays that broadcast; nan passes through.
    Raises ValueError outside. Source: 1 + n is one part and n: 15 ml and 150 ml are 1+10 (common
    practice).
    """
    parts = checked("parts", parts, above=0)
    total = checked("total_ml", total_ml, above=0)
    concentrate = total / (1 + parts)
    return plain(concentrate), plain(total - concentrate)


def percent(stock_percent: float, wanted_percent: float, total_ml: float) -> tuple[float, float]:
    """(stock_ml, water_ml) that make total_ml of a weaker solution out of a stronger one.

    stock_percent [%, above 0, at most 100], wanted_percent [%, above 0], total_ml [ml, above 0];
    scalars or arrays that broadcast. Raises ValueError outside, and where the stock is weaker than
    what is wanted. Source: what is dissolved stays the same.
    """
    stock = checked("stock_percent", stock_percent, above=0, most=100)
    target_percent = checked("wanted_percent", wanted_percent, above=0)
    total = checked("total_ml", total_ml, above=0)
    if (target_percent > stock).any():
        raise ValueError("wanted_percent must be at most stock_percent")
    part = total * target_percent / stock
    return plain(part), plain(total - part)


def soda_mass_g(mass_g: float, from_form: str, to_form: str) -> float:
    """Grams of one form of washing soda that do what mass_g of another does.

    mass_g [g, at least 0], scalar or array; from_form, to_form: "anhydrous", "monohydrate" or
    "decahydrate". Raises ValueError outside. Source: as many moles of carbonate; SODA_G_PER_MOL.
    """
    for form in (from_form, to_form):
        if form not in SODA_G_PER_MOL:
            raise ValueError(f"a form of soda must be one of {', '.join(SODA_G_PER_MOL)}")
    mass = checked("mass_g", mass_g, least=0)
    return plain(mass * SODA_G_PER_MOL[to_form] / SODA_G_PER_MOL[from_form])


def carbonate_to_acid(soda_g: float, soda_form: str, acid_g: float) -> float:
    """Moles of carbonate for each mole of ascorbic acid, which decide how alkaline the bath is.

    soda_g [g, at least 0] in its form, acid_g [g, above 0]; scalars or arrays that broadcast.
    Raises ValueError outside. Source: molar masses.
    """
    carbonate = soda_mass_g(soda_g, soda_form, "anhydrous") / SODA_G_PER_MOL["anhydrous"]
    return plain(carbonate / (checked("acid_g", acid_g, above=0) / ACID_G_PER_MOL))


def ph(
    carbonate_mol_l: ArrayLike,
    ascorbic_mol_l: float,
    *,
    open_to_air: bool = False,
    bicarbonate_mol_l: float = 0.0,
) -> Numbers:
    """pH of sodium carbonate and ascorbic acid in water.

    carbonate_mol_l, ascorbic_mol_l, bicarbonate_mol_l [mol/l, at least 0]; scalars or arrays that
    broadcast; nan passes through. open_to_air: the gas is gone: carbonate beyond what the sodium
    that the acid's first proton does not take can hold as bicarbonate has left. Raises ValueError
    outside.
    Source: balance of charge at 25 C, activities 1; ASCORBIC_PK, CARBONIC_PK. Limits: what coffee
    brings along is not in it.
    """
    carbonate, ascorbic, bicarbonate = np.broadcast_arrays(
        checked("carbonate_mol_l", carbonate_mol_l, least=0),
        checked("ascorbic_mol_l", ascorbic_mol_l, least=0),
        checked("bicarbonate_mol_l", bicarbonate_mol_l, least=0),
    )
    sodium, carbonic = 2 * carbonate + bicarbonate, carbonate + bicarbonate
    if open_to_air:
        carbonic = np.minimum(carbonic, np.maximum(sodium - ascorbic, 0))
    low, high = np.zeros(sodium.shape), np.full(sodium.shape, PKW)
    for _ in range(60):
        middle = (low + high) / 2
        too_sour = _charge(middle, sodium, ascorbic, carbonic) > 0
        low, high = np.where(too_sour, middle, low), np.where(too_sour, high, middle)
    return plain(np.where(np.isnan(sodium + ascorbic), np.nan, (low + high) / 2))


def _charge(ph_told: Numbers, sodium: Numbers, ascorbic: Array, carbonic: Numbers) -> Numbers:
    """Positive charge over negative [mol/l]: it falls as the pH rises."""
    acid, base = 10.0**-ph_told, 10.0 ** (ph_told - PKW)
    charge_taken = _taken(acid, ascorbic, ASCORBIC_PK) + _taken(acid, carbonic, CARBONIC_PK)
    return sodium + acid - base - charge_taken


def _taken(acid: Numbers, total: Numbers, pk: tuple[float, float]) -> Numbers:
    """Charge of an acid with two protons [mol/l]."""
    first, second = 10.0 ** -pk[0], 10.0 ** -pk[1]
    whole = acid**2 + first * acid + first * second
    return total * (first * acid + 2 * first * second) / whole


def soda_for_ph(ascorbic_mol_l: float, wanted_ph: float) -> float:
    """Sodium carbonate that brings ascorbic acid to a pH once its gas is gone [mol/l].

    ascorbic_mol_l [mol/l, above 0, at most 2], wanted_ph [above 7, at most 10.5]; scalars. Raises
    ValueError outside. Source: ph(), halved to a part in a million.
    """
    acid = float(checked("ascorbic_mol_l", ascorbic_mol_l, above=0, most=2))
    target_ph = float(checked("wanted_ph", wanted_ph, above=7, most=10.5))
    low, high = 0.0, 20.0
    while high - low > 1e-6:
        middle = (low + high) / 2
        enough = ph(middle, acid, open_to_air=True) >= target_ph
        low, high = (low, middle) if enough else (middle, high)
    return high


@dataclass(frozen=True)
class Powder:
    """One of what is dissolved, in the order in which it goes in: name; grams_per_l; form: of
    washing soda, else empty.
    """

    name: str
    grams_per_l: float
    form: str = ""


def weighed_g(powders: Sequence[Powder], total_ml: float) -> list[float]:
    """[grams of each Powder] for a bath of total_ml.

    total_ml [ml, above 0]. Raises ValueError outside. Source: grams a litre.
    """
    litres = float(checked("total_ml", total_ml, above=0)) / 1000
    return [powder.grams_per_l * litres for powder in powders]


def makes_ml(
    powders: tuple[Powder, Powder, Powder], in_stock_g: dict[str, float]
) -> tuple[float, str]:
    """(ml that can be made, name of what runs out first) of what is in the cupboard.

    in_stock_g: {name: grams in the Powder's own form}; what it does not name is there in plenty.
    Raises ValueError for a negative mass, and where nothing is named. Source: proportion.
    """
    ends = []
    for powder in powders:
        if powder.name in in_stock_g:
            mass = float(checked("in_stock_g", in_stock_g[powder.name], least=0))
            ends.append((1000 * mass / powder.grams_per_l, powder.name))
    if not ends:
        raise ValueError("in_stock_g must name at least one of the powders")
    return min(ends)


def tablets(mass_g: float, tablet_mg: float) -> tuple[int, float]:
    """(how many tablets hold at least mass_g, grams in them).

    mass_g [g, above 0], tablet_mg [mg of the substance in one, above 0]. Raises ValueError
    outside.
    """
    mass = float(checked("mass_g", mass_g, above=0))
    each_g = float(checked("tablet_mg", tablet_mg, above=0)) / 1000
    # A rounding error is no further tablet.
    count = ceil(mass / each_g - 1e-9)
    return count, count * each_g


def tray_ml(width_mm: float, height_mm: float, deep_mm: float = TRAY_DEEP_MM) -> float:
    """The least bath that covers a sheet in a tray of that size inside [ml].

    width_mm, height_mm, deep_mm [mm, above 0]; scalars or arrays that broadcast. Raises ValueError
    outside. Source: the box of that depth.
    """
    area = checked("width_mm", width_mm, above=0) * checked("height_mm", height_mm, above=0)
    return plain(area * checked("deep_mm", deep_mm, above=0) / 1000)


def tank_ml(diameter_mm: float, sheet_mm: float, over_mm: float = OVER_SHEET_MM) -> float:
    """The least bath that covers a sheet standing in a round tank [ml].

    diameter_mm (inner) [mm, above 0], sheet_mm: how high the sheet stands [mm, above 0], over_mm:
    how much over it is wanted [mm, at least 0]; scalars or arrays that broadcast. Raises ValueError
    outside. Source: the cylinder.
    """
    area = pi / 4 * checked("diameter_mm", diameter_mm, above=0) ** 2
    above_mm = checked("over_mm", over_mm, least=0)
    return plain(area * (checked("sheet_mm", sheet_mm, above=0) + above_mm) / 1000)


def drum_ml(sheet_area_mm2: float, sheets: float = 1) -> tuple[float, float]:
    """(least, most) bath for so many sheets in a drum that is rolled [ml].

    sheet_area_mm2 [mm2, above 0], sheets [at least 1]; scalars. Raises ValueError outside. Source:
    DRUM_ML_PER_MM2, by area.
    """
    area = float(checked("sheet_area_mm2", sheet_area_mm2, above=0))
    area = area * float(checked("sheets", sheets, least=1))
    least, most = DRUM_ML_PER_MM2
    return area * least, area * most


def used_up(area_mm2: float, capacity_mm2: float, age_days: float, lasts_days: float) -> float:
    """Share of a bath's life that is over, by area or by age, whichever is more: 1 is tired.

    area_mm2 that went through it and age_days [at least 0], capacity_mm2 and lasts_days [above 0];
    scalars or arrays that broadcast. Raises ValueError outside. Source: common practice.
    """
    by_area = checked("area_mm2", area_mm2, least=0) / checked(
        "capacity_mm2", capacity_mm2, above=0
    )
    by_age = checked("age_days", age_days, least=0) / checked("lasts_days", lasts_days, above=0)
    return plain(np.maximum(by_area, by_age))


def longer(used: Numbers) -> Numbers:
    """By what a developer's time grows when so much of its life is over.

    used [at least 0], scalar or array: nothing up to GROWS_FROM, GROWS_TO at 1 and no more beyond,
    where the bath is thrown away. Raises ValueError outside. Source: common practice.
    """
    used = checked("used", used, least=0)
    share = np.clip((used - GROWS_FROM) / (1 - GROWS_FROM), 0, 1)
    return plain(1 + share * (GROWS_TO - 1))


def topped_up(
    parts: Numbers, volume_ml: Numbers, concentrate_ml: Numbers
) -> tuple[Numbers, Numbers]:
    """(parts, volume_ml) of a "1 + parts" bath after so much concentrate was poured into it.

    parts [above 0], volume_ml [ml, above 0], concentrate_ml [ml, at least 0]; scalars or arrays
    that broadcast. Raises ValueError outside. Source: what is there stays there.
    """
    parts = checked("parts", parts, above=0)
    volume = checked("volume_ml", volume_ml, above=0)
    more = checked("concentrate_ml", concentrate_ml, least=0)
    concentrate = volume / (1 + parts) + more
    return plain((volume + more) / concentrate - 1), plain(volume + more)
