"""A recipe taken apart but not yet understood, and how much of one is read."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Final

from jalebi_core.quantities.amounts import NUMBER

MOST_CHARACTERS: Final = 1_000_000
"""A page with its images written into it has some 500 000; more is no recipe, and a request holds no more."""
MOST_LINES: Final = 300
"""Ingredient lines; a banquet has fifty."""
MOST_STEPS: Final = 400
"""Sentences of a method that are kept; the longest that people publish have a hundred."""
LONGEST_PARAGRAPH: Final = 20_000
"""Characters read of one paragraph of a method; some pages put the whole of it into one."""
LONGEST_STEP: Final = 2_000
"""Characters kept of one sentence of a method."""
_SERVINGS: Final = re.compile(
    r"(?:serves|servings?|people|portions?|for)\D{0,10}(?P<a>\d{1,3})|(?P<b>\d{1,3})\s*(?:servings|people|portions|scoops)|"
    r"^\s*(?P<c>\d{1,3})\s*$",
    re.IGNORECASE,
)
_VOLUME: Final = re.compile(
    rf"(?P<amount>{NUMBER})\s*(?P<unit>l|litres?|liters?|ml|quarts?|pints?|gallons?|cups?|kg|g)\b", re.IGNORECASE
)


@dataclass(frozen=True, slots=True)
class RecipeSource:
    """A recipe taken apart but not yet understood."""

    name: str
    ingredient_lines: tuple[str, ...]
    method: tuple[str, ...]
    yields: str = ""

    @property
    def servings(self) -> int | None:
        """The number of people or portions it is said to be for."""
        match = _SERVINGS.search(self.yields)
        return int(match["a"] or match["b"] or match["c"]) if match else None

    @property
    def makes(self) -> str | None:
        """The quantity it is said to make, as written, such as “1 litre”."""
        match = _VOLUME.search(self.yields)
        return f"{match['amount'].strip()} {match['unit']}" if match else None
