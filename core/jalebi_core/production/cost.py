"""What a mix costs: its ingredients as bought, by batch, kg and litre.

line = g / (1 − trim) × price per g; kg = mass × (1 − loss); litres = volume of the product × (1 − loss). Where a line
has no price the sum is not known, and what is known is the least it can be.
"""

from __future__ import annotations

from dataclasses import dataclass

from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.production.mix_ins import product_of


@dataclass(frozen=True, slots=True)
class Cost:
    """What a mix costs in the kitchen's currency.

    lines : of each line, None where it has no price; 0 g cost nothing
    ingredients, per_kg, per_litre : None while a line has no price
    at_least : the sum of what is known
    not_priced : names of the ingredients without a price
    litres : what lands in the tub, with air and mix-ins, after losses
    """

    lines: tuple[float | None, ...]
    ingredients: float | None
    at_least: float
    per_kg: float | None
    per_litre: float | None
    not_priced: tuple[str, ...]
    litres: float


def line_cost(ingredient: Ingredient, grams: float) -> float | None:
    """Return what some g of an ingredient cost as bought, what is trimmed away included; None without a price."""
    if grams == 0:
        return 0.0
    return None if ingredient.used_price_per_kg is None else grams / 1000 * ingredient.used_price_per_kg


def cost_of(mix: Mix, loss_pct: float) -> Cost:
    """Return what a mix with its mix-ins costs; ``loss_pct`` is what stays in pot, sieve and machine."""
    lines = tuple(line_cost(line.ingredient, line.grams) for line in mix.lines)
    at_least = sum(cost for cost in lines if cost is not None)
    missing = {line.ingredient.name: None for line, cost in zip(mix.lines, lines, strict=True) if cost is None}
    whole = None if missing else at_least
    product = product_of(mix)
    kg, litres = (amount * (1 - loss_pct / 100) for amount in (product.mass_g / 1000, product.volume_l))
    return Cost(
        lines,
        whole,
        at_least,
        None if whole is None else whole / kg,
        None if whole is None or litres <= 0 else whole / litres,
        tuple(missing),
        litres,
    )
