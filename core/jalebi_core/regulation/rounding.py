"""Rounding of nutrition figures as they are printed: EU and UK guidance (2012), 21 CFR 101.9."""

from __future__ import annotations

from decimal import ROUND_FLOOR, Decimal
from typing import Final

_NOISE: Final = Decimal("1e-9")
_HALF: Final = Decimal("0.5")
DAILY_VALUES: Final = {
    "fat": 78.0, "saturates": 20.0, "cholesterol": 300.0, "sodium": 2300.0, "carbohydrate": 275.0, "fibre": 28.0,
    "added_sugars": 50.0, "vitamin_d": 20.0, "calcium": 1300.0, "iron": 18.0, "potassium": 4700.0,
}  # fmt: skip
"""Of 21 CFR 101.9, in the units of the rows."""
_COARSE_VALUES: Final = ("vitamin_d", "calcium", "iron", "potassium")
US_UNITS: Final = {
    "cholesterol": "mg", "sodium": "mg", "vitamin_d": "mcg", "calcium": "mg", "iron": "mg", "potassium": "mg",
}  # fmt: skip


def rounded(value: float, step: str) -> Decimal:
    """Return a value to the nearest multiple of a step, halves up, once noise is cut at the ninth decimal."""
    clean = (Decimal(repr(value)) / _NOISE).to_integral_value() * _NOISE
    size = Decimal(step)
    return (clean / size + _HALF).to_integral_value(ROUND_FLOOR) * size


def printed(key: str, value: float, region: str) -> str:
    """Return a figure of a row as a region prints it."""
    return _us(key, value) if region == "us" else _eu(key, value)


def daily_value(key: str, value: float) -> str | None:
    """Return the % of the US daily value of a serving, None where the row has none."""
    of = DAILY_VALUES.get(key)
    if of is None:
        return None
    if _us(key, value).split(" ")[0] == "0":
        return "0%"
    share = 100 * value / of
    if key not in _COARSE_VALUES:
        return f"{rounded(share, '1'):f}%"
    if share < 2:
        return "0%"
    step = "2" if share <= 10 else "5" if share <= 50 else "10"
    return f"{_plain(rounded(share, step))}%"


def cut(value: float, step: str) -> Decimal:
    """Return a value cut to a multiple of a step below it."""
    size = Decimal(step)
    return (Decimal(repr(value)) / size).to_integral_value(ROUND_FLOOR) * size


def _eu(key: str, value: float) -> str:
    if key in ("energy_kj", "energy_kcal"):
        return f"{rounded(value, '1'):f} {'kJ' if key == 'energy_kj' else 'kcal'}"
    if key == "salt":
        return _banded(value, "0.0125", "<0.01 g", ("0.01", 1), "0.1")
    if key == "saturates":
        return _banded(value, "0.1", "<0.1 g", ("0.1", 10), "1")
    return _banded(value, "0.5", "<0.5 g", ("0.1", 10), "1")


def _banded(value: float, least: str, below: str, fine: tuple[str, int], coarse: str) -> str:
    """Return g: none, below the least, fine up to a limit and coarse from what rounds to it on."""
    if value <= 0:
        return "0 g"
    if rounded(value, "0.000000001") <= Decimal(least):
        return below
    step, limit = fine
    nearest = rounded(value, step)
    return f"{nearest if nearest < limit else rounded(value, coarse).quantize(Decimal(coarse)):f} g"


def _us(key: str, value: float) -> str:
    if key == "energy_kcal":
        return "0" if value < 5 else _plain(rounded(value, "5" if value <= 50 else "10"))
    if key in ("fat", "saturates", "trans"):
        return "0 g" if value < 0.5 else f"{_plain(rounded(value, '0.5' if value < 5 else '1'))} g"
    if key == "cholesterol":
        return "0 mg" if value < 2 else "less than 5 mg" if value < 5 else f"{_plain(rounded(value, '5'))} mg"
    if key == "sodium":
        return "0 mg" if value < 5 else f"{_plain(rounded(value, '5' if value <= 140 else '10'))} mg"
    if key in US_UNITS:
        return f"{_plain(rounded(value, '0.1' if key in ('vitamin_d', 'iron') else '10'))} {US_UNITS[key]}"
    return "0 g" if value < 0.5 else "less than 1 g" if value < 1 else f"{_plain(rounded(value, '1'))} g"


def _plain(value: Decimal) -> str:
    """Return a number without closing zeros after its point."""
    return f"{value.normalize():f}"
