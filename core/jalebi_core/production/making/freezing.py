"""From the fridge to the spoon: ageing, churning by kind of machine, packing with layers, hardening and tempering."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, inf
from typing import Final

from jalebi_core.heat.churn import Conditions, churn
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.tub import HARD_C, Place, Vessel, filling_of, follow, tempering_min
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.flow import TUBS, Pour, Work
from jalebi_core.production.making.layout import Layout
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, say
from jalebi_core.production.mix_ins import product_of
from jalebi_core.production.runs import NEEDS_ICE, RunForecast, churner_of
from jalebi_core.production.schedule.expansion import usual_age_min, usual_keeps_min
from jalebi_core.production.schedule.mix_facts import facts_of
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_BASE_C: Final = Conditions().start_c
WARMEST_BASE_C: Final = 5.0
_WARMER_K: Final = 4.0
_DRAW_SPAN_K: Final = 0.5
_LAYERS_OF_ICE: Final = 3
_LIFT_MM: Final = 25.0
_WATERY_SOLIDS_PCT: Final = 32.0
_HAS_SETTINGS: Final = ("compressor", "batch-freezer", "soft-serve", "cook-and-freeze")
_PRECOOL: Final = {"compressor": 15.0, "batch-freezer": 5.0, "soft-serve": 5.0}
_USUAL_TUB: Final = Vessel(55.0, 85.0)
_LONGEST_H: Final = 48.0
_SOFT_K: Final = 3.0
"""By how much the core of a tub that never gets hard may be warmer than the air about it."""
_WAITING_FOR: Final = {"gums": "the gums", "gelatin": "the gelatin", "milk": "the milk fat", "egg": "the yolk"}
_FREEZES_BY_HAND: Final = "bag"
_PREFREEZE_MIN: Final = 720.0
_UNTIL_MORNING_MIN: Final = 720.0
_SPARE_K: Final = 0.1
_FRESH_MIN: Final = 30.0
_LEAST_MIN: Final = 1.0


def ageing_step(mix: Mix, way: str, bench: MakingBench) -> MakingStep:
    """Return the wait in the fridge, with its least and its most."""
    has = facts_of(mix).has
    least = bench.age_min if bench.age_min is not None else usual_age_min(has)
    usual = usual_keeps_min(way)
    most = bench.keeps_min if bench.keeps_min is not None else usual
    if way == "blend":
        most = min(most, usual)  # nobody's signature keeps longer what was never heated
    waits = [name for key, name in _WAITING_FOR.items() if key in has]
    return step(
        "age",
        plan="age",
        facts={"hours": most / 60, "what": waits[:2]},
        do=[say("age", "do")],
        why=say("age", "why", what=waits[:2]) if waits else say("age", "why-cold"),
        least_min=float(min(least, most)),
        most_min=float(most),
        work=Work(_base_vessel(way)),
    )


def _base_vessel(way: str) -> str:
    return "blender" if way == "blend" else "pot"


def churning_steps(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield every run: clean, cold, loaded, churned, packed and into the freezer."""
    machine, run = bench.machine, bench.run
    if machine is None or run is None:
        return
    kind = machine.kind.key
    hard_min = None if bench.fresh else _hardens(mix, bench, run.run.t_c)
    if kind != "canister":
        yield clean_step(bench, machine.name)
    for number in range(1, bench.runs + 1):
        if number == 1 and kind in _PRECOOL:
            minutes = _PRECOOL[kind]
            yield step(
                "precool",
                do=[say("precool", "do", machine=in_sentence(machine.name), minutes=minutes)],
                least_min=minutes,
            )
        if number > 1 and kind == "canister":
            yield step(
                "prefreeze",
                name=f"prefreeze.{number}",
                part="churn",
                do=[say("prefreeze", "do-again", freezer_c=bench.freezer_c)],
                least_min=_PREFREEZE_MIN,
            )
        yield _rouse(mix, layout, bench, run, number)
        if kind in NEEDS_ICE and kind != _FREEZES_BY_HAND and run.ice is not None:
            yield _load(run, number)
        if kind == "canister":
            yield step(
                "bowl-out",
                name=f"bowl-out.{number}",
                plan=f"churn.{number}",
                do=[say("bowl-out", "do", machine=in_sentence(machine.name))],
            )
        yield _churn(mix, layout, bench, run, number)
        yield _pack(mix, layout, bench, number, "machine")
        if hard_min is not None:
            yield _harden(bench, number, run.run.t_c, hard_min)
    if bench.fresh:
        yield serving_step()


def serving_step() -> MakingStep:
    """Return the serving of what is eaten fresh."""
    return step("serve", do=[say("serve", "do"), say("serve", "do-hold", minutes=_FRESH_MIN)], most_min=_FRESH_MIN)


def packing_steps(
    mix: Mix, layout: Layout, bench: MakingBench, start_c: float, source: str, after: str
) -> Iterator[MakingStep]:
    """Yield packing and hardening of what no machine froze; ``after`` is the plan's step in whose end it is packed."""
    yield _pack(mix, layout, bench, 1, source, after)
    if not bench.fresh:
        yield _harden(bench, 1, start_c, _hardens(mix, bench, start_c))


def _pack(
    mix: Mix, layout: Layout, bench: MakingBench, number: int, source: str, after: str | None = None
) -> MakingStep:
    """Return the packing of one run; ``after`` is the plan's step in whose last minutes it is packed."""
    tub = bench.tub or _USUAL_TUB
    product = product_of(mix)
    litres = product.volume_l / bench.runs
    count = max(ceil(litres / tub.litres - 0.1), 1)
    grams = product.mass_g / bench.runs / count
    layered = [mix.lines[at] for at in layout.lines_in("layers")]
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
    last = number == bench.runs
    pours = [Pour(source, TUBS)]
    if layered:
        pours.append(Pour("layers", TUBS, None if last else layout.grams_in("layers") / bench.runs))
    return step(
        "pack",
        name=f"pack.{number}",
        plan=after or f"churn.{number}",
        do=do,
        lines=layout.lines_in("layers"),
        readings=[] if bench.fresh else [Reading("tubs", "tubs", float(count))],
        most_min=10.0,
        method=bench.method.get("layer", ()),
        work=Work(TUBS, pours=tuple(pours)),
    )


def tempering_step(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield the wait before it is served, where it does not scoop straight from the freezer."""
    found = None if bench.fresh else tempering_min(mix, bench.freezer_c, "fridge")
    if found is None:
        return
    filling = filling_of(mix)
    word = firmness_word(float(filling.firmness_at(filling.mix.t_c)[filling.mix.t_c.searchsorted(bench.freezer_c)]))
    yield step(
        "temper",
        plan="temper",
        facts={"eats": word},
        do=[say("temper", "do", from_min=found[0], to_min=found[1])],
        least_min=found[0],
        most_min=found[1],
        work=Work(TUBS),
    )


def hardening_min(mix: Mix, tub: Vessel, place: Place, start_c: float) -> float | None:
    """Return the minutes until the core of a tub is hard; None where that place never gets it there."""
    return follow(filling_of(mix), tub, place, start_c, _LONGEST_H, until_c=HARD_C).core_reaches(HARD_C)


def _tubs(count: int) -> str:
    return "1 tub" if count == 1 else f"{count} tubs"


def clean_step(bench: MakingBench, machine: str) -> MakingStep:
    """Return the look at the machine, and at what it churned last."""
    do = [say("clean", "do", machine=in_sentence(machine))]
    if bench.left_allergens:
        do.append(say("clean", "do-last", name=bench.ran_before, allergens=list(bench.left_allergens)))
    return step("clean", do=do)


def _rouse(mix: Mix, layout: Layout, bench: MakingBench, run: RunForecast, number: int) -> MakingStep:
    later = _later_min(mix, bench, run)
    return step(
        "rouse",
        name=f"rouse.{number}",
        plan=f"churn.{number}",
        facts={"high_c": WARMEST_BASE_C, "warm_c": _WARMER_K, "minutes": later or 0.0},
        do=[say("rouse", "do")],
        why=say("rouse", "why-cold") if later is None else say("rouse", "why", warm_c=_WARMER_K, minutes=later),
        readings=[Reading("base_in_c", "°C", _BASE_C, None, WARMEST_BASE_C)],
        work=Work(_base_vessel(layout.way), not_above_c=WARMEST_BASE_C),
    )


def _later_min(mix: Mix, bench: MakingBench, run: RunForecast) -> float | None:
    """Return how many minutes more a run takes from a base that is some degrees warmer; None where nobody can say."""
    assert bench.machine is not None
    if bench.machine.kind.key in NEEDS_ICE or not run.run.drawn:
        return None
    conditions = Conditions(start_c=_BASE_C + _WARMER_K, freezer_c=bench.freezer_c, draw_c=run.run.t_c)
    warm = churn(thermal(mix.row(), mix.overrun_used_pct), run.mass_g, churner_of(bench.machine), conditions)
    later = warm.minutes - run.run.minutes
    return later if warm.drawn and later >= 0.5 else None


def _load(run: RunForecast, number: int) -> MakingStep:
    assert run.ice is not None
    each = {"ice_g": run.ice.ice_g / _LAYERS_OF_ICE, "salt_g": run.ice.salt_g / _LAYERS_OF_ICE}
    return step(
        "load",
        name=f"load.{number}",
        plan=f"churn.{number}",
        facts={"mass_g": run.mass_g},
        do=[say("load", "do"), say("load", "do-layers", layers=_LAYERS_OF_ICE, **each), say("load", "do-top")],
    )


def _churn(mix: Mix, layout: Layout, bench: MakingBench, run: RunForecast, number: int) -> MakingStep:
    assert bench.machine is not None
    by_hand = bench.machine.kind.key == _FREEZES_BY_HAND
    kind = "shake" if by_hand else "churn"
    draw_c, minutes = run.run.t_c, max(run.run.minutes, _LEAST_MIN)
    base_g = layout.base_g / bench.runs
    in_bucket = bench.machine.kind.key in NEEDS_ICE and not by_hand
    begins = (
        say("churn", "do-bucket", minutes=minutes) if in_bucket else say(kind, "do", mass_g=base_g, minutes=minutes)
    )
    do: list[Message] = [begins]
    if run.soft:
        do.append(say("churn", "do-soft", t_c=draw_c))
    if not by_hand:
        if run.earliest_min is not None and run.latest_min is not None:
            do.append(
                say(
                    "churn",
                    "do-range",
                    earliest=max(run.earliest_min, _LEAST_MIN),
                    latest=max(run.latest_min, _LEAST_MIN),
                )
            )
        do += _stirred_in(mix, layout, bench.runs)
        if 100 - float(mix.row()[0]) < _WATERY_SOLIDS_PCT:
            do.append(say("churn", "do-at-once"))
    last = number == bench.runs
    base = _base_vessel(layout.way)
    pours = [Pour(base, "machine", None if last else base_g)]
    pours += [
        Pour(one, "machine", None if last else layout.grams_in(one) / bench.runs)
        for one in ("cup", "box")
        if layout.lines_in(one)
    ]
    least = run.earliest_min or minutes
    return step(
        kind,
        name=f"churn.{number}",
        plan=f"churn.{number}",
        facts={"t_c": draw_c, "ice_g": run.run.ice_g},
        do=do,
        mind=(*run.mind, *(() if in_bucket else (say(kind, "mind"),))),
        lines=layout.lines_in("cup", "box"),
        readings=[
            Reading("draw_c", "°C", draw_c, draw_c - _DRAW_SPAN_K, draw_c + _DRAW_SPAN_K),
            *((Reading("setting", "text"),) if bench.machine.kind.key in _HAS_SETTINGS else ()),
        ],
        least_min=least,
        most_min=max(run.latest_min or churner_of(bench.machine).max_min, least),
        method=(*bench.method.get("churn", ()), *bench.method.get("mix-in", ())),
        work=Work("machine", pours=tuple(pours), cools_to_c=draw_c),
    )


def _stirred_in(mix: Mix, layout: Layout, runs: int) -> Iterator[Message]:
    for vessel, part in (("cup", "do-churn"), ("box", "do-mix-ins")):
        names = [f"{in_sentence(mix.lines[at].ingredient.name)}" for at in layout.lines_in(vessel)]
        if names and runs == 1:
            yield say("churn", part, names=names)
        elif names:
            yield say("churn", f"{part}-parted", names=names, grams=layout.grams_in(vessel) / runs)


def _hardens(mix: Mix, bench: MakingBench, start_c: float) -> float:
    """Return the minutes that a tub of the bench hardens for; infinite where it never gets hard there."""
    minutes = hardening_min(mix, bench.tub or _USUAL_TUB, bench.hardens_in, start_c)
    return inf if minutes is None else minutes


def _harden(bench: MakingBench, number: int, start_c: float, minutes: float) -> MakingStep:
    place, ever = bench.hardens_in, minutes < inf
    where = place.name[:1].upper() + place.name[1:]
    how = (
        say("harden", "do-soft", place=where, t_c=HARD_C)
        if not ever
        else say("harden", "do", place=where, hours=minutes / 60, t_c=HARD_C)
    )
    core_c = min(HARD_C if ever else max(place.air_c + 1, HARD_C), start_c)
    high_c = core_c if ever else core_c + _SOFT_K
    return step(
        "harden",
        name=f"harden.{number}",
        plan=f"harden.{number}",
        do=[how],
        readings=[Reading("core_c", "°C", core_c, None, high_c)],
        least_min=minutes if ever else _UNTIL_MORNING_MIN,
        work=Work(TUBS, cools_to_c=core_c),
    )
