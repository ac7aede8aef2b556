"""Moves: directions in which the amounts of a mix may go, its mass kept; those of a cook, and every exchange."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Final

import numpy as np

from jalebi_core.advice.additions import MOST_SHARE_PCT, Guests, stage_for
from jalebi_core.advice.roles import LIQUIDS, STRUCTURE, role_of
from jalebi_core.assessment.flavour import flavourings_of
from jalebi_core.assessment.gums import HOT_STAGES, working_gum_share
from jalebi_core.data import read_toml
from jalebi_core.model.components import FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix

_OF_ROLE: Final = {
    "sugar": "sugar",
    "dextrose": "dextrose",
    "glucose-syrup": "glucose-syrup-de42",
    "milk": "whole-milk",
    "cream": "cream-36",
    "milk-powder": "skim-milk-powder",
    "water": "water",
    "glycerol": "glycerol",
    "plant-fat": "coconut-oil",
}
"""What comes in for a role that no line of the mix plays yet."""

_GUMS: Final = {True: "locust-bean-gum", False: "guar-gum"}
"""Which gum comes in where the mix is heated and where it is not."""

_IN_PASSING_PCT: Final = 1.0
"""So little may come for some of any line."""

_MOST_YOLK_PCT: Final = 12.0
_MOST_PCT: Final = 10.0
_SEARCHED: Final = ("sugar", "dextrose", "glucose-syrup", "milk", "cream", "milk-powder", "water")


@dataclass(frozen=True, slots=True)
class NamedMove:
    """One move of ``data/moves.toml``, which explains the fields."""

    gives: str
    takes: str
    cures: tuple[str, ...]
    ratio: float = 1.0
    most_pct: float = _MOST_PCT
    last: bool = False
    only_in: str | None = None


@dataclass(frozen=True, slots=True)
class Direction:
    """A direction: g of each column for every g that is moved, summing to 0, and the most g to move."""

    by: Mapping[int, float]
    most_g: float
    last: bool = False


@cache
def named_moves() -> tuple[NamedMove, ...]:
    """Return the moves that are tried first, from ``data/moves.toml``."""
    return tuple(NamedMove(**{**fields, "cures": tuple(fields["cures"])}) for fields in read_toml("moves.toml")["move"])


@dataclass
class Columns:
    """The lines of a mix and what may come in, as columns; those that come in are added as moves ask for them.

    ``lines`` are numbers of the mix's lines, None for what comes in; ``most_g`` how much of each a mix holds.
    """

    mix: Mix
    shelf: Mapping[str, Ingredient]
    restrictions: Sequence[str]
    lines: list[int | None] = field(default_factory=list)
    columns: list[Line] = field(default_factory=list)
    roles: list[str | None] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._known: tuple[FloatArray, FloatArray, FloatArray] | None = None
        numbers = {id(line): at for at, line in enumerate(self.mix.lines)}
        for line in self.mix.base:
            self._add(line, numbers[id(line)])
        self._guests = Guests.of(self.mix, self.restrictions)
        self._heated = any(line.stage in HOT_STAGES for line in self.mix.base)

    def _add(self, line: Line, number: int | None) -> int:
        self.lines.append(number)
        self.columns.append(line)
        self.roles.append(role_of(line.ingredient))
        return len(self.columns) - 1

    @property
    def grams(self) -> FloatArray:
        """What there is of each column, g."""
        return self._arrays()[0]

    @property
    def rows(self) -> FloatArray:
        return self._arrays()[1]

    @property
    def working_gum(self) -> FloatArray:
        """The g of gum in 100 g of each column that hold water at its stage."""
        return self._arrays()[2]

    def _arrays(self) -> tuple[FloatArray, FloatArray, FloatArray]:
        """Return grams, rows and working gum; made anew only when something has come in since."""
        if self._known is None or len(self._known[0]) != len(self.columns):
            self._known = (
                np.array([line.grams for line in self.columns]),
                np.array([line.ingredient.row for line in self.columns]),
                np.array([working_gum_share(line, self.mix) for line in self.columns]),
            )
        return self._known

    @property
    def has_milk(self) -> bool:
        return any("milk" in line.ingredient.allergens for line in self.mix.base)

    def biggest(self, wanted: str) -> int | None:
        """Return the biggest line of a role or of ingredients by slug; None where there is none."""
        found = [at for at, line in enumerate(self.columns) if line.grams > 0 and self._plays(at, wanted)]
        return max(found, key=lambda at: self.columns[at].grams, default=None)

    def _plays(self, at: int, wanted: str) -> bool:
        return wanted in (self.roles[at], self.columns[at].ingredient.slug)

    def liquid(self) -> int | None:
        """Return the line that fills up and gives way, the biggest of the thinnest kind that there is."""
        for roles in LIQUIDS:
            found = [at for role in roles if (at := self.biggest(role)) is not None]
            if found:
                return max(found, key=lambda at: self.columns[at].grams)
        return None

    def biggest_of_all(self) -> int:
        return max(range(len(self.columns)), key=lambda at: self.columns[at].grams)

    def giving(self, wanted: str) -> int | None:
        return self.liquid() if wanted == "liquid" else self.biggest(wanted)

    def taking(self, wanted: str, giver: int) -> int | None:
        """Return the column that takes: a line that is there, or what may come in; None where nothing may."""
        there = self.giving(wanted)
        if there is not None:
            return there if self._guests.welcome(self.columns[there].ingredient) else None
        slug = _GUMS[self._heated] if wanted == "gum" else _OF_ROLE.get(wanted, wanted)
        return self.coming(slug, giver) if slug in self.shelf and self._guests.welcome(self.shelf[slug]) else None

    def coming(self, slug: str, giver: int) -> int:
        """Return the column of what comes in at the stage of a line that gives way to it."""
        for at, line in enumerate(self.columns):
            if line.ingredient.slug == slug and self.lines[at] is None:
                return at
        ingredient = self.shelf[slug]
        return self._add(Line(ingredient, 0.0, stage_for(self.mix, ingredient, self.columns[giver].stage)), None)

    def room_g(self, at: int) -> float:
        """Return how much more of a column the mix holds by taste and dose, g."""
        ingredient, whole = self.columns[at].ingredient, self.mix.mass_g
        has = sum(line.grams for line in self.columns if line.ingredient.slug == ingredient.slug)
        if ingredient.facts.dose_pct:
            most = ingredient.facts.dose_pct[1]
        elif self.roles[at] == "yolk":
            most = _MOST_YOLK_PCT
        elif ingredient.facts.strength_g_kg:
            most = ingredient.facts.strength_g_kg[1] / 10
        else:
            most = MOST_SHARE_PCT.get(ingredient.slug, 100.0) if self.lines[at] is None else 100.0
            most = min(most, 2.5) if self.roles[at] == "glycerol" else most
        return max(most / 100 * whole - has, 0.0)


def named_directions(columns: Columns, fault: str) -> list[Direction]:
    """Return the directions in which a cook would go first to cure a fault such as “firmness high”."""
    found = [
        _named(columns, move)
        for move in named_moves()
        if fault in move.cures and move.only_in in (None, columns.mix.style)
    ]
    return [direction for direction in found if direction is not None]


def _named(columns: Columns, move: NamedMove) -> Direction | None:
    giver = columns.giving(move.gives)
    if giver is None and move.most_pct < _IN_PASSING_PCT:
        giver = columns.biggest_of_all()
    if giver is None:
        return None
    taker, liquid = columns.taking(move.takes, giver), columns.liquid()
    if taker is None or taker == giver:
        return None
    by = {giver: -1.0, taker: move.ratio}
    if move.ratio != 1:
        if liquid is None or liquid in by:
            by[taker] = 1.0
        else:
            by[liquid] = 1.0 - move.ratio
    last = move.last and columns.mix.style != "low-sugar"
    return _limited(columns, by, move.most_pct, last=last)


def _limited(columns: Columns, by: Mapping[int, float], most_pct: float, *, last: bool = False) -> Direction | None:
    """Return a direction as far as its lines and doses go; None where that is nowhere."""
    left = [columns.columns[at].grams / -rate for at, rate in by.items() if rate < 0]
    room = [columns.room_g(at) / rate for at, rate in by.items() if rate > 0]
    most = min([most_pct / 100 * columns.mix.mass_g, *left, *room])
    return Direction(by, most, last) if most > 1e-3 * columns.mix.mass_g or most_pct < 1 < most * 100 else None


def searched_directions(columns: Columns) -> list[Direction]:
    """Return every exchange of a line that builds the mix for another that is there or common."""
    roles = [role for role in _SEARCHED if role != "water" or not columns.has_milk]
    found = []
    for giver in [at for at, line in enumerate(columns.columns) if columns.roles[at] in STRUCTURE and line.grams > 0]:
        for role in roles:
            taker = columns.taking(role, giver)
            if taker is not None and taker != giver:
                found.append(_limited(columns, {giver: -1.0, taker: 1.0}, 2 * _MOST_PCT))
    return [direction for direction in found if direction is not None]


def flavour_direction(columns: Columns, flavouring: str, *, more: bool) -> Direction | None:
    """Return the direction that brings more or less of a flavouring, the liquid making room or filling up."""
    carriers = [
        at
        for at, line in enumerate(columns.columns)
        if line.grams > 0 and any(one.name == flavouring for one in flavourings_of(line.ingredient))
    ]
    if not carriers:
        return None
    carrier = max(carriers, key=lambda at: columns.columns[at].grams)
    other = columns.liquid()
    if other is None or other == carrier:
        others = [at for at, role in enumerate(columns.roles) if at != carrier and role in (*STRUCTURE, "fruit")]
        other = max(others, key=lambda at: columns.columns[at].grams, default=None)
    if other is None:
        return None
    by = {other: -1.0, carrier: 1.0} if more else {carrier: -1.0, other: 1.0}
    giver = columns.columns[other if more else carrier]
    return Direction(by, min(giver.grams, 0.4 * columns.mix.mass_g))


def whole_moves(columns: Columns, directions: Sequence[Direction]) -> FloatArray:
    """Return by how much each direction moves each column at its end, g, shape (directions, columns)."""
    moves = np.zeros((len(directions), len(columns.columns)))
    for number, direction in enumerate(directions):
        for at, rate in direction.by.items():
            moves[number, at] = rate * direction.most_g
    return moves


def as_weighed(now: FloatArray, grams: FloatArray, whole_g: float) -> FloatArray:
    """Round amounts that change to what is weighed with care, shape (many, columns), the mass kept.

    From a fiftieth of the mix to a thousandth of it, below that ten times finer, and finer still for gums; what is
    left over goes to the biggest line that changes.
    """
    unit = 10.0 ** np.round(np.log10(max(whole_g, 1e-3)) - 3)
    changed = np.abs(grams - now) > 1e-9
    sizes = np.maximum(grams, now)
    grain = np.where(sizes >= 20 * unit, unit, np.where(sizes >= 4 * unit, unit / 10, unit / 20))
    rounded = np.where(changed, np.round(grams / grain) * grain, grams)
    left = whole_g - rounded.sum(axis=1)
    biggest = np.argmax(np.where(changed, sizes, -1.0), axis=1)
    rounded[np.arange(len(rounded)), biggest] += left
    return np.asarray(np.where(np.abs(rounded - now) > 1e-9, np.round(rounded, 6), now))
