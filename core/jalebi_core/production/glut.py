"""A glut: more of an ingredient than keeps. What a mix or a preparation makes of it, and a split that is sensible.

What is churned now is as much as the machine takes in a day's work; the rest goes where it keeps: half into what is
put up in jars, half into base that is frozen. Where one of them is not made here, the others take its part.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import Machine, full_run_g
from jalebi_core.production.mix_ins import product_of

_RUNS_OF_A_DAY: Final = 3
"""What one bowl or one person churns in an afternoon, with cleaning and freezing between: a working convention."""


@dataclass(frozen=True, slots=True)
class Outlet:
    """Something that an ingredient can go into.

    holds_g : of the ingredient, in ``makes_g`` of what comes of it
    makes_l : with its air, 0 for what is no dessert
    most_g : of the ingredient, that is sensible in one go; None without a limit
    """

    holds_g: float
    makes_g: float
    makes_l: float = 0.0
    most_g: float | None = None

    def made_of(self, grams: float) -> tuple[float, float]:
        """Return the g and L that come of so much of the ingredient."""
        share = grams / self.holds_g
        return self.makes_g * share, self.makes_l * share


def outlet_of(mix: Mix, slug: str, machine: Machine | None) -> Outlet | None:
    """Return a mix as an outlet for an ingredient, None where it holds none of it."""
    holds = sum(line.grams for line in mix.lines if line.ingredient.slug == slug)
    if holds <= 0 or mix.mass_g <= 0:
        return None
    product = product_of(mix)
    most = None if machine is None else _RUNS_OF_A_DAY * full_run_g(mix, machine) * holds / mix.mass_g
    return Outlet(holds, product.mass_g, product.volume_l, most)


def split_glut(grams: float, now: Outlet | None, keeping: Sequence[Outlet]) -> tuple[float, ...]:
    """Return how a glut is best split: what goes into ``now``, then into each of ``keeping``, in g of the ingredient.

    Without anything that keeps all of it goes into ``now``, whatever its most is; without either nothing goes anywhere.
    """
    if now is None:
        return (0.0, *(grams / len(keeping) for _ in keeping))
    fresh = grams if now.most_g is None or not keeping or grams <= now.most_g else _rounded(now.most_g)
    each = _rounded((grams - fresh) / len(keeping)) if keeping else 0.0
    kept = [each] * (len(keeping) - 1)
    return (fresh, *kept, *([grams - fresh - sum(kept)] if keeping else []))


def _rounded(grams: float) -> float:
    """Return a weight as a cook would split it off."""
    step = 50.0 if grams >= 1000 else 10.0
    return step * (grams // step) if grams > step else grams
