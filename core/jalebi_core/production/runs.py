"""A mix in a machine: in how many runs, how long each takes, and what comes out of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import exp, log
from typing import Final

from jalebi_core.heat.churn import (
    LEAST_FACTOR,
    MOST_FACTOR,
    Churned,
    Churner,
    Conditions,
    churn,
    churner,
    churner_kinds,
    factor_from,
)
from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.heat.ice_bath import IceBath, IceLoad
from jalebi_core.heat.remedies import Remedy, load_for, remedies
from jalebi_core.heat.sentences import mind_churning, say_churned
from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import Fill, Machine, MachineKind, Programme, Tuning, fill_of
from jalebi_core.tasting.learning import TAIL_SD, Posterior
from jalebi_core.wording.message import Message

NEEDS_ICE: Final = ("ice-and-salt", "bag")
DRAWN_AT_MOST_C: Final = {
    "canister": -9.0, "ice-and-salt": -10.0, "bag": -9.0, "compressor": -11.0, "cook-and-freeze": -11.0,
    "batch-freezer": -10.0, "soft-serve": -9.0,
}  # fmt: skip
"""How cold a machine of a kind draws at most: what is still soft there gets no firmer in it."""
_BUCKET_L_PER_BOWL_L: Final = 1.9
"""The room for ice around a can, by the can's own volume; a working convention."""
_ICE_KG_PER_L: Final = 0.6
_STALLED_AIR: Final = 0.5
_TRAY_L: Final = 2.0
"""Of a tub that is not stirred."""


@dataclass(frozen=True, slots=True)
class RunForecast:
    """A mix in a machine.

    fill : how it fills the bowl in the fewest runs
    runs, mass_g : how many they are, and of how many g each
    run : how that goes; earliest_min and latest_min as the machine may be faster or slower, None where it stalls then
    soft : it is drawn at the coldest that such a machine works at, and is still softer than others are there
    air_pct, litres : what comes out of all runs; litres with that air
    ice : for each run, where ice and salt freeze it
    remedies : what would let it be drawn where it is not
    said, mind : in words
    """

    fill: Fill
    runs: int
    mass_g: float
    run: Churned
    earliest_min: float | None
    latest_min: float | None
    soft: bool
    air_pct: float
    litres: float
    ice: IceLoad | None
    remedies: tuple[Remedy, ...]
    said: Message
    mind: tuple[Message, ...]


def is_stirred(kind: MachineKind) -> bool:
    """Return whether a kind freezes as it stirs; a no-churn tub only hardens."""
    return kind.key in churner_kinds()


def usual_bowl_l(kind: str) -> float:
    """Return the bowl of a kind that is usual, L."""
    return churner(kind).bowl_l if kind in churner_kinds() else _TRAY_L


def forecast_run(
    mix: Mix,
    machine: Machine,
    conditions: Conditions,
    runs: int | None = None,
    programme: Programme | None = None,
    helped: bool = True,
) -> RunForecast:
    """Return how a mix freezes in a machine that stirs, in the fewest equal runs or in so many.

    Parameters
    ----------
    conditions : how each run begins; without a bath of its own a bucket or a bag gets the one that fills it
    helped : whether remedies and the earliest and latest minutes are wanted too, which takes some runs more
    """
    fill = fill_of(mix, machine)
    runs = runs or fill.runs
    mass_g = mix.mass_g / runs
    table = thermal(mix.row(), mix.overrun_used_pct)
    ice = ice_load(table, mass_g, machine, conditions.start_c) if machine.kind.key in NEEDS_ICE else None
    if ice is not None and conditions.bath is None:
        conditions = replace(conditions, bath=IceBath.of(ice.ice_g, salt_g=ice.salt_g))
    if programme is not None and programme.draw_c is not None:
        conditions = replace(conditions, draw_c=programme.draw_c)
    used = churner_of(machine, programme)
    run = churn(table, mass_g, used, conditions)
    soft = conditions.draw_c is None and run.t_c < DRAWN_AT_MOST_C[machine.kind.key]
    if soft:
        conditions = replace(conditions, draw_c=DRAWN_AT_MOST_C[machine.kind.key])
        run = churn(table, mass_g, used, conditions)
    found = remedies(table, mass_g, used, conditions) if helped and not run.drawn else ()
    edges = _edges(table, mass_g, used, conditions, machine.tuning) if helped and run.drawn else (None, None)
    air = _air_pct(machine.kind, 100 * fill.out_l * fill.runs / runs / machine.bowl_l, drawn=run.drawn)
    return RunForecast(
        fill=fill,
        runs=runs,
        mass_g=mass_g,
        run=run,
        earliest_min=edges[0],
        latest_min=edges[1],
        soft=soft,
        air_pct=air,
        litres=fill.in_l * fill.runs * (1 + air / 100),
        ice=ice,
        remedies=found,
        said=say_churned(run, conditions, found if helped else None),
        mind=tuple(mind_churning(table, mass_g, used, conditions, run)),
    )


def churner_of(machine: Machine, programme: Programme | None = None) -> Churner:
    """Return what decides how fast a machine freezes, with its learnt factor and, where one is chosen, a programme."""
    own = {"factor": machine.tuning.factor}
    if programme is not None and programme.max_min is not None:
        own["max_min"] = programme.max_min
    return churner(machine.kind.key, machine.bowl_l, **own)


def ice_load(mix: Thermal, mass_g: float, machine: Machine, start_c: float) -> IceLoad:
    """Return the ice and salt of one run: what takes up its heat, or what fills the bucket where that is more."""
    return filling_bucket(load_for(mix, mass_g, start_c), machine)


def filling_bucket(load: IceLoad, machine: Machine) -> IceLoad:
    """Return a load of ice and salt, or as much more as fills the bucket of a machine."""
    filling = 1000 * _ICE_KG_PER_L * _BUCKET_L_PER_BOWL_L * machine.bowl_l
    times = max(1.0, filling / load.ice_g) if load.ice_g > 0 else 1.0
    return replace(load, ice_g=load.ice_g * times, salt_g=load.salt_g * times)


def _edges(
    mix: Thermal, mass_g: float, machine: Churner, conditions: Conditions, tuning: Tuning
) -> tuple[float | None, float | None]:
    """Return the minutes where the machine is faster and where it is slower than it is taken to be."""
    found = (
        churn(mix, mass_g, replace(machine, factor=machine.factor * exp(by)), conditions)
        for by in (tuning.sd, -tuning.sd)
    )
    fast, slow = (run.minutes if run.drawn else None for run in found)
    return fast, slow


def _air_pct(kind: MachineKind, out_pct: float, *, drawn: bool) -> float:
    """Return the air that a kind beats in: most of it part-full, least at its most, half of that where it stalls."""
    low, high = kind.air
    if not drawn:
        return low * _STALLED_AIR
    share = (out_pct - kind.part) / (kind.most - kind.part) if kind.most > kind.part else 0.0
    return high - (high - low) * min(max(share, 0.0), 1.0)


def logged_factor(mix: Mix, machine: Machine, conditions: Conditions, minutes: float) -> float:
    """Return the factor with which a machine takes the minutes that a run of a mix was logged with."""
    table = thermal(mix.row(), mix.overrun_used_pct)
    if machine.kind.key in NEEDS_ICE and conditions.bath is None:
        load = ice_load(table, mix.mass_g, machine, conditions.start_c)
        conditions = replace(conditions, bath=IceBath.of(load.ice_g, salt_g=load.salt_g))
    return factor_from(table, mix.mass_g, churner(machine.kind.key, machine.bowl_l), conditions, minutes)


def tuning_of(found: Posterior) -> Tuning:
    """Return how fast a machine is by the ``churn_factor`` that was learnt of its minutes, 0.4 to 2.5."""
    factor = min(max(1 / found.value, LEAST_FACTOR), MOST_FACTOR)
    return Tuning(factor, log(found.high / found.low) / (2 * TAIL_SD), found.n)
