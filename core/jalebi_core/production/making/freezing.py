"""From the fridge to the spoon: ageing, churning by kind of machine, packing with layers, hardening and tempering."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from math import ceil
from typing import Final

from jalebi_core.heat.churn import Conditions, churn
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.tub import Place, Vessel, filling_of, follow, tempering_min
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, say
from jalebi_core.production.mix_ins import product_of
from jalebi_core.production.runs import NEEDS_ICE, RunForecast, churner_of
from jalebi_core.production.schedule.expansion import usual_age_min, usual_keeps_min
from jalebi_core.production.schedule.mix_facts import facts_of
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

CORE_C: Final = -15.0
"""How cold the middle of a tub must be before it counts as hardened."""
_BASE_C: Final = 4.0
_WARMEST_BASE_C: Final = 6.0
_WARMER_K: Final = 4.0
_DRAW_SPAN_K: Final = 0.5
_LAYERS_OF_ICE: Final = 3
_LIFT_MM: Final = 25.0
_WATERY_SOLIDS_PCT: Final = 32.0
_HAS_SETTINGS: Final = ("compressor", "batch-freezer", "soft-serve", "cook-and-freeze")
_PRECOOL: Final = {"compressor": 15.0, "batch-freezer": 5.0, "soft-serve": 5.0}
_USUAL_TUB: Final = Vessel(55.0, 85.0)
_LONGEST_H: Final = 48.0
_WAITING_FOR: Final = {"gums": "the gums", "gelatin": "the gelatin", "milk": "the milk fat", "egg": "the yolk"}
_FREEZES_BY_HAND: Final = "bag"


def ageing_steps(mix: Mix, way: str, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield the wait in the fridge, with its least and its most."""
    has = facts_of(mix).has
    least = bench.age_min if bench.age_min is not None else usual_age_min(has)
    usual = usual_keeps_min(way)
    most = bench.keeps_min if bench.keeps_min is not None else usual
    if way == "blend":
        most = min(most, usual)  # nobody's signature keeps longer what was never heated
    waits = [name for key, name in _WAITING_FOR.items() if key in has]
    yield MakingStep(
        id="age",
        part="cool",
        kind="age",
        title=say("age", "title"),
        plan_step="age",
        do=(say("age", "do"),),
        why=say("age", "why", what=waits[:2]) if waits else None,
        mind=(say("age", "mind", hours=most / 60),),
        least_min=float(least),
        most_min=float(most),
        critical="aged",
    )


def churning_steps(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield every run: clean, cold, loaded, churned, packed and into the freezer."""
    machine, run = bench.machine, bench.run
    if machine is None or run is None:
        return
    yield _clean(bench, machine.name)
    for number in range(1, bench.runs + 1):
        kind = machine.kind.key
        if number == 1 and kind in _PRECOOL:
            minutes = _PRECOOL[kind]
            yield MakingStep(
                id="precool",
                part="churn",
                kind="precool",
                title=say("precool", "title"),
                do=(say("precool", "do", machine=in_sentence(machine.name), minutes=minutes),),
                why=say("precool", "why"),
                least_min=minutes,
            )
        yield _rouse(mix, bench, run, number)
        if kind in NEEDS_ICE and kind != _FREEZES_BY_HAND and run.ice is not None:
            yield _load(run, number)
        yield _churn(mix, bench, run, number)
        yield from packing_steps(mix, bench, number, run.run.t_c)


def packing_steps(
    mix: Mix, bench: MakingBench, number: int, start_c: float, after: str | None = None
) -> Iterator[MakingStep]:
    """Yield packing and hardening of one run; ``after`` is the plan's step in whose last minutes it is packed."""
    tub = bench.tub or _USUAL_TUB
    product = product_of(mix)
    litres = product.volume_l / bench.runs
    count = max(ceil(litres / tub.litres - 0.1), 1)
    grams = product.mass_g / bench.runs / count
    layered = [line for line in mix.mix_ins if line.stage == "layer" and line.grams > 0]
    folded = [in_sentence(line.ingredient.name) for line in mix.mix_ins if line.stage == "mix-in" and line.grams > 0]
    if bench.fresh:
        do = [say("pack", "do-fresh")]
    else:
        do = [say("pack", "do"), say("pack", "do-tubs", count=_tubs(count), tub_g=grams)]
    lifts = max(round(tub.height_mm / _LIFT_MM), 2)
    do += [
        say(
            "pack",
            "do-layers",
            lifts=lifts,
            lift_mm=tub.height_mm / lifts,
            layer_g=line.grams / bench.runs / count / (lifts - 1),
            name=in_sentence(line.ingredient.name),
        )
        for line in layered
    ]
    if folded and bench.machine is None:
        do.append(say("pack", "do-fold", names=folded))
    yield MakingStep(
        id=f"pack.{number}",
        part="pack",
        kind="pack",
        title=say("pack", "title"),
        plan_step=after or f"churn.{number}",
        do=tuple(do),
        why=say("pack", "why"),
        lines=tuple(at for at, line in enumerate(mix.lines) if line.stage == "layer" and line.grams > 0),
        readings=() if bench.fresh else (Reading("tubs", "tubs", float(count)),),
        most_min=10.0,
        method=bench.method.get("layer", ()),
    )
    if not bench.fresh:
        yield _harden(mix, bench, tub, number, start_c)


def tempering_step(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield the wait before it is served, where it does not scoop straight from the freezer."""
    found = None if bench.fresh else tempering_min(mix, bench.freezer_c, "fridge")
    if found is None:
        return
    filling = filling_of(mix)
    word = firmness_word(float(filling.firmness_at(filling.mix.t_c)[filling.mix.t_c.searchsorted(bench.freezer_c)]))
    yield MakingStep(
        id="temper",
        part="pack",
        kind="temper",
        title=say("temper", "title"),
        plan_step="temper",
        do=(say("temper", "do", from_min=found[0], to_min=found[1]),),
        why=say("temper", "why", eats=word),
        cue=say("temper", "cue"),
        least_min=found[0],
        most_min=found[1],
    )


def hardening_min(mix: Mix, tub: Vessel, place: Place, start_c: float) -> float | None:
    """Return the minutes until the core of a tub is hard; None where that place never gets it there."""
    return follow(filling_of(mix), tub, place, start_c, _LONGEST_H).core_reaches(CORE_C)


def _tubs(count: int) -> str:
    return "1 tub" if count == 1 else f"{count} tubs"


def _clean(bench: MakingBench, machine: str) -> MakingStep:
    do = [say("clean", "do", machine=in_sentence(machine))]
    if bench.left_allergens:
        do.append(say("clean", "do-last", name=bench.ran_before, allergens=list(bench.left_allergens)))
    return MakingStep(
        id="clean",
        part="churn",
        kind="clean",
        title=say("clean", "title"),
        do=tuple(do),
        why=say("clean", "why"),
        critical="allergens",
    )


def _rouse(mix: Mix, bench: MakingBench, run: RunForecast, number: int) -> MakingStep:
    later = _later_min(mix, bench, run)
    return MakingStep(
        id=f"rouse.{number}",
        part="churn",
        kind="rouse",
        title=say("rouse", "title"),
        plan_step=f"churn.{number}",
        do=(say("rouse", "do"),),
        why=say("rouse", "why-cold") if later is None else say("rouse", "why", warm_c=_WARMER_K, minutes=later),
        mind=(say("rouse", "mind", high_c=_WARMEST_BASE_C),),
        readings=(Reading("base_in_c", "°C", _BASE_C, None, _WARMEST_BASE_C),),
    )


def _later_min(mix: Mix, bench: MakingBench, run: RunForecast) -> float | None:
    """Return how many minutes more a run takes from a base that is some degrees warmer; None where nobody can say."""
    assert bench.machine is not None
    if bench.machine.kind.key in NEEDS_ICE or not run.run.drawn:
        return None
    conditions = Conditions(start_c=_BASE_C + _WARMER_K, freezer_c=bench.freezer_c, draw_c=run.run.t_c)
    warm = churn(thermal(mix.row(), mix.overrun_used_pct), run.mass_g, churner_of(bench.machine), conditions)
    usual = churn(
        thermal(mix.row(), mix.overrun_used_pct),
        run.mass_g,
        churner_of(bench.machine),
        replace(conditions, start_c=_BASE_C),
    )
    later = warm.minutes - usual.minutes
    return later if warm.drawn and later >= 0.5 else None


def _load(run: RunForecast, number: int) -> MakingStep:
    assert run.ice is not None
    each = {"ice_g": run.ice.ice_g / _LAYERS_OF_ICE, "salt_g": run.ice.salt_g / _LAYERS_OF_ICE}
    return MakingStep(
        id=f"load.{number}",
        part="churn",
        kind="load",
        title=say("load", "title"),
        plan_step=f"churn.{number}",
        do=(say("load", "do"), say("load", "do-layers", layers=_LAYERS_OF_ICE, **each), say("load", "do-top")),
        why=say("load", "why", mass_g=run.mass_g),
        mind=(say("load", "mind"),),
    )


def _churn(mix: Mix, bench: MakingBench, run: RunForecast, number: int) -> MakingStep:
    assert bench.machine is not None
    by_hand = bench.machine.kind.key == _FREEZES_BY_HAND
    kind = "shake" if by_hand else "churn"
    draw_c, minutes = run.run.t_c, run.run.minutes
    in_bucket = bench.machine.kind.key in NEEDS_ICE and not by_hand
    begins = (
        say("churn", "do-bucket", minutes=minutes) if in_bucket else say(kind, "do", mass_g=run.mass_g, minutes=minutes)
    )
    do: list[Message] = [begins]
    if not by_hand:
        if run.earliest_min is not None and run.latest_min is not None:
            do.append(say("churn", "do-range", earliest=run.earliest_min, latest=run.latest_min))
        do += _stirred_in(mix)
        if 100 - float(mix.row()[0]) < _WATERY_SOLIDS_PCT:
            do.append(say("churn", "do-at-once"))
    return MakingStep(
        id=f"churn.{number}",
        part="churn",
        kind=kind,
        title=say(kind, "title", t_c=draw_c),
        plan_step=f"churn.{number}",
        do=tuple(do),
        why=say("shake", "why") if by_hand else say("churn", "why", ice_g=run.run.ice_g),
        cue=say(kind, "cue"),
        mind=(*run.mind, *(() if in_bucket else (say(kind, "mind"),))),
        lines=tuple(at for at, line in enumerate(mix.lines) if line.stage in ("churn", "mix-in") and line.grams > 0),
        readings=(
            Reading("draw_c", "°C", draw_c, draw_c - _DRAW_SPAN_K, draw_c + _DRAW_SPAN_K),
            *((Reading("setting", "text"),) if bench.machine.kind.key in _HAS_SETTINGS else ()),
        ),
        least_min=run.earliest_min or minutes,
        most_min=run.latest_min or churner_of(bench.machine).max_min,
        method=(*bench.method.get("churn", ()), *bench.method.get("mix-in", ())),
    )


def _stirred_in(mix: Mix) -> Iterator[Message]:
    late = [in_sentence(line.ingredient.name) for line in mix.base if line.stage == "churn" and line.grams > 0]
    beside = [in_sentence(line.ingredient.name) for line in mix.mix_ins if line.stage == "mix-in" and line.grams > 0]
    if late:
        yield say("churn", "do-churn", names=late)
    if beside:
        yield say("churn", "do-mix-ins", names=beside)


def _harden(mix: Mix, bench: MakingBench, tub: Vessel, number: int, start_c: float) -> MakingStep:
    place = bench.hardens_in
    minutes = hardening_min(mix, tub, place, start_c)
    hours = (minutes if minutes is not None else 60 * _LONGEST_H) / 60
    where = place.name[:1].upper() + place.name[1:]
    return MakingStep(
        id=f"harden.{number}",
        part="pack",
        kind="harden",
        title=say("harden", "title"),
        plan_step=f"harden.{number}",
        do=(say("harden", "do", place=where, hours=hours, t_c=CORE_C),),
        why=say("harden", "why"),
        mind=(say("harden", "mind"),),
        readings=(Reading("core_c", "°C", CORE_C, None, CORE_C + 3),),
        least_min=60 * hours,
        critical="hardened",
    )
