"""Amounts as cooks type them: ``480``, ``1,5``, ``1 1/2 cups``, ``2–3 tbsp``, ``4 yolks``, ``1 tin 397 g``."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final, Literal

from jalebi_core.model.errors import AmountError
from jalebi_core.model.measures import BY_WEIGHT_ONLY, Measures

Spoons = Literal["metric", "us", "imperial"]

GRAMS_PER_UNIT: Final = {"g": 1.0, "kg": 1000.0, "mg": 0.001, "oz": 28.349523125, "lb": 453.59237}
"""Avoirdupois ounce and pound, exact."""

ML_PER_UNIT: Final = {
    "ml": 1.0,
    "cl": 10.0,
    "dl": 100.0,
    "l": 1000.0,
    "drop": 0.05,
    "pinch": 0.31,
    "dash": 0.62,
    "handful": 80.0,
    "splash": 5.0,
}
"""Drops of 20 to the ml; a pinch is 1/16, a dash 1/8 of a US teaspoon, a handful a third of a cup, a splash a teaspoon
(kitchen conventions)."""

ML_PER_SPOON: Final[Mapping[Spoons, Mapping[str, float]]] = {
    "metric": {"tsp": 5, "tbsp": 15, "cup": 250, "fl oz": 28.4130625, "pint": 568.26125, "quart": 1136.5225},
    "us": {
        "tsp": 4.92892159375, "tbsp": 14.78676478125, "cup": 236.5882365,
        "fl oz": 29.5735295625, "pint": 473.176473, "quart": 946.352946,
    },
    "imperial": {
        "tsp": 5.919388020833333, "tbsp": 17.7581640625, "cup": 284.130625,
        "fl oz": 28.4130625, "pint": 568.26125, "quart": 1136.5225,
    },
}  # fmt: skip
"""US customary and imperial measures, exact; metric spoons of 5 and 15 ml and a cup of 250 ml."""

_AS_IN_THE_US: Final = {f"us {unit}": ml for unit, ml in ML_PER_SPOON["us"].items()}
"""US measures in a kitchen that owns others, as an American recipe is kept."""

MOST_GRAMS: Final = 1_000_000.0
_LONGEST: Final = 60

_OF_CUPS: Final = {
    "tsp": "tsp", "tsps": "tsp", "teaspoon": "tsp", "teaspoons": "tsp",
    "tbsp": "tbsp", "tbsps": "tbsp", "tablespoon": "tbsp", "tablespoons": "tbsp", "cup": "cup", "cups": "cup",
    "fl oz": "fl oz", "pint": "pint", "pints": "pint", "quart": "quart", "quarts": "quart",
}  # fmt: skip

UNIT_SPELLINGS: Final = {
    "g": "g", "gr": "g", "gram": "g", "grams": "g", "gramme": "g", "grammes": "g",
    "kg": "kg", "kilo": "kg", "kilos": "kg", "kilogram": "kg", "kilograms": "kg", "mg": "mg",
    "oz": "oz", "ounce": "oz", "ounces": "oz", "lb": "lb", "lbs": "lb", "pound": "lb", "pounds": "lb",
    "ml": "ml", "millilitre": "ml", "millilitres": "ml", "milliliter": "ml", "milliliters": "ml", "cc": "ml",
    "cl": "cl", "dl": "dl", "l": "l", "litre": "l", "litres": "l", "liter": "l", "liters": "l",
    "tsp": "tsp", "tsps": "tsp", "teaspoon": "tsp", "teaspoons": "tsp",
    "tbsp": "tbsp", "tbsps": "tbsp", "tbs": "tbsp", "tablespoon": "tbsp", "tablespoons": "tbsp",
    "c": "cup", "cup": "cup", "cups": "cup", "fl oz": "fl oz", "floz": "fl oz",
    "fluid ounce": "fl oz", "fluid ounces": "fl oz", "pt": "pint", "pint": "pint", "pints": "pint",
    "qt": "quart", "quart": "quart", "quarts": "quart",
    "pinch": "pinch", "pinches": "pinch", "dash": "dash", "dashes": "dash", "drop": "drop", "drops": "drop",
    "handful": "handful", "handfuls": "handful", "splash": "splash", "splashes": "splash",
    **{f"us {spelt}": f"us {unit}" for spelt, unit in _OF_CUPS.items()},
}  # fmt: skip
"""Units by every spelling that is read, lower case."""
_VULGAR: Final = {
    "¼": 1 / 4, "½": 1 / 2, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅕": 1 / 5, "⅖": 2 / 5, "⅗": 3 / 5,
    "⅘": 4 / 5, "⅙": 1 / 6, "⅚": 5 / 6, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8,
}  # fmt: skip
_WHOLE: Final = "[0-9]{1,9}"
"""Nine digits are a thousand tonnes in grams; without a bound, a page of digits would be tried from each of them."""
_PART: Final = "[0-9]{1,17}"
"""As many digits as a program writes behind the point of a number."""
NUMBER: Final = (
    rf"[0-9]{{1,3}}(?: [0-9]{{3}}){{1,2}}(?:[.,]{_PART})?|(?:{_WHOLE}[ -])?{_WHOLE} ?[/⁄] ?{_WHOLE}"
    rf"|(?:{_WHOLE})? ?[{''.join(_VULGAR)}]|{_WHOLE}(?:[.,](?:{_PART})?)?|[.,]{_PART}"
)
_WORD: Final = "[A-Za-zÀ-ž]+"
_AMOUNT: Final = re.compile(
    rf"^(?P<number>{NUMBER})(?: ?(?:-|–|to) ?(?P<upto>{NUMBER}))? ?(?P<unit>{_WORD}(?: {_WORD}){{0,2}})?\.?$"
)
_PACKED: Final = re.compile(
    rf"^(?P<count>{NUMBER}) (?P<pack>(?!to\b){_WORD}) ?\(?(?:at |of )?(?P<weight>{NUMBER}) ?"
    r"(?P<unit>g|kg|oz|lb|ml|cl|dl|l|fl oz)\)?(?: each)?$"
)
_SUM: Final = re.compile(r" (?:\+|plus) ")
_SHARE: Final = re.compile(rf"^(?P<number>{NUMBER}) ?(?P<unit>%|ppm)?$")
PER_SHARE: Final = {"%": 0.01, "ppm": 1e-6}
"""Units that are shares of the whole mix."""
_THOUSANDS: Final = re.compile(r"^[1-9][0-9]{0,2}(?:,[0-9]{3})+(?![0-9])|^[1-9][0-9]{0,2}(?:\.[0-9]{3}){2,}(?![0-9])")
_SPACES: Final = dict.fromkeys(map(ord, "\t\u00a0\u2007\u2009\u202f"), " ")


@dataclass(frozen=True, slots=True)
class Amount:
    """A mass in g, and what was assumed to get there from what was typed."""

    grams: float
    assumed: str | None = None


def read_amount(typed: str, unit: str = "g", measures: Measures = BY_WEIGHT_ONLY, spoons: Spoons = "metric") -> Amount:
    """Read a typed amount.

    Parameters
    ----------
    typed : the number with or without a unit
    unit : holds where none is typed
    measures : density and pieces of the ingredient
    spoons : which cups and spoons the kitchen owns

    Raises
    ------
    AmountError : nothing typed, unreadable, negative, a unit this ingredient does not have, or beyond 1 000 kg

    >>> read_amount("1 1/2", "oz").grams
    42.5242846875
    """
    text = _checked(typed)
    if len(parts := _SUM.split(text)) > 1:
        return _summed([read_amount(part, unit, measures, spoons) for part in parts], text)
    if _THOUSANDS.match(text):
        raise AmountError("amount-ambiguous", text=text)
    if packed := _PACKED.match(text):
        weight = to_grams(_value(packed["weight"], typed), packed["unit"], measures, spoons).grams
        each = f"{packed['pack']} {weight:g} g each"
        return _within(Amount(_value(packed["count"], typed) * weight, each), text)
    match = _AMOUNT.match(text)
    if match is None:
        raise AmountError("amount-unreadable", text=text)
    value, middle = _value(match["number"], typed), None
    if match["upto"]:
        upto = _value(match["upto"], typed)
        value, middle = (value + upto) / 2, f"the middle of {value:g} and {upto:g}"
    found = to_grams(value, match["unit"] or unit, measures, spoons)
    assumed = "; ".join(part for part in (middle, found.assumed) if part)
    return Amount(found.grams, assumed or None)


def _checked(typed: str) -> str:
    """Return what was typed with single spaces; refuses what is empty, too long or negative."""
    text = " ".join(typed.translate(_SPACES).split())
    if len(text) > _LONGEST:
        raise AmountError("amount-too-long", text=text[:20])
    if not text:
        raise AmountError("amount-missing")
    if text[0] in "-−–":
        raise AmountError("amount-negative", text=text)
    return text


def read_share(typed: str, unit: str = "g") -> float | None:
    """Read an amount that is a share of the whole mix, ``0,3 %`` or ``200 ppm``.

    Returns the share, 0 to 1, or None where the amount is not one; raises AmountError at 100 % or more.
    """
    match = _SHARE.match(" ".join(typed.translate(_SPACES).split()))
    if match is None or (match["unit"] or unit) not in PER_SHARE:
        return None
    share = _value(match["number"], typed) * PER_SHARE[match["unit"] or unit]
    if share >= 1:
        raise AmountError("share-leaves-no-room", typed=typed.strip())
    return share


def to_grams(value: float, unit: str = "g", measures: Measures = BY_WEIGHT_ONLY, spoons: Spoons = "metric") -> Amount:
    """Convert a number of a unit to g; raises AmountError when negative, too big or of a unit that is not to be had."""
    if value < 0:
        raise AmountError("amount-negative-value", value=value)
    written = unit.strip().removesuffix(" of").casefold()
    known = UNIT_SPELLINGS.get(written, "")
    if known in measures.pieces:
        amount = _by_piece(value, known, unit, measures)
    elif known in GRAMS_PER_UNIT:
        amount = Amount(value * GRAMS_PER_UNIT[known])
    elif known:
        amount = _by_volume(value, known, measures, spoons)
    else:
        amount = _by_piece(value, written, unit, measures)
    return _within(amount, f"{value:g} {unit}")


def _summed(amounts: list[Amount], shown: str) -> Amount:
    assumed = dict.fromkeys(amount.assumed for amount in amounts if amount.assumed)
    return _within(Amount(sum(amount.grams for amount in amounts), "; ".join(assumed) or None), shown)


def _within(amount: Amount, shown: str) -> Amount:
    if not amount.grams <= MOST_GRAMS:
        raise AmountError("amount-too-large", shown=shown)
    return amount


def _by_volume(value: float, unit: str, measures: Measures, spoons: Spoons) -> Amount:
    if measures.density_kg_l is None:
        raise AmountError("density-missing", unit=unit)
    millilitres = {**ML_PER_UNIT, **_AS_IN_THE_US, **ML_PER_SPOON[spoons]}[unit]
    size = f"{unit} of {millilitres:.4g} ml, " if unit not in ML_PER_UNIT else ""
    return Amount(value * millilitres * measures.density_kg_l, f"{size}{measures.density_kg_l:.3g} kg/L")


def _by_piece(value: float, written: str, unit: str, measures: Measures) -> Amount:
    singular = {"piece", "pieces", "pc", "pcs", ""}
    for name, grams in measures.pieces.items():
        if written in singular | {name, f"{name}s", f"{name}es", name.removesuffix("f") + "ves"}:
            return Amount(value * grams, f"{name} {grams:g} g")
    pieces = "".join(f", {name}" for name in measures.pieces)
    raise AmountError("unknown-unit", unit=unit[:20], pieces=pieces)


def _value(number: str, typed: str) -> float:
    """Return a matched number: grouped or decimal, a fraction, or a mixed number."""
    if number[-1] in _VULGAR:
        return float(number[:-1].strip() or 0) + _VULGAR[number[-1]]
    parts = re.split(r" ?[/⁄] ?", number)
    if len(parts) == 1:
        return float(number.replace(" ", "").replace(",", "."))
    whole, over = [*re.split(r"[ -]", parts[0])] if re.search(r"[ -]", parts[0]) else ["0", parts[0]]
    if int(parts[1]) == 0:
        raise AmountError("amount-divides-by-zero", typed=typed[:_LONGEST])
    return float(whole) + int(over) / int(parts[1])
