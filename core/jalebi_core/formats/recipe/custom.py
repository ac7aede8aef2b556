"""The custom that a recipe follows: whether it is American, and which style its words name."""

from __future__ import annotations

import re
from typing import Final

from jalebi_core.formats.recipe.source import RecipeSource

_AMERICAN: Final = re.compile(
    r"\bsticks? (?:of )?(?:unsalted |salted |cold )?butter|\bquarts?\b|°\s?F\b|\bdegrees F\b|[0-9]\s?F\b"
    r"|\bheavy (?:whipping )?cream"
    r"|\bhalf[- ](?:and|&|n)[- ]half|\bconfectioners|\ball[- ]purpose flour|\bkosher salt|\blight corn syrup"
    r"|\bgraham crackers?|\bgranulated sugar|\bsemi-?sweet",
    re.IGNORECASE,
)
_ELSEWHERE: Final = re.compile(
    r"\bdouble cream|\bsingle cream|\bcaster sugar|\bicing sugar|\bcornflour|\bthickened cream|\b[0-9]+ ?°C"
    r"|\blit(?:re|er)s?\b",
    re.IGNORECASE,
)
_MEASURED: Final = re.compile(
    r"\b(?:cups?|tbsps?|tablespoons?|tsps?|teaspoons?|quarts?|pints?|fl\.? ?oz)\b", re.IGNORECASE
)
_MEASURES: Final = re.compile(r"(?<!us )\b(cups?|tbsp|tsp|fl oz|pints?|quarts?)\b")
_STYLES: Final = (
    ("no-churn", r"\bno[- ]churn|\bsemifreddo|\bwithout (?:an? )?(?:ice[- ]cream )?(?:maker|machine)\b"),
    ("low-sugar", r"\blow[- ]sugar|\bsugar[- ]free|\bketo\b|\bno added sugar"),
    ("dairy-free", r"\bvegan\b|\bdairy[- ]free|\bplant[- ]based"),
    ("sorbet", r"\bsorbet(?:to)?\b"),
    ("sherbet", r"\bsherbet"),
    ("gelato", r"\bgelato"),
    ("frozen-custard", r"\bcustard"),
    ("ice-cream", r"\bice[- ]cream(?! (?:machine|maker))|\bice milk|\bfrozen yog"),
)  # fmt: skip


def is_american(source: RecipeSource) -> bool:
    """Whether a recipe measures in US cups: it uses cups or spoons, and words of the one country alone."""
    text = "\n".join((*source.ingredient_lines, *source.method, source.yields))[:20_000]
    return bool(_MEASURED.search(text) and _AMERICAN.search(text)) and not _ELSEWHERE.search(text)


def with_us_measures(amount: str) -> str:
    """Return an amount whose cups and spoons say that they are those of the US: “1 us cup + 1 us tbsp”."""
    return _MEASURES.sub(r"us \1", amount)


def style_of(source: RecipeSource) -> str | None:
    """Return the style that a recipe's title names, else its method; None where neither does."""
    for text in (source.name, *source.method):
        for style, words in _STYLES:
            if re.search(words, text[:2000], re.IGNORECASE):
                return style
    return None
