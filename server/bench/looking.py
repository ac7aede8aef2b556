"""Looking closer at a draft: one line with its swaps and mistakes, what would help, and the figures behind it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from math import isfinite

import numpy as np

from jalebi_core.aims import bands_for
from jalebi_core.allergens import ALLERGENS
from jalebi_core.analysis import analyse_mix
from jalebi_core.comparison import Effect
from jalebi_core.errors import MixError
from jalebi_core.figures import Figure, figures_of
from jalebi_core.goods import Goods
from jalebi_core.gums import Gum, gums_of
from jalebi_core.levers import Lever, help_for
from jalebi_core.names import names_of
from jalebi_core.outcomes import frozen_at
from jalebi_core.phases import phases_of
from jalebi_core.serving_sum import serving_sums
from jalebi_core.slack import slack_of
from jalebi_core.styles import Band
from jalebi_core.sucrose_equivalents import comparison_line
from jalebi_core.swaps import confusions_for, swaps_for
from kitchens.models import Kitchen
from shelf.kept import goods_of

from .drafts import ReadLine, freezer_of, mix_of, offence_of, read_lines, restrictions_of
from .schemas import (
    Closer,
    ComparisonOut,
    ConfusionOut,
    DraftToAnalyse,
    EffectOut,
    FigureOut,
    GumOut,
    HelpOut,
    LeverOut,
    LineLook,
    LineQuestion,
    NameOut,
    ServingSumOut,
    SlackOut,
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
    mix = mix_of(kitchen, question, read)
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
    mix = mix_of(kitchen, draft, read)
    if mix is None:
        return []
    numbers = _numbers(read)

    def drawn(lever: Lever, mixed: Sequence[str]) -> LeverOut:
        return LeverOut(
            line=numbers[lever.line],
            line_name=mixed[lever.line],
            ingredient=lever.slug,
            name=goods[lever.slug].composition.name,
            stage="dry" if goods[lever.slug].kind == "gum" else read[numbers[lever.line]].line.stage,
            grams=lever.grams,
            value=lever.value,
            word=lever.word,
            cures=lever.cures,
            effect=_effect(lever.effect),
        )

    lines = [line.ingredient.name for line in mix.lines]
    return [
        HelpOut(
            key=found.key,
            cured=found.cured,
            levers=[drawn(lever, lines) for lever in found.levers],
            together=[drawn(lever, lines) for lever in found.together],
            otherwise=found.otherwise,
        )
        for found in help_for(mix, freezer_of(kitchen, draft), goods, restrictions)
    ]


def _numbers(read: Sequence[ReadLine]) -> list[int]:
    """Return which lines of a draft are in its mix, in their order."""
    return [at for at, line in enumerate(read) if line.ingredient and line.grams]


def slack(kitchen: Kitchen, draft: DraftToAnalyse) -> list[SlackOut]:
    """Return how far each line may be weighed wrong before a word changes."""
    read = read_lines(kitchen, draft.lines)
    mix, numbers = mix_of(kitchen, draft, read), _numbers(read)
    if mix is None:
        return []
    found = slack_of(mix, freezer_of(kitchen, draft))
    return [SlackOut(**{**asdict(line), "line": numbers[line.line]}) for line in found]


def closer(kitchen: Kitchen, draft: DraftToAnalyse) -> Closer | None:
    """Return the figures behind a draft, other schools, gums and names; None while nothing in it weighs anything."""
    read, freezer_c = read_lines(kitchen, draft.lines), freezer_of(kitchen, draft)
    mix, numbers = mix_of(kitchen, draft, read), _numbers(read)
    if mix is None:
        return None
    found, overrun = analyse_mix(mix, freezer_c=freezer_c), np.array(mix.overrun_used_pct)
    cold = phases_of(found.row, overrun, frozen_at(found.row, freezer_c), freezer_c)
    usual, gums = bands_for(mix.style), gums_of(mix, kitchen.fine_scale_g)
    line = comparison_line(found.row)
    return Closer(
        figures=[_figure(figure, usual) for figure in figures_of(found, cold, mix.bands)],
        sums=[ServingSumOut(**asdict(one)) for one in serving_sums(mix)],
        comparison=ComparisonOut(t_c=list(line.t_c), frozen_pct=list(line.frozen_pct), said=line.said),
        gums=[_gum(gum, numbers) for gum in gums.gums],
        gum_total_pct=gums.total_pct,
        gum_in_water_pct=gums.total_in_water_pct,
        gum_pairs=list(gums.pairs),
        names=[NameOut(**asdict(name)) for name in names_of(mix)],
    )


def _figure(figure: Figure, usual: Mapping[str, Band]) -> FigureOut:
    of, band, style = figure.quantity, figure.band, usual.get(figure.quantity.key)
    return FigureOut(
        key=of.key,
        name=of.name,
        value=figure.value,
        unit=of.unit,
        digits=of.digits,
        said=of.said,
        scale=list(of.scale),
        band=list(band) if band else None,
        usual=list(style) if style else None,
        aim=of.aim,
        formula=of.formula,
        source=of.source,
        rule=of.rule,
    )


def _gum(gum: Gum, numbers: Sequence[int]) -> GumOut:
    return GumOut(
        line=numbers[gum.number],
        name=gum.name,
        grams=gum.grams,
        dose_pct=gum.dose_pct,
        in_water_pct=gum.in_water_pct,
        usual_pct=list(gum.usual_pct),
        word=gum.word,
        works=gum.works,
        weighable=gum.weighable,
        said=list(gum.said),
    )
