"""Jobs in one press: what a cook asks for in words, as requests to the same solver."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from jalebi_core.advice.additions import MOST_SHARE_PCT, ingredients_to_try
from jalebi_core.advice.first_drafts import as_weighed
from jalebi_core.balance.quantities import quantity_of
from jalebi_core.balance.request import Aim, BalanceRequest, Limits, Share
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat, msnf, protein, total_solids
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.firmness import firmness
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.sweetness import sweetness_pod

_LESS_SWEET: Final = 0.88
_MORE_FRUIT: Final = 1.15
_RICHER_G: Final = 3.0
_SOFTER: Final = 5.0
_SOFTEST: Final = 60.0
_BIG: Final = 0.2
_A_LITTLE: Final = 0.1
_MOST_MSNF: Final = 11.5
_NO_FAT_G: Final = 0.5
_SOUR_PCT: Final = 2.5
_SAME: Final = {"fat": 0.6, "total_solids": 1.2, "sweetness": 0.6, "scoop_c": 0.4, "protein": 0.5}
"""How far a figure may move and still eat the same, either way; working conventions."""

_FIGURES: Final = {"fat": fat, "total_solids": total_solids, "sweetness": sweetness_pod, "protein": protein}

_STAYS: Final = frozenset(
    ("flavour", "infusion", "mineral", "acid", "spirit", "cocoa", "nut", "egg", "sweetener", "mix-in")
)
"""Kinds that carry taste or custom: a job leaves them as they are."""


_SEASONING: Final = frozenset(("gum", "starch", "mineral", "acid"))
_TASTED: Final = frozenset(("honey", "molasses", "muscovado"))
"""Sweeteners that are there for their taste."""


@dataclass(frozen=True, slots=True)
class Job:
    """A job: what it is called, what it needs beside the mix, and the request it makes.

    ``asks`` is nothing, a line, a line and ingredients, or a line and grams.
    """

    key: str
    name: str
    asks: str
    request: Callable[[JobContext], BalanceRequest]


@dataclass(frozen=True, slots=True)
class JobContext:
    """What a job is asked for: the mix, the freezer, the shelf, and its line, ingredients or grams where it needs them.

    ``stock_g`` is what is in the house, by slug; ``wanted`` are those that a kitchen lets come in, by slug, the common
    ones where it names none.
    """

    mix: Mix
    freezer_c: float
    shelf: Mapping[str, Ingredient]
    restrictions: Sequence[str] = ()
    line: int | None = None
    ingredient: Ingredient | None = None
    grams: float | None = None
    stock_g: Mapping[str, float] | None = None
    wanted: Sequence[str] = ()

    def the_line(self) -> int:
        if (
            self.line is None
            or not 0 <= self.line < len(self.mix.lines)
            or self.mix.lines[self.line].stage in MIX_IN_STAGES
        ):
            raise BalanceError("line-missing")
        return self.line

    def common(self) -> tuple[Ingredient, ...]:
        """Return the common ingredients that may come in: none that offends, brings an allergen or alcohol anew."""
        held = ("low-sugar",) if self.mix.style == "low-sugar" else ()
        wanted = self.wanted or [slug for slug in MOST_SHARE_PCT if slug not in _NOT_IN_JOBS]
        slugs = ingredients_to_try(self.mix, self.shelf, (*self.restrictions, *held), wanted)
        here = {line.ingredient.slug for line in self.mix.lines}
        return tuple(self.shelf[slug] for slug in slugs if slug not in here)


_NOT_IN_JOBS: Final = frozenset(("neutral-spirit-40", "guar-gum", "locust-bean-gum", "glycerol"))


def figure(mix: Mix, of: str) -> float:
    """Return what a job's aim is now."""
    row = mix.row()
    if of == "scoop_c":
        return quantity_of(of, None, mix, ()).of_row(row)
    return float(_FIGURES[of](row))


def as_now(mix: Mix, *keys: str) -> tuple[Aim, ...]:
    """Return aims that keep figures as they are, as far as nobody would notice."""
    found = ((key, figure(mix, key)) for key in keys)
    return tuple(Aim(key, value - _SAME[key], value + _SAME[key]) for key, value in found)


def pins_of_taste(mix: Mix, *moving: int) -> dict[int, Limits]:
    """Return limits for the lines that a job leaves as they are; big ones that carry flavour may move by a tenth."""
    return {
        number: _little(line.grams) if line.grams > _BIG * mix.mass_g else Limits.pinned(line.grams)
        for number, line in enumerate(mix.lines)
        if number not in moving and line.stage not in MIX_IN_STAGES and _stays(line)
    }


_GOVERNED: Final = {
    "stratum-milk-fat": ("fat", "total_solids"),
    "stratum-egg": ("fat", "total_solids", "protein"),
    "stratum-sugars": ("sweetness", "total_solids", "scoop_c"),
    "stratum-milk-solids": ("total_solids", "protein"),
    "stratum-other": ("total_solids",),
    "stratum-spirit": ("scoop_c",),
}
"""What moves along with a stratum, and so cannot stay as it is."""

_BRINGS_PCT: Final = 10.0


def alone(context: JobContext, aims: tuple[Aim, ...]) -> BalanceRequest:
    """Return a request for these aims under which the rest of the mix eats as it does, as far as anyone notices."""
    governed = {key for aim in aims for key in _GOVERNED.get(aim.of, (aim.of,))}
    kept = as_now(context.mix, *(key for key in _SAME if key not in governed))
    moving = (
        number
        for number, line in enumerate(context.mix.lines)
        if any(_brings(context.mix, line, aim.of) >= _BRINGS_PCT for aim in aims)
    )
    return BalanceRequest(context.mix, (*aims, *kept), pins_of_taste(context.mix, *moving), may_add=context.common())


def _brings(mix: Mix, line: Line, of: str) -> float:
    """Return how much of a linear quantity 100 g of a line bring; none of one that is not."""
    quantity = quantity_of(of, None, mix, ())
    return quantity.of_row(line.ingredient.row) if quantity.linear else 0.0


def seasoning(mix: Mix, aims: Sequence[Aim]) -> dict[int, Limits]:
    """Return pins for gums, starch, salt and the like, which nobody means to move unless they are aimed at."""
    aimed = {aim.of for aim in aims}
    free = aimed & {"hydrocolloids", "emulsifiers", "starch", "sodium_chloride"}
    return {
        number: Limits.pinned(line.grams)
        for number, line in enumerate(mix.lines)
        if not free
        and line.stage not in MIX_IN_STAGES
        and line.ingredient
        and line.ingredient.kind in _SEASONING
        and line.ingredient.slug not in aimed
    }


def _little(grams: float) -> Limits:
    return Limits((1 - _A_LITTLE) * grams, (1 + _A_LITTLE) * grams)


def _stays(line: Line) -> bool:
    if not line.ingredient.slug or line.ingredient.kind in _STAYS or line.ingredient.slug in _TASTED:
        return True
    facts = line.ingredient.facts
    sour = float(line.ingredient.row[INDEX["acids"]]) >= _SOUR_PCT
    return sour or bool(facts.strength_g_kg or facts.flavourings or facts.dose_pct)


def _job(
    mix: Mix, aims: tuple[Aim, ...], context: JobContext, limits: Mapping[int, Limits] | None = None
) -> BalanceRequest:
    """Return a request that guards against sand too: no more milk solids than the style has, or than there are now."""
    has = float(msnf(mix.row()))
    most = max(has, mix.bands.get("msnf", (0.0, _MOST_MSNF))[1])
    guarded = (*aims, Aim("msnf", high=most)) if has > 0 else aims
    return BalanceRequest(mix, guarded, pins_of_taste(mix) if limits is None else limits, may_add=context.common())


def _less_sweet(context: JobContext) -> BalanceRequest:
    now = figure(context.mix, "sweetness")
    aims = (Aim("sweetness", 0.0, now * _LESS_SWEET), *as_now(context.mix, "scoop_c", "fat", "total_solids"))
    return _job(context.mix, aims, context)


def _softer(context: JobContext) -> BalanceRequest:
    row = context.mix.row()
    now = float(firmness(row, frozen_at(row, context.freezer_c), np.array(context.mix.overrun_used_pct)))
    aim = Aim("firmness", min(_SOFTEST, now - _SOFTER), max(min(now - _SOFTER, 75.0), _SOFTEST), at_c=context.freezer_c)
    band = context.mix.bands.get("sweetness", (0.0, figure(context.mix, "sweetness") + 1.5))
    most = max(band[1], figure(context.mix, "sweetness"))
    aims = (aim, Aim("sweetness", band[0], most), *as_now(context.mix, "fat"))
    return _job(context.mix, aims, context)


def _richer(context: JobContext) -> BalanceRequest:
    return _fatter(context, _RICHER_G)


def _leaner(context: JobContext) -> BalanceRequest:
    return _fatter(context, -_RICHER_G)


def _fatter(context: JobContext, by: float) -> BalanceRequest:
    now = figure(context.mix, "fat")
    if now < _NO_FAT_G:
        raise BalanceError("fat-cannot-move", now=now)
    wanted = max(now + by, now / 2)
    aims = (Aim("fat", wanted - 0.3, wanted + 0.3), *as_now(context.mix, "scoop_c", "sweetness"))
    return _job(context.mix, aims, context)


def _use_up(context: JobContext) -> BalanceRequest:
    """One line at what there is of it, the mix as big as that makes it, no more of the others than is in the house."""
    number = context.the_line()
    line = context.mix.lines[number]
    if context.grams is None or not 0 < context.grams <= 1e6:
        raise BalanceError("grams-missing")
    if line.grams <= 0:
        raise BalanceError("line-weighs-nothing", name=line.ingredient.name)
    times = context.grams / line.grams
    grown = tuple(
        replace(one, grams=context.grams if at == number else as_weighed(one.grams * times))
        for at, one in enumerate(context.mix.lines)
    )
    mix = replace(context.mix, lines=grown)
    limits = pins_of_taste(mix, number) | {number: Limits.pinned(context.grams)}
    for at, one in enumerate(grown):
        if (
            at != number
            and context.stock_g
            and one.ingredient.slug in context.stock_g
            and one.stage not in MIX_IN_STAGES
        ):
            limits[at] = Limits(0.0, context.stock_g[one.ingredient.slug])
    aims = as_now(mix, "scoop_c", "sweetness", "fat", "total_solids")
    return replace(_job(mix, aims, context, limits), origin=context.mix)


def _replace(context: JobContext) -> BalanceRequest:
    number = context.the_line()
    if context.ingredient is None:
        raise BalanceError("replacement-missing")
    line = context.mix.lines[number]
    other = context.mix.replacing(number, replace(line, ingredient=context.ingredient))
    aims = as_now(context.mix, "scoop_c", "sweetness", "fat", "total_solids", "protein")
    return _job(other, aims, context, pins_of_taste(other, number))


def _fit(context: JobContext) -> BalanceRequest:
    """Ingredients of another make at the same amount: the rest makes up for the difference."""
    request = _replace(context)
    number = context.the_line()
    pinned = {**request.limits, number: Limits.pinned(context.mix.lines[number].grams)}
    return replace(request, limits=pinned)


def _without(context: JobContext) -> BalanceRequest:
    number = context.the_line()
    if sum(line.stage not in MIX_IN_STAGES for line in context.mix.lines) < 2:
        raise BalanceError("only-line")
    aims = as_now(context.mix, "scoop_c", "sweetness", "fat", "total_solids")
    limits = pins_of_taste(context.mix, number) | {number: Limits(0.0, 0.0)}
    return _job(context.mix, aims, context, limits)


def _cheaper(context: JobContext) -> BalanceRequest:
    aims = as_now(context.mix, "scoop_c", "sweetness", "fat", "total_solids", "protein")
    priced = tuple(ingredient for ingredient in context.common() if ingredient.price_per_kg is not None)
    pins = {number: Limits.pinned(context.mix.lines[number].grams) for number in pins_of_taste(context.mix)}
    return replace(_job(context.mix, aims, context, pins), may_add=priced, cost_first=True)


def _more_fruit(context: JobContext) -> BalanceRequest:
    fruit = tuple(
        number
        for number, line in enumerate(context.mix.lines)
        if line.ingredient.kind == "fruit" and line.stage not in MIX_IN_STAGES and line.ingredient.facts.strength_g_kg
    )
    if not fruit:
        raise BalanceError("no-fruit")
    now = 100 * sum(context.mix.lines[number].grams for number in fruit) / context.mix.mass_g
    least = min(now * _MORE_FRUIT, 90.0)
    aims = as_now(context.mix, "scoop_c", "sweetness", "total_solids")
    limits = pins_of_taste(context.mix, *fruit) | {number: Limits(context.mix.lines[number].grams) for number in fruit}
    return replace(_job(context.mix, aims, context, limits), shares=(Share(fruit, least),))


JOBS: Final = {
    job.key: job
    for job in (
        Job("less-sweet", "Less sweet, same scoop", "", _less_sweet),
        Job("softer", "Softer from my freezer", "", _softer),
        Job("richer", "Richer, same scoop", "", _richer),
        Job("leaner", "Leaner, same scoop", "", _leaner),
        Job("more-fruit", "More fruit", "", _more_fruit),
        Job("cheaper", "Cheaper, same eating", "", _cheaper),
        Job("use-up", "Use up what I have", "line and grams", _use_up),
        Job("fit", "Fit it to another make", "line and ingredient", _fit),
        Job("replace", "Replace an ingredient", "line and ingredient", _replace),
        Job("without", "Without an ingredient", "line", _without),
    )
}


def request_of(job: str, context: JobContext) -> BalanceRequest:
    """Return the request of a job; raises BalanceError for an unknown job or one that this mix has no room for."""
    known = JOBS.get(job)
    if known is None:
        raise BalanceError("unknown-job", job=job[:40], jobs=tuple(JOBS))
    return known.request(context)
