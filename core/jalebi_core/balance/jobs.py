"""Jobs in one press: what a cook asks for in words, as requests to the same solver."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Final

import numpy as np

from jalebi_core.advice.first_drafts import as_weighed
from jalebi_core.advice.moves import Columns
from jalebi_core.advice.roles import STRUCTURE, role_of
from jalebi_core.balance.ceilings import usual_most_pct
from jalebi_core.balance.job_context import JobContext, as_now, figure, numbers_of, pins_of_taste, request_for
from jalebi_core.balance.pulls import centred
from jalebi_core.balance.quantities import FLAVOUR
from jalebi_core.balance.request import Aim, BalanceRequest, Limits, Share
from jalebi_core.balance.steadying import steadying_of
from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import fat
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.firmness import firmness
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.wording.message import Message

_LESS_SWEET: Final = 0.88
_MORE_FRUIT: Final = 1.15
_RICHER_G: Final = 3.0
_SOFT: Final = (67.0, 71.0)
_SOFTER: Final = 5.0
_SOFTEST: Final = 60.0
_HALF_OF_IT: Final = 0.5
_MOST_OF_IT: Final = 0.85
"""How much of a line others take the place of at least: half of what builds a mix, most of what it tastes of."""
_NO_FAT_G: Final = 0.5


@dataclass(frozen=True, slots=True)
class Job:
    """A job: what it is called, what it needs beside the mix, and the request it makes.

    ``asks`` is nothing, a line, a line and ingredients, or a line and grams.
    """

    key: str
    name: str
    asks: str
    request: Callable[[JobContext], BalanceRequest]


def _less_sweet(context: JobContext) -> BalanceRequest:
    now = figure(context.mix, "sweetness")
    aims = (Aim("sweetness", now * (2 * _LESS_SWEET - 1), now * _LESS_SWEET),)
    return request_for(context.mix, aims, as_now(context.anchor, "scoop_c", "fat", "total_solids"), context)


def _softer(context: JobContext) -> BalanceRequest:
    row = context.mix.row()
    now = float(firmness(row, frozen_at(row, context.freezer_c), np.array(context.mix.overrun_used_pct)))
    if now <= _SOFTEST:
        raise BalanceError("soft-enough", now=now)
    low, high = _SOFT if now > _SOFT[1] else (max(now - _SOFTER - 1, _SOFTEST), now - _SOFTER + 1)
    aim = Aim("firmness", low, max(high, low + 1), at_c=context.freezer_c)
    sweet = figure(context.mix, "sweetness")
    band = context.mix.bands.get("sweetness", (0.0, sweet + 1.5))
    sweetness = Aim("sweetness", min(band[0], sweet), max(band[1], sweet))
    return request_for(context.mix, (aim,), as_now(context.anchor, "fat"), context, bounds=(sweetness,))


def _richer(context: JobContext) -> BalanceRequest:
    return _fatter(context, _RICHER_G)


def _leaner(context: JobContext) -> BalanceRequest:
    return _fatter(context, -_RICHER_G)


def _fatter(context: JobContext, by: float) -> BalanceRequest:
    now = figure(context.mix, "fat")
    if now < _NO_FAT_G:
        raise BalanceError("fat-cannot-move", now=now)
    wanted = max(now + by, now / 2)
    aims = (Aim("fat", wanted - 0.3, wanted + 0.3),)
    return request_for(context.mix, aims, as_now(context.anchor, "scoop_c", "sweetness"), context)


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
    limits = pins_of_taste(mix, number) | {number: Limits.pinned(context.grams, by_rule=True)}
    for at, one in enumerate(grown):
        if (
            at != number
            and context.stock_g
            and one.ingredient.slug in context.stock_g
            and one.stage not in MIX_IN_STAGES
        ):
            limits[at] = Limits(0.0, context.stock_g[one.ingredient.slug])
    same = as_now(mix, "scoop_c", "sweetness", "fat", "total_solids")
    return replace(request_for(mix, (), same, replace(context, like=mix), limits), origin=context.mix)


def _replace(context: JobContext) -> BalanceRequest:
    """Other ingredients in the place of a line: enough to do its work, or as much of them as a mix bears."""
    number = context.the_line()
    request = _with_other(context, {})
    line, other = context.mix.lines[number], request.mix.lines[number].ingredient
    same = line.grams * _does(line.ingredient, line.ingredient) / max(_does(other, line.ingredient), _LEAST_DOES)
    most = usual_most_pct(other) / 100 * context.mix.mass_g
    tasted = role_of(line.ingredient) not in STRUCTURE
    least = min((_MOST_OF_IT if tasted else _HALF_OF_IT) * same, most, 0.9 * context.mix.mass_g)
    notes = (Message("no-more-of-it", {"name": other.name, "most_g": most}),) if most < same else ()
    limits = {**request.limits, number: Limits(least, max(most, least), by_rule=True)}
    return replace(request, limits=limits, notes=notes)


_LEAST_DOES: Final = 1.0


def _does(ingredient: Ingredient, role: Ingredient) -> float:
    """Return how much 100 g do of what a line is there for: gum, sweetness, fat, or simply mass."""
    row = ingredient.row
    part = role_of(role)
    if part == "gum":
        return float(row[INDEX["hydrocolloids"]])
    if part in ("sugar", "dextrose", "glucose-syrup", "polyol"):
        return float(sweetness_pod(row))
    return float(fat(row)) if part in ("cream", "plant-cream", "plant-fat") else 100.0


def _with_other(context: JobContext, limits: Mapping[int, Limits]) -> BalanceRequest:
    """Return a request in which other ingredients stand in the place of a line and the mix eats the same."""
    number = context.the_line()
    if context.ingredient is None:
        raise BalanceError("replacement-missing")
    line = context.mix.lines[number]
    other = context.mix.replacing(number, replace(line, ingredient=context.ingredient))
    same = as_now(context.anchor, "scoop_c", "sweetness", "fat", "total_solids", "protein")
    kept = {**pins_of_taste(other, number), **limits}
    request = request_for(other, (), same, replace(context, like=context.anchor), kept)
    return replace(request, may_add=tuple(one for one in request.may_add if one.slug != context.ingredient.slug))


def _fit(context: JobContext) -> BalanceRequest:
    """Ingredients of another make, which may give a little themselves: the rest makes up for the difference."""
    grams = context.mix.lines[context.the_line()].grams
    return _with_other(context, {context.the_line(): Limits((1 - _GIVES) * grams, (1 + _GIVES) * grams, by_rule=True)})


_GIVES: Final = 0.25
_DOSED_TO_PCT: Final = 0.005
_NEAR_ENOUGH: Final = 0.2
"""A gum that is there at nearly its dose stays as it is."""


def _without(context: JobContext) -> BalanceRequest:
    number = context.the_line()
    if sum(line.stage not in MIX_IN_STAGES for line in context.mix.lines) < 2:
        raise BalanceError("only-line")
    same = as_now(context.anchor, "scoop_c", "sweetness", "fat", "total_solids")
    limits = pins_of_taste(context.mix, number) | {number: Limits.pinned(0.0, by_rule=True)}
    return request_for(context.mix, (), same, context, limits)


def _cheaper(context: JobContext) -> BalanceRequest:
    """The same eating for less; what has no price stays, as nobody knows what moving it would cost."""
    same = as_now(context.anchor, "scoop_c", "sweetness", "fat", "total_solids", "protein")
    priced = tuple(ingredient for ingredient in context.common() if ingredient.price_per_kg is not None)
    stay = set(pins_of_taste(context.mix))
    unpriced = [at for at in numbers_of(context.mix) if context.mix.lines[at].ingredient.used_price_per_kg is None]
    pins = {at: Limits.pinned(context.mix.lines[at].grams, by_rule=True) for at in stay | set(unpriced)}
    if len(unpriced) == len(numbers_of(context.mix)):
        raise BalanceError("nothing-priced")
    names = [context.mix.lines[at].ingredient.name for at in unpriced]
    notes = (Message("unpriced-stay", {"names": names}),) if names else ()
    request = request_for(context.mix, (), same, context, pins)
    middles = set(centred(same, context.mix))
    pulls = tuple(pull for pull in request.pulls if pull not in middles)
    return replace(request, may_add=priced, cost_first=True, pulls=pulls, notes=notes)


def _steady(context: JobContext) -> BalanceRequest:
    """Gum or a pair of gums by how the mix is made; the liquid makes room and nothing else moves."""
    found = steadying_of(context.mix, context.freezer_c, context.shelf, context.restrictions, context.fine_scale_g)
    here = {line.ingredient.slug: at for at, line in enumerate(context.mix.lines) if line.stage not in MIX_IN_STAGES}
    whole = context.mix.mass_g
    doses = {slug: 100 * grams / whole for slug, grams in found.grams.items()}
    for slug in doses.keys() & here.keys():
        now = context.mix.lines[here[slug]].grams
        if abs(now / found.grams[slug] - 1) <= _NEAR_ENOUGH:
            doses[slug] = 100 * now / whole
    aims = tuple(Aim(slug, dose - _DOSED_TO_PCT, dose + _DOSED_TO_PCT) for slug, dose in doses.items())
    numbers = numbers_of(context.mix)
    liquid = Columns(context.mix, context.shelf, ()).liquid()
    gives = numbers[liquid] if liquid is not None else max(numbers, key=lambda at: context.mix.lines[at].grams)
    moving = {gives, *(here[slug] for slug in found.grams if slug in here)}
    pins = {at: Limits.pinned(context.mix.lines[at].grams, by_rule=True) for at in numbers if at not in moving}
    coming = tuple(context.shelf[slug] for slug in found.grams if slug not in here)
    return BalanceRequest(context.mix, aims, pins, may_add=coming, max_new=len(coming), notes=found.notes)


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
    same = as_now(context.anchor, "scoop_c", "sweetness", "total_solids")
    limits = pins_of_taste(context.mix, *fruit) | {number: Limits(context.mix.lines[number].grams) for number in fruit}
    request = request_for(context.mix, (), same, context, limits)
    dosed = {f"{FLAVOUR}{context.mix.lines[number].ingredient.name}" for number in fruit}
    pulls = tuple(pull for pull in request.pulls if pull.of not in dosed)
    return replace(request, shares=(Share(fruit, least),), pulls=pulls)


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
        Job("steady", "Steady it with a gum", "", _steady),
    )
}


def request_of(job: str, context: JobContext) -> BalanceRequest:
    """Return the request of a job; raises BalanceError for an unknown job or one that this mix has no room for."""
    known = JOBS.get(job)
    if known is None:
        raise BalanceError("unknown-job", job=job[:40], jobs=tuple(JOBS))
    return known.request(context)
