"""The steps of making one batch, built from its mix: none is there that this mix does not need."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.production.making.freezing import ageing_steps, churning_steps, packing_steps, tempering_step
from jalebi_core.production.making.pot import bath_ice_g, cooling_steps, pot_steps, strain_step
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, say
from jalebi_core.production.making.tasting import taste_step
from jalebi_core.production.making.weighing import weighing_steps
from jalebi_core.production.runs import NEEDS_ICE
from jalebi_core.production.schedule.expansion import way_of
from jalebi_core.production.schedule.mix_facts import facts_of
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_COLD_C: Final = 5.0
_ICE_WATER_C: Final = 0.0
_OFF_AT_MOST_K: Final = 2.0
_SPIRIT_G: Final = 5.0
_SOFT: Final = ("soft peaks", "the whisk leaves a trail and a peak that bends over")
_FIRM: Final = ("firm peaks", "a peak stands by itself")


def making_steps(mix: Mix, bench: MakingBench) -> tuple[MakingStep, ...]:
    """Return all steps of a batch in the order of the work."""
    return tuple(_steps(mix, bench))


def making_way(mix: Mix) -> str:
    """Return how a mix is made: cook, scald, syrup, blend or whip."""
    facts = facts_of(mix)
    return facts.way or way_of(mix.style or "", facts.has)


def _steps(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    way = making_way(mix)
    yield from _get_ready(mix, way, bench)
    yield from _prepare(bench)
    yield from weighing_steps(mix, bench)
    if way == "whip":
        yield from _whipped(mix, bench)
    else:
        yield from _base(mix, way, bench)
        yield from ageing_steps(mix, way, bench)
        yield from churning_steps(mix, bench) if bench.machine is not None else _unchurned(mix, bench)
    yield from tempering_step(mix, bench)


def _get_ready(mix: Mix, way: str, bench: MakingBench) -> Iterator[MakingStep]:
    heated = way in ("cook", "scald", "syrup")
    machine, run = bench.machine, bench.run
    if machine is not None and machine.kind.key == "canister":
        yield _ready(
            "prefreeze", [say("prefreeze", "do", machine=in_sentence(machine.name), freezer_c=bench.freezer_c)], 720.0
        )
    if not bench.fresh:
        names = [in_sentence(line.ingredient.name) for line in mix.mix_ins if line.grams > 0]
        yield _ready("tubs", [say("tubs", "do"), *([say("tubs", "do-mix-ins", names=names)] if names else [])])
    if heated:
        yield MakingStep(
            id="thermometer",
            part="ready",
            kind="thermometer",
            title=say("thermometer", "title"),
            do=(say("thermometer", "do"),),
            why=say("thermometer", "why", t_c=_ICE_WATER_C),
            cue=say("thermometer", "cue"),
            readings=(Reading("ice_water_c", "°C", _ICE_WATER_C, -_OFF_AT_MOST_K, _OFF_AT_MOST_K),),
        )
    if machine is not None and run is not None and machine.kind.key in NEEDS_ICE and run.ice is not None:
        yield _ready("ice", [say("ice", "do", ice_g=run.ice.ice_g, salt_g=run.ice.salt_g)], mind=[say("ice", "mind")])
    if heated and bench.cool == "ice-bath":
        yield _ready("bath", [say("bath", "do", ice_g=_round_up(bath_ice_g(mix)))], why=say("bath", "why", t_c=_COLD_C))


def _ready(
    kind: str,
    do: list[Message],
    least_min: float | None = None,
    mind: list[Message] | None = None,
    why: Message | None = None,
) -> MakingStep:
    cue = say(kind, "cue") if kind == "prefreeze" else None
    return MakingStep(
        id=kind,
        part="ready",
        kind=kind,
        title=say(kind, "title"),
        do=tuple(do),
        why=why or say(kind, "why"),
        cue=cue,
        mind=tuple(mind or ()),
        least_min=least_min,
    )


def _round_up(grams: float) -> float:
    """Return g of ice as somebody fetches it, in steps of half a kilogram."""
    return 500.0 * -(-grams // 500)


def _prepare(bench: MakingBench) -> Iterator[MakingStep]:
    number = 0
    for one in bench.preparations:
        for kind in one.kinds:
            number += 1
            mind = (say("prepare-reduce", "mind"),) if kind == "reduce" else ()
            readings = (
                (Reading("steep_c", "°C"), Reading("strained_g", "g"))
                if kind == "steep"
                else (Reading("prepared_g", "g"),)
            )
            yield MakingStep(
                id=f"prepare.{number}",
                part="prepare",
                kind=f"prepare-{kind}",
                title=say(f"prepare-{kind}", "title", name=one.name),
                plan_step=f"{kind}.{number}",
                do=(say(f"prepare-{kind}", "do"),),
                why=say(f"prepare-{kind}", "why"),
                mind=mind,
                readings=readings,
            )


def _base(mix: Mix, way: str, bench: MakingBench) -> Iterator[MakingStep]:
    if way != "blend":
        yield from pot_steps(mix, way, bench)
        yield from cooling_steps(mix, bench)
        return
    do = [say("blend", "do")]
    if any(line.stage == "dry" for line in mix.base):
        do.append(say("blend", "do-gum"))
    yield MakingStep(
        id="blend",
        part="pot",
        kind="blend",
        title=say("blend", "title"),
        plan_step="blend",
        do=tuple(do),
        why=say("blend", "why"),
        cue=say("blend", "cue"),
        mind=(say("blend", "mind"),),
        lines=tuple(at for at, line in enumerate(mix.lines) if line.stage not in MIX_IN_STAGES and line.grams > 0),
        method=tuple(text for stage in (None, "cold", "off-heat") for text in bench.method.get(stage, ())),
    )
    yield from strain_step(mix, "blend")
    yield taste_step(mix, "blend")


def _whipped(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    spirit = [line for line in mix.base if line.ingredient.row[INDEX["ethanol"]] > _SPIRIT_G]
    stage, sign = _SOFT if spirit else _FIRM
    yield taste_step(mix, "whip")
    yield MakingStep(
        id="whip",
        part="pot",
        kind="whip",
        title=say("whip", "title", stage=stage),
        plan_step="whip",
        do=(say("whip", "do", sign=sign),),
        why=say("whip", "why"),
        cue=say("whip", "cue", sign=sign),
    )
    do = [say("fold", "do")]
    do += [say("fold", "do-spirit", name=line.ingredient.name) for line in spirit]
    yield MakingStep(
        id="fold",
        part="pot",
        kind="fold",
        title=say("fold", "title"),
        plan_step="whip",
        do=tuple(do),
        why=say("fold", "why"),
        method=tuple(text for stage in (None, "off-heat", "cold") for text in bench.method.get(stage, ())),
    )
    yield from packing_steps(mix, bench, 1, _COLD_C, after="whip")


def _unchurned(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    yield MakingStep(
        id="scrape",
        part="churn",
        kind="scrape",
        title=say("scrape", "title"),
        do=(say("scrape", "do"),),
        why=say("scrape", "why"),
        cue=say("scrape", "cue"),
        least_min=120.0,
    )
    yield from packing_steps(mix, bench, 1, -_COLD_C, after="scrape")
