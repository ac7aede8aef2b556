"""Amounts as cooks type them: ``480``, ``1,5``, ``½``, ``1 1/2 oz``, ``1½ kg``."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

from .errors import AmountError

GRAMS_PER_UNIT: Final = {"g": 1.0, "kg": 1000.0, "oz": 28.349523125}
"""International avoirdupois ounce, exact."""

MOST_GRAMS: Final = 1_000_000.0
_LONGEST: Final = 40

_SPELLINGS: Final = {
    "": None,
    "g": "g", "gr": "g", "gram": "g", "grams": "g", "gramme": "g", "grammes": "g",
    "kg": "kg", "kilo": "kg", "kilos": "kg", "kilogram": "kg", "kilograms": "kg",
    "oz": "oz", "ounce": "oz", "ounces": "oz",
}  # fmt: skip
_VULGAR: Final = {
    "¼": 1 / 4, "½": 1 / 2, "¾": 3 / 4, "⅓": 1 / 3, "⅔": 2 / 3, "⅕": 1 / 5, "⅖": 2 / 5, "⅗": 3 / 5,
    "⅘": 4 / 5, "⅙": 1 / 6, "⅚": 5 / 6, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8,
}  # fmt: skip
_AMOUNT: Final = re.compile(
    rf"""^(?:
        (?P<grouped>[0-9]{{1,3}}(?:\ [0-9]{{3}})+(?:[.,][0-9]*)?)
      | (?P<decimal>[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+)
      | (?:(?P<whole>[0-9]+)\ )?(?P<over>[0-9]+)\ ?[/⁄]\ ?(?P<under>[0-9]+)
      | (?P<units>[0-9]+)?\ ?(?P<vulgar>[{"".join(_VULGAR)}])
    )\ ?(?P<unit>[A-Za-z]*)\.?$""",
    re.VERBOSE,
)
_THOUSANDS: Final = re.compile(r"^[1-9][0-9]{0,2}(?:,[0-9]{3})+$|^[1-9][0-9]{0,2}(?:\.[0-9]{3}){2,}$")
_SPACES: Final = dict.fromkeys(map(ord, "\t\u00a0\u2007\u2009\u202f"), " ")


@dataclass(frozen=True, slots=True)
class Amount:
    """A mass as typed and in g."""

    value: float
    unit: str
    grams: float


def read_amount(typed: str, unit: str = "g") -> Amount:
    """Read a typed amount; ``unit`` holds where none is typed.

    Raises
    ------
    AmountError : nothing typed, unreadable, negative, an unknown unit, or beyond 1 000 kg

    >>> read_amount("1 1/2", "oz").grams
    42.5242846875
    """
    text = " ".join(typed.translate(_SPACES).split())
    shown = text if len(text) <= _LONGEST else text[:20] + "…"
    if len(text) > _LONGEST:
        raise AmountError(typed, f"“{shown}” is too long for an amount.")
    if not text:
        raise AmountError(typed, "there is no amount. Write one like 480, 1,5, ½ or 1 1/2.")
    if text[0] in "-−–":
        raise AmountError(typed, f"an amount cannot be negative: “{shown}”.")
    number_part = re.sub(r" ?[A-Za-z.]*$", "", text) if text[-1].isalpha() else text
    if _THOUSANDS.match(number_part):
        raise AmountError(typed, f"“{shown}” may mean thousands or a decimal. Write 1000 for a thousand, 1 for one.")
    match = _AMOUNT.match(text)
    if match is None:
        raise AmountError(typed, f"“{shown}” is not an amount. Write one like 480, 1,5, ½ or 1 1/2, in g, kg or oz.")
    value = _value(match, typed, shown)
    return to_grams(value, _unit(match["unit"], unit, typed))


def to_grams(value: float, unit: str = "g") -> Amount:
    """Convert a number in g, kg or oz; raises AmountError when negative, not finite, too big or of no such unit."""
    known = _unit(unit, "g", f"{value:g} {unit}")
    grams = value * GRAMS_PER_UNIT[known]
    if value < 0:
        raise AmountError(f"{value:g}", f"an amount cannot be negative: {value:g}.")
    if not grams <= MOST_GRAMS:
        raise AmountError(f"{value:g}", f"{value:g} {known} is more than one line can hold (1000 kg).")
    return Amount(value, known, grams)


def _unit(written: str, default: str, typed: str) -> str:
    known = _SPELLINGS.get(written.strip().lower(), "unknown")
    if known == "unknown":
        raise AmountError(typed, f"“{written[:20]}” is not a unit of mass here. Use g, kg or oz.")
    return known or default


def _value(match: re.Match[str], typed: str, shown: str) -> float:
    if match["grouped"] or match["decimal"]:
        return float((match["grouped"] or match["decimal"]).replace(" ", "").replace(",", "."))
    if match["vulgar"]:
        return float(match["units"] or 0) + _VULGAR[match["vulgar"]]
    if int(match["under"]) == 0:
        raise AmountError(typed, f"“{shown}” divides by zero.")
    return float(match["whole"] or 0) + int(match["over"]) / int(match["under"])
