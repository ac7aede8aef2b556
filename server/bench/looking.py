"""Looking closer at a draft: one line with its swaps and mistakes, what would help, what it may be called."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from math import isfinite

from jalebi_core.allergens import ALLERGENS
from jalebi_core.comparison import Effect
from jalebi_core.errors import MixError
from jalebi_core.goods import Goods
from jalebi_core.levers import help_for
from jalebi_core.names import names_of
from jalebi_core.swaps import confusions_for, swaps_for
from kitchens.models import Kitchen
from shelf.kept import goods_of

from .drafts import ReadLine, freezer_of, mix_of, offence_of, read_lines, restrictions_of
from .schemas import (
    ConfusionOut,
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


def look(kitchen: Kitchen, question: LineQuestion) -> LineLook:
    """Answer for one line; raises MixError where there is no such line or it weighs nothing yet."""
    if question.line >= len(question.lines):
        raise MixError(f"the draft has {len(question.lines)} lines.", question.line + 1)
    goods, read = goods_of(kitchen), read_lines(kitchen, question.lines)
    restrictions = restrictions_of(kitchen, question)
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
                brings=_new_allergens(read, [goods[by] for by, _ in swap.lines]),
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


def _new_allergens(read: Sequence[ReadLine], coming: Sequence[Goods]) -> list[str]:
    """Return the allergens that goods would bring into a mix that does not have them yet."""
    has = {allergen for line in read if line.goods for allergen in line.goods.allergens}
    brought = {allergen for goods in coming for allergen in goods.allergens}
    return [allergen for allergen in ALLERGENS if allergen in brought - has]


def _swap_line(goods: Mapping[str, Goods], slug: str, grams: float) -> SwapLine:
    return SwapLine(ingredient=slug, name=goods[slug].composition.name, grams=grams)


def _effect(effect: Effect) -> EffectOut:
    figures = {key: getattr(effect, key) for key in EffectOut.model_fields if key != "scoop_c"}
    return EffectOut(**figures, scoop_c=effect.scoop_c if isfinite(effect.scoop_c) else None)


def levers(kitchen: Kitchen, draft: DraftToAnalyse) -> list[HelpOut]:
    """Return the smallest exchanges that would mend what is out of its band."""
    goods, read = goods_of(kitchen), read_lines(kitchen, draft.lines)
    restrictions = restrictions_of(kitchen, draft)
    mix = mix_of(draft, read)
    if mix is None:
        return []
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams]
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
        for found in help_for(mix, freezer_of(kitchen, draft), goods, restrictions)
    ]


def names(kitchen: Kitchen, draft: Draft) -> list[NameOut]:
    """Return the protected names that a draft comes into question for."""
    mix = mix_of(draft, read_lines(kitchen, draft.lines))
    return [NameOut(**asdict(name)) for name in names_of(mix)] if mix else []
