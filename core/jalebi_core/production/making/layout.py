"""How a mix is made, and into which bowl each part of a line is weighed before the work begins."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from typing import Final

from jalebi_core.model.mix import Line, Mix
from jalebi_core.production.making.flow import Refusal
from jalebi_core.production.making.materials import (
    LATE,
    Role,
    is_beside,
    is_raw,
    is_syrup,
    needs_heat,
    role_of,
    stays_raw,
    steeping_kind,
    steeping_of,
    whips,
)
from jalebi_core.production.making.steps import say
from jalebi_core.wording.names import in_sentence

HOT: Final = ("cook", "scald", "syrup")
SUGAR_PER_GUM: Final = 5.0
SYRUP_PER_GUM: Final = 10.0
LIQUID_PER_STARCH: Final = 3.0
WATER_PER_GELATIN: Final = 5.0
SUGAR_PER_COCOA: Final = 1.0
VESSELS: Final[Mapping[str, str]] = {
    "dry": "the dry bowl",
    "bloom": "a cup for the gelatin",
    "slurry": "a cup for the starch",
    "cocoa": "a bowl for the cocoa",
    "steep-spice": "a dry cup for the spices",
    "steep-herb": "a dry cup for the leaves",
    "steep-tea": "a dry cup for the tea",
    "steep-coffee": "a dry cup for the coffee",
    "steep-flower": "a dry cup for the flowers",
    "pot": "the pot",
    "blender": "the blender jug",
    "rest": "a second bowl",
    "cream": "a cold bowl for the cream",
    "melt": "a bowl at room temperature",
    "cold": "a bowl kept cold",
    "jug": "a jug in the fridge",
    "cup": "a cup for the churn",
    "box": "a box in the freezer",
    "layers": "a box beside it",
    "yolks": "the bowl for the yolks",
    "machine": "the machine",
    "tray": "a wide tray",
    "tubs": "the tubs",
}
"""What holds the parts of a mix, in the order in which they are weighed: dry while hands are dry, yolks last."""
KEPT_C: Final[Mapping[str, float]] = {
    "cream": 4.0, "cold": 4.0, "jug": 4.0, "cup": 4.0, "box": -18.0, "layers": -18.0, "tray": -18.0, "tubs": -18.0,
}  # fmt: skip
"""Where what is weighed into a vessel stands cold until it is wanted, °C."""
_PASTEURISED: Final[Mapping[str, str]] = {
    "egg-yolk": "pasteurised-egg-yolk",
    "egg-white": "pasteurised-egg-white",
    "whole-egg": "pasteurised-whole-egg",
    "duck-egg-yolk": "pasteurised-egg-yolk",
    "goose-egg-yolk": "pasteurised-egg-yolk",
    "raw-milk": "whole-milk",
}
_HOT_STAGES: Final = ("pot", "yolks")
"""Stages that send a line into the heat; what is blended dry goes where its mix goes."""
_OF_WATER: Final = ("sorbet", "sherbet", "granita")
"""Styles whose sugar is dissolved in water, where nothing in them asks for more heat."""
_CREAMS: Final = ("cream-36", "coconut-cream")
_ROUND_G: Final = 5.0
_FLOWS_PCT: Final = 40.0
_CARRIES: Final = 0.3
"""The share of the base that must flow in the pot for the rest to dissolve in it."""


@dataclass(frozen=True, slots=True)
class Portion:
    """So many g of a line in a vessel."""

    line: int
    grams: float
    vessel: str


@dataclass(frozen=True, slots=True)
class Layout:
    """How a mix is made: its way, what stands against it, and where each part of it is weighed into."""

    way: str
    portions: tuple[Portion, ...]
    refused: tuple[Refusal, ...] = ()
    gums_in: str = ""
    """What lends the gums room: sugar, fat, syrup or dry."""

    def lines_in(self, *vessels: str) -> tuple[int, ...]:
        """Return the lines of which something is weighed into vessels."""
        return tuple(dict.fromkeys(one.line for one in self.portions if one.vessel in vessels))

    def grams_in(self, *vessels: str) -> float:
        """Return what vessels hold once all is weighed, g."""
        return sum(one.grams for one in self.portions if one.vessel in vessels)

    @property
    def base_g(self) -> float:
        """What the base weighs when it is frozen, g: without what is sieved out, and what joins in the machine."""
        beside = ("cup", "box", "layers")
        return sum(
            one.grams for one in self.portions if one.vessel not in beside and not one.vessel.startswith("steep")
        )


def making_way(mix: Mix) -> str:
    """Return how a mix is made: cook, scald, syrup, blend or whip.

    It follows from the lines: raw milk or egg that must be heated asks for the pot, lines that all stand cold for the
    blender; the style decides where they leave it open.
    """
    base = [line for line in mix.lines if line.grams > 0 and not is_beside(line)]
    if mix.style == "no-churn":
        return "whip"
    eggs = [line for line in base if role_of(line) is Role.EGG]
    hot = any(needs_heat(line) for line in base)
    if any(is_raw(line.ingredient) for line in eggs) or any(line.stage in (None, *_HOT_STAGES) for line in eggs):
        return "cook"
    cold = all(line.stage is not None and line.stage not in _HOT_STAGES for line in base)
    if cold and not hot:
        return "blend"
    if eggs and mix.style == "frozen-custard":
        return "cook"
    if any(is_raw(line.ingredient) for line in base):
        return "scald"
    if mix.style not in _OF_WATER:
        return "scald"
    dissolves = any(role_of(line) not in (Role.LIQUID, Role.FRUIT) or line.stage in _HOT_STAGES for line in base)
    return "syrup" if dissolves else "blend"


def lay_out(mix: Mix, *, holds_back: bool = False) -> Layout:
    """Return where each part of a mix is weighed into, and what cannot be made so.

    Parameters
    ----------
    holds_back : cream stays cold and goes in off the heat, where enough that flows is left in the pot
    """
    way = making_way(mix)
    refused = tuple(_refused(mix, way))
    if refused:
        return Layout(way, (), refused)
    table = _Table(mix, way, held_back=_held_back(mix) if holds_back and way in HOT else frozenset())
    table.part_gums()
    table.part_starch()
    table.part_gelatin()
    table.part_cocoa()
    return Layout(way, tuple(table.portions()), (), table.gums_in)


def _held_back(mix: Mix) -> frozenset[int]:
    """Return the cream of a base that may stay cold: none is raw, and what flows beside it carries the rest."""
    base = [(at, line) for at, line in enumerate(mix.lines) if line.grams > 0 and not is_beside(line)]
    cream = {at: line for at, line in base if whips(line.ingredient) and not is_raw(line.ingredient)}
    others = sum(line.grams for at, line in base if at not in cream and _is_wet(line, role_of(line)))
    return frozenset(cream) if others >= _CARRIES * sum(line.grams for _, line in base) else frozenset()


def _refused(mix: Mix, way: str) -> Iterable[Refusal]:
    for at, line in enumerate(mix.lines):
        if line.grams <= 0 or not is_raw(line.ingredient):
            continue
        if way in ("blend", "whip") or is_beside(line) or line.stage == "churn":
            instead = _PASTEURISED.get(line.ingredient.slug)
            said = say("refused", "raw", name=in_sentence(line.ingredient.name))
            yield Refusal("pasteurised", at, said, (instead,) if instead else ())
    yield from _without_liquid(mix, way)
    if way == "whip" and not any(
        whips(line.ingredient) for line in mix.base if line.grams > 0 and role_of(line) is Role.LIQUID
    ):
        fattest = max(range(len(mix.lines)), key=lambda at: mix.lines[at].grams)
        yield Refusal("whip", fattest, say("refused", "nothing-whips"), _CREAMS)


def _without_liquid(mix: Mix, way: str) -> Iterable[Refusal]:
    """Yield what needs a liquid where there is none that it could be put into."""
    base = [(at, line) for at, line in enumerate(mix.lines) if line.grams > 0 and not is_beside(line)]
    liquids = [line for _, line in base if _takes_up(line, way)]
    safe = [line for line in liquids if not is_raw(line.ingredient)]
    for at, line in base:
        rule = _NEEDS_LIQUID.get(role_of(line))
        if rule is not None and not (safe if role_of(line) is Role.GELATIN else liquids):
            said = say("refused", "no-liquid", name=in_sentence(line.ingredient.name))
            yield Refusal(rule, at, said, ("whole-milk", "water"))
            return


@dataclass(slots=True)
class _Table:
    """The parts of a mix as they are dealt out among the vessels."""

    mix: Mix
    way: str
    gums_in: str = ""
    pot_flows: bool = True
    has_liquid: bool = True
    only_late: bool = False
    """Whether all of it is meant for the end of the churn, which then has nothing to churn before."""
    sent_hot: frozenset[int] = frozenset()
    """Lines that go into the pot whatever their stage says: without them nothing in it would flow."""
    held_back: frozenset[int] = frozenset()
    """Cream that stays cold while the rest is heated."""
    left: dict[int, float] = field(default_factory=dict)
    parts: dict[tuple[int, str], float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.left = {at: line.grams for at, line in enumerate(self.mix.lines) if line.grams > 0}
        base = [self.mix.lines[at] for at in self.left if not is_beside(self.mix.lines[at])]
        self.only_late = all(line.stage == "churn" for line in base)
        self.has_liquid = any(_takes_up(line, self.way) for line in base)
        if self.way not in HOT:
            return
        fruit = frozenset(at for at in self.left if role_of(self.mix.lines[at]) is Role.FRUIT)
        for sent in (frozenset(), frozenset(self.left) - fruit, frozenset(self.left)):
            self.sent_hot = frozenset(sent)
            if any(self.home(at) == "pot" and self.mix.lines[at].ingredient.row[0] > _FLOWS_PCT for at in self.left):
                return
        self.pot_flows = False

    @property
    def main(self) -> str:
        """The vessel in which the base comes together."""
        return {"blend": "blender", "whip": "rest"}.get(self.way, "pot")

    def home(self, at: int) -> str:
        """Return the vessel of a line that is not parted."""
        line = self.mix.lines[at]
        role, stage = role_of(line), line.stage
        if is_beside(line):
            return "layers" if stage == "layer" else "box"
        if role is Role.STEEP and steeping_of(line.ingredient) is not None:
            return f"steep-{steeping_kind(line.ingredient)}"
        if role is Role.GUM:
            return "dry"
        if role in _OWN:
            return _OWN[role]
        if stage == "churn" and not self.only_late:
            return "cup"
        if self.way == "whip":
            return "cream" if role is Role.LIQUID and whips(line.ingredient) else "rest"
        if self.way == "blend":
            return self.main
        return self._in_the_heat(at, line, role)

    def _in_the_heat(self, at: int, line: Line, role: Role) -> str:
        if role is Role.EGG and self.way != "cook" and not is_raw(line.ingredient):
            return "jug"
        if role is Role.EGG:
            return "yolks" if self.way == "cook" and self.has_liquid else "pot"
        if is_raw(line.ingredient):
            return "pot"
        if role in (Role.MELT, Role.PASTE):
            return "melt"
        if line.stage == "yolks" and role not in LATE:
            return "yolks" if self.way == "cook" and self.pot_flows else "pot"
        if at in self.held_back:
            return "cold"
        if at in self.sent_hot and role not in LATE:
            return "pot"
        honey = line.ingredient.slug == "honey" and line.stage == "off-heat"
        if role in LATE or stays_raw(line) or line.stage == "cold" or honey:
            return "jug"
        return "cold" if line.stage == "off-heat" else "pot"

    def move(self, at: int, vessel: str, grams: float) -> float:
        """Put a part of a line into a vessel; return what there was of it."""
        moved = min(grams, self.left[at])
        if self.left[at] - moved < 0.5:
            moved = self.left[at]
        self.left[at] -= moved
        self.parts[at, vessel] = self.parts.get((at, vessel), 0.0) + moved
        return moved

    def lend(self, wanted: float, vessel: str, fits: Callable[[Line, Role], bool]) -> float:
        """Put g of the lines that fit into a vessel, the largest first; return what was found."""
        found = 0.0
        fitting = [
            at
            for at, line in enumerate(self.mix.lines)
            if self.left.get(at, 0.0) > 0 and self.home(at) in (self.main, "yolks", "jug") and fits(line, role_of(line))
        ]
        for at in sorted(fitting, key=lambda at: (self.home(at) != self.main, -self.left[at])):
            if found >= wanted:
                break
            need = wanted - found
            found += self.move(at, vessel, -(-need // _ROUND_G) * _ROUND_G if need > _ROUND_G else need)
        return found

    def half(self, wanted: float, fits: Callable[[Line, Role], bool]) -> float:
        """Return what may be lent of the lines that fit: the other half stays where the base comes together."""
        lines = self.mix.lines
        there = sum(grams for at, grams in self.left.items() if fits(lines[at], role_of(lines[at])))
        return min(wanted, there / 2)

    def part_gums(self) -> None:
        """Give the gums five times their mass of sugar, or what else keeps their grains apart."""
        gums = [at for at, grams in self.left.items() if grams > 0 and self.home(at) == "dry"]
        mass = sum(self.left[at] for at in gums)
        for at in gums:
            self.move(at, "dry", self.left[at])
        if mass <= 0:
            return
        for kind, times, fits in _LENDERS:
            if self.lend(times * mass, "dry", fits) >= times * mass - 0.01:
                self.gums_in = kind
                return
            for key in [key for key in self.parts if key[1] == "dry" and key[0] not in gums]:
                self.left[key[0]] += self.parts.pop(key)
        self.gums_in = ""

    def part_starch(self) -> None:
        """Put starch into a cup with cold liquid of the mix."""
        starch = [at for at in self.left if self.home(at) == "slurry"]
        mass = sum(self.left[at] for at in starch)
        for at in starch:
            self.move(at, "slurry", self.left[at])
        if mass > 0 and self.lend(self.half(LIQUID_PER_STARCH * mass, _flows), "slurry", _flows) <= 0:
            self.lend(self.half(LIQUID_PER_STARCH * mass, _is_wet), "slurry", _is_wet)

    def part_gelatin(self) -> None:
        """Put gelatin into a cup with cold water of the mix, or with another thin liquid of it."""
        gelatin = [at for at in self.left if self.home(at) == "bloom"]
        mass = sum(self.left[at] for at in gelatin)
        for at in gelatin:
            self.move(at, "bloom", self.left[at])
        if mass > 0:
            wanted = WATER_PER_GELATIN * mass
            found = self.lend(wanted, "bloom", lambda line, _role: line.ingredient.slug == "water")
            if found < wanted:
                self.lend(self.half(wanted - found, _is_wet_and_safe), "bloom", _is_wet_and_safe)

    def part_cocoa(self) -> None:
        """Put cocoa into a bowl with some sugar, which keeps its grains apart."""
        cocoa = [at for at in self.left if self.home(at) == "cocoa"]
        mass = sum(self.left[at] for at in cocoa)
        for at in cocoa:
            self.move(at, "cocoa", self.left[at])
        if mass > 0:
            self.lend(SUGAR_PER_COCOA * mass, "cocoa", _is_sugar)

    def portions(self) -> Iterable[Portion]:
        """Yield all parts, by vessel in the order of weighing."""
        for at, grams in self.left.items():
            if grams > 0:
                home = self.home(at)
                self.parts[at, home] = self.parts.get((at, home), 0.0) + grams
        order = list(VESSELS)
        for (at, vessel), grams in sorted(self.parts.items(), key=lambda part: (order.index(part[0][1]), part[0][0])):
            if grams > 0:
                yield Portion(at, grams, vessel)


_NEEDS_LIQUID: Final[Mapping[Role, str]] = {
    Role.STARCH: "starch",
    Role.STEEP: "steep",
    Role.COCOA: "cocoa",
    Role.GELATIN: "gum",
}
_OWN: Final[Mapping[Role, str]] = {Role.STARCH: "slurry", Role.GELATIN: "bloom", Role.COCOA: "cocoa"}


def _is_sugar(_line: Line, role: Role) -> bool:
    return role is Role.SUGAR


def _is_fat(line: Line, role: Role) -> bool:
    return role is Role.FAT or line.ingredient.slug == "glycerol"


def _is_syrup(line: Line, _role: Role) -> bool:
    return is_syrup(line.ingredient)


def _is_dry(_line: Line, role: Role) -> bool:
    return role is Role.DRY


def _takes_up(line: Line, way: str) -> bool:
    """Tell whether a line is a liquid that something may be put into before the base is frozen."""
    is_cream = way == "whip" and whips(line.ingredient)
    return _is_wet(line, role_of(line)) and line.stage != "churn" and not is_cream


def _is_wet(line: Line, role: Role) -> bool:
    return role in (Role.LIQUID, Role.FRUIT) and line.ingredient.row[0] > _FLOWS_PCT


def _is_wet_and_safe(line: Line, role: Role) -> bool:
    """Tell whether it may still join once the heat is over."""
    return _is_wet(line, role) and not is_raw(line.ingredient)


def _flows(line: Line, role: Role) -> bool:
    return role is Role.LIQUID and not is_syrup(line.ingredient) and not whips(line.ingredient)


_LENDERS: Final = (
    ("sugar", SUGAR_PER_GUM, _is_sugar),
    ("fat", SUGAR_PER_GUM, _is_fat),
    ("syrup", SYRUP_PER_GUM, _is_syrup),
    ("dry", SUGAR_PER_GUM, _is_dry),
)
