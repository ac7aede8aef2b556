"""Pulls: what a balance holds softly beside its aims, so that nothing moves that nobody asked for."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Final

from jalebi_core.assessment.cautions import free_glucose_most
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.balance.quantities import FLAVOUR, FREE_GLUCOSE, quantity_of
from jalebi_core.balance.request import MISS_COSTS, Aim, BalanceRequest
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF, noticeable

HELD: Final = ("fat", "total_solids", "sweetness", "protein", "scoop_c")
"""Figures that stay what they are where no aim speaks of them."""

_LEAST_ROOM: Final = 0.2
_SEASONED: Final = {"sodium_chloride": 0.01, "acids": 0.02, "hydrocolloids": 0.02}
_SEASONED_SHARE: Final = 0.1
"""Components that season or bind, with the least g in 100 g by which they may move; else a tenth of them."""

_SUGARED: Final = frozenset(("sweetness", "scoop_c"))
_COLD: Final = frozenset(("scoop_c", "first_ice_c", "frozen_pct", "firmness", "freezing_power"))
_STYLE: Final = ("fat", "msnf", "sugars", "total_solids", "sweetness")
_HARDLY: Final = 0.02
"""By which share of itself a figure may move further that is out of its band already."""
_HOLD_COSTS: Final = 3.0
_CENTRE_COSTS: Final = 0.5
"""What a step of missing costs beside moving the whole mix, which costs 2."""

BOUND: Final = 20.0
"""The weight of what is not given up for any aim, whose weight is 1."""

GOVERNED: Final[Mapping[str, tuple[str, ...]]] = {
    "fat": ("total_solids",),
    "total_solids": ("protein",),
    "msnf": ("total_solids", "protein"),
    "protein": ("total_solids",),
    "lactose": ("msnf", "total_solids", "protein"),
    "sugars": ("sweetness", "total_solids", "scoop_c"),
    "bulk_sweetener": ("sweetness", "total_solids", "scoop_c"),
    "energy_kcal": ("fat", "total_solids"),
    "yolk_solids": ("fat", "total_solids", "protein"),
    "ethanol": ("scoop_c",),
    "stratum-milk-fat": ("fat", "total_solids"),
    "stratum-egg": ("fat", "total_solids", "protein"),
    "stratum-sugars": ("sugars", "sweetness", "total_solids", "scoop_c"),
    "stratum-milk-solids": ("msnf", "total_solids", "protein"),
    "stratum-other": ("total_solids",),
    "stratum-spirit": ("scoop_c",),
}
"""What moves along with an aim, and so cannot stay as it is."""


_WITHIN_BANDS: Final = frozenset(("energy_kcal",))
"""Aims that move others no further than the style allows."""


def held(request: BalanceRequest, like: Mix | None = None, kept: Iterable[str] = ()) -> BalanceRequest:
    """Return a request that also holds what its aims do not speak of: figures, flavours, the style, free glucose.

    Parameters
    ----------
    like : the mix whose figures they are held at, that of the request where none is given
    kept : what the aims keep as it is; where that is both sweetness and scooping, the sugars follow from it
    """
    mix, origin = request.mix, like or request.origin or request.mix
    spoken = {aim.of for aim in (*request.aims, *request.pulls)}
    governed = spoken.union(*(GOVERNED.get(of, ()) for of in spoken))
    if _SUGARED.issubset(kept):
        governed.add("sugars")
    pulls = [
        *_figures(origin, spoken, governed),
        *_seasoning(origin, spoken),
        *_flavours(request, origin, spoken),
        *_style(mix, origin, governed if not spoken & _WITHIN_BANDS else spoken),
        *_glucose(mix),
    ]
    return replace(request, pulls=(*request.pulls, *pulls), firm=tuple(_firm(origin, governed)))


def centred(aims: Iterable[Aim], mix: Mix) -> tuple[Aim, ...]:
    """Return pulls to the middle of aims that hold something the same."""
    pulls = []
    for aim in aims:
        middle = (aim.low + aim.high) / 2
        room = max((aim.high - aim.low) / 2, _LEAST_ROOM)
        pulls.append(replace(aim, low=middle, high=middle, weight=_weight(aim.of, mix, _CENTRE_COSTS / 2, room)))
    return tuple(pulls)


def bound(aim: Aim) -> Aim:
    """Return an aim as a bound: what no aim is worth."""
    return replace(aim, weight=BOUND)


def half_step(of: str, value: float) -> float:
    """Return by how much a held figure may move without anyone noticing."""
    step = noticeable()[of]
    return HALF * (abs(value) * step.ratio if step.ratio is not None else step.difference or 0.0)


def _weight(of: str, mix: Mix, costs: float, room: float) -> float:
    """Return the weight at which a miss of a figure by so much costs so much."""
    return costs / MISS_COSTS * quantity_of(of, None, mix, ()).scale / max(room, _LEAST_ROOM)


def _figures(origin: Mix, spoken: set[str], governed: set[str]) -> Iterable[Aim]:
    for of in HELD:
        if of in spoken or (of == "scoop_c" and governed & _COLD):
            continue
        now = quantity_of(of, None, origin, ()).of_mix(origin)
        room = half_step(of, now)
        yield Aim(of, now - room, now + room, _weight(of, origin, _HOLD_COSTS / 2, room))


def _firm(origin: Mix, governed: set[str]) -> Iterable[Aim]:
    """What nobody aims at stays within one step, as far as it does not move along with an aim."""
    for of in HELD:
        if of not in governed and not (of == "scoop_c" and governed & _COLD):
            now = quantity_of(of, None, origin, ()).of_mix(origin)
            step = half_step(of, now) / HALF
            yield bound(Aim(of, now - step, now + step))


def _seasoning(origin: Mix, spoken: set[str]) -> Iterable[Aim]:
    """Salt, acid and gum stay what they are: nobody corrects the cold with them."""
    for of, least_room in _SEASONED.items():
        if of not in spoken:
            quantity = quantity_of(of, None, origin, ())
            now = quantity.of_mix(origin)
            room = max(_SEASONED_SHARE * now, least_room)
            yield Aim(of, now - room, now + room, _HOLD_COSTS / MISS_COSTS * quantity.scale / (2 * room))


def _flavours(request: BalanceRequest, origin: Mix, spoken: set[str]) -> Iterable[Aim]:
    """Flavours keep their dose, unless the lines that bring them are asked to move."""
    asked = {number for share in request.shares for number in share.lines}
    moving = {request.mix.lines[number].ingredient.name for number in asked}
    before = {dose.flavouring: dose for dose in doses_of(origin)}
    for dose in (before.get(now.flavouring, now) for now in doses_of(request.mix)):
        of = f"{FLAVOUR}{dose.flavouring}"
        if dose.flavouring not in moving and of not in spoken and dose.g_per_kg > 0:
            room = half_step("flavour_g_kg", dose.g_per_kg)
            yield Aim(of, dose.g_per_kg - room, dose.g_per_kg + room, _HOLD_COSTS / MISS_COSTS / 2 / room)


def _style(mix: Mix, origin: Mix, governed: set[str]) -> Iterable[Aim]:
    """The bands of the style, made as wide as the mix is now."""
    for of in _STYLE:
        band = mix.bands.get(of)
        if band is not None and of not in governed:
            now = quantity_of(of, None, origin, ()).of_mix(origin)
            yield bound(Aim(of, min(band[0], (1 - _HARDLY) * now), max(band[1], (1 + _HARDLY) * now)))


def _glucose(mix: Mix) -> Iterable[Aim]:
    """Free glucose stays under its most, or where it is now."""
    of = f"{FREE_GLUCOSE}{free_glucose_most(mix):g}"
    now = quantity_of(of, None, mix, ()).of_mix(mix)
    yield bound(Aim(of, high=max(now, 0.0)))
