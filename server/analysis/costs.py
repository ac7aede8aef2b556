"""What a batch of a draft on the Bench costs: its lines, labour and energy, what is sold of it, and what if."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Annotated

from pydantic import BaseModel, Field, model_validator

from analysis.kitchen_drafts import read_in_kitchen
from analysis.schemas import Draft
from jalebi_core.model.mix import Mix
from jalebi_core.production.batch_cost import (
    BatchCost,
    Change,
    Costing,
    Purchase,
    Sold,
    batch_cost,
    changed_costs,
    sold_costs,
)
from kitchens.models import Kitchen
from kitchens.prices import VisiblePrice

Money = Annotated[float, Field(ge=0, le=1e6)]


class SoldIn(BaseModel):
    """Something sold of a batch: its ml, its packaging, and its price with tax or the margin that it shall leave."""

    name: Annotated[str, Field(max_length=80)]
    ml: Annotated[float, Field(gt=0, le=100_000)]
    packaging: Money = 0
    price: Money | None = None
    margin_pct: Annotated[float, Field(ge=-1000, le=99)] | None = None

    @model_validator(mode="after")
    def _one_of_two(self) -> SoldIn:
        if self.price is not None and self.margin_pct is not None:
            raise ValueError("has a price or a margin, not both")
        return self


class CostQuestion(Draft):
    """A draft, what is spent on a batch of it beside its ingredients, and what is sold of it."""

    minutes: Annotated[float, Field(ge=0, le=10_000)] = 0
    per_hour: Money = 0
    energy_kwh: Money = 0
    energy_price: Money = 0
    vat_pct: Annotated[float, Field(ge=0, le=100)] = 0
    sold: Annotated[list[SoldIn], Field(max_length=10, default_factory=list)]
    line: Annotated[int, Field(ge=0, lt=1000)] | None = None
    """Whose price may change, counted from 0, by ``price_pct``."""
    price_pct: Annotated[float, Field(ge=-100, le=1000)] = 10
    other_overrun_pct: Annotated[float, Field(ge=0, le=300)] | None = None


class CostLine(BaseModel):
    """A line: what goes in, what is bought for it, and what that costs."""

    line: int
    name: str
    grams: float
    bought_g: float
    cost: VisiblePrice


class SoldOut(BaseModel):
    """What a portion costs and brings, and how many whole ones a batch gives."""

    name: str
    count: int
    contents: float | None
    packaging: VisiblePrice
    cost: VisiblePrice
    net: VisiblePrice
    price: VisiblePrice
    profit: VisiblePrice
    margin_pct: VisiblePrice


class CostChange(BaseModel):
    """What a litre costs after a change."""

    per_litre: VisiblePrice
    change_per_litre: VisiblePrice


class CostSheet(BaseModel):
    """A batch in the kitchen's currency; what rests on a missing price is none."""

    lines: list[CostLine]
    not_priced: list[str]
    ingredients: VisiblePrice
    at_least: VisiblePrice
    labour: VisiblePrice
    energy: VisiblePrice
    batch: VisiblePrice
    kg: float
    litres: float
    per_kg: VisiblePrice
    per_litre: VisiblePrice
    sold: list[SoldOut]
    if_priced: CostChange | None
    if_airy: CostChange | None


def cost_sheet(kitchen: Kitchen, question: CostQuestion) -> CostSheet | None:
    """Return what a batch costs; None for a draft with nothing in it, and for who may not see prices."""
    read = read_in_kitchen(kitchen, question)
    if read.mix is None or not kitchen.shows_prices:
        return None
    mix, numbers = read.mix, read.numbers
    costing = _costing(kitchen, question, mix, numbers)
    found = batch_cost(mix, costing)
    changed = {change.line is not None: cost for change, cost in changed_costs(mix, costing)}
    return CostSheet(
        lines=[
            CostLine(
                line=numbers[at],
                name=line.ingredient.name,
                grams=line.grams,
                bought_g=costing.purchases[at].bought_g(line.grams),
                cost=found.lines[at],
            )
            for at, line in enumerate(mix.lines)
        ],
        not_priced=list(found.not_priced),
        ingredients=found.ingredients,
        at_least=found.at_least,
        labour=found.labour,
        energy=found.energy,
        batch=found.batch,
        kg=found.kg,
        litres=found.litres,
        per_kg=found.per_kg,
        per_litre=found.per_litre,
        sold=[SoldOut(**asdict(one)) for one in sold_costs(found, costing)],
        if_priced=_change(changed.get(True), found),
        if_airy=_change(changed.get(False), found),
    )


def _costing(kitchen: Kitchen, question: CostQuestion, mix: Mix, numbers: Sequence[int]) -> Costing:
    asked = question.model_dump(include={"minutes", "per_hour", "energy_kwh", "energy_price", "vat_pct"})
    what_if = []
    if question.line is not None and question.line in numbers:
        what_if.append(Change(line=numbers.index(question.line), price_pct=question.price_pct))
    if question.other_overrun_pct is not None:
        what_if.append(Change(overrun_pct=question.other_overrun_pct))
    return Costing(
        **asked,
        currency=kitchen.currency,
        loss_pct=kitchen.loss_pct,
        sold=tuple(Sold(**one.model_dump()) for one in question.sold),
        what_if=tuple(what_if),
        purchases={
            at: Purchase(line.ingredient.price_per_kg, trim_pct=line.ingredient.facts.trim_pct or 0.0)
            for at, line in enumerate(mix.lines)
        },
    )


def _change(after: BatchCost | None, before: BatchCost) -> CostChange | None:
    if after is None:
        return None
    known = after.per_litre is not None and before.per_litre is not None
    change = (after.per_litre or 0.0) - (before.per_litre or 0.0) if known else None
    return CostChange(per_litre=after.per_litre, change_per_litre=change)
