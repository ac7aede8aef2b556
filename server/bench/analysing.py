"""The analysis of a draft: every line as read, and what the whole of it is, holds and costs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from jalebi_core.allergens import ALLERGENS
from jalebi_core.amounts import Spoons
from jalebi_core.beside import beside_of, product_of
from jalebi_core.machines import Machine, fill_of
from jalebi_core.measured import measured
from jalebi_core.mix import Mix
from jalebi_core.shares import SHARES, shares_of
from jalebi_core.styles import BESIDE
from kitchens.models import Kitchen, spoons_of
from shelf.drawn import parts_of_lines
from shelf.kept import kept_machine
from shelf.schemas import Part

from .analysis import drawn
from .drafts import ReadLine, freezer_of, mix_of, offence_of, read_lines, restrictions_of
from .schemas import BesideOut, Cost, Dose, DraftAnalysis, DraftToAnalyse, FillOut, LineAnalysis, ProductOut


def analysed(kitchen: Kitchen, draft: DraftToAnalyse) -> DraftAnalysis:
    """Analyse a draft; lines that cannot be read say so and are left at what they weighed."""
    read, freezer_c = read_lines(kitchen, draft.lines), freezer_of(kitchen, draft)
    restrictions, spoons = restrictions_of(kitchen, draft), spoons_of(kitchen)
    mix = mix_of(kitchen, draft, read)
    product = product_of(mix) if mix else None
    mass_g = mix.mass_g if mix else None
    used = [line.goods for line in read if line.goods]
    parts = parts_of_lines([(line.ingredient, line.grams) for line in read])
    return DraftAnalysis(
        analysis=drawn(mix, freezer_c, kitchen.cabinet_c) if mix else None,
        beside=_beside_drawn(mix, read, freezer_c) if mix else [],
        product=ProductOut(**asdict(product)) if product else None,
        cost=_cost_of(read, product.volume_l) if product else None,
        fill=fill_drawn(mix, kept_machine(kitchen, draft.machine)) if mix else None,
        lines=[
            _line(line, strata, shares, restrictions, mass_g, spoons)
            for line, strata, shares in zip(read, parts, _shares(mix, read), strict=True)
        ],
        allergens=[allergen for allergen in ALLERGENS if any(allergen in goods.allergens for goods in used)],
        allergens_not_stated=sorted({goods.composition.name for goods in used if not goods.allergens_stated}),
        undisclosed=sorted({goods.composition.name for goods in used if goods.facts.sure == "undisclosed"}),
    )


def _shares(mix: Mix | None, read: Sequence[ReadLine]) -> list[dict[str, float]]:
    """Return what each line has its share in; nothing for what weighs nothing or stands beside the mix."""
    shares = iter(shares_of(mix).round(2).tolist() if mix else [])
    in_mix = [bool(line.goods and line.grams and line.line.stage not in BESIDE) for line in read]
    return [dict(zip(SHARES, next(shares), strict=True)) if mix and here else {} for here in in_mix]


def fill_drawn(mix: Mix, machine: Machine | None) -> FillOut | None:
    """Return how a mix fills a machine, None where none is chosen."""
    return FillOut(**asdict(fill_of(mix, machine))) if machine else None


def _line(
    line: ReadLine,
    strata: list[Part],
    shares: dict[str, float],
    restrictions: Sequence[str],
    mass_g: float | None,
    spoons: Spoons,
) -> LineAnalysis:
    return LineAnalysis(
        name=line.goods.composition.name if line.goods else line.line.ingredient,
        offends=offence_of(line, restrictions),
        dose=_dose_of(line, mass_g) if mass_g else None,
        mind=line.goods.facts.at_stage(line.line.stage) if line.goods else None,
        grams=line.grams,
        measure=measured(line.grams, line.goods.measures, spoons) if line.goods and line.grams else None,
        strata=strata,
        shares=shares,
        assumed=line.assumed,
        error=line.error,
    )


def _beside_drawn(mix: Mix, read: Sequence[ReadLine], freezer_c: float) -> list[BesideOut]:
    """Return the mix-ins and layers with the number of the line that each is."""
    numbers = [at for at, line in enumerate(read) if line.ingredient and line.grams and line.line.stage in BESIDE]
    return [
        BesideOut(line=at, share_pct=found.share_pct, said=found.said, advice=found.advice)
        for at, found in zip(numbers, beside_of(mix, freezer_c), strict=True)
    ]


def _dose_of(line: ReadLine, mix_g: float) -> Dose | None:
    """Return what a gum or the like is of the mix beside its usual dose, None where there is none."""
    if line.goods is None or line.goods.facts.dose_pct is None or not line.grams or line.line.stage in BESIDE:
        return None
    low, high = line.goods.facts.dose_pct
    return Dose(pct=100 * line.grams / mix_g, low_pct=low, high_pct=high)


def _cost_of(read: Sequence[ReadLine], volume_l: float) -> Cost | None:
    """Return what goes in costs; None where nothing has a price."""
    weighed = [(line.goods, line.grams) for line in read if line.goods and line.grams]
    priced = [(goods.price_per_kg, grams) for goods, grams in weighed if goods.price_per_kg is not None]
    if not priced:
        return None
    total = sum(price * grams / 1000 for price, grams in priced)
    unpriced = sorted({goods.composition.name for goods, _ in weighed if goods.price_per_kg is None})
    return Cost(total=total, per_litre=total / volume_l if volume_l > 0 else None, unpriced=unpriced)
