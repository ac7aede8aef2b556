"""The pot: warming, yolks, cooking, straining, what goes in off the heat, tasting and cooling."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Final

from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.pot import (
    FIRST_STAGE_MIN,
    HOLDS,
    POTS,
    SECOND_STAGE_MIN,
    STAGES_C,
    Cooling,
    conductance_w_k,
    cool,
    mixed_c,
    required_s,
)
from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import HEATED, NOT_HEATED
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, Stage, say
from jalebi_core.production.making.tasting import taste_step
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

SAFE_EGG_C: Final = 82.0
_CUSTARD_C: Final = (82.0, 84.0)
_GUARDED_C: Final = (82.0, 90.0)
_OFF_BEFORE_K: Final = 1.0
_SCALD_C: Final = (82.0, 85.0)
_DISSOLVE_C: Final = 60.0
_RAIN_IN_C: Final = 40.0
_BOIL_C: Final = (95.0, 101.0)
_BOIL_MIN: Final = 1.0
_COOLED_MIN: Final = FIRST_STAGE_MIN + SECOND_STAGE_MIN
_FIRST_HOT_C: Final = 85.0
_FROM_FRIDGE_C: Final = 4.0
_SLOWEST_HYDRATION_MIN: Final = 1.0
_ICE_KJ_PER_G: Final = 0.3336
_ICE_TO_SPARE: Final = 1.2
_SHARP_G: Final = 1.0


def is_heated(line: Line) -> bool:
    """Tell whether a line goes through the heat where there is any; one without a stage goes in at the start."""
    return line.stage in HEATED or line.stage is None


def pot_steps(mix: Mix, way: str, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield what is done at the stove, by way: cook, scald or syrup."""
    hot = [line for line in mix.base if is_heated(line) and line.grams > 0]
    yolks = [line for line in hot if line.stage == "yolks"]
    starch = [line for line in hot if line.ingredient.kind == "starch"]
    gum_c, gum_min, gums = _hydration(hot)
    if way == "cook" or starch:
        yield _warm(hot, way, gum_c, gum_min, gums, bench)
        yield from _cocoa(hot, way)
        if yolks:
            yield _yolks(mix, way, bench)
        yield _boil(way, bench) if starch else _cook(mix, way, bench)
    else:
        yield (
            _scald(mix, way, gum_c, gum_min, gums, bench)
            if way == "scald"
            else _syrup(way, gum_c, gum_min, gums, bench)
        )
        yield from _cocoa(hot, way)
    yield from strain_step(mix, way)
    yield from _added(mix, "off-heat", way, bench)
    yield _weigh_base(mix, way)
    if not _goes_in_cold(mix):
        yield taste_step(mix, way)


def cooling_steps(mix: Mix, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield the cooling of a base that was hot, and what goes in once it is cold."""
    cooling = _cooling(mix, bench.cool)
    minutes = cooling.reached_min[-1] or cooling.seen[-1][0]
    to_c = STAGES_C[-1]
    how = say("cool", f"do-{bench.cool}", minutes=minutes)
    yield MakingStep(
        id="cool",
        part="cool",
        kind="cool",
        title=say("cool", "title", t_c=to_c),
        plan_step="cool",
        do=(how, say("cool", "do-read", t_c=STAGES_C[1])) if minutes > FIRST_STAGE_MIN else (how,),
        why=say("cool", "why"),
        cue=say("cool", "cue"),
        mind=(say("cool", "mind"),),
        readings=(Reading("cooled_c", "°C", to_c, None, to_c),),
        least_min=minutes,
        most_min=_COOLED_MIN,
        stages=(Stage(STAGES_C[1], FIRST_STAGE_MIN), Stage(to_c, _COOLED_MIN)),
        critical="cooled",
    )
    yield from _added(mix, "cold", "cool", bench)
    if _goes_in_cold(mix):
        yield taste_step(mix, "cool", "cool")


def _goes_in_cold(mix: Mix) -> bool:
    """Tell whether something is missing until the base is cold: before that there is little to taste."""
    return any(line.stage == "cold" and line.grams > 0 for line in mix.base)


def bath_ice_g(mix: Mix) -> float:
    """Return the ice that takes up the heat of a base from the pot, g; with a little to spare."""
    return _ICE_TO_SPARE * _cooling(mix, "ice-bath").given_kj / _ICE_KJ_PER_G


def _cooling(mix: Mix, place: str) -> Cooling:
    """Return how the pot cools, once what waited in the cold is stirred in off the heat."""
    pot = replace(mix, lines=tuple(line for line in mix.base if is_heated(line) or line.stage == "off-heat"))
    table, mass_g = thermal(pot.row(), 0.0), pot.mass_g
    cold_g = sum(line.grams for line in pot.base if line.stage == "off-heat")
    start_c = _FIRST_HOT_C
    if 0 < cold_g < mass_g:
        start_c = mixed_c(table, ((mass_g - cold_g, _FIRST_HOT_C), (cold_g, _FROM_FRIDGE_C)))
    return cool(table, mass_g, start_c, conductance_w_k(table, mass_g, place), POTS[place][1])


def _hydration(hot: list[Line]) -> tuple[float | None, float, list[str]]:
    """Return from which °C, and for how many minutes, the gums among the hot lines take up water, and which."""
    needs = [
        (need.from_c, need.minutes or 0.0, in_sentence(line.ingredient.name))
        for line in hot
        if line.ingredient.kind != "starch" and (need := line.ingredient.facts.hydrates) and need.from_c is not None
    ]
    if not needs:
        return None, 0.0, []
    return max(one[0] for one in needs), max(one[1] for one in needs), [one[2] for one in needs]


def _warm(
    hot: list[Line], way: str, gum_c: float | None, minutes: float, gums: list[str], bench: MakingBench
) -> MakingStep:
    waits = gum_c is not None and minutes > _SLOWEST_HYDRATION_MIN
    celsius = max(gum_c or 0.0, _DISSOLVE_C)
    do = [say("warm", "do")]
    if any(line.stage == "dry" for line in hot):
        do.append(say("warm", "do-dry", dry_c=_RAIN_IN_C))
    if waits:
        do.append(say("scald", "do-gum", minutes=minutes, names=gums))
    return MakingStep(
        id="warm",
        part="pot",
        kind="warm",
        title=say("warm", "title", t_c=celsius),
        plan_step=way,
        do=tuple(do),
        why=say("warm", "why"),
        cue=say("warm", "cue"),
        readings=(Reading("pot_c", "°C", celsius, celsius - (0 if waits else 10), celsius + 5),),
        least_min=minutes if waits else None,
        method=_method(bench, "pot", "dry", None),
    )


def _cocoa(hot: list[Line], way: str) -> Iterator[MakingStep]:
    cocoa = [in_sentence(line.ingredient.name) for line in hot if line.ingredient.row[INDEX["cocoa_solids"]] > 40]
    for number, name in enumerate(dict.fromkeys(cocoa)):
        yield MakingStep(
            id=f"cocoa.{number}",
            part="pot",
            kind="cocoa",
            title=say("cocoa", "title"),
            plan_step=way,
            do=(say("cocoa", "do", name=name),),
            why=say("cocoa", "why"),
            cue=say("cocoa", "cue"),
        )


def _yolks(mix: Mix, way: str, bench: MakingBench) -> MakingStep:
    return MakingStep(
        id="yolks",
        part="pot",
        kind="yolks",
        title=say("yolks", "title"),
        plan_step=way,
        do=(say("yolks", "do-parts"), say("yolks", "do-together", t_c=_DISSOLVE_C)),
        why=say("yolks", "why"),
        lines=tuple(at for at, line in enumerate(mix.lines) if line.stage == "yolks" and line.grams > 0),
        most_min=10.0,
        choice=("in parts", "all together"),
        method=_method(bench, "yolks"),
    )


def _cook(mix: Mix, way: str, bench: MakingBench) -> MakingStep:
    guarded = any(line.ingredient.row[INDEX["acids"]] > _SHARP_G for line in mix.base if is_heated(line))
    low, high = _GUARDED_C if guarded else _CUSTARD_C
    return MakingStep(
        id="cook",
        part="pot",
        kind="cook",
        title=say("cook", "title", t_c=low + _OFF_BEFORE_K),
        plan_step=way,
        do=(say("cook", "do", off_c=low), _hold("cook", bench, low, high)),
        why=say("cook", "why-guarded" if guarded else "why", high_c=high),
        cue=say("cook", "cue"),
        mind=(say("cook", "mind"),),
        readings=(Reading("heated_c", "°C", low + _OFF_BEFORE_K, low, high),),
        least_min=_hold_min(bench, low),
        critical="heated",
    )


def _hold(kind: str, bench: MakingBench, low: float, high: float) -> Message:
    return say(kind, "do-hold", low_c=low, high_c=high, seconds=60 * _hold_min(bench, low))


def _hold_min(bench: MakingBench, celsius: float) -> float:
    """Return for how long a base is held at a temperature, which also pasteurises it; by the stricter rule of two."""
    return (required_s(bench.region if bench.region in HOLDS else "us", celsius) or 0.0) / 60


def _scald(mix: Mix, way: str, gum_c: float | None, minutes: float, gums: list[str], bench: MakingBench) -> MakingStep:
    low, high = _SCALD_C
    celsius = min(max(low, gum_c or low), 95.0)
    waits = gum_c is not None and minutes > _SLOWEST_HYDRATION_MIN
    do = [say("warm", "do-dry", dry_c=_RAIN_IN_C)] if any(line.stage == "dry" for line in mix.base) else []
    do.append(say("scald", "do", t_c=celsius))
    do.append(say("scald", "do-gum", minutes=minutes, names=gums) if waits else _hold("scald", bench, celsius, high))
    risky = any("raw-milk" in line.ingredient.facts.cautions or "egg" in line.ingredient.allergens for line in mix.base)
    return MakingStep(
        id="scald",
        part="pot",
        kind="scald",
        title=say("scald", "title", t_c=celsius),
        plan_step=way,
        do=tuple(do),
        why=say("scald", "why"),
        cue=say("scald", "cue"),
        mind=(say("scald", "mind"),),
        readings=(Reading("heated_c", "°C", celsius, celsius - 2, max(high, celsius + 3)),),
        least_min=minutes if waits else _hold_min(bench, celsius),
        critical="heated" if risky else None,
        method=_method(bench, "pot", "dry", None),
    )


def _syrup(way: str, gum_c: float | None, minutes: float, gums: list[str], bench: MakingBench) -> MakingStep:
    celsius = max(gum_c or 0.0, _DISSOLVE_C)
    do = [say("syrup", "do")]
    if gums:
        do.append(say("warm", "do-dry", dry_c=_RAIN_IN_C))
        do.append(say("syrup", "do-gum", t_c=celsius, minutes=max(minutes, 1.0), names=gums))
    return MakingStep(
        id="syrup",
        part="pot",
        kind="syrup",
        title=say("syrup", "title", t_c=celsius),
        plan_step=way,
        do=tuple(do),
        why=say("syrup", "why"),
        cue=say("syrup", "cue"),
        readings=(Reading("heated_c", "°C", celsius, celsius - 5 if not gums else celsius, None),),
        least_min=minutes or None,
        method=_method(bench, "pot", "dry", None),
    )


def _boil(way: str, bench: MakingBench) -> MakingStep:
    low, high = _BOIL_C
    return MakingStep(
        id="boil",
        part="pot",
        kind="boil",
        title=say("boil", "title"),
        plan_step=way,
        do=(say("boil", "do", minutes=_BOIL_MIN),),
        why=say("boil", "why"),
        cue=say("boil", "cue"),
        mind=(say("boil", "mind"),),
        readings=(Reading("heated_c", "°C", low, low, high),),
        least_min=_BOIL_MIN,
        critical="heated",
        method=_method(bench, "pot", "dry", None),
    )


def strain_step(mix: Mix, way: str) -> Iterator[MakingStep]:
    """Yield the straining where there is anything that must not stay in: threads of egg, seeds, fibres."""
    kinds = {line.ingredient.kind for line in mix.base if is_heated(line) or way == "blend"}
    fine = way == "cook"
    if not fine and not kinds & {"fruit", "infusion"}:
        return
    yield MakingStep(
        id="strain",
        part="pot",
        kind="strain",
        title=say("strain", "title"),
        plan_step=way,
        do=(say("strain", "do-fine" if fine else "do-coarse"), say("strain", "do-weigh")),
        why=say("strain", "why"),
        readings=(Reading("stayed_g", "g"),),
    )


def _added(mix: Mix, stage: str, plan_step: str, bench: MakingBench) -> Iterator[MakingStep]:
    """Yield the step at which the lines of a stage that is not heated go in."""
    assert stage in NOT_HEATED
    numbers = [at for at, line in enumerate(mix.lines) if line.stage == stage and line.grams > 0]
    if not numbers:
        return
    lines = [mix.lines[at] for at in numbers]
    row = {key: [line for line in lines if line.ingredient.row[INDEX[key]] > least] for key, least in _LAST.items()}
    names = list(dict.fromkeys(in_sentence(line.ingredient.name) for line in lines))
    do = [say(stage, "do")]
    if stage == "off-heat" and any(line.ingredient.row[INDEX["milk_fat"]] > 10 for line in lines):
        do.append(say(stage, "do-cream"))
    if row["acids"] and any("milk" in line.ingredient.allergens for line in mix.base):
        do.append(say(stage, "do-acid", name=row["acids"][0].ingredient.name.split(",")[0]))
    if row["ethanol"] and stage == "off-heat":
        do.append(say(stage, "do-spirit", name=row["ethanol"][0].ingredient.name))
    yield MakingStep(
        id=stage,
        part="pot" if stage == "off-heat" else "cool",
        kind=stage,
        title=say(stage, "title", names=names),
        plan_step=plan_step,
        do=tuple(do),
        why=say(stage, "why"),
        lines=tuple(numbers),
        method=_method(bench, stage),
    )


_LAST: Final = {"acids": 3.0, "ethanol": 5.0}
"""What goes in last, by the g of it in 100 g."""


def _weigh_base(mix: Mix, way: str) -> MakingStep:
    went_in = sum(line.grams for line in mix.base if is_heated(line) or line.stage == "off-heat")
    return MakingStep(
        id="base-weight",
        part="pot",
        kind="base-weight",
        title=say("base-weight", "title"),
        plan_step=way,
        do=(say("base-weight", "do", target_g=went_in),),
        why=say("base-weight", "why"),
        readings=(Reading("base_g", "g", went_in, 0.99 * went_in, 1.01 * went_in),),
    )


def _method(bench: MakingBench, *stages: str | None) -> tuple[str, ...]:
    return tuple(text for stage in stages for text in bench.method.get(stage, ()))
