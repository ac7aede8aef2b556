"""Advice on a draft: adjustments that bring what is out of its band back, and how exactly lines need weighing."""

from __future__ import annotations

from dataclasses import asdict

from analysis.kitchen_drafts import freezer_of, read_in_kitchen, restrictions_of
from analysis.line_insights import serialize_effect
from analysis.schemas import AdjustmentOut, DraftToAnalyse, HelpOut, ToleranceOut
from ingredients.shelf_cache import ingredients_of
from jalebi_core.advice.adjustments import Adjustment, help_for
from jalebi_core.advice.tolerances import tolerances_of
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, notation_of


def adjustments_for(kitchen: Kitchen, draft: DraftToAnalyse) -> list[HelpOut]:
    """Return the smallest exchanges that would mend what is out of its band."""
    shelf, read = ingredients_of(kitchen), read_in_kitchen(kitchen, draft)
    restrictions = restrictions_of(kitchen, draft)
    mix = read.mix
    if mix is None:
        return []
    names = [line.ingredient.name for line in mix.lines]

    def serialized(adjustment: Adjustment) -> AdjustmentOut:
        line, coming = read.numbers[adjustment.line], shelf[adjustment.slug]
        return AdjustmentOut(
            line=line,
            line_name=names[adjustment.line],
            ingredient=adjustment.slug,
            name=coming.name,
            stage="dry" if coming.kind == "gum" else read.lines[line].stage,
            grams=adjustment.grams,
            value=adjustment.value,
            word=adjustment.word,
            cures=adjustment.cures,
            effect=serialize_effect(adjustment.effect, kitchen),
        )

    return [
        HelpOut(
            key=found.key,
            cured=found.cured,
            adjustments=[serialized(adjustment) for adjustment in found.adjustments],
            together=[serialized(adjustment) for adjustment in found.together],
            otherwise=words(found.otherwise, notation_of(kitchen)) if found.otherwise else "",
        )
        for found in help_for(mix, freezer_of(kitchen, draft), shelf, restrictions)
    ]


def tolerances_for(kitchen: Kitchen, draft: DraftToAnalyse) -> list[ToleranceOut]:
    """Return how far each line may be weighed wrong before a word changes."""
    read = read_in_kitchen(kitchen, draft)
    if read.mix is None:
        return []
    found = tolerances_of(read.mix, freezer_of(kitchen, draft))
    return [ToleranceOut(**{**asdict(line), "line": read.numbers[line.line]}) for line in found]
