"""The steps of a mix file as data: ``jalebi.steps``, see docs/file-formats.md."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Final

from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.tub import Vessel as Tub
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.production.machines import Machine, fill_of, machine_kinds
from jalebi_core.production.making.flow import Pour, Take
from jalebi_core.production.making.layout import making_way
from jalebi_core.production.making.method import Made, make
from jalebi_core.production.making.steps import MakingBench, MakingStep
from jalebi_core.production.runs import forecast_run, is_stirred, usual_bowl_l
from jalebi_core.production.scaling import KitchenConstants
from jalebi_core.wording.message import words

VERSION: Final = 1
COOLING: Final = ("ice-bath", "stand-then-fridge", "cold-cream-then-fridge")
"""How a hot base is cooled, the ways that a plan knows too."""
_USUAL: Final = "compressor"
_MOST_RUNS: Final = 50
_HALF_LITRE: Final = Tub(110.0, 85.0)


def steps_bench(mix: Mix, kind: str | None = None, litres: float | None = None, cool: str = "ice-bath") -> MakingBench:
    """Return the bench that a mix is made at where no kitchen says which.

    Parameters
    ----------
    kind : of the machine, the usual one where nothing is said; litres : of its bowl; cool : one of `COOLING`

    Raises
    ------
    MixError : a kind or a way to cool that is not known; MachineError for a bowl that cannot be
    """
    if cool not in COOLING:
        raise MixError("unknown-choice", value=cool[:40], kind="way to cool", known=COOLING)
    if kind is not None and kind not in machine_kinds():
        raise MixError("unknown-choice", value=kind[:40], kind="kind of machine", known=tuple(machine_kinds()))
    cooling = MakingBench(
        KitchenConstants(),
        cool="ice-bath" if cool == "ice-bath" else "fridge",
        holds_back=cool == "cold-cream-then-fridge",
        tub=_HALF_LITRE,
    )
    churned = (
        making_way(mix) != "whip" and mix.style != "granita" and (kind is None or is_stirred(machine_kinds()[kind]))
    )
    if not churned:
        return cooling
    known = machine_kinds()[kind or _USUAL]
    machine = Machine("machine", known, litres or usual_bowl_l(known.key))
    runs = min(fill_of(mix, machine).runs, _MOST_RUNS)
    run = forecast_run(mix, machine, Conditions(), runs)
    return replace(cooling, machine=machine, run=run, runs=runs)


def steps_report(mix: Mix, bench: MakingBench) -> dict[str, Any]:
    """Return how a mix is made as plain data of the format ``jalebi.steps``."""
    made = make(mix, bench)
    return {
        "format": "jalebi.steps",
        "version": VERSION,
        "name": mix.name,
        "way": made.way,
        "machine": None if bench.machine is None else bench.machine.kind.key,
        "refused": [
            {"rule": one.rule, "line": one.line, "said": words(one.message), "instead": list(one.instead)}
            for one in made.refused
        ],
        "vessels": [{"id": one.id, "name": one.name, "litres": one.litres} for one in made.vessels],
        "steps": [_step(one) for one in made.steps],
        "base_g": _base_g(mix, made),
        "checks": [{"rule": one.rule, "ok": one.ok, "said": words(one.message)} for one in made.checks],
    }


def _base_g(mix: Mix, made: Made) -> float:
    """Return what the base weighs once all of it is together, less what is sieved out."""
    removed = sum(one.grams for step in made.steps for one in step.work.removes)
    return mix.mass_g - removed


def _step(step: MakingStep) -> dict[str, Any]:
    work = step.work
    weighing = step.weighing
    minutes = None if step.least_min is None and step.most_min is None else [step.least_min, step.most_min]
    return {
        "id": step.id,
        "part": step.part,
        "kind": step.kind,
        "title": words(step.title),
        "do": [words(one) for one in step.do],
        "why": None if step.why is None else words(step.why),
        "cue": None if step.cue is None else words(step.cue),
        "warnings": [words(one) for one in step.mind],
        "in": work.vessel,
        "takes": [_take(one) for one in work.takes],
        "pours": [_pour(one) for one in work.pours],
        "removes": [{"line": one.line, "grams": one.grams} for one in work.removes],
        "reaches_c": work.reaches_c,
        "not_above_c": work.not_above_c,
        "hold_min": work.hold_min,
        "cools_to_c": work.cools_to_c,
        "minutes": minutes,
        "weigh": None
        if weighing is None
        else {"target_g": weighing.target_g, "low_g": weighing.low_g, "high_g": weighing.high_g},
        "critical": step.critical,
        "readings": [
            {"key": one.key, "unit": one.unit, "target": one.target, "low": one.low, "high": one.high}
            for one in step.readings
        ],
    }


def _take(take: Take) -> dict[str, Any]:
    return {"line": take.line, "grams": take.grams, "from": take.source, "to": take.vessel}


def _pour(pour: Pour) -> dict[str, Any]:
    return {"from": pour.source, "to": pour.vessel, "grams": pour.grams}
