"""How a service is made in its kitchen: what is prepared for it, cooling without a bath, how long it tempers."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, floor
from typing import Any, Final

from django.utils import timezone

from ingredients.models import Ingredient
from ingredients.preparations import KIND
from ingredients.schemas import Preparation
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.pot import POTS, conductance_w_k, cool, mixed_c
from jalebi_core.heat.tub import tempering_min
from jalebi_core.model.errors import PlanError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import NOT_HEATED
from kitchens.models import Kitchen
from stock.models import stock_by_slug

_POT_C: Final = 85.0
_COLD_C: Final = 4.0
_PLANNED: Final = {"reduce": "reduce", "cook": "reduce", "steep": "steep", "macerate": "macerate"}
_NOT_SAID_KEEPS_DAYS: Final = 3
_MOST_KEEPS_MIN: Final = 7 * 1440
_TEMPER_WITHIN_MIN: Final = 120
_GRID_MIN: Final = 5


@dataclass(frozen=True, slots=True)
class Preparations:
    """The preparations of a kitchen by slug, and what of each is in the house."""

    rows: dict[str, Preparation]
    there: dict[str, float]

    @classmethod
    def of(cls, kitchen: Kitchen) -> Preparations:
        """Return what a kitchen prepares itself."""
        rows = Ingredient.objects.of(kitchen).filter(kind=KIND, put_away=False).values_list("slug", "made_from")
        made = {slug: Preparation.model_validate(made_from) for slug, made_from in rows if made_from}
        return cls(made, stock_by_slug(kitchen, timezone.localdate()) if made else {})

    def to_make(self, needed: dict[str, float]) -> dict[str, float]:
        """Return what of what is needed must be prepared, g by slug."""
        short = {slug: grams - self.there.get(slug, 0.0) for slug, grams in needed.items() if slug in self.rows}
        return {slug: grams for slug, grams in short.items() if grams > 0}

    def steps_for(self, needed: dict[str, float]) -> list[dict[str, Any]]:
        """Return the steps of all that must be prepared, as a plan file has them."""
        found = []
        for slug in self.to_make(needed):
            made = self.rows[slug]
            days = _NOT_SAID_KEEPS_DAYS if made.keeps_days is None else made.keeps_days
            kinds = [_PLANNED[step.kind] for step in made.steps if step.kind in _PLANNED]
            keeps = [60] * (len(kinds) - 1) + [min(1440 * days, _MOST_KEEPS_MIN)]
            found += [{"kind": kind, "keeps_min": keep} for kind, keep in zip(kinds, keeps, strict=False)]
        return found


def cooled_without_bath(mix: Mix, name: str) -> dict[str, Any]:
    """Return how a pot is cooled in the fridge, and in how many minutes; raises PlanError where that is too slow.

    What goes in cold off the heat, such as cream, is stirred in first.
    """
    table, mass_g = thermal(mix.row(), 0.0), mix.mass_g
    cold_g = sum(line.grams for line in mix.base if line.stage in NOT_HEATED)
    start_c = mixed_c(table, ((mass_g - cold_g, _POT_C), (cold_g, _COLD_C))) if 0 < cold_g < mass_g else _POT_C
    found = cool(table, mass_g, start_c, conductance_w_k(table, mass_g, "fridge"), POTS["fridge"][1])
    minutes = found.reached_min[2]
    if minutes is None or not found.two_stage_ok:
        raise PlanError("plan-cannot-cool", mix=name, mass_g=mass_g)
    way = "cold-cream-then-fridge" if cold_g > 0 else "stand-then-fridge"
    return {"cool": way, "minutes": {"cool": _GRID_MIN * ceil(minutes / _GRID_MIN)}}


def tempering(mix: Mix, freezer_c: float) -> list[int] | None:
    """Return from when to when a tub from the freezer scoops in the fridge, in minutes; None where nothing is known."""
    found = tempering_min(mix, freezer_c, "fridge")
    if found is None:
        return None
    least = _GRID_MIN * ceil(max(found[0], _GRID_MIN) / _GRID_MIN)
    most = _GRID_MIN * floor(min(found[1], _TEMPER_WITHIN_MIN) / _GRID_MIN)
    return [least, most] if least <= most else None
