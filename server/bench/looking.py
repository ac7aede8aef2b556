"""Looking closer at a draft: its mix-ins, its cost, and one line with its swaps and mistakes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from math import isfinite

from jalebi_core.beside import beside_of
from jalebi_core.comparison import Effect
from jalebi_core.errors import MixError
from jalebi_core.goods import Goods
from jalebi_core.levers import help_for
from jalebi_core.mix import Mix
from jalebi_core.names import names_of
from jalebi_core.restrictions import checked_restriction
from jalebi_core.styles import BESIDE
from jalebi_core.swaps import confusions_for, swaps_for
from kitchens.models import Kitchen
from shelf.kept import goods_of

from .drafts import ReadLine, mix_of, offence_of, read_lines
from .schemas import (
    BesideOut,
    ConfusionOut,
    Cost,
    Dose,
    Draft,
    DraftToAnalyse,
    EffectOut,
    HelpOut,
    LeverOut,
    LineLook,
    LineQuestion,
    NameOut,
    SwapLine,
    SwapOut,
)


def beside_drawn(mix: Mix, read: Sequence[ReadLine], freezer_c: float) -> list[BesideOut]:
    """Return the mix-ins and layers with the number of the line that each is."""
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams and line.line.stage in BESIDE]
    return [
        BesideOut(line=at, share_pct=found.share_pct, said=found.said, advice=found.advice)
        for at, found in zip(numbers, beside_of(mix, freezer_c), strict=True)
    ]


def dose_of(line: ReadLine, mix_g: float) -> Dose | None:
    """Return what a gum or the like is of the mix beside its usual dose, None where there is none."""
    if line.goods is None or line.goods.facts.dose_pct is None or not line.grams or line.line.stage in BESIDE:
        return None
    low, high = line.goods.facts.dose_pct
    return Dose(pct=100 * line.grams / mix_g, low_pct=low, high_pct=high)


def cost_of(read: Sequence[ReadLine], volume_l: float) -> Cost | None:
    """Return what goes in costs; None where nothing has a price."""
    weighed = [(line.goods, line.grams) for line in read if line.goods and line.grams]
    priced = [(goods.price_per_kg, grams) for goods, grams in weighed if goods.price_per_kg is not None]
    if not priced:
        return None
    total = sum(price * grams / 1000 for price, grams in priced)
    unpriced = sorted({goods.composition.name for goods, _ in weighed if goods.price_per_kg is None})
    return Cost(total=total, per_litre=total / volume_l if volume_l > 0 else None, unpriced=unpriced)


def look(kitchen: Kitchen, question: LineQuestion) -> LineLook:
    """Answer for one line; raises MixError where there is no such line or it weighs nothing yet."""
    if question.line >= len(question.lines):
        raise MixError(f"the draft has {len(question.lines)} lines.", question.line + 1)
    goods, read = goods_of(kitchen), read_lines(kitchen, question.lines)
    restrictions = [checked_restriction(key) for key in (*kitchen.restrictions, *question.restrictions)]
    asked = read[question.line]
    mix = mix_of(question, read)
    if mix is None or not asked.ingredient or not asked.grams:
        return LineLook(offends=offence_of(asked, restrictions), swaps=[], confusions=[])
    at = sum(bool(line.ingredient and line.grams) for line in read[: question.line])
    slug = asked.line.ingredient
    swaps = swaps_for(mix, at, slug, goods, restrictions)
    return LineLook(
        offends=offence_of(asked, restrictions),
        swaps=[
            SwapOut(
                lines=[_swap_line(goods, by, grams) for by, grams in swap.lines],
                equal=swap.equal,
                taste=swap.taste,
                effect=_effect(swap.effect),
            )
            for swap in swaps[:6]
        ],
        confusions=[
            ConfusionOut(name=goods[found.other].composition.name, differ=found.differ, effect=_effect(found.effect))
            for found in confusions_for(mix, at, slug, goods)[:4]
        ],
    )


def _swap_line(goods: Mapping[str, Goods], slug: str, grams: float) -> SwapLine:
    return SwapLine(ingredient=slug, name=goods[slug].composition.name, grams=grams)


def _effect(effect: Effect) -> EffectOut:
    figures = {key: getattr(effect, key) for key in EffectOut.model_fields if key != "scoop_c"}
    return EffectOut(**figures, scoop_c=effect.scoop_c if isfinite(effect.scoop_c) else None)


def levers(kitchen: Kitchen, draft: DraftToAnalyse) -> list[HelpOut]:
    """Return the smallest exchanges that would mend what is out of its band."""
    goods, read = goods_of(kitchen), read_lines(kitchen, draft.lines)
    restrictions = [checked_restriction(key) for key in (*kitchen.restrictions, *draft.restrictions)]
    mix = mix_of(draft, read)
    if mix is None:
        return []
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams]
    freezer_c = kitchen.freezer_c if draft.freezer_c is None else draft.freezer_c
    return [
        HelpOut(
            key=found.key,
            cured=found.cured,
            levers=[
                LeverOut(
                    line=numbers[lever.line],
                    line_name=mix.lines[lever.line].ingredient.name,
                    ingredient=lever.slug,
                    name=goods[lever.slug].composition.name,
                    stage="dry" if goods[lever.slug].kind == "gum" else mix.lines[lever.line].stage,
                    grams=lever.grams,
                    value=lever.value,
                    word=lever.word,
                    cures=lever.cures,
                    effect=_effect(lever.effect),
                )
                for lever in found.levers
            ],
        )
        for found in help_for(mix, freezer_c, goods, restrictions)
    ]


def names(kitchen: Kitchen, draft: Draft) -> list[NameOut]:
    """Return the protected names that a draft comes into question for."""
    mix = mix_of(draft, read_lines(kitchen, draft.lines))
    return [NameOut(**asdict(name)) for name in names_of(mix)] if mix else []
