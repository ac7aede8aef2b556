"""The draft of a label: nutrition, list of ingredients, allergens, statements and quantity, by region.

As known in 2026: Regulation (EU) 1169/2011 and its guidance, the United Kingdom as the EU; 21 CFR 101. Guidance, never
a verdict: a food authority decides.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX
from jalebi_core.model.errors import MixError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.physics.density import density_kg_l
from jalebi_core.regulation.allergens import US_NINE, allergens_together, in_order
from jalebi_core.regulation.ingredient_list import Listed, ingredient_list, label_name, nuts_named_by, word_for
from jalebi_core.regulation.nutrition import NutritionRow, nutrition, together
from jalebi_core.regulation.rounding import cut, daily_value, printed, rounded

REGIONS: Final = ("eu", "uk", "us")
DRAFT: Final = "Draft: check it with your food authority before you print it."
_STORE: Final = "Keep frozen at −18 °C or colder. Do not refreeze after thawing."
_US_SERVING_ML: Final = 160.0
_ML_PER_FL_OZ: Final = 29.5735
_SWEETENER: Final = "sweetener"
_MUCH_SUGAR_G: Final = 50.0
_LAXATIVE_PCT: Final = 10.0
_LAXATIVE: Final = ("erythritol", "xylitol", "sorbitol", "maltitol")
_LEAST_ALCOHOL_VOL: Final = 0.5
_UNNAMED_SOLIDS_G: Final = 3.0
_US_NAMES: Final = {"nuts": "Tree nuts", "crustaceans": "Crustacean shellfish"}


@dataclass(frozen=True, slots=True)
class LabelWish:
    """What a label is asked for.

    finished_g : weight after boiling down, None for all that was put in
    serving_g, serving_ml : one of them, or none; net_ml of a pack
    quid : label names that are named or pictured
    may_contain : allergens of earlier runs
    """

    region: str = "eu"
    finished_g: float | None = None
    serving_g: float | None = None
    serving_ml: float | None = None
    net_ml: float | None = None
    quid: tuple[str, ...] = ()
    may_contain: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Serving:
    """A serving: g, ml where it is by volume, and how it is said."""

    g: float
    ml: float | None
    text: str


@dataclass(frozen=True, slots=True)
class LabelRow:
    """A nutrition row: raw figures and printed ones per 100 g, 100 ml and serving, and the US daily value."""

    row: NutritionRow
    raw: Mapping[str, float | None]
    printed: Mapping[str, str | None]
    dv: str | None


@dataclass(frozen=True, slots=True)
class Label:
    """A draft of a label; weights in g, `litre_g` with its air."""

    put_in_g: float
    finished_g: float
    litre_g: float
    serving: Serving | None
    rows: tuple[LabelRow, ...]
    list_text: str
    listed: tuple[Listed, ...]
    contains: tuple[str, ...]
    may_contain: tuple[str, ...]
    not_stated: tuple[str, ...]
    statement: str | None
    may_contain_statement: str | None
    statements: tuple[tuple[str, str], ...]
    net: tuple[float, float, str] | None
    cautions: tuple[str, ...]


def label_of(mix: Mix, wish: LabelWish) -> Label:
    """Return the draft of a label of a mix as it was put in; raises MixError for a finished weight that cannot be."""
    lines = [(line.ingredient, line.grams) for line in mix.lines]
    put_in = sum(grams for _, grams in lines)
    finished = put_in if wish.finished_g is None else wish.finished_g
    litre = litre_g(mix, finished)
    serving = _serving(wish, litre)
    text, listed = ingredient_list(lines, finished, wish.region, wish.quid)
    held = allergens_together(one for one, grams in lines if grams > 0)
    may = tuple(one for one in in_order(wish.may_contain) if one not in held.contains)
    words = _words(lines)
    rows = tuple(_label_row(row, litre, serving, wish.region) for row in nutrition(lines, finished, wish.region))
    net = (
        None if wish.net_ml is None else (wish.net_ml, wish.net_ml * litre / 1000, _quantity(wish.net_ml, wish.region))
    )
    return Label(
        put_in_g=put_in,
        finished_g=finished,
        litre_g=litre,
        serving=serving,
        rows=rows,
        list_text=text,
        listed=listed,
        contains=held.contains,
        may_contain=may,
        not_stated=held.not_stated,
        statement=_contains(held.contains, words) if wish.region == "us" else None,
        may_contain_statement=_may_contain(may, wish.region),
        statements=tuple(_statements(lines, finished, wish.region)),
        net=net,
        cautions=tuple(_cautions(lines, finished, wish.region)),
    )


def litre_g(mix: Mix, finished: float) -> float:
    """Return what a litre of the product weighs with its air, in g, once it has come down to a weight by boiling.

    Only water of the mix leaves; raises MixError for a finished weight that cannot be.
    """
    put_in = sum(line.grams for line in mix.lines)
    boiled = put_in - finished
    water = mix.mass_g * float(mix.row()[INDEX["water"]]) / 100
    if boiled < -1e-6:
        raise MixError("label-finished-too-heavy", finished_g=finished, put_in_g=put_in)
    if boiled > water:
        raise MixError("label-finished-too-light", finished_g=finished, water_g=water, put_in_g=put_in)
    liquid_l = mix.mass_g / 1000 / float(density_kg_l(mix.row())) - boiled / 1000 / c.DENSITY_WATER_KG_L
    beside_l = sum(line.grams / 1000 / float(density_kg_l(line.ingredient.row)) for line in mix.mix_ins)
    return finished / (liquid_l * (1 + mix.overrun_used_pct / 100) + beside_l)


def _serving(wish: LabelWish, litre_g: float) -> Serving | None:
    if wish.serving_g is not None:
        return Serving(wish.serving_g, None, f"{_grams(wish.serving_g)} g")
    usual = wish.region == "us" and wish.serving_ml is None
    ml = _US_SERVING_ML if usual else wish.serving_ml
    if ml is None:
        return None
    grams = ml * litre_g / 1000
    return Serving(grams, ml, f"{'2/3 cup' if usual else f'{ml:g} ml'} ({_grams(grams)} g)")


def _grams(grams: float) -> str:
    return f"{rounded(grams, '1' if grams >= 5 else '0.5' if grams >= 2 else '0.1').normalize():f}"


def _label_row(row: NutritionRow, litre_g: float, serving: Serving | None, region: str) -> LabelRow:
    known = row.per_100g
    raw = {
        "per_100g": known,
        "per_100ml": None if known is None else known * litre_g / 1000,
        "per_serving": None if known is None or serving is None else known * serving.g / 100,
    }
    said = {key: None if value is None else printed(row.key, value, region) for key, value in raw.items()}
    of_serving = raw["per_serving"]
    dv = daily_value(row.key, of_serving) if region == "us" and of_serving is not None else None
    return LabelRow(row, raw, said, dv)


def _words(lines: Sequence[tuple[Ingredient, float]]) -> dict[str, list[str]]:
    """Return what each allergen is called by the ingredients that hold it, in the order of the lines."""
    found: dict[str, list[str]] = {}
    for one in (one for one, grams in lines if grams > 0):
        nuts = {} if "nuts" in one.on_label.allergen_words else dict.fromkeys(nuts_named_by(one), "nuts")
        called = {word: allergen for allergen, word in one.on_label.allergen_words.items()} | nuts
        for word, allergen in called.items():
            if allergen in one.allergens and word not in found.setdefault(allergen, []):
                found[allergen].append(word)
    return {allergen: words for allergen, words in found.items() if words}


def _contains(contains: Sequence[str], words: Mapping[str, Sequence[str]]) -> str | None:
    named = [name for one in contains if one in US_NINE for name in _us_names(one, words)]
    return f"Contains: {', '.join(named)}" if named else None


def _us_names(allergen: str, words: Mapping[str, Sequence[str]]) -> list[str]:
    own = words.get(allergen)
    return [word.capitalize() for word in own] if own else [_US_NAMES.get(allergen, allergen.capitalize())]


def _may_contain(may: Sequence[str], region: str) -> str | None:
    if region == "us":
        named = [name for one in may if one in US_NINE for name in _us_names(one, {})]
        return f"May contain: {', '.join(named)}" if named else None
    named = [f"**{word_for(one, {})}**" for one in may if one != "gluten" or "wheat" not in may]
    return f"May contain: {', '.join(named)}" if named else None


def _statements(lines: Sequence[tuple[Ingredient, float]], finished_g: float, region: str) -> list[tuple[str, str]]:
    found = [("store", _STORE)]
    sweeteners = [one for one, grams in lines if grams > 0 and one.on_label.additive_class == _SWEETENER]
    if region != "us" and sweeteners:
        sugared = any(grams > 0 and _is_added_sugar(one) for one, grams in lines)
        with_sugars = ("with_sugars_and_sweeteners", "with sugar(s) and sweetener(s)")
        found.append(with_sugars if sugared else ("with_sweeteners", "with sweetener(s)"))
        total = together([(one, grams) for one, grams in lines if one in sweeteners])
        polyols = sum(float(total[INDEX[key]]) for key in _LAXATIVE)
        if 100 * polyols / finished_g > _LAXATIVE_PCT:
            found.append(("laxative", "excessive consumption may produce laxative effects"))
    vol = _alcohol_vol(lines, finished_g)
    if vol >= _LEAST_ALCOHOL_VOL:
        found.append(("alcohol", f"contains alcohol ({rounded(vol, '0.1'):f}% vol)"))
    return found


def _is_added_sugar(one: Ingredient) -> bool:
    added = (one.nutrients or {}).get("added_sugars_g")
    if added is not None:
        return added > 0
    parts = together([(one, 100.0)])
    sugars = ("sucrose", "glucose", "fructose", "galactose", "maltose", "trehalose", "allulose")
    return sum(float(parts[INDEX[key]]) for key in sugars) > _MUCH_SUGAR_G


def _alcohol_vol(lines: Sequence[tuple[Ingredient, float]], finished_g: float) -> float:
    """Return % of alcohol by volume of the product without its air."""
    ethanol = float(together(lines)[INDEX["ethanol"]])
    volume = sum(grams / float(density_kg_l(one.row)) for one, grams in lines if grams > 0)
    volume -= (sum(grams for _, grams in lines) - finished_g) / c.DENSITY_WATER_KG_L
    return 100 * ethanol / c.DENSITY_ETHANOL_KG_L / volume


def _quantity(ml: float, region: str) -> str:
    if region != "us":
        return f"{ml:g} ml"
    ounces = cut(ml / _ML_PER_FL_OZ + 0.01, "0.1").normalize()
    return f"{ounces:f} fl oz ({ml:g} mL)"


def _cautions(lines: Sequence[tuple[Ingredient, float]], finished_g: float, region: str) -> list[str]:
    found = []
    total = together(lines)
    unnamed = 100 * float(total[INDEX["other_solids"]]) / finished_g
    unopened = [one for one, grams in lines if grams > 0 and one.on_label.compound and not one.on_label.parts]
    if unopened:
        names = ", ".join(dict.fromkeys(label_name(one, region) for one in unopened))
        found.append(f"Name what is in {names}: it stands on the pack.")
    if unnamed > _UNNAMED_SOLIDS_G:
        found.append(f"{unnamed:.1f} g in 100 g are solids that no row of the table counts: ask what they are.")
    if region != "us" and any(grams > 0 and one.on_label.additive_class == _SWEETENER for one, grams in lines):
        found.append("Sweeteners are allowed in ices only with 30 % less energy or without added sugars.")
    if region != "us" and float(total[INDEX["allulose"]]) > 0:
        found.append("Allulose is not authorised in the EU and the UK.")
    raw = [label_name(one, region) for one, grams in lines if grams > 0 and "raw-milk" in one.facts.cautions]
    if raw:
        names = ", ".join(dict.fromkeys(raw))
        found.append(f"Say on the pack that {names} is in it, unless a logged hold pasteurised it.")
    if float(total[INDEX["xylitol"]]) > 0:
        found.append("Xylitol is poison to dogs.")
    return found
