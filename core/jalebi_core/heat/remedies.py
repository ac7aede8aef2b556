"""What would make a run freeze that does not: a colder base, a smaller batch, longer freezing, more runs, more ice."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from math import ceil, floor
from typing import Final, Literal

import numpy as np

from jalebi_core.heat.churn import Churned, Churner, Conditions, churn, fill_of
from jalebi_core.heat.enthalpy import Thermal
from jalebi_core.heat.ice_bath import IceBath, IceLoad, ice_for

CHURNING_LOSS: Final = 1.5
"""Heat that ice and salt take up beside that of the mix as it is churned."""
HARDENING_LOSS: Final = 2.5
"""The same as it stands for hours to harden."""
BUCKET_C: Final = -12.0
"""Of the bath of a bucket or a bag when most of its ice has melted."""
_HOURS: Final = (8.0, 10.0, 12.0, 16.0, 24.0)
_COLD_BASE_C: Final = (4.0, 2.0)
_MOST_RUNS: Final = 4
_SMALLEST_SHARE: Final = 0.3
_LARGEST_SHARE: Final = 0.9
"""Of the bowl, taken up by a run with its air: less than that the blade hardly reaches, more runs over."""
_ROUNDED_TO_G: Final = 10
_TRIES: Final = 6


RemedyKind = Literal["colder-base", "freeze-longer", "more-ice", "smaller", "runs"]


@dataclass(frozen=True, slots=True)
class Remedy:
    """One change that lets a run be drawn: its ``kind``, what is changed to what, and the run then.

    ``kind`` is freeze-longer (h), smaller (g), colder-base (°C), runs (a number) or more-ice (g of ice; ``ice``).
    """

    kind: RemedyKind
    to: float
    run: Churned
    ice: IceLoad | None = None


def remedies(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> tuple[Remedy, ...]:
    """Return what would let a run be drawn that is not, each tried by a run; none where it is drawn."""
    if churn(mix, mass_g, machine, conditions).drawn:
        return ()
    fits = fill_of(mix, mass_g, machine) <= 1
    found = [
        *(_colder_base(mix, mass_g, machine, conditions) if fits else ()),
        *(_longer(mix, mass_g, machine, conditions) if fits else ()),
        *(_more_ice(mix, mass_g, machine, conditions) if fits else ()),
        *_smaller(mix, mass_g, machine, conditions),
        *_more_runs(mix, mass_g, machine, conditions),
    ]
    return tuple(found)


def load_for(mix: Thermal, mass_g: float, start_c: float, loss: float = CHURNING_LOSS) -> IceLoad:
    """Return the ice and salt that churn a mass in a bucket: down to where it is drawn, losses in."""
    drawn_c = float(np.interp(27.0, mix.ice_g[::-1], mix.t_c[::-1]))
    from_h, to_h = mix.h_at(np.array([start_c, drawn_c]))
    return ice_for(max(0.0, float(from_h - to_h)) * mass_g / 1000 * loss, min(BUCKET_C, drawn_c))


def _colder_base(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Iterator[Remedy]:
    for celsius in _COLD_BASE_C:
        if celsius < conditions.start_c - 1:
            run = churn(mix, mass_g, machine, replace(conditions, start_c=celsius))
            if run.drawn:
                yield Remedy("colder-base", celsius, run)
                return


def _longer(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Iterator[Remedy]:
    if machine.gel_kg <= 0:
        return
    begun = conditions.prefreeze_h if conditions.gel_frozen_pct is None else 0.0
    for hours in _HOURS:
        if hours > begun:
            run = churn(mix, mass_g, machine, replace(conditions, prefreeze_h=hours, gel_frozen_pct=None))
            if run.drawn:
                yield Remedy("freeze-longer", hours, run)
                return


def _more_ice(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Iterator[Remedy]:
    if conditions.bath is None:
        return
    load = load_for(mix, mass_g, conditions.start_c)
    run = churn(mix, mass_g, machine, replace(conditions, bath=IceBath.of(load.ice_g, salt_g=load.salt_g)))
    if run.drawn:
        yield Remedy("more-ice", load.ice_g, run, load)


def _smaller(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Iterator[Remedy]:
    """Find the largest batch that is drawn, not so small that the blade hardly reaches it."""
    least = ceil(_SMALLEST_SHARE * machine.bowl_l * mix.density_kg_m3 / _ROUNDED_TO_G) * _ROUNDED_TO_G
    low, high = float(least), min(mass_g, _LARGEST_SHARE * machine.bowl_l * mix.density_kg_m3)
    found = churn(mix, low, machine, conditions)
    if low >= high or not found.drawn:
        return
    if churn(mix, high, machine, conditions).drawn:
        low = high
    for _ in range(_TRIES if low < high else 0):
        middle = (low + high) / 2
        if churn(mix, middle, machine, conditions).drawn:
            low = middle
        else:
            high = middle
    grams = float(max(floor(low / _ROUNDED_TO_G) * _ROUNDED_TO_G, least))
    yield Remedy("smaller", grams, churn(mix, grams, machine, conditions))


def _more_runs(mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions) -> Iterator[Remedy]:
    for runs in range(2, _MOST_RUNS + 1):
        run = churn(mix, mass_g / runs, machine, conditions)
        if run.drawn and fill_of(mix, mass_g / runs, machine) <= _LARGEST_SHARE:
            yield Remedy("runs", float(runs), run)
            return
