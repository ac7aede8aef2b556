"""Whether the steps of a batch can be trusted: its material is followed from the store to the tubs, rule by rule.

It shares nothing with what builds the steps but the types of the flow: what an ingredient needs is read from the shelf
anew, and what is where is found by pouring it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache
from typing import Any, Final

from jalebi_core.data import read_toml
from jalebi_core.heat.pot import HOLDS, required_s
from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.flow import STORE, TUBS, Pour, Vessel, Work
from jalebi_core.production.making.steps import MakingStep, say
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_LEAST_G: Final = 0.01
_FRIDGE_C: Final = 5.0
_COLDEST_STEEP_C: Final = 5.0
_ROOM_C: Final = 20.0
_SIMMER_C: Final = 95.0
_HOT_STARCH_C: Final = 85.0
_COCOA_C: Final = 80.0
_EGG_C: Final = (80.0, 84.5)
_MELTS_C: Final = (45.0, 66.0)
_GELATIN_C: Final = (49.0, 61.0)
_CULTURE_C: Final = 40.0
_SPIRIT_C: Final = 20.0
_CURDLES_C: Final = 10.0
_CREAM_C: Final = 8.0
_REFREEZE_MIN: Final = 720.0
_DRAWN_C: Final[Mapping[str, float]] = {"churn": -11.05, "shake": -9.05}
_STARCH_MATTERS: Final = 0.005


@dataclass(frozen=True, slots=True)
class Check:
    """Whether a rule holds for the steps of a batch, and what is said of it."""

    rule: str
    ok: bool
    message: Message


@dataclass(slots=True)
class _Vessel:
    """What a vessel holds, g by line, how much of it has not been held hot yet, and how hot it is."""

    held: dict[int, float] = field(default_factory=lambda: defaultdict(float))
    unheated: dict[int, float] = field(default_factory=lambda: defaultdict(float))
    t_c: float = _ROOM_C

    @property
    def grams(self) -> float:
        return sum(self.held.values())


@dataclass(slots=True)
class _Line:
    """What has happened to a line: what left the store, what was sieved out, and how hot it has been for how long."""

    taken: float = 0.0
    removed: float = 0.0
    holds: list[tuple[float, float]] = field(default_factory=list)
    hottest: float = -300.0
    met: list[tuple[float, str]] = field(default_factory=list)
    """The temperature and the vessel into which it was poured."""
    beside: set[int] = field(default_factory=set)
    """Lines with which it was dry or cold, before it met anything else."""


class _Flow:
    """The steps of a batch as they are followed."""

    def __init__(self, mix: Mix, vessels: Sequence[Vessel], region: str) -> None:
        self.mix = mix
        self.region = region
        self.room = {one.id: one.litres for one in vessels}
        self.vessels: dict[str, _Vessel] = defaultdict(_Vessel)
        for one in vessels:
            self.vessels[one.id].t_c = one.kept_c
        self.lines: dict[int, _Line] = defaultdict(_Line)
        self.faults: dict[str, set[str]] = defaultdict(set)
        self.most: dict[str, float] = defaultdict(float)

    def fault(self, rule: str, *numbers: int, what: str = "") -> None:
        names = [in_sentence(self.mix.lines[at].ingredient.name) for at in numbers]
        self.faults[rule].update(names or [what])

    def follow(self, work: Work) -> None:
        """Do what a step does."""
        where = self.vessels[work.vessel] if work.vessel else _Vessel()
        if work.not_above_c is not None:
            where.t_c = min(where.t_c, work.not_above_c)
        for take in work.takes:
            if take.source == STORE:
                self.lines[take.line].taken += take.grams
            else:
                self._leave(take.source, take.line, take.grams)
            self._arrive(take.vessel, take.line, take.grams)
        for pour in work.pours:
            self._pour(pour)
        if work.reaches_c is not None:
            where.t_c = work.reaches_c
            if _pasteurises(work.reaches_c, work.hold_min or 0.0, self.region):
                where.unheated.clear()
            for at, grams in where.held.items():
                if grams > _LEAST_G:
                    self.lines[at].holds.append((work.reaches_c, work.hold_min or 0.0))
                    self.lines[at].hottest = max(self.lines[at].hottest, work.reaches_c)
        for removal in work.removes:
            if work.vessel is not None:
                self._leave(work.vessel, removal.line, removal.grams)
            self.lines[removal.line].removed += removal.grams
        if work.cools_to_c is not None:
            where.t_c = work.cools_to_c

    def _leave(self, vessel: str, line: int, grams: float) -> None:
        if self.vessels[vessel].held[line] < grams - max(_LEAST_G, 0.001 * grams):
            self.fault("there", line)
        self.vessels[vessel].held[line] -= grams

    def _arrive(self, vessel: str, line: int, grams: float) -> None:
        there = self.vessels[vessel]
        there.held[line] += grams
        there.unheated[line] += grams
        together = {at for at, held in there.held.items() if held > _LEAST_G}
        for at in together:
            self.lines[at].beside |= together
        self.most[vessel] = max(self.most[vessel], there.grams)

    def _pour(self, pour: Pour) -> None:
        source, there = self.vessels[pour.source], self.vessels[pour.vessel]
        whole = source.grams
        if whole <= _LEAST_G:
            self.fault("there", what=pour.source)
            return
        share = 1.0 if pour.grams is None else pour.grams / whole
        poured = whole * share
        warmth = there.grams * there.t_c + poured * source.t_c
        there.t_c = warmth / (there.grams + poured)
        if share > 1.001:
            self.fault("there", what=pour.source)
        for at, held in list(source.held.items()):
            if held > _LEAST_G:
                self.lines[at].met.append((there.t_c if there.grams > _LEAST_G else source.t_c, pour.vessel))
                there.held[at] += held * share
                source.held[at] -= held * share
                cold = source.unheated[at] * share
                there.unheated[at] += cold
                source.unheated[at] -= cold
        self.most[pour.vessel] = max(self.most[pour.vessel], there.grams)


def checks_of(
    mix: Mix, vessels: Sequence[Vessel], steps: Sequence[MakingStep], region: str = "eu"
) -> tuple[Check, ...]:
    """Return every rule that applies to the steps of a batch, and whether it holds."""
    flow = _Flow(mix, vessels, region)
    rules = _Rules(mix, flow, steps)
    for step in steps:
        rules.before(step)
        flow.follow(step.work)
        rules.after(step)
    rules.at_the_end()
    return tuple(
        Check(rule, not flow.faults[rule], _said(rule, sorted(flow.faults[rule]))) for rule in rules.applying()
    )


def _pasteurises(celsius: float, minutes: float, region: str) -> bool:
    """Tell whether a hold is long enough, by the stricter of two rules."""
    needed = [required_s(one, celsius) for one in {"us", region if region in HOLDS else "us"}]
    return all(one is not None and 60 * minutes >= one - 0.5 for one in needed)


def _said(rule: str, faulty: list[str]) -> Message:
    if not faulty:
        return say("check", rule)
    return say("check", "broken", rule=say("check", rule), what=faulty)


class _Rules:
    """The rules, looked at as the flow goes on."""

    def __init__(self, mix: Mix, flow: _Flow, steps: Sequence[MakingStep]) -> None:
        self.mix, self.flow, self.steps = mix, flow, steps
        self.numbers = [at for at, line in enumerate(mix.lines) if line.grams > 0]
        self.base = [at for at in self.numbers if mix.lines[at].stage not in ("mix-in", "layer")]
        self.kinds = {step.kind for step in steps}
        self.is_heated = bool(self.kinds & {"cook", "scald", "syrup", "boil", "warm"})
        self.has_milk = any({"milk", "egg"} & set(mix.lines[at].ingredient.allergens) for at in self.base)
        self.emptied: set[str] = set()
        self.drawn_c: float | None = None
        self.runs_frozen = 0
        self.waited_again = 0.0

    def of(self, key: str) -> list[int]:
        """Return the lines of the base that are listed as something, such as cocoa."""
        return [at for at in self.base if self.mix.lines[at].ingredient.slug in _listed(key)]

    def raw(self) -> list[int]:
        """Return the lines that come from an animal and are not pasteurised."""
        facts = {at: self.mix.lines[at].ingredient.facts for at in self.numbers}
        return [at for at, one in facts.items() if one.sold == "raw" or {"raw-egg", "raw-milk"} & set(one.cautions)]

    def gums(self, *, hot: bool | None = None) -> list[int]:
        """Return the gums of the base; those that need heat, those that do not, or all."""
        gums = [
            at
            for at in self.base
            if self.mix.lines[at].ingredient.kind == "gum" and self.mix.lines[at].ingredient.slug != "gelatin"
        ]
        if hot is None:
            return gums
        needs = {at: self.mix.lines[at].ingredient.facts.hydrates for at in gums}
        return [at for at, need in needs.items() if (need is not None and need.from_c is not None) is hot]

    def starches(self) -> list[int]:
        """Return the starches of the base, where there is enough of one to be felt."""
        found = [at for at in self.base if self.mix.lines[at].ingredient.kind == "starch"]
        enough = sum(self.mix.lines[at].grams for at in found) >= _STARCH_MATTERS * self.mix.mass_g
        return found if enough else []

    def eggs(self) -> list[int]:
        """Return the eggs of the base that are wet."""
        return [
            at
            for at in self.base
            if self.mix.lines[at].ingredient.kind == "egg" and self.mix.lines[at].ingredient.row[INDEX["water"]] > 40
        ]

    def steeped(self) -> list[int]:
        """Return what is sieved out again."""
        return [at for at in self.base if _steeping(self.mix.lines[at].ingredient.slug) is not None]

    def sharp(self) -> list[int]:
        return self.of("sharp")

    def spirits(self) -> list[int]:
        lines = self.mix.lines
        return [at for at in self.base if lines[at].ingredient.row[INDEX["ethanol"]] > 2.5]

    def before(self, step: MakingStep) -> None:
        """Look at what a step is about to do."""
        self._look_at_kind(step)
        for pour in step.work.pours:
            self._look_at_pour(step, pour)

    def _look_at_pour(self, step: MakingStep, pour: Pour) -> None:
        source, there = self.flow.vessels[pour.source], self.flow.vessels[pour.vessel]
        celsius = there.t_c if step.work.not_above_c is None else min(there.t_c, step.work.not_above_c)
        for at in [at for at, held in source.held.items() if held > _LEAST_G]:
            if there.grams <= _LEAST_G or pour.vessel == TUBS:
                continue
            self._look_at_meeting(at, celsius, fresh=self.flow.lines[at].hottest < 0)

    def _look_at_meeting(self, at: int, celsius: float, *, fresh: bool) -> None:
        """Look at a line that meets what is in another vessel, at a temperature."""
        if not fresh or at not in self.base:
            return
        late = self.mix.lines[at].stage == "churn"
        if at in self.of("melts") and self.is_heated and not late and not _MELTS_C[0] <= celsius <= _MELTS_C[1]:
            self.flow.fault("melt", at)
        if self.mix.lines[at].ingredient.slug == "gelatin" and not _GELATIN_C[0] <= celsius <= _GELATIN_C[1]:
            self.flow.fault("gum", at)
        limits = [_CULTURE_C] if at in [*self.sharp(), *self.of("cultured")] else []
        limits += [_SPIRIT_C] if at in [*self.spirits(), *self.of("essences")] else []
        limits += [_CURDLES_C] if at in self.sharp() and self.has_milk else []
        if any(celsius > limit + 0.01 for limit in limits):
            self.flow.fault("late", at)

    def _look_at_kind(self, step: MakingStep) -> None:
        work = step.work
        if step.kind == "whip" and (work.not_above_c is None or work.not_above_c > _CREAM_C):
            self.flow.fault("whip", what="cream")
        if step.kind == "rouse" and self.flow.vessels[work.vessel or ""].t_c > _FRIDGE_C + 0.01:
            self.flow.fault("machine", what="base")
        if step.kind in ("churn", "shake"):
            self.runs_frozen += 1
            if self.runs_frozen > 1 and "bowl-out" in self.kinds and self.waited_again < _REFREEZE_MIN:
                self.flow.fault("runs", what="bowl")
            self.waited_again = 0.0
            self.drawn_c = work.cools_to_c
            if work.cools_to_c is None or work.cools_to_c < _DRAWN_C[step.kind]:
                self.flow.fault("draw", what=step.kind)
        if step.kind == "prefreeze":
            self.waited_again += step.least_min or 0.0
        if step.kind == "harden" and self.drawn_c is not None and (work.cools_to_c or 0.0) > self.drawn_c + 0.01:
            self.flow.fault("draw", what="tub")
        if step.kind == "cool" and (not step.stages or (step.least_min or 0.0) < 5):
            self.flow.fault("cool", what="pot")
        low, high = step.least_min, step.most_min
        if low is not None and high is not None and low > high:
            self.flow.fault("waits", what=step.kind)

    def after(self, step: MakingStep) -> None:
        """Look at what a step has done."""
        if step.kind == "weigh" and step.weighing is not None:
            one = step.weighing
            if not one.low_g <= one.target_g <= one.high_g or one.high_g - one.target_g < one.step_g - 1e-9:
                self.flow.fault("weigh", one.line)

    def at_the_end(self) -> None:
        """Look at what has become of every line."""
        for at in self.numbers:
            line, found = self.mix.lines[at], self.flow.lines[at]
            ends = self.flow.vessels[TUBS].held[at] + found.removed
            if abs(found.taken - line.grams) > _LEAST_G or abs(ends - line.grams) > max(_LEAST_G, 0.002 * line.grams):
                self.flow.fault("once", at)
        for key, vessel in self.flow.vessels.items():
            if key != TUBS and vessel.grams > 0.5:
                self.flow.fault("there", what=key)
        for key, grams in self.flow.most.items():
            if key in self.flow.room and grams / 1000 > self.flow.room[key]:
                self.flow.fault("room", what=key)
        for at in self.raw():
            if self.flow.vessels[TUBS].unheated[at] > _LEAST_G:
                self.flow.fault("pasteurised", at)
        self._gums_at_the_end()
        self._starches_at_the_end()
        for at in self.of("cocoa"):
            if not any(celsius >= _COCOA_C and minutes >= 1 for celsius, minutes in self.flow.lines[at].holds):
                self.flow.fault("cocoa", at)
        for at in self.steeped():
            if not self._steeped_well(at):
                self.flow.fault("steep", at)
        for at in self.eggs():
            hottest = self.flow.lines[at].hottest
            starchy = any(self.mix.lines[one].ingredient.kind == "starch" for one in self.base)
            boiled = starchy and hottest >= _SIMMER_C
            unheated = hottest < 0 and at not in self.raw()
            if self.is_heated and not unheated and not (boiled or _EGG_C[0] <= hottest <= _EGG_C[1]):
                self.flow.fault("egg", at)
        for rule, kind in _NEEDED.items():
            if rule in self.applying() and kind not in self.kinds:
                self.flow.fault(rule, what=kind)
        for key in self._critical():
            if key not in {step.critical for step in self.steps}:
                self.flow.fault("critical", what=key)

    def _gums_at_the_end(self) -> None:
        for at in self.gums(hot=True):
            need = self.mix.lines[at].ingredient.facts.hydrates
            assert need is not None and need.from_c is not None
            if not any(t >= need.from_c and held >= (need.minutes or 0) for t, held in self.flow.lines[at].holds):
                self.flow.fault("gum", at)

    def _starches_at_the_end(self) -> None:
        for at in self.starches():
            least = 1.0 if self.mix.lines[at].ingredient.slug in _listed("boils_briefly") else 2.0
            holds = self.flow.lines[at].holds
            if not any(celsius >= _SIMMER_C and minutes >= least for celsius, minutes in holds):
                self.flow.fault("starch", at)
            liquid = [
                one
                for one in self.flow.lines[at].beside
                if one != at and self.mix.lines[one].ingredient.row[INDEX["water"]] > 40
            ]
            if not liquid:
                self.flow.fault("starch", at)

    def _steeped_well(self, at: int) -> bool:
        how = _steeping(self.mix.lines[at].ingredient.slug)
        found = self.flow.lines[at]
        if how is None or abs(found.removed - self.mix.lines[at].grams) > _LEAST_G:
            return False
        waits = [step for step in self.steps if step.kind == "steep" and at in step.lines]
        for step in waits:
            hours = (step.work.hold_min or 0.0) / 60
            cold = step.work.not_above_c is not None and step.work.not_above_c <= _COLDEST_STEEP_C
            if cold and hours >= how["cold_h"] - 0.01:
                return True
            low, high = how.get("minutes", (1e9, 0))
            if not cold and low <= 60 * hours <= high and step.work.reaches_c == how.get("t_c"):
                return True
        return False

    def _critical(self) -> Iterator[str]:
        if self.raw() and self.is_heated:
            yield "heated"
        yield "cooled" if self.is_heated else "cold_base"
        if self.steeped() or any(at in self.eggs() for at in self.raw()):
            yield "foreign_bodies"
        if self.kinds & {"churn", "shake"}:
            yield "allergens"
        if "age" in self.kinds:
            yield "aged"
        if "harden" in self.kinds:
            yield "hardened"

    def applying(self) -> Iterator[str]:
        """Yield the rules that apply to this mix, in the order of the work."""
        churned = bool(self.kinds & {"churn", "shake"})
        applies = {
            "once": True, "there": True, "room": True, "pasteurised": bool(self.raw()), "critical": True,
            "gum": bool(self.gums()) or "gelatin" in self.kinds, "starch": bool(self.starches()),
            "cocoa": bool(self.of("cocoa")), "melt": bool(self.of("melts")), "steep": bool(self.steeped()),
            "late": bool([*self.sharp(), *self.spirits(), *self.of("cultured"), *self.of("essences")]),
            "egg": bool(self.eggs()) and self.is_heated, "whip": "whip" in self.kinds, "cool": self.is_heated,
            "age": "age" in self.kinds, "machine": churned, "draw": churned, "runs": self.runs_frozen > 1,
            "waits": True, "serve": True, "weigh": True, "clean": True,
        }  # fmt: skip
        yield from (rule for rule, does in applies.items() if does)


_NEEDED: Final[Mapping[str, str]] = {"clean": "wash", "machine": "clean", "steep": "sieve"}
"""What must be among the steps where a rule applies."""


@cache
def _materials() -> dict[str, Any]:
    return read_toml("materials.toml")


def _listed(key: str) -> frozenset[str]:
    return frozenset(_materials()[key])


def _steeping(slug: str) -> dict[str, Any] | None:
    return next((one for one in _materials()["steep"].values() if slug in one["of"]), None)
