"""The analysis of a draft: every line as read, and what the whole of it is, holds and costs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass

from analysis.kitchen_drafts import freezer_of, read_in_kitchen, restrictions_of
from analysis.schemas import (
    CautionOut,
    CostOut,
    Dose,
    DraftAnalysis,
    DraftLine,
    DraftToAnalyse,
    FillOut,
    LineAnalysis,
    MixInOut,
    ProductOut,
)
from analysis.serialize import serialize_analysis
from ingredients.schemas import Part
from ingredients.serialize import parts_of_lines
from ingredients.shelf_cache import cached_machine
from jalebi_core.advice.contributions import CONTRIBUTIONS, contributions_of
from jalebi_core.assessment.gums import Gum, gums_of
from jalebi_core.formats.draft import ReadDraft, ReadLine, offence_of
from jalebi_core.model.mix import Mix
from jalebi_core.production.cost import cost_of
from jalebi_core.production.machines import Machine, fill_of
from jalebi_core.production.mix_ins import mix_ins_of, product_of
from jalebi_core.quantities.amounts import Spoons
from jalebi_core.quantities.household_measures import household_measure
from jalebi_core.regulation.allergens import allergens_together
from jalebi_core.regulation.cautions import cautions_of
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of, spoons_of


def analyse_draft(kitchen: Kitchen, draft: DraftToAnalyse) -> DraftAnalysis:
    """Analyse a draft; lines that cannot be read say so and are left at what they weighed."""
    read, freezer_c = read_in_kitchen(kitchen, draft), freezer_of(kitchen, draft)
    mix, held = read.mix, allergens_together(read.ingredients)
    return DraftAnalysis(
        analysis=serialize_analysis(mix, kitchen, freezer_c) if mix else None,
        mix_ins=_mix_ins(mix, read, freezer_c, notation_of(kitchen)) if mix else [],
        product=ProductOut(**asdict(product_of(mix))) if mix else None,
        cost=serialize_cost(mix, kitchen) if mix else None,
        fill=serialize_fill(mix, cached_machine(kitchen, draft.machine)) if mix else None,
        lines=_lines(kitchen, draft, read),
        allergens=list(held.contains),
        may_hold=list(held.may_hold),
        guest_cautions=serialize_cautions(mix, kitchen) if mix else [],
        allergens_not_stated=list(held.not_stated),
        undisclosed=sorted({one.name for one in read.ingredients if one.facts.sure == "undisclosed"}),
    )


def serialize_cautions(mix: Mix, kitchen: Kitchen) -> list[CautionOut]:
    """Return what guests must be told of a mix where a kitchen is, temperatures as it writes them."""
    notation = notation_of(kitchen)
    return [
        CautionOut(**{**asdict(caution), "said": notation.text(caution.said), "places": list(caution.places)})
        for caution in cautions_of(mix, kitchen.region)
    ]


def serialize_fill(mix: Mix, machine: Machine | None) -> FillOut | None:
    """Return how a mix fills a machine, None where none is chosen."""
    return FillOut(**asdict(fill_of(mix, machine))) if machine else None


def serialize_cost(mix: Mix, kitchen: Kitchen) -> CostOut | None:
    """Return what a mix costs; None where nothing in it has a price, and for who may not see prices."""
    cost = cost_of(mix, kitchen.used_loss_pct)
    if not kitchen.shows_prices or (cost.at_least <= 0 and cost.ingredients is None):
        return None
    return CostOut(
        ingredients=cost.ingredients,
        at_least=cost.at_least,
        per_litre=cost.per_litre,
        litres=cost.litres,
        not_priced=list(cost.not_priced),
    )


@dataclass(frozen=True, slots=True)
class _Lines:
    """What the lines of a draft are drawn from beside themselves, by their numbers in the draft."""

    restrictions: Sequence[str]
    spoons: Spoons
    contributions: Mapping[int, dict[str, float]]
    gums: Mapping[int, Gum]
    with_milk: bool
    notation: Notation


def _lines(kitchen: Kitchen, draft: DraftToAnalyse, read: ReadDraft) -> list[LineAnalysis]:
    parts = parts_of_lines([(line.ingredient, line.grams) for line in read.lines])
    gums = gums_of(read.mix, kitchen.fine_scale_g).gums if read.mix else ()
    around = _Lines(
        restrictions_of(kitchen, draft),
        spoons_of(kitchen),
        _contributions(read),
        {read.numbers[gum.number]: gum for gum in gums},
        read.mix is not None and any("milk" in one.ingredient.allergens for one in read.mix.base),
        notation_of(kitchen),
    )
    lines = zip(draft.lines, read.lines, parts, strict=True)
    return [_line(around, at, typed, line, strata) for at, (typed, line, strata) in enumerate(lines)]


def _contributions(read: ReadDraft) -> dict[int, dict[str, float]]:
    """Return what each line of the mix contributes to, by its number in the draft."""
    if read.mix is None:
        return {}
    in_mix = (at for at, line in enumerate(read.lines) if line.in_mix)
    found = contributions_of(read.mix).round(2).tolist()
    return {at: dict(zip(CONTRIBUTIONS, shares, strict=True)) for at, shares in zip(in_mix, found, strict=True)}


def _line(around: _Lines, at: int, typed: DraftLine, line: ReadLine, strata: list[Part]) -> LineAnalysis:
    ingredient, gum = line.ingredient, around.gums.get(at)
    mind = ingredient.facts.at_stage(line.stage, with_milk=around.with_milk) if ingredient else None
    return LineAnalysis(
        name=ingredient.name if ingredient else typed.ingredient,
        offends=offence_of(ingredient, around.restrictions),
        dose=Dose(pct=gum.dose_pct, low_pct=gum.usual_pct[0], high_pct=gum.usual_pct[1]) if gum else None,
        mind=around.notation.text(mind) if mind else None,
        grams=line.grams,
        measure=household_measure(line.grams, ingredient.measures.in_form(typed.form), around.spoons)
        if ingredient and line.grams
        else None,
        strata=strata,
        contributions=around.contributions.get(at, {}),
        assumed=line.assumed,
        error=None if line.error is None else words(line.error, around.notation),
    )


def _mix_ins(mix: Mix, read: ReadDraft, freezer_c: float, notation: Notation) -> list[MixInOut]:
    """Return the mix-ins and layers with the number of the line that each is."""
    numbers = [at for at, line in enumerate(read.lines) if line.weighs and not line.in_mix]
    return [
        MixInOut(line=at, share_pct=found.share_pct, message=words(found.message, notation), advice=found.advice)
        for at, found in zip(numbers, mix_ins_of(mix, freezer_c), strict=True)
    ]
