"""What a batch costs: ingredients as bought, labour and energy; what is sold of it, and what a change would do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import floor
from typing import Final

from jalebi_core.model.mix import Mix
from jalebi_core.production.mix_ins import product_of

_CLOSE: Final = 1e-9


@dataclass(frozen=True, slots=True)
class Purchase:
    """How a line is bought: the price of a pack without tax, g in it, and the % that is trimmed away."""

    price: float | None = None
    pack_g: float = 1000.0
    trim_pct: float = 0.0

    def bought_g(self, grams: float) -> float:
        """Return the g that are bought for so many that go in."""
        return grams / (1 - self.trim_pct / 100)

    def cost(self, grams: float) -> float | None:
        """Return what so many g cost; None without a price, nothing for nothing."""
        if grams == 0:
            return 0.0
        return None if self.price is None else self.bought_g(grams) / self.pack_g * self.price


@dataclass(frozen=True, slots=True)
class Sold:
    """Something sold: ml of the product, packaging, and its price with tax or the margin that it shall leave."""

    name: str
    ml: float
    packaging: float = 0.0
    price: float | None = None
    margin_pct: float | None = None


@dataclass(frozen=True, slots=True)
class Change:
    """What if: the price of a line changes by a %, or the air is another."""

    line: int | None = None
    price_pct: float | None = None
    overrun_pct: float | None = None


@dataclass(frozen=True, slots=True)
class Costing:
    """How a batch is costed: losses, attended minutes, energy, value-added tax, what is sold and what if."""

    currency: str = "€"
    loss_pct: float = 4.0
    minutes: float = 0.0
    per_hour: float = 0.0
    energy_kwh: float = 0.0
    energy_price: float = 0.0
    vat_pct: float = 0.0
    sold: tuple[Sold, ...] = ()
    what_if: tuple[Change, ...] = ()
    finished_g: float | None = None
    purchases: Mapping[int, Purchase] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class BatchCost:
    """A batch: cost of each line, what is not priced, and sums; None where something has no price.

    at_least : the ingredients that are priced
    """

    lines: tuple[float | None, ...]
    not_priced: tuple[str, ...]
    at_least: float
    ingredients: float | None
    labour: float
    energy: float
    batch: float | None
    kg: float
    litres: float

    @property
    def per_kg(self) -> float | None:
        """Return the cost of a kg of what is left after losses."""
        return None if self.batch is None else self.batch / self.kg

    @property
    def per_litre(self) -> float | None:
        """Return the cost of a litre of what is left after losses."""
        return None if self.batch is None or self.litres <= 0 else self.batch / self.litres


@dataclass(frozen=True, slots=True)
class SoldCost:
    """What a portion costs and brings, and how many whole ones a batch gives."""

    name: str
    count: int
    contents: float | None
    packaging: float
    cost: float | None
    net: float | None
    price: float | None
    profit: float | None
    margin_pct: float | None


def batch_cost(mix: Mix, costing: Costing) -> BatchCost:
    """Return what a batch of a mix costs; ``finished_g`` is what it weighs after boiling down, only water leaving."""
    bought = [costing.purchases.get(number, Purchase()) for number in range(len(mix.lines))]
    lines = tuple(how.cost(line.grams) for how, line in zip(bought, mix.lines, strict=True))
    missing = tuple(
        dict.fromkeys(line.ingredient.name for line, cost in zip(mix.lines, lines, strict=True) if cost is None)
    )
    at_least = sum(cost for cost in lines if cost is not None)
    ingredients = None if missing else at_least
    labour, energy = costing.minutes / 60 * costing.per_hour, costing.energy_kwh * costing.energy_price
    product = product_of(mix)
    finished = product.mass_g if costing.finished_g is None else costing.finished_g
    boiled_l = (product.mass_g - finished) / 1000 * (1 + mix.overrun_used_pct / 100)
    left = 1 - costing.loss_pct / 100
    return BatchCost(
        lines=lines,
        not_priced=missing,
        at_least=at_least,
        ingredients=ingredients,
        labour=labour,
        energy=energy,
        batch=None if ingredients is None else ingredients + labour + energy,
        kg=finished / 1000 * left,
        litres=(product.volume_l - boiled_l) * left,
    )


def sold_costs(cost: BatchCost, costing: Costing) -> tuple[SoldCost, ...]:
    """Return what each thing sold costs and brings."""
    return tuple(_sold(one, cost, costing.vat_pct) for one in costing.sold)


def _sold(one: Sold, cost: BatchCost, vat_pct: float) -> SoldCost:
    count = floor(1000 * cost.litres / one.ml + _CLOSE)
    vat = 1 + vat_pct / 100
    contents = None if cost.per_litre is None else cost.per_litre * one.ml / 1000
    whole = None if contents is None else contents + one.packaging
    net = one.price / vat if one.price is not None else None
    if net is None and one.margin_pct is not None and whole is not None:
        net = whole / (1 - one.margin_pct / 100)
    profit = None if net is None or whole is None else net - whole
    return SoldCost(
        name=one.name,
        count=count,
        contents=contents,
        packaging=one.packaging,
        cost=whole,
        net=net,
        price=None if net is None else net * vat,
        profit=profit,
        margin_pct=None if profit is None or not net else 100 * profit / net,
    )


def changed_costs(mix: Mix, costing: Costing) -> Sequence[tuple[Change, BatchCost]]:
    """Return what each change makes of a batch."""
    return [(change, _changed(mix, costing, change)) for change in costing.what_if]


def _changed(mix: Mix, costing: Costing, change: Change) -> BatchCost:
    if change.overrun_pct is not None:
        return batch_cost(replace(mix, overrun_pct=change.overrun_pct), costing)
    assert change.line is not None
    how = costing.purchases.get(change.line, Purchase())
    price = None if how.price is None else how.price * (1 + (change.price_pct or 0.0) / 100)
    return batch_cost(mix, replace(costing, purchases={**costing.purchases, change.line: replace(how, price=price)}))
