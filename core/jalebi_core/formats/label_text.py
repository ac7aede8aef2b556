"""A nutrition label as text, “Energy 1540 kJ / 368 kcal, Fat 9.1 g, of which saturates 5 g”, read into figures."""

from __future__ import annotations

import re
from typing import Final

_NUMBER: Final = r"(?P<value>[0-9]{1,4}(?:[.,][0-9]{1,3})?)"
_LONGEST: Final = 4000
_NAMES: Final = (
    ("sugars", r"sugars?|sucres|zucker|zuccheri|az[uú]cares"),
    ("polyols", r"polyols?|sugar alcohols?|polyalcohols?"),
    ("saturates", r"saturates?|saturated(?: fat)?|sat\.? fat|trans fat"),
    ("fat", r"(?:total )?fats?|lipides|fett|grassi|grasas"),
    ("carbohydrate", r"(?:total )?carbohydrates?|carbs|glucides|kohlenhydrate|carboidrati|hidratos de carbono"),
    ("fibre", r"(?:dietary )?fib(?:re|er)s?|ballaststoffe|fibres? alimentaires?"),
    ("protein", r"proteins?|prot[eé]ines?|eiwei[sß]s?|proteine"),
    ("salt", r"salt|sel|salz|sale"),
    ("sodium", r"sodium|natrium"),
    ("alcohol_vol", r"alcohol|alc\.?"),
)  # fmt: skip
"""What labels call each figure, those first whose words hold another’s."""
_FIGURES: Final = tuple(
    (key, re.compile(rf"\b(?:{names})\b[^0-9\n]{{0,24}}?(?<![0-9]){_NUMBER}\s*(?P<unit>mg|g|%)", re.IGNORECASE))
    for key, names in _NAMES
)
_KCAL: Final = re.compile(
    rf"{_NUMBER}\s*(?:kcal|cal(?:ories)?\b)|calories\D{{0,12}}(?P<us>[0-9]{{1,4}})", re.IGNORECASE
)
_KJ: Final = re.compile(rf"{_NUMBER}\s*kj", re.IGNORECASE)
_SERVING: Final = re.compile(
    rf"(?:serving(?: size)?|portion).{{0,20}}?(?<![0-9.,]){_NUMBER}\s*(?:g|ml)\b", re.IGNORECASE
)
_PER_100: Final = re.compile(r"\b(?:per|pro|pour|je)\s*100\s*(?:g|ml)", re.IGNORECASE)
_KJ_PER_KCAL: Final = 4.184
_SALT_PER_SODIUM: Final = 2.5
"""Regulation (EU) 1169/2011, annex I."""


def read_label_text(text: str) -> dict[str, float]:
    """Return the figures of a label by the names that `shelf.custom_ingredients.Label` has, ``serving_g`` too.

    What is not named is not there; the first figure of a name counts, and sodium is counted as salt.
    """
    plain = " ".join(text[:_LONGEST].split())
    found: dict[str, float] = {}
    for key, pattern in _FIGURES:
        if match := pattern.search(plain):
            found[key] = _number(match["value"]) / (1000 if match["unit"].lower() == "mg" else 1)
    found.pop("saturates", None)
    sodium = found.pop("sodium", None)
    if sodium is not None:
        found.setdefault("salt", round(sodium * _SALT_PER_SODIUM, 4))
    if kcal := _KCAL.search(plain):
        found["energy_kcal"] = _number(kcal["value"] or kcal["us"])
    elif kj := _KJ.search(plain):
        found["energy_kcal"] = round(_number(kj["value"]) / _KJ_PER_KCAL, 1)
    serving = _SERVING.search(plain)
    if serving and not _PER_100.search(plain):
        found["serving_g"] = _number(serving["value"])
    return found


def _number(text: str) -> float:
    return float(text.replace(",", "."))
