"""A kitchen's shelf and machines in memory, read again only when the database says that they changed."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from threading import Lock
from typing import Final

import numpy as np
from django.db.models.expressions import RawSQL

from ingredients.models import Ingredient as IngredientRow
from ingredients.models import has_pack_been_read
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import WIDTH
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.physics.freezing_power import freezing_power_pac
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.production.machines import Machine
from jalebi_core.quantities.measures import measures_of
from jalebi_core.regulation.restrictions import offence
from jalebi_core.shelf.catalogue import catalogue
from jalebi_core.shelf.custom_ingredients import at_brix
from jalebi_core.shelf.ingredient_search import IngredientIndex, SearchIndex
from kitchens.learnt import NOTHING, Learnt
from kitchens.models import Kitchen
from kitchens.models import Machine as MachineRow


@dataclass(frozen=True, slots=True)
class ServingCondition:
    """Where ingredients stand on the shelf beside what the core knows of them."""

    at: int
    also: tuple[str, ...]
    put_away: bool
    own: bool
    pack_read: bool


@dataclass(frozen=True, slots=True)
class _Kept:
    """A row in memory, and the mark by which it is known whether the database has another by now."""

    mark: str
    ingredient: Ingredient
    called: tuple[str, ...]
    put_away: bool
    pack_read: bool


class ShelfCache:
    """All ingredients of a kitchen by slug, an index of their names, and what each brings as arrays."""

    def __init__(
        self, version: int, kept: Mapping[int, _Kept], learnt: Learnt = NOTHING, before: ShelfCache | None = None
    ) -> None:
        self.version = version
        self.kept = kept
        self.learnt = learnt
        self.usual: Mapping[str, Ingredient] = {row.ingredient.slug: row.ingredient for row in kept.values()}
        found = self.usual | _learnt_ingredients(self.usual, learnt)
        self.ingredients: Mapping[str, Ingredient] = {slug: _whole(one, found) for slug, one in found.items()}
        self.places = {
            row.ingredient.slug: ServingCondition(
                at, row.called[1:], row.put_away, row.ingredient.slug not in catalogue(), row.pack_read
            )
            for at, row in enumerate(kept.values())
        }
        self._names_before = before._names if before is not None and before.names == self.names else None

    @cached_property
    def names(self) -> Mapping[str, tuple[str, ...]]:
        """The names of all that is not put away, by slug."""
        return {row.ingredient.slug: row.called for row in self.kept.values() if not row.put_away}

    @cached_property
    def _names(self) -> IngredientIndex:
        """An index of names: that of the shelf before where no name has changed, as with most changes."""
        return IngredientIndex(self.names) if self._names_before is None else self._names_before

    @cached_property
    def _rows(self) -> FloatArray:
        return np.array([ingredient.composition.row for ingredient in self.ingredients.values()]).reshape(-1, WIDTH)

    @cached_property
    def strata(self) -> FloatArray:
        """g by stratum of 100 g of everything, shape (ingredients, strata)."""
        return by_stratum(self._rows)

    @cached_property
    def sweetness(self) -> FloatArray:
        """POD of everything, shape (ingredients,)."""
        return sweetness_pod(self._rows)

    @cached_property
    def freezing_power(self) -> FloatArray:
        """PAC of everything, shape (ingredients,)."""
        return freezing_power_pac(self._rows)

    @cached_property
    def without_prices(self) -> Mapping[str, Ingredient]:
        """All ingredients by slug, as those see them who may not see prices."""
        return {slug: replace(one, price_per_kg=None) for slug, one in self.ingredients.items()}

    @cached_property
    def words(self) -> SearchIndex:
        """Names, measures and kinds of all that is not put away, as reading a recipe needs them."""
        shown = {slug: self.ingredients[slug] for slug in self.names}
        return SearchIndex(
            self._names,
            {slug: ingredient.measures for slug, ingredient in shown.items()},
            {slug: ingredient.kind for slug, ingredient in shown.items()},
        )

    def found(self, wanted: str, brings: str, diet: list[str], own: bool) -> list[str]:
        """Return slugs: those that answer ``wanted`` best first, else those that bring most, else all by name."""
        if wanted.strip():
            slugs = [match.slug for match in self.words.names.ranked(wanted, len(self.ingredients), typing=True)]
        else:
            slugs = [slug for slug in self.ingredients if not self.places[slug].put_away]
        if brings:
            column = self.strata[:, list(STRATA).index(brings)]
            slugs = [slug for slug in slugs if column[self.places[slug].at] >= 1]
            if not wanted.strip():
                slugs.sort(key=lambda slug: -column[self.places[slug].at])
        if own:
            slugs = [slug for slug in slugs if self.places[slug].own]
        return [slug for slug in slugs if not any(offence(self.ingredients[slug], key) for key in diet)]


def _learnt_ingredients(usual: Mapping[str, Ingredient], learnt: Learnt) -> dict[str, Ingredient]:
    """Return by slug the ingredients that are others here than usual: fruit as it is read, pieces as they are weighed,
    flavours as strong as they are liked.

    Fruit that was read too far from its kind to be reckoned from it stays as it was.
    """
    found: dict[str, Ingredient] = {}
    for slug, brix in learnt.brix.items():
        if slug in usual:
            with suppress(CompositionError):
                fruit = usual[slug].composition
                found[slug] = replace(usual[slug], composition=at_brix(fruit, brix, fruit.name))
    for (slug, piece), grams in learnt.piece_g.items():
        if slug in usual:
            known = found.get(slug, usual[slug])
            composition = replace(known.composition, pieces={**(known.composition.pieces or {}), piece: grams})
            found[slug] = replace(known, composition=composition, measures=measures_of(composition))
    for slug, ladder in learnt.strength_g_kg.items():
        if slug in usual:
            known = found.get(slug, usual[slug])
            found[slug] = replace(known, facts=replace(known.facts, strength_g_kg=ladder))
    return found


def _of_shelf(learnt: Learnt) -> tuple[object, ...]:
    return learnt.piece_g, learnt.brix, learnt.strength_g_kg


def _whole(ingredient: Ingredient, shelf: Mapping[str, Ingredient]) -> Ingredient:
    """Return an ingredient with all that it is made of, also what its preparations are made of."""
    if not ingredient.made_of:
        return ingredient
    made_of, waiting = set(ingredient.made_of), list(ingredient.made_of)
    while waiting:
        inner = shelf[slug].made_of - made_of if (slug := waiting.pop()) in shelf else frozenset()
        made_of |= inner
        waiting.extend(inner)
    return replace(ingredient, made_of=frozenset(made_of))


MOST_SHELVES: Final = 16
"""Kitchens whose shelf a worker keeps, of some 10 MB for five thousand ingredients; the one not used longest goes."""
_shelves: OrderedDict[int, ShelfCache] = OrderedDict()
_reading = Lock()


def shelf_of(kitchen: Kitchen) -> ShelfCache:
    """Return a kitchen's shelf; after a change only the rows that are others than before are read again."""
    learnt = kitchen.learnt
    with _reading:
        shelf = _shelves.get(kitchen.pk)
        if shelf is None or shelf.version != kitchen.shelf_version:
            shelf = _shelves[kitchen.pk] = _read(kitchen, learnt, shelf)
        elif _of_shelf(shelf.learnt) != _of_shelf(learnt):
            shelf = _shelves[kitchen.pk] = ShelfCache(shelf.version, shelf.kept, learnt, shelf)
        _shelves.move_to_end(kitchen.pk)
        while len(_shelves) > MOST_SHELVES:
            _shelves.popitem(last=False)
        return shelf


def _read(kitchen: Kitchen, learnt: Learnt, before: ShelfCache | None) -> ShelfCache:
    """Read a shelf: a row is known to be as it was by the transaction that wrote it and the place where it lies.

    The transaction alone would not do: it may write a row, read the shelf, and write the row again.
    """
    rows = IngredientRow.objects.of(kitchen)
    marked = rows.annotate(mark=RawSQL("ingredients_ingredient.xmin::text || ingredients_ingredient.ctid::text", ()))
    marks: dict[int, str] = dict(marked.values_list("pk", "mark"))
    kept = {} if before is None else before.kept
    stale = [key for key, mark in marks.items() if key not in kept or kept[key].mark != mark]
    fresh = {row.pk: row for row in (rows if len(stale) == len(marks) else rows.filter(pk__in=stale))}
    there = [key for key in marks if key in fresh or key in kept]
    now = {key: _kept(fresh[key], marks[key]) if key in fresh else kept[key] for key in there}
    return ShelfCache(kitchen.shelf_version, now, learnt, before)


def _kept(row: IngredientRow, mark: str) -> _Kept:
    ingredient = row.to_core()
    called = (ingredient.composition.name, *row.also)
    return _Kept(mark, ingredient, called, row.put_away, has_pack_been_read(row))


def ingredients_of(kitchen: Kitchen) -> Mapping[str, Ingredient]:
    """Return what is on a kitchen's shelf by slug."""
    return shelf_of(kitchen).ingredients


def shown_ingredients(kitchen: Kitchen) -> Mapping[str, Ingredient]:
    """Return what is on a kitchen's shelf by slug, without prices where who asks may not see them."""
    shelf = shelf_of(kitchen)
    return shelf.ingredients if kitchen.shows_prices else shelf.without_prices


@lru_cache(maxsize=64)
def _machines(kitchen_id: int, _shelf_version: int) -> Mapping[int, Machine]:
    return {row.pk: row.to_core() for row in MachineRow.objects.of(kitchen_id)}


def machines_of(kitchen: Kitchen) -> Mapping[int, Machine]:
    """Return the machines of a kitchen by their numbers, remembered like its shelf, as fast as their minutes say."""
    tuning = kitchen.learnt.tuning
    known = _machines(kitchen.pk, kitchen.shelf_version)
    return {number: replace(one, tuning=tuning.get(number, one.tuning)) for number, one in known.items()}


def cached_machine(kitchen: Kitchen, number: int | None) -> Machine | None:
    """Return a machine of a kitchen by its number; None where there is none."""
    return None if number is None else machines_of(kitchen).get(number)
