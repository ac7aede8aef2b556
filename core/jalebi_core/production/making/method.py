"""The steps of making one batch, built from its mix: none is there that this mix does not need."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Final

from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import styles
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.checker import Check, checks_of
from jalebi_core.production.making.flow import Pour, Refusal, Vessel, Work
from jalebi_core.production.making.freezing import (
    ageing_step,
    churning_steps,
    clean_step,
    packing_steps,
    serving_step,
    tempering_step,
)
from jalebi_core.production.making.layout import HOT, KEPT_C, VESSELS, Layout, lay_out
from jalebi_core.production.making.materials import Role, is_raw, needs_heat, needs_looking_through, role_of
from jalebi_core.production.making.pot import Pot, bath_ice_g, steeping_steps, strain_step
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, say
from jalebi_core.production.making.tasting import taste_step
from jalebi_core.production.making.weighing import weighing_steps
from jalebi_core.production.runs import NEEDS_ICE
from jalebi_core.wording.names import in_sentence

_COLD_C: Final = 5.0
_ROOM_C: Final = 20.0
_ICE_WATER_C: Final = 0.0
_OFF_AT_MOST_K: Final = 2.0
_CREAM_C: Final = 7.0
_CHILL_MIN: Final = 120.0
_PREFREEZE_MIN: Final = 720.0
_SCRAPE_MIN: Final = 120.0
_FOAM: Final = 1.5
_ROOM: Final = 1.2
_SIZES_L: Final = (0.1, 0.25, 0.5, 1.0, 1.5, 2.0, 3.0, 5.0, 8.0, 12.0, 20.0, 40.0, 80.0, 200.0, 500.0)
_SOFT: Final = ("soft peaks", "the whisk leaves a trail and a peak that bends over")
_FIRM: Final = ("firm peaks", "a peak stands by itself")


@dataclass(frozen=True, slots=True)
class Made:
    """How a mix is made: its way, why it cannot be, its vessels, its steps, and what a checker found of them."""

    way: str
    refused: tuple[Refusal, ...]
    vessels: tuple[Vessel, ...]
    steps: tuple[MakingStep, ...]
    checks: tuple[Check, ...]


def making_steps(mix: Mix, bench: MakingBench) -> tuple[MakingStep, ...]:
    """Return all steps of a batch in the order of the work; raises MixError for what cannot be made as it stands."""
    return steps_of(make(mix, bench))


def steps_of(made: Made) -> tuple[MakingStep, ...]:
    """Return the steps by which something is made; raises MixError for what cannot be made as it stands."""
    if made.refused:
        one = made.refused[0]
        raise MixError("mix-refused", one.line, said=one.message)
    return made.steps


def make(mix: Mix, bench: MakingBench) -> Made:
    """Return how a mix is made on a bench."""
    layout = lay_out(mix, holds_back=bench.holds_back)
    if layout.refused:
        return Made(layout.way, layout.refused, (), (), ())
    bench = replace(bench, fresh=bench.fresh or is_fresh(mix))
    steps = tuple(_steps(mix, layout, bench))
    vessels = tuple(_vessels(mix, layout, steps))
    return Made(layout.way, (), vessels, steps, checks_of(mix, vessels, steps, bench.region))


def is_fresh(mix: Mix) -> bool:
    """Tell whether a mix is eaten as it is drawn or scraped."""
    return mix.style in styles() and styles()[mix.style].fresh


def _steps(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    yield from _get_ready(mix, layout, bench)
    yield from _prepare(bench)
    yield from _looked_through(mix)
    yield from weighing_steps(mix, bench, layout)
    if layout.way == "whip":
        yield from _whipped(mix, layout, bench)
    else:
        yield from _base(mix, layout, bench)
        yield ageing_step(mix, layout.way, bench)
        yield from churning_steps(mix, layout, bench) if bench.machine is not None else _unchurned(mix, layout, bench)
    yield from tempering_step(mix, bench)
    yield step("wash", do=[say("wash", "do"), say("wash", "do-throw")])


def _get_ready(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    heated = layout.way in HOT or _rest_is_heated(mix, layout)
    machine, run = bench.machine, bench.run
    yield step("hands", do=[say("hands", "do")])
    if machine is not None and machine.kind.key == "canister":
        yield replace(clean_step(bench, machine.name), part="ready")
        yield step(
            "prefreeze",
            do=[say("prefreeze", "do", machine=in_sentence(machine.name), freezer_c=bench.freezer_c)],
            least_min=_PREFREEZE_MIN,
        )
    if not bench.fresh:
        names = [in_sentence(line.ingredient.name) for line in mix.mix_ins if line.grams > 0]
        yield step("tubs", do=[say("tubs", "do"), *([say("tubs", "do-mix-ins", names=names)] if names else [])])
    if heated:
        yield step(
            "thermometer",
            facts={"t_c": _ICE_WATER_C},
            do=[say("thermometer", "do")],
            readings=[Reading("ice_water_c", "°C", _ICE_WATER_C, -_OFF_AT_MOST_K, _OFF_AT_MOST_K)],
        )
    if machine is not None and run is not None and machine.kind.key in NEEDS_ICE and run.ice is not None:
        yield step("ice", do=[say("ice", "do", ice_g=run.ice.ice_g, salt_g=run.ice.salt_g)])
    if heated and bench.cool == "ice-bath":
        yield step("bath", facts={"t_c": _COLD_C}, do=[say("bath", "do", ice_g=_round_up(bath_ice_g(mix, layout)))])


def _round_up(grams: float) -> float:
    """Return g of ice as somebody fetches it, in steps of half a kilogram."""
    return 500.0 * -(-grams // 500)


def _prepare(bench: MakingBench) -> Iterator[MakingStep]:
    number = 0
    for one in bench.preparations:
        for kind in one.kinds:
            number += 1
            readings = [Reading("steep_c", "°C"), Reading("strained_g", "g")] if kind == "steep" else []
            yield step(
                f"prepare-{kind}",
                name=f"prepare.{number}",
                plan=f"{kind}.{number}",
                facts={"name": one.name},
                do=[say(f"prepare-{kind}", "do")],
                readings=readings or [Reading("prepared_g", "g")],
            )


def _looked_through(mix: Mix) -> Iterator[MakingStep]:
    """Yield the look at what may bring stones, shell or stalks with it, where there is any."""
    lines = [line for line in mix.lines if line.grams > 0]
    names = [in_sentence(line.ingredient.name) for line in lines if needs_looking_through(line)]
    cracked = any(role_of(line) is Role.EGG and is_raw(line.ingredient) for line in lines)
    do = [say("look-through", "do-eggs")] if cracked else []
    if names:
        do.append(say("look-through", "do", names=list(dict.fromkeys(names))))
    if do:
        yield step("look-through", do=do)


def _base(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    if layout.way in HOT:
        pot = Pot(mix, bench, layout)
        yield from pot.heated()
        yield from pot.weighed_and_tasted()
        yield from pot.cooled()
        return
    yield from steeping_steps(mix, layout, "blender", "blend", cold=True)
    do = [say("blend", "do"), *([say("blend", "do-gum")] if layout.lines_in("dry") else [])]
    perishes = any({"milk", "egg"} & set(line.ingredient.allergens) for line in mix.base)
    sharp = any(role_of(line) in (Role.SPIRIT, Role.ESSENCE, Role.CULTURED) for line in mix.base)
    yield step(
        "blend",
        plan="blend",
        do=do,
        lines=layout.lines_in("blender", "dry", "melt"),
        method=tuple(text for stage in (None, "cold", "off-heat") for text in bench.method.get(stage, ())),
        work=Work(
            "blender",
            not_above_c=_COLD_C if perishes or sharp else _ROOM_C,
            pours=tuple(Pour(one, "blender") for one in ("dry", "melt") if layout.lines_in(one)),
        ),
    )
    yield from strain_step(mix, "blend", layout, "blender")
    yield taste_step(mix, "blend")
    yield _chill("blender", "blend")


def _chill(vessel: str, plan: str, part: str = "") -> MakingStep:
    return step(
        "chill",
        part=part,
        plan=plan,
        facts={"t_c": _COLD_C},
        do=[say("chill", "do", t_c=_COLD_C)],
        readings=[Reading("cooled_c", "°C", _COLD_C, None, _COLD_C)],
        work=Work(vessel, cools_to_c=_COLD_C),
    )


def _rest_is_heated(mix: Mix, layout: Layout) -> bool:
    return layout.way == "whip" and any(needs_heat(line) for line in mix.base if line.grams > 0)


def _whipped(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    spirits = [line for line in mix.base if role_of(line) is Role.SPIRIT and line.grams > 0]
    stage, sign = _SOFT if spirits else _FIRM
    if _rest_is_heated(mix, layout):
        pot = Pot(mix, bench, layout, "rest")
        yield from pot.heated()
        yield from pot.cooled()
    elif layout.lines_in("rest") or layout.lines_in("dry"):
        yield from steeping_steps(mix, layout, "rest", "whip", cold=True)
        do = [say("stir", "do", bowl=VESSELS["rest"])]
        if layout.lines_in("dry"):
            do.append(say("stir", "do-dry"))
        if spirits:
            do.append(say("stir", "do-spirit", names=[line.ingredient.name for line in spirits]))
        poured = [one for one in ("dry", "melt") if layout.lines_in(one)]
        yield step(
            "stir",
            plan="whip",
            do=do,
            lines=layout.lines_in("rest", *poured),
            work=Work("rest", not_above_c=_ROOM_C, pours=tuple(Pour(one, "rest") for one in poured)),
        )
    yield taste_step(mix, "whip")
    yield _chill("cream", "whip", "pot")
    yield step(
        "whip",
        plan="whip",
        facts={"stage": stage, "sign": sign},
        do=[say("whip", "do", sign=sign)],
        lines=layout.lines_in("cream"),
        work=Work("cream", not_above_c=_CREAM_C),
    )
    names = _names(mix, layout, "box", "cup")
    yield step(
        "fold",
        plan="whip",
        do=[say("fold", "do"), *([say("fold", "do-mix-ins", names=names)] if names else [])],
        lines=layout.lines_in("box", "cup"),
        method=tuple(text for part in (None, "off-heat", "cold") for text in bench.method.get(part, ())),
        work=Work("rest", pours=tuple(Pour(one, "rest") for one in ("cream", "cup", "box") if layout.lines_in(one))),
    )
    yield from packing_steps(mix, layout, bench, _COLD_C, "rest", "whip")


def _names(mix: Mix, layout: Layout, *vessels: str) -> list[str]:
    return list(dict.fromkeys(in_sentence(mix.lines[at].ingredient.name) for at in layout.lines_in(*vessels)))


def _unchurned(mix: Mix, layout: Layout, bench: MakingBench) -> Iterator[MakingStep]:
    base = "blender" if layout.way == "blend" else "pot"
    yield step(
        "scrape",
        do=[say("scrape", "do")],
        lines=layout.lines_in("cup", "box"),
        least_min=_SCRAPE_MIN,
        work=Work(
            "tray",
            pours=tuple(Pour(one, "tray") for one in (base, "cup", "box") if one == base or layout.lines_in(one)),
        ),
    )
    yield from packing_steps(mix, layout, bench, -_COLD_C, "tray", "scrape")
    if bench.fresh:
        yield serving_step()


def _vessels(mix: Mix, layout: Layout, steps: tuple[MakingStep, ...]) -> Iterator[Vessel]:
    """Yield the vessels that are used, each with room for what comes into it, and for foam where milk is boiled."""
    used = {one.work.vessel for one in steps} | {pour.vessel for one in steps for pour in one.work.pours}
    used |= {take.vessel for one in steps for take in one.work.takes}
    whole = sum(line.grams for line in mix.lines) / 1000
    milk = any("milk" in line.ingredient.allergens for line in mix.base)
    for key, name in VESSELS.items():
        if key not in used:
            continue
        own = layout.grams_in(key) / 1000
        litres = whole * (_FOAM if key in ("pot", "rest") and milk else _ROOM) if key in _GATHERS else _ROOM * own
        if key in ("yolks", "cocoa"):
            litres = own + whole
        if key == "cream":
            litres = 3 * own
        if key in ("machine", "tubs", "tray"):
            litres = 2 * whole
        if key in _LOOSE:
            litres = 4 * own
        yield Vessel(key, name, next((size for size in _SIZES_L if size >= litres), litres), KEPT_C.get(key, _ROOM_C))


_GATHERS: Final = ("pot", "blender", "rest")
_LOOSE: Final = ("box", "layers", "dry", "cup", *(one for one in VESSELS if one.startswith("steep")))
