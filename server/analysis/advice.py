"""Advice on a draft: adjustments that bring what is out of its band back, and how exactly lines need weighing."""

from __future__ import annotations

from dataclasses import asdict

from analysis.kitchen_drafts import freezer_of, read_in_kitchen, restrictions_of
from analysis.schemas import AdjustmentOut, DraftToAnalyse, HelpOut, NewAmountOut, ToleranceOut
from ingredients.shelf_cache import shown_ingredients
from jalebi_core.advice.adjustments import Adjustment, help_for
from jalebi_core.production.making.weighing import tolerances_of
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, constants_of, notation_of


def adjustments_for(kitchen: Kitchen, draft: DraftToAnalyse) -> list[HelpOut]:
    """Return what a cook would try against each fault, in the kitchen's words."""
    read = read_in_kitchen(kitchen, draft)
    if read.mix is None:
        return []
    notation = notation_of(kitchen)

    def serialized(adjustment: Adjustment) -> AdjustmentOut:
        lines = [
            NewAmountOut(
                line=None if one.line is None else read.numbers[one.line],
                ingredient=one.slug,
                stage=one.stage,
                grams=one.grams,
            )
            for one in adjustment.lines
        ]
        said = words(adjustment.said, notation)
        return AdjustmentOut(lines=lines, overrun_pct=adjustment.overrun_pct, said=said)

    helped = help_for(
        read.mix,
        freezer_of(kitchen, draft),
        shown_ingredients(kitchen),
        restrictions_of(kitchen, draft),
        kitchen.region,
    )
    return [
        HelpOut(
            key=found.key,
            found=[serialized(adjustment) for adjustment in found.found],
            none=words(found.none, notation) if found.none else "",
        )
        for found in helped
    ]


def tolerances_for(kitchen: Kitchen, draft: DraftToAnalyse) -> list[ToleranceOut]:
    """Return how far each line may be weighed wrong."""
    read = read_in_kitchen(kitchen, draft)
    if read.mix is None:
        return []
    found = tolerances_of(read.mix, constants_of(kitchen), freezer_of(kitchen, draft))
    return [ToleranceOut(**{**asdict(line), "line": read.numbers[line.line]}) for line in found]
