"""How an ingredient lies in a cup, by the words of a recipe: whole, chopped, ground, sifted and so on."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Final

_SAID: Final = (
    ("sifted", r"sifted|sieved"),
    ("packed", r"packed|heaped firmly|pressed down"),
    ("puree", r"pur[eé]e[ds]?|mashed|pulp|sauce|juiced?|juice of|paste|butter|crushed to a puree|coulis"),
    ("ground", r"ground|milled|powdered|powder|meal|flour"),
    ("grated", r"grated|shredded|zested|shaved|finely grated"),
    ("flaked", r"flaked|slivered|sliced almonds|shavings"),
    ("chopped", r"chopped|diced|sliced|cut|halved|quartered|cubed|chunks?|pieces|broken|crushed|torn|crumbled|minced"),
    ("whole", r"whole|halves|kernels"),
)  # fmt: skip
"""Words that give a form away, the most telling first: what is chopped and then pureed is a puree."""
_PATTERNS: Final = tuple((form, re.compile(rf"\b(?:{words})\b", re.IGNORECASE)) for form, words in _SAID)


def form_said(text: str) -> str | None:
    """Return the form that words name, None where they name none.

    >>> form_said("walnuts, roughly chopped")
    'chopped'
    """
    return next((form for form, pattern in _PATTERNS if pattern.search(text)), None)


def form_of(text: str, forms: Mapping[str, float], *, whole_by_nature: bool) -> str | None:
    """Return in which of the forms that an ingredient has the words speak of it.

    Fruit of which nothing is said lies in the cup whole, and what is cut and has no density of its own, like whole
    fruit. None where the density that it usually has holds.
    """
    said = form_said(text)
    if said in forms:
        return said
    if whole_by_nature and said in (None, "chopped", "whole"):
        return next((form for form in ("whole", "chopped") if form in forms), None)
    return None
