"""From a mix to its steps: preparing, heating, cooling, ageing, churning, hardening, keeping, tempering, serving.

Minutes are worked back from what a small kitchen needs for so many grams; a kitchen's own and the models' take their
place. Ways: cook (custard), scald, syrup, whip (no-churn) and blend, which heats nothing. Mixes that share a base have
it heated, cooled and aged once for all of them; it is split by weight before each is flavoured.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Final

from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.problem import Hands, Lag, Machine, Option, Step, Use

_G_PER_DL: Final = 110
"""A decilitre of base weighs 110 g."""
_LEFT_OUT_OF_RUNS: Final = frozenset({"gums", "gelatin"})
_SLOW: Final = frozenset({"milk", "egg", "gums", "gelatin"})
"""With these a base ages four hours."""
_COOLING: Final = "57 to 21 °C within 2 h, to 5 °C within 4 h more"
ALL: Final = Hands(throughout=True)


@dataclass(frozen=True, slots=True)
class Preparing:
    """Something that is reduced, steeped or macerated: from least to most minutes, and how long it may stand then."""

    kind: str
    least: int
    most: int
    keeps_min: int = 60


@dataclass(frozen=True, slots=True)
class PlannedMix:
    """A mix as it is planned.

    has : milk, egg, nuts, gluten, alcohol, dark, smoke, gums, gelatin …
    due : when it is served
    prepare : what is prepared before weighing, one after the other
    frozen : its base lies in the freezer; chilled_since : or in the fridge since then, 0 or less
    minutes : least and most minutes of the steps of a kind, in the place of the usual ones
    base : the name of the base that it shares with other mixes
    churn_min : how long it churns in each machine, in the place of the machine's own minutes
    cool : ice-bath, or how a kitchen without one cools where the pot's curve meets both clocks
    """

    id: str
    name: str
    style: str
    grams: int
    has: frozenset[str]
    due: int
    overrun_pct: int = 30
    runs: int = 1
    machines: tuple[str, ...] = ()
    way: str | None = None
    fresh: bool = False
    fresh_max_min: int = 120
    mix_in: bool = False
    age_min: int | None = None
    keeps_min: int | None = None
    prepare: tuple[Preparing, ...] = ()
    frozen: bool = False
    chilled_since: int | None = None
    minutes: Mapping[str, tuple[int, int | None]] = field(default_factory=dict)
    base: str | None = None
    cool: str = "ice-bath"
    churn_min: Mapping[str, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Workplace:
    """What the steps of a mix depend on beside it."""

    grid: int
    horizon: int
    spare_min: int
    machines: Sequence[Machine]
    places: frozenset[str]


def steps_of(mix: PlannedMix, at: Workplace) -> tuple[list[Step], list[Lag]]:
    """Return the steps of a mix and the waits between them; what it shares with others comes from `base_steps`."""
    found = _Expansion(mix, at)
    found.expand()
    steps = [_with_minutes(step, mix.minutes) for step in found.steps]
    return steps, found.lags


def base_steps(base: str, mixes: Sequence[PlannedMix], at: Workplace) -> tuple[list[Step], list[Lag], str]:
    """Return the steps of a base that several mixes share, the waits between them, and what the base is called.

    Raises
    ------
    PlanError : a mix that is made in another way than the rest
    """
    first = mixes[0]
    for other in mixes[1:]:
        if usual_way(other) != usual_way(first) or other.cool != first.cool or usual_way(other) == "whip":
            raise PlanError("plan-base-differs", base=base, mix=other.name)
    keeps = [one.keeps_min for one in mixes if one.keeps_min is not None]
    whole = replace(
        first,
        id=base,
        grams=sum(mix.grams for mix in mixes),
        has=frozenset().union(*(mix.has for mix in mixes)),
        keeps_min=min(keeps) if keeps else None,
        base=None,
    )
    found = _Expansion(whole, at)
    found.expand_base()
    steps = [_with_minutes(step, first.minutes) for step in found.steps]
    return steps, found.lags, f"Base of {' and '.join(mix.name for mix in mixes)}"


def usual_way(mix: PlannedMix) -> str:
    """Return how a mix is made where nobody says it."""
    return mix.way or way_of(mix.style, mix.has)


def way_of(style: str, has: frozenset[str]) -> str:
    """Return how a mix of a style that holds such things is usually made: cook, scald, syrup or whip."""
    by_style = {"frozen-custard": "cook", "sorbet": "syrup", "sherbet": "syrup", "no-churn": "whip"}
    return by_style.get(style) or ("cook" if "egg" in has else "scald")


def usual_age_min(has: frozenset[str]) -> int:
    """Return the least minutes that a base ages by what it holds."""
    return 240 if has & _SLOW else 120


def usual_keeps_min(way: str) -> int:
    """Return how many minutes a base keeps at most from the start of its ageing."""
    return 2880 if way == "syrup" else 4320


class _Expansion:
    """The steps of one mix as they are put together."""

    def __init__(self, mix: PlannedMix, at: Workplace) -> None:
        self.mix, self.at, self.way = mix, at, usual_way(mix)
        self.steps: list[Step] = []
        self.lags: list[Lag] = []
        self.base = -(-mix.grams // _G_PER_DL)
        self.tub = -(-mix.grams * (100 + mix.overrun_pct) // (100 * _G_PER_DL * mix.runs))
        self.age_min = mix.age_min if mix.age_min is not None else usual_age_min(mix.has)
        self.keeps_min = mix.keeps_min if mix.keeps_min is not None else usual_keeps_min(self.way)

    def expand(self) -> None:
        last = self._until_whipped() if self.way == "whip" else self._until_churned(self._base_or_share())
        self._add("serve", Option(0, 0), due=self.mix.due)
        if self.mix.fresh:
            least = min(self.at.spare_min, self.mix.fresh_max_min)
            for step in last:
                self._wait(step, "serve", least, self.mix.fresh_max_min, "best within two hours of the draw")
            return
        freezer = Use("fridge", self.tub * self.mix.runs)
        self._add("temper", Option(15, 30, Hands(first=5), (freezer,)))
        for number, step in enumerate(last, start=1):
            self._harden(number, step)
        self._wait("temper", "serve", 0, 15, "served before it softens")

    def _harden(self, number: int, after: str) -> None:
        harden, keep = f"harden.{number}", f"keep.{number}"
        tub = Use("freezer", self.tub)
        options = [Option(360 if self.way == "whip" else 240, self.at.horizon, uses=(tub,))]
        if "blast" in self.at.places:
            options.append(Option(60, 240, Hands(last=5), (Use("blast", self.tub),)))
        if "bucket" in self.at.places:
            options.append(Option(120, 240, Hands(first=10, last=5), (Use("bucket", 1),)))
        self._add(harden, *options)
        self._add(keep, Option(self.at.spare_min, self.at.horizon, uses=(tub,)))
        self._wait(after, harden, 0, 5, "slow freezing grows ice")
        self._wait(harden, keep, 0, 0, "never thaws in between", safety=True)
        self._wait(keep, "temper", 0, 0, "tempers straight from the freezer")

    def expand_base(self) -> None:
        """Add what leads to a base that several mixes share."""
        self._base()

    def _base_or_share(self) -> str:
        """Add what leads to the churn, and return the step that ages: its own or that of a shared base."""
        if self.mix.base is None:
            return self._id(self._base())
        minutes = self._up(10)
        self._add("flavour", Option(minutes, minutes, ALL))
        shared = f"{self.mix.base}.age"
        for churn in self._churns():
            self.lags.append(Lag(self._id("flavour"), self._id(churn), 0, None, "flavoured before it is churned"))
        self.lags.append(
            Lag(shared, self._id("flavour"), 0, None, "split by weight once the base is cold", from_start=True)
        )
        return shared

    def _churns(self) -> list[str]:
        return [f"churn.{number}" for number in range(1, self.mix.runs + 1)]

    def _base(self) -> str:
        """Add what leads to a base that may be churned, and return its last step."""
        fridge = (Use("fridge", self.base),)
        if self.mix.frozen:
            self.age_min = 720 if self.mix.age_min is None else self.mix.age_min
            self.keeps_min = 2880 if self.mix.keeps_min is None else self.mix.keeps_min
            self._add("thaw", self._ageing(Hands(first=5), fridge))
            return "thaw"
        if self.mix.chilled_since is not None:
            self.age_min = max(self.age_min + self.mix.chilled_since, 0)
            self.keeps_min += self.mix.chilled_since
            self._add("age", self._ageing(Hands(), fridge), earliest=0, latest=0)
            return "age"
        self._prepare_and_weigh()
        if self.way == "blend":
            motor = (Use("motor", 1),) if "motor" in self.at.places else ()
            self._add("blend", Option(self._up(10), self._up(10), ALL, motor))
            self._wait("weigh", "blend", 0, 60, "weighed goods do not stand about")
            self._add("age", self._ageing(Hands(), fridge))
            self._wait("blend", "age", 0, 15, "cold base goes into the fridge at once", safety=True)
            return "age"
        self._heat()
        self._add("age", self._ageing(Hands(), fridge))
        self._wait("cool", "age", 0, 0, "cold base goes into the fridge at once", safety=True)
        return "age"

    def _heat(self) -> None:
        grams = self.mix.grams
        cooks = self.way == "cook"
        minutes = self._up(15 + 10 * grams // 1000) if cooks else self._up(10 + 5 * grams // 1000)
        self._add(self.way, Option(minutes, minutes, ALL, (Use("burner", 1),)))
        with_egg = cooks and "egg" in self.mix.has
        why = "sugar does not lie on yolks" if with_egg else "weighed goods do not stand about"
        self._wait("weigh", self.way, 0, 10 if with_egg else 60, why)
        cooling = self._up(15 + 15 * grams // 1000)
        bath = Use("ice-bath", 1) if self.mix.cool == "ice-bath" else Use("fridge", self.base)
        self._add("cool", Option(cooling, cooling, Hands(first=5, last=5), (bath,)))
        self._wait(self.way, "cool", 0, 15, _COOLING, safety=True)

    def _prepare_and_weigh(self) -> None:
        before, keeps = None, 0
        for number, one in enumerate(self.mix.prepare, start=1):
            name = f"{one.kind}.{number}"
            self._add(name, self._preparing(one))
            if before:
                self._wait(before, name, 0, keeps, "what is prepared does not stand about")
            before, keeps = name, one.keeps_min
        self._add("weigh", Option(self._up(10), self._up(10), ALL))
        if before:
            self._wait(before, "weigh", 0, keeps, "what is prepared does not stand about")

    def _preparing(self, one: Preparing) -> Option:
        if one.kind == "reduce":
            return Option(one.least, one.most, Hands(first=5, last=10), (Use("burner", 1),))
        hands = Hands(first=10, last=10) if one.kind == "steep" else Hands(first=10, last=5)
        return Option(one.least, one.most, hands, (Use("fridge", self.base),))

    def _ageing(self, hands: Hands, uses: tuple[Use, ...]) -> Option:
        return Option(min(self.age_min, self.at.horizon), min(self.keeps_min, self.at.horizon), hands, uses)

    def _until_churned(self, base: str) -> list[str]:
        wanted = self.mix.machines or tuple(machine.id for machine in self.at.machines)
        hands = Hands(first=5, last=15 if self.mix.mix_in else 10)
        machines = {machine.id: machine for machine in self.at.machines}
        minutes = {name: self.mix.churn_min.get(name, machines[name].churn_min) for name in wanted}
        churning = tuple(Option(minutes[name], minutes[name], hands, machine=name) for name in wanted)
        names = self._churns()
        for name in names:
            self._add(name, *churning, carries=self.mix.has - _LEFT_OUT_OF_RUNS)
            churn, kept = self._id(name), "ages at least, keeps at most"
            self.lags.append(Lag(base, churn, self.age_min, self.keeps_min, kept, from_start=True))
            if self.mix.runs == 1 and self.mix.base is None:
                self.lags.append(Lag(base, churn, 0, 0, "from the fridge straight into the machine"))
            else:
                stays = "the base stays in the fridge until its last run"
                self.lags.append(Lag(churn, base, 0, None, stays, from_start=True, to_end=True))
        return names

    def _until_whipped(self) -> list[str]:
        self._prepare_and_weigh()
        minutes = self._up(20 + 5 * self.mix.grams // 1000)
        self._add("whip", Option(minutes, minutes, ALL))
        self._wait("weigh", "whip", 0, 60, "weighed goods do not stand about")
        return ["whip"]

    def _add(
        self,
        name: str,
        *options: Option,
        carries: frozenset[str] = frozenset(),
        earliest: int | None = None,
        latest: int | None = None,
        due: int | None = None,
    ) -> None:
        kind = name.split(".")[0]
        self.steps.append(Step(self._id(name), self.mix.id, kind, options, carries, earliest, latest, due))

    def _wait(
        self,
        before: str,
        after: str,
        least: int,
        most: int | None,
        why: str,
        *,
        safety: bool = False,
    ) -> None:
        self.lags.append(Lag(self._id(before), self._id(after), least, most, why, safety))

    def _id(self, name: str) -> str:
        return f"{self.mix.id}.{name}"

    def _up(self, minutes: int) -> int:
        return -(-minutes // self.at.grid) * self.at.grid


def _with_minutes(step: Step, minutes: Mapping[str, tuple[int, int | None]]) -> Step:
    """Return a step with a kitchen's own least minutes, and its most where it was the same or is said."""
    own = minutes.get(step.kind)
    if own is None:
        return step
    count = len(step.options) if step.kind == "churn" else 1
    changed = tuple(_timed(option, *own) for option in step.options[:count])
    return replace(step, options=(*changed, *step.options[count:]))


def _timed(option: Option, least: int, most: int | None) -> Option:
    if most is None:
        most = least if option.least == option.most else option.most
    return replace(option, least=least, most=most)


def default_minutes(kind: str, grams: int, grid: int) -> tuple[int, int]:
    """Return least and most minutes of a preparation of which nobody says how long it takes."""
    if kind == "reduce":
        minutes = -(-(20 + 20 * grams // 1000) // grid) * grid
        return minutes, minutes
    return (60, 720) if kind == "steep" else (480, 1440)
