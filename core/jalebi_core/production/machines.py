"""Machines: what a bowl holds of a mix with its air, in how many runs, and how full each is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from math import ceil, isfinite
from typing import Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.errors import MachineError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import Band
from jalebi_core.physics.density import density_kg_l

LEAST_BOWL_L: Final = 0.1
MOST_BOWL_L: Final = 500.0
_MOST_RUNS: Final = 1000


@dataclass(frozen=True, slots=True)
class MachineKind:
    """A kind of machine.

    ``least``, ``part`` and ``most`` are shares of the bowl in %, taken up by the frozen mix with its air, at which it
    begins to be part-full, nearly full and overfull; ``air`` the overrun that the kind beats in, %.
    """

    key: str
    name: str
    least: float
    part: float
    most: float
    air: Band
    before: str
    caution: str | None = None


@dataclass(frozen=True, slots=True)
class Tuning:
    """What the log of a machine says of its speed: the factor, the sd of its logarithm, and by how many runs."""

    factor: float = 1.0
    sd: float = 0.3
    runs: int = 0


@dataclass(frozen=True, slots=True)
class Programme:
    """A programme or a mark of a machine: where it draws, °C, and after how many minutes it stops, where it does."""

    name: str
    draw_c: float | None = None
    max_min: float | None = None


@dataclass(frozen=True, slots=True)
class Machine:
    """A machine: its kind and the volume of its bowl in L; raises MachineError for a bowl that cannot be."""

    name: str
    kind: MachineKind
    bowl_l: float
    tuning: Tuning = Tuning()
    programmes: tuple[Programme, ...] = ()

    def __post_init__(self) -> None:
        if not isfinite(self.bowl_l) or not LEAST_BOWL_L <= self.bowl_l <= MOST_BOWL_L:
            raise MachineError(
                "bowl-impossible", bowl_l=self.bowl_l, least_bowl_l=LEAST_BOWL_L, most_bowl_l=MOST_BOWL_L
            )


@dataclass(frozen=True, slots=True)
class Fill:
    """A mix in a machine: so many equal runs, L of each as it goes in and with its air, the same in % of the bowl.

    ``word`` is scant, part-full, nearly full or overfull; ``message`` the whole of it; ``air_message`` where the air is
    not what the machine beats in.
    """

    runs: int
    in_l: float
    out_l: float
    in_pct: float
    out_pct: float
    word: str
    message: str
    air_message: str | None


@cache
def machine_kinds() -> dict[str, MachineKind]:
    """Return the kinds of machines by key, from ``data/machines.toml``."""
    return {
        key: MachineKind(
            key,
            fields["name"],
            float(fields["least"]),
            float(fields["part"]),
            float(fields["most"]),
            (float(fields["air"][0]), float(fields["air"][1])),
            fields["before"],
            fields.get("caution"),
        )
        for key, fields in read_toml("machines.toml").items()
    }


def machine(
    name: str, kind: str, bowl_l: float, tuning: Tuning | None = None, programmes: Sequence[Programme] = ()
) -> Machine:
    """Return a machine of a kind by its key; raises MachineError for an unknown kind or a bowl that cannot be."""
    known = machine_kinds().get(kind)
    if known is None:
        raise MachineError("unknown-machine-kind", kind=kind[:40], machine_kinds=tuple(machine_kinds()))
    return Machine(name, known, bowl_l, tuning or Tuning(), tuple(programmes))


def full_run_g(mix: Mix, machine: Machine) -> float:
    """Return the g of a mix that fill a machine to its most in one run."""
    return machine.bowl_l * machine.kind.most / 100 * mix.mass_g / _with_air_l(mix)


def fill_of(mix: Mix, machine: Machine) -> Fill:
    """Return how a mix fills a machine: in the fewest equal runs of which none is overfull.

    What is folded in or layered goes into the tub, not into the machine.
    """
    in_l, out_l = _liquid_l(mix), _with_air_l(mix)
    most_l = machine.bowl_l * machine.kind.most / 100
    runs = min(max(1, ceil(out_l / most_l - 1e-9)), _MOST_RUNS)
    in_pct, out_pct = 100 * in_l / runs / machine.bowl_l, 100 * out_l / runs / machine.bowl_l
    word = _word(out_pct, machine.kind)
    return Fill(
        runs,
        in_l / runs,
        out_l / runs,
        in_pct,
        out_pct,
        word,
        _message(runs, in_pct, out_pct, word),
        _air_message(mix.overrun_used_pct, machine.kind),
    )


def class_change(before: Fill, after: Fill, machine: Machine) -> str | None:
    """Return what to mind where a machine is filled otherwise than it was; None where it is filled alike."""
    if before.word == after.word:
        return None
    was = f"{before.word} ({before.out_pct:.0f} % of the bowl)"
    now = f"{after.word} ({after.out_pct:.0f} %)"
    if after.out_pct > before.out_pct:
        mind = "it freezes more slowly, comes out warmer and takes up less air. Give it longer and check the draw"
    else:
        mind = "it freezes faster and the blade may throw it at the wall. Watch it closely and draw it earlier"
    return f"The {machine.kind.name} was {was} and is now {now}: {mind}. What worked before does not prove this fill."


def _liquid_l(mix: Mix) -> float:
    return mix.mass_g / 1000 / float(density_kg_l(np.asarray(mix.row())))


def _with_air_l(mix: Mix) -> float:
    return _liquid_l(mix) * (1 + mix.overrun_used_pct / 100)


def _word(out_pct: float, kind: MachineKind) -> str:
    if out_pct > kind.most + 1e-6:
        return "overfull"
    if out_pct > kind.part:
        return "nearly full"
    return "part-full" if out_pct >= kind.least else "scant"


def _message(runs: int, in_pct: float, out_pct: float, word: str) -> str:
    how = "one run" if runs == 1 else f"{runs} equal runs"
    each = "" if runs == 1 else "each "
    fits = "hardly reached by the blade" if word == "scant" else word
    return f"{how}, {each}{in_pct:.0f} % full, {out_pct:.0f} % with air: {fits}"


def _air_message(overrun_pct: float, kind: MachineKind) -> str | None:
    low, high = kind.air
    if low <= overrun_pct <= high:
        return None
    more = "more" if overrun_pct > high else "less"
    return f"{overrun_pct:g} % air is {more} than a {kind.name} usually beats in ({low:g}–{high:g} %)."
