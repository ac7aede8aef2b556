"""What is heated: steeping, warming, starch, cocoa, yolks, cooking, what goes in off the heat, and cooling."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final

from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.pot import (
    COOK_STIRS_EVERY_MIN,
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
from jalebi_core.production.making.builder import step
from jalebi_core.production.making.flow import Pour, Removal, Work
from jalebi_core.production.making.layout import VESSELS, Layout
from jalebi_core.production.making.materials import Role, boil_min, is_raw, role_of, steeping_of, whips
from jalebi_core.production.making.steps import MakingBench, MakingStep, Reading, Stage, say
from jalebi_core.production.making.tasting import taste_step
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

SAFE_EGG_C: Final = 82.0
HOTTEST_EGG_C: Final = 84.0
_COOK_C: Final = 82.0
_SCALD_C: Final = (82.0, 85.0)
_HOTTEST_SCALD_C: Final = 95.0
_DISSOLVE_C: Final = 60.0
_RAIN_IN_C: Final = 40.0
_STARCH_IN_C: Final = 88.0
_BOIL_C: Final = (95.0, 101.0)
_COCOA_C: Final = 82.0
_COCOA_MIN: Final = 3.0
_PASTE_PER_COCOA: Final = 2.0
_MELT_C: Final = 62.0
_GELATIN_C: Final = (50.0, 60.0)
_COLD_C: Final = 5.0
_STEEP_COLD_C: Final = 5.0
_COOLED_MIN: Final = FIRST_STAGE_MIN + SECOND_STAGE_MIN
_FIRST_HOT_C: Final = 85.0
_FROM_FRIDGE_C: Final = 4.0
_SLOWEST_HYDRATION_MIN: Final = 1.0
_ICE_KJ_PER_G: Final = 0.3336
_ICE_TO_SPARE: Final = 1.2
_GANACHE_PCT: Final = 30.0
_LEAST_COOLING_MIN: Final = 8.0


class Pot:
    """The work at the stove, step by step, with what is in the pot so far."""

    def __init__(self, mix: Mix, bench: MakingBench, layout: Layout, vessel: str = "pot") -> None:
        self.mix = mix
        self.bench = bench
        self.layout = layout
        self.vessel = vessel
        self.way = layout.way
        self.removed: dict[int, float] = {}
        self.grams = layout.grams_in(vessel)
        self.lines = [mix.lines[at] for at in layout.lines_in(vessel, "dry", "yolks", "slurry", "cocoa", "bloom")]
        self.has_milk = any("milk" in line.ingredient.allergens for line in self.lines)

    def heated(self) -> Iterator[MakingStep]:
        """Yield all that is done until the base leaves the heat."""
        yield from self._steeped()
        starch = self.layout.lines_in("slurry")
        cooks = bool(self.layout.lines_in("yolks"))
        cocoa = bool(self.layout.lines_in("cocoa"))
        if cooks or starch or cocoa:
            yield self._warm(before_starch=bool(starch))
            if cocoa:
                yield self._cocoa(last=not cooks and not starch)
            if cooks:
                yield self._yolks()
            if starch:
                yield self._slurry()
                yield self._boil(cooks=cooks)
            elif cooks:
                yield self._cook()
        elif self.way == "syrup":
            yield self._syrup()
        else:
            yield self._scald()
        yield from strain_step(self.mix, self.way, self.layout, self.vessel)
        yield from self._gelatin()
        yield from self._melted()
        yield from self._off_heat()

    def weighed_and_tasted(self) -> Iterator[MakingStep]:
        """Yield the weight of the base and, where nothing is missing yet, the tasting."""
        yield step(
            "base-weight",
            plan=self.way,
            do=[say("base-weight", "do", target_g=self.grams)],
            readings=[Reading("base_g", "g", self.grams, 0.99 * self.grams, 1.01 * self.grams)],
            work=Work(self.vessel),
        )
        if not self.layout.lines_in("jug"):
            yield taste_step(self.mix, self.way)

    def cooled(self) -> Iterator[MakingStep]:
        """Yield the cooling of a base that was hot, and what goes in once it is cold."""
        cooling = self._cooling()
        minutes = max(cooling.reached_min[-1] or cooling.seen[-1][0], _LEAST_COOLING_MIN)
        to_c = STAGES_C[-1]
        how = say("cool", f"do-{self.bench.cool}", minutes=minutes)
        yield step(
            "cool",
            plan="cool",
            facts={"t_c": to_c},
            do=[how, say("cool", "do-read", t_c=STAGES_C[1])] if minutes > FIRST_STAGE_MIN else [how],
            readings=[Reading("cooled_c", "°C", to_c, None, to_c)],
            least_min=min(minutes, _COOLED_MIN),
            most_min=_COOLED_MIN,
            stages=[Stage(STAGES_C[1], FIRST_STAGE_MIN), Stage(to_c, _COOLED_MIN)],
            work=Work(self.vessel, cools_to_c=to_c),
        )
        yield from self._late()

    def _pour(self, *vessels: str) -> tuple[Pour, ...]:
        """Return the pours of all that was weighed into vessels, and count it as in the pot."""
        there = tuple(one for one in vessels if self.layout.lines_in(one))
        self.grams += self.layout.grams_in(*there)
        return tuple(Pour(one, self.vessel) for one in there)

    def _steeped(self) -> Iterator[MakingStep]:
        yield from steeping_steps(self.mix, self.layout, self.vessel, self.way, cold=False)

    def _gums(self) -> tuple[float | None, float, list[str]]:
        """Return from which °C, and for how many minutes, the gums take up water, and which."""
        needs = [
            (need.from_c, need.minutes or 0.0, in_sentence(line.ingredient.name))
            for at in self.layout.lines_in("dry")
            if role_of(line := self.mix.lines[at]) is Role.GUM
            and (need := line.ingredient.facts.hydrates)
            and need.from_c is not None
        ]
        if not needs:
            return None, 0.0, []
        return max(one[0] for one in needs), max(one[1] for one in needs), [one[2] for one in needs]

    def _rained_in(self) -> list[Message]:
        if not self.layout.lines_in("dry"):
            return []
        dispersed = self.layout.gums_in in ("fat", "syrup")
        return [say("warm", "do-dispersed" if dispersed else "do-dry", dry_c=_RAIN_IN_C, bowl=VESSELS["dry"])]

    def _warm(self, *, before_starch: bool) -> MakingStep:
        gum_c, minutes, gums = self._gums()
        waits = gum_c is not None and minutes > _SLOWEST_HYDRATION_MIN
        celsius = max(gum_c or 0.0, _STARCH_IN_C if before_starch else _DISSOLVE_C)
        do = [say("warm", "do"), *self._rained_in()]
        if waits:
            do.append(say("scald", "do-gum", minutes=minutes, names=gums))
        return step(
            "warm",
            plan=self.way,
            facts={"t_c": celsius},
            do=do,
            readings=[Reading("pot_c", "°C", celsius, celsius - (0 if waits else 10), celsius + 5)],
            least_min=minutes if waits else None,
            lines=self.layout.lines_in("dry"),
            method=self._method("pot", "dry", None),
            work=Work(self.vessel, pours=self._pour("dry"), reaches_c=celsius, hold_min=minutes or None),
        )

    def _cocoa(self, *, last: bool) -> MakingStep:
        settles = last and any(is_raw(line.ingredient) for line in self.lines)
        lines = self.layout.lines_in("cocoa")
        names = [self.mix.lines[at].ingredient.name for at in lines if role_of(self.mix.lines[at]) is Role.COCOA]
        paste_g = min(_PASTE_PER_COCOA * self.layout.grams_in("cocoa"), self.grams / 2)
        before = self.grams
        self.grams = before + self.layout.grams_in("cocoa")
        return step(
            "cocoa",
            plan=self.way,
            do=[
                say("cocoa", "do", paste_g=paste_g, name=in_sentence(names[0]), bowl=VESSELS[self.vessel]),
                say("cocoa", "do-hold", t_c=_COCOA_C, minutes=_COCOA_MIN),
            ],
            readings=[Reading("heated_c" if settles else "pot_c", "°C", _COCOA_C, _COCOA_C - 2, _COCOA_C + 10)],
            critical="heated" if settles else None,
            least_min=_COCOA_MIN,
            lines=lines,
            work=Work(
                self.vessel,
                pours=(Pour(self.vessel, "cocoa", paste_g), Pour("cocoa", self.vessel)),
                reaches_c=_COCOA_C,
                hold_min=_COCOA_MIN,
            ),
        )

    def _yolks(self) -> MakingStep:
        third = self.grams / 3
        hot = self.layout.lines_in("slurry", "cocoa")
        together = [] if hot else [say("yolks", "do-together", t_c=_DISSOLVE_C)]
        self.grams += self.layout.grams_in("yolks")
        return step(
            "yolks",
            plan=self.way,
            do=[say("yolks", "do-parts", third_g=third), *together],
            lines=self.layout.lines_in("yolks"),
            most_min=10.0,
            choice=("in parts", "all together") if together else (),
            method=self._method("yolks"),
            work=Work(self.vessel, pours=(Pour(self.vessel, "yolks", third), Pour("yolks", self.vessel))),
        )

    def _slurry(self) -> MakingStep:
        return step(
            "slurry",
            plan=self.way,
            do=[say("slurry", "do"), say("slurry", "do-in")],
            lines=self.layout.lines_in("slurry"),
            work=Work(self.vessel, pours=self._pour("slurry")),
        )

    def _boil(self, *, cooks: bool) -> MakingStep:
        low, high = _BOIL_C
        starches = [self.mix.lines[at] for at in self.layout.lines_in("slurry")]
        minutes = max(boil_min(line.ingredient) for line in starches if role_of(line) is Role.STARCH)
        do = [say("boil", "do", minutes=minutes), *([say("boil", "do-yolks")] if cooks else [])]
        return step(
            "boil",
            plan=self.way,
            do=do,
            readings=[Reading("heated_c", "°C", low, low, high)],
            least_min=minutes,
            work=Work(self.vessel, reaches_c=low + 1, hold_min=minutes),
        )

    def _cook(self) -> MakingStep:
        hold = self._hold_min(_COOK_C)
        return step(
            "cook",
            plan=self.way,
            facts={"t_c": _COOK_C + 1, "high_c": HOTTEST_EGG_C},
            do=[
                say("cook", "do", low_c=_COOK_C),
                say("cook", "do-hold", high_c=HOTTEST_EGG_C, seconds=round(60 * hold)),
            ],
            readings=[Reading("heated_c", "°C", _COOK_C + 1, _COOK_C, HOTTEST_EGG_C)],
            least_min=hold,
            work=Work(self.vessel, reaches_c=_COOK_C + 1, hold_min=hold),
        )

    def _hold_min(self, celsius: float) -> float:
        """Return for how long a base is held at a temperature, which also pasteurises it; by the stricter of two."""
        region = self.bench.region if self.bench.region in HOLDS else "us"
        return max((required_s(one, celsius) or 0.0) for one in {region, "us"}) / 60

    def _scald(self) -> MakingStep:
        gum_c, minutes, gums = self._gums()
        low, high = _SCALD_C
        celsius = min(max(low, gum_c or low), _HOTTEST_SCALD_C)
        waits = gum_c is not None and minutes > _SLOWEST_HYDRATION_MIN
        hold = max(minutes, self._hold_min(celsius)) if waits else self._hold_min(celsius)
        raw = any(is_raw(line.ingredient) for line in self.lines)
        do = [*self._rained_in(), say("scald", "do", t_c=celsius)]
        if waits:
            do.append(say("scald", "do-gum", minutes=hold, names=gums))
        else:
            do.append(say("scald", "do-hold", seconds=round(60 * hold)))
        mind = [say("scald", "mind")] if self.has_milk else []
        return step(
            "scald",
            plan=self.way,
            facts={"t_c": celsius},
            do=do,
            why=say("scald", "why-safe" if raw else "why" if self.has_milk else "why-plain"),
            cue=say("scald", "cue" if self.has_milk else "cue-plain"),
            mind=[*mind, *([say("scald", "mind-raw")] if raw else [])],
            readings=[Reading("heated_c", "°C", celsius, celsius - (0 if raw else 2), max(high, celsius + 3))],
            least_min=hold,
            critical="heated" if raw else None,
            lines=self.layout.lines_in("dry"),
            method=self._method("pot", "dry", None),
            work=Work(self.vessel, pours=self._pour("dry"), reaches_c=celsius, hold_min=hold),
        )

    def _syrup(self) -> MakingStep:
        gum_c, minutes, gums = self._gums()
        celsius = max(gum_c or 0.0, _DISSOLVE_C)
        do = [say("syrup", "do"), *self._rained_in()]
        if gums:
            do.append(say("syrup", "do-gum", t_c=celsius, minutes=max(minutes, 1.0), names=gums))
        return step(
            "syrup",
            plan=self.way,
            facts={"t_c": celsius},
            do=do,
            readings=[Reading("heated_c", "°C", celsius, celsius - 5 if not gums else celsius, None)],
            least_min=minutes or None,
            lines=self.layout.lines_in("dry"),
            method=self._method("pot", "dry", None),
            work=Work(self.vessel, pours=self._pour("dry"), reaches_c=celsius, hold_min=minutes or None),
        )

    def _melted(self) -> Iterator[MakingStep]:
        numbers = self.layout.lines_in("melt")
        if not numbers:
            return
        lines = [self.mix.lines[at] for at in numbers]
        names = list(dict.fromkeys(in_sentence(line.ingredient.name) for line in lines))
        rich = any(line.ingredient.row[INDEX["cocoa_fat"]] > _GANACHE_PCT for line in lines)
        do = [say("melt", "do", high_c=_MELT_C), say("melt", "do-parts" if rich else "do-in")]
        yield step(
            "melt",
            plan=self.way,
            facts={"names": names},
            do=do,
            lines=numbers,
            work=Work(self.vessel, not_above_c=_MELT_C, pours=self._pour("melt")),
        )

    def _gelatin(self) -> Iterator[MakingStep]:
        if not self.layout.lines_in("bloom"):
            return
        low, high = _GELATIN_C
        yield step(
            "gelatin",
            plan=self.way,
            facts={"low_c": low},
            do=[say("gelatin", "do", high_c=high)],
            lines=self.layout.lines_in("bloom"),
            work=Work(self.vessel, not_above_c=high, pours=self._pour("bloom"), reaches_c=(low + high) / 2),
        )

    def _off_heat(self) -> Iterator[MakingStep]:
        numbers = self.layout.lines_in("cold")
        if not numbers:
            return
        lines = [self.mix.lines[at] for at in numbers]
        creams = [line for line in lines if whips(line.ingredient)]
        do = [say("off-heat", "do-cream" if creams else "do")]
        if creams and len(lines) > len(creams):
            do.append(say("off-heat", "do-rest"))
        yield step(
            "off-heat",
            plan=self.way,
            facts={"names": list(dict.fromkeys(in_sentence(line.ingredient.name) for line in lines))},
            do=do,
            lines=numbers,
            method=self._method("off-heat"),
            work=Work(self.vessel, pours=self._pour("cold")),
        )

    def _late(self) -> Iterator[MakingStep]:
        numbers = self.layout.lines_in("jug")
        if not numbers:
            return
        lines = [self.mix.lines[at] for at in numbers]
        sharp = [in_sentence(line.ingredient.name) for line in lines if role_of(line) is Role.SHARP]
        do = [say("cold", "do", t_c=_COLD_C), *([say("cold", "do-acid", names=sharp)] if sharp else [])]
        yield step(
            "cold",
            plan="cool",
            facts={"names": list(dict.fromkeys(in_sentence(line.ingredient.name) for line in lines))},
            do=do,
            why=_why_late(lines, has_milk=self.has_milk),
            lines=numbers,
            method=self._method("cold"),
            work=Work(self.vessel, not_above_c=_COLD_C, pours=self._pour("jug")),
        )
        yield taste_step(self.mix, "cool", "cool")

    def _cooling(self) -> Cooling:
        return cooling_of(self.mix, self.layout, self.bench.cool)

    def _method(self, *stages: str | None) -> tuple[str, ...]:
        return tuple(text for stage in stages for text in self.bench.method.get(stage, ()))


def _why_late(lines: Sequence[Line], *, has_milk: bool) -> Message:
    roles = {role_of(line) for line in lines}
    if Role.SPIRIT in roles or Role.ESSENCE in roles:
        return say("cold", "why-spirit")
    if Role.CULTURED in roles:
        return say("cold", "why-alive")
    return say("cold", "why-curdles" if Role.SHARP in roles and has_milk else "why-fresh")


def cooling_of(mix: Mix, layout: Layout, place: str) -> Cooling:
    """Return how the pot cools, once what waited in the cold is stirred in off the heat."""
    hot = layout.lines_in("pot", "rest", "dry", "yolks", "slurry", "cocoa", "bloom", "melt", "cold")
    pot = replace(mix, lines=tuple(mix.lines[at] for at in hot) or mix.lines)
    table, mass_g = thermal(pot.row(), 0.0), pot.mass_g
    cold_g = layout.grams_in("cold")
    start_c = _FIRST_HOT_C
    if 0 < cold_g < mass_g:
        start_c = mixed_c(table, ((mass_g - cold_g, _FIRST_HOT_C), (cold_g, _FROM_FRIDGE_C)))
    ua = conductance_w_k(table, mass_g, place, stir_every_min=COOK_STIRS_EVERY_MIN)
    return cool(table, mass_g, start_c, ua, POTS[place][1])


def bath_ice_g(mix: Mix, layout: Layout) -> float:
    """Return the ice that takes up the heat of a base from the pot, g; with a little to spare."""
    return _ICE_TO_SPARE * cooling_of(mix, layout, "ice-bath").given_kj / _ICE_KJ_PER_G


def steeping_steps(mix: Mix, layout: Layout, vessel: str, way: str, *, cold: bool) -> Iterator[MakingStep]:
    """Yield the steeping of what is sieved out again, the longest first, and its sieving."""
    groups: dict[str, list[int]] = {}
    for one in layout.portions:
        if one.vessel.startswith("steep"):
            groups.setdefault(one.vessel, []).append(one.line)
    target = layout.grams_in(vessel)
    liquid = _thinnest(mix, layout, vessel)
    found = [
        (steeping, bowl, numbers)
        for bowl, numbers in groups.items()
        if (steeping := steeping_of(mix.lines[numbers[0]].ingredient))
    ]
    for number, (how, bowl, numbers) in enumerate(
        sorted(found, key=lambda one: -(one[0].minutes or (1e4, 0))[0]), start=1
    ):
        names = list(dict.fromkeys(in_sentence(mix.lines[at].ingredient.name) for at in numbers))
        ending = "" if number == 1 else f".{number}"
        is_cold = cold or how.t_c is None or how.minutes is None
        if is_cold:
            do = [say("steep", "do-cold", bowl=VESSELS[vessel], hours=how.cold_h)]
            work = Work(vessel, not_above_c=_STEEP_COLD_C, pours=(Pour(bowl, vessel),), hold_min=60 * how.cold_h)
            least, most = 60 * how.cold_h, 90 * how.cold_h
        else:
            assert how.minutes is not None
            low, high = how.minutes
            do = [
                say("steep", "do-hot", bowl=VESSELS[vessel], t_c=how.t_c),
                say("steep", "do-minutes", low=low, high=high),
            ]
            work = Work(vessel, pours=(Pour(bowl, vessel),), reaches_c=how.t_c, hold_min=(low + high) / 2)
            least, most = low, high
        yield step(
            "steep",
            name=f"steep{ending}",
            plan=way,
            facts={"names": names},
            do=do,
            why=say("steep", "why-cold") if is_cold else None,
            readings=[Reading("steep_c", "°C", how.t_c if not is_cold else _STEEP_COLD_C)],
            least_min=least,
            most_min=most,
            lines=numbers,
            work=work,
        )
        made_up = (
            say("sieve", "do-made-up", target_g=target, name=liquid)
            if liquid
            else say("sieve", "do-weigh", target_g=target)
        )
        yield step(
            "sieve",
            name=f"sieve{ending}",
            plan=way,
            do=[say("sieve", "do"), made_up],
            readings=[Reading("strained_g", "g", target)],
            work=Work(vessel, removes=tuple(Removal(at, mix.lines[at].grams) for at in numbers)),
        )


def _thinnest(mix: Mix, layout: Layout, vessel: str) -> str:
    """Return the liquid of a vessel that it is made up with; empty where there is none."""
    liquids = [mix.lines[at] for at in layout.lines_in(vessel) if role_of(mix.lines[at]) is Role.LIQUID]
    thinnest = max(liquids, key=lambda line: float(line.ingredient.row[INDEX["water"]]), default=None)
    return in_sentence(thinnest.ingredient.name) if thinnest else ""


def strain_step(mix: Mix, way: str, layout: Layout, vessel: str) -> Iterator[MakingStep]:
    """Yield the straining where there is anything that must not stay in: threads of egg, seeds, fibres."""
    kinds = {mix.lines[at].ingredient.kind for at in layout.lines_in(vessel)}
    fine = bool(layout.lines_in("yolks"))
    if not fine and "fruit" not in kinds:
        return
    yield step(
        "strain",
        plan=way,
        do=[say("strain", "do-fine" if fine else "do-coarse"), say("strain", "do-weigh")],
        readings=[Reading("stayed_g", "g")],
        work=Work(vessel),
    )
