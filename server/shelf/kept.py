"""A kitchen's shelf and machines in memory, read again only when the database says that they changed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from jalebi_core.components import FloatArray
from jalebi_core.composition import WIDTH
from jalebi_core.freezing_power import freezing_power_pac
from jalebi_core.goods import Goods
from jalebi_core.machines import Machine
from jalebi_core.naming import Names
from jalebi_core.recipe.reading import ShelfWords
from jalebi_core.restrictions import offence
from jalebi_core.shelf import shelf as shelf_that_ships
from jalebi_core.strata import STRATA, by_stratum
from jalebi_core.sweetness import sweetness_pod
from kitchens.models import Kitchen
from kitchens.models import Machine as MachineRow

from .models import Ingredient


@dataclass(frozen=True, slots=True)
class Place:
    """Where goods stand on the shelf beside what the core knows of them."""

    at: int
    also: tuple[str, ...]
    put_away: bool
    own: bool


class KeptShelf:
    """All goods of a kitchen by slug, an index of their names, and what each brings as arrays."""

    def __init__(self, rows: list[Ingredient]) -> None:
        self.goods: Mapping[str, Goods] = {row.slug: row.to_goods() for row in rows}
        self.places = {
            row.slug: Place(at, tuple(row.also), row.put_away, row.slug not in shelf_that_ships())
            for at, row in enumerate(rows)
        }

    @cached_property
    def _rows(self) -> FloatArray:
        return np.array([goods.composition.row for goods in self.goods.values()]).reshape(-1, WIDTH)

    @cached_property
    def strata(self) -> FloatArray:
        """g by stratum of 100 g of everything, shape (goods, strata)."""
        return by_stratum(self._rows)

    @cached_property
    def sweetness(self) -> FloatArray:
        """POD of everything, shape (goods,)."""
        return sweetness_pod(self._rows)

    @cached_property
    def freezing_power(self) -> FloatArray:
        """PAC of everything, shape (goods,)."""
        return freezing_power_pac(self._rows)

    @cached_property
    def words(self) -> ShelfWords:
        """Names, measures and kinds of all that is not put away, as reading a recipe needs them."""
        shown = {slug: goods for slug, goods in self.goods.items() if not self.places[slug].put_away}
        return ShelfWords(
            Names({slug: (goods.composition.name, *self.places[slug].also) for slug, goods in shown.items()}),
            {slug: goods.measures for slug, goods in shown.items()},
            {slug: goods.kind for slug, goods in shown.items()},
        )

    def found(self, wanted: str, brings: str, diet: list[str], own: bool) -> list[str]:
        """Return slugs: those that answer ``wanted`` best first, else those that bring most, else all by name."""
        if wanted.strip():
            slugs = [match.slug for match in self.words.names.ranked(wanted, len(self.goods), typing=True)]
        else:
            slugs = [slug for slug in self.goods if not self.places[slug].put_away]
        if brings:
            column = self.strata[:, list(STRATA).index(brings)]
            slugs = [slug for slug in slugs if column[self.places[slug].at] >= 1]
            if not wanted.strip():
                slugs.sort(key=lambda slug: -column[self.places[slug].at])
        if own:
            slugs = [slug for slug in slugs if self.places[slug].own]
        return [slug for slug in slugs if not any(offence(self.goods[slug], key) for key in diet)]


@lru_cache(maxsize=64)
def _kept(kitchen_id: int, _shelf_version: int) -> KeptShelf:
    return KeptShelf(list(Ingredient.objects.filter(kitchen_id=kitchen_id)))


def kept_shelf(kitchen: Kitchen) -> KeptShelf:
    """Return a kitchen's shelf, remembered until the database says that it changed."""
    return _kept(kitchen.pk, kitchen.shelf_version)


def goods_of(kitchen: Kitchen) -> Mapping[str, Goods]:
    """Return what is on a kitchen's shelf by slug."""
    return kept_shelf(kitchen).goods


@lru_cache(maxsize=64)
def _machines(kitchen_id: int, _shelf_version: int) -> Mapping[int, Machine]:
    return {row.pk: row.to_core() for row in MachineRow.objects.filter(kitchen_id=kitchen_id)}


def kept_machine(kitchen: Kitchen, number: int | None) -> Machine | None:
    """Return a machine of a kitchen by its number, remembered like its shelf; None where there is none."""
    return None if number is None else _machines(kitchen.pk, kitchen.shelf_version).get(number)
