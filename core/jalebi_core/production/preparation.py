"""Preparations: what reducing, steeping, macerating, straining and the like make of ingredients, by mass balance.

The contents of the pot are a row in g, shape (WIDTH,): the parts and, behind them, the traits of all that is in it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields
from math import isfinite
from typing import Any, Final

import numpy as np

from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, KEYS, FloatArray, mask
from jalebi_core.model.composition import TRAITS, WIDTH, Composition, sugars, total_solids
from jalebi_core.model.errors import PreparationError
from jalebi_core.physics.boiling import HOTTEST_C, boiling_c, water_left_at
from jalebi_core.wording.message import Message

_WATER: Final = INDEX["water"]
_ETHANOL: Final = INDEX["ethanol"]
_FIBRE: Final = INDEX["fibre"]
_SOLUBLE_FIBRE: Final = len(KEYS) + TRAITS.index("soluble_fibre")
_INSOLUBLE_TRAITS: Final = [len(KEYS) + TRAITS.index(trait) for trait in ("yolk_solids", "nut_fat")]
_INSOLUBLE: Final = sum(mask(family=family) for family in ("fat", "protein", "fibre", "starch", "cocoa"))
_DISSOLVED: Final = sum(mask(family=family) for family in ("sugar", "polyol", "acid", "mineral"))
_SCORCHES_BELOW_SHARE: Final = 0.4
_SCORCHES_ABOVE_SOLIDS_PCT: Final = 60.0
_HOT_SUGAR_PCT: Final = 75.0
_INVERTED_MASS: Final = 1 + c.WATER_MOLAR_MASS_KG_MOL * 1000 / c.SUCROSE_MOLAR_MASS_G_MOL


@dataclass(frozen=True, slots=True)
class Part:
    """Ingredients that go into a preparation; what is ``steeped`` comes out again."""

    composition: Composition
    grams: float
    steeped: bool = False


Leaves = Sequence[Part]
"""The parts that are steeped and taken out again."""


@dataclass(frozen=True, slots=True)
class Step:
    """One thing done to the contents; `KINDS` says what each kind does and which fields it reads.

    share_pct : of the mass, of the liquid or of the sucrose, as the kind has it
    measured_g : what the contents weighed afterwards, without the pot; it replaces the estimate
    pot_g : weight of the empty pot, for the reading on the scale
    pressed : whether the leaves were pressed
    made_up : with what the liquid held back was made up: nothing, the same liquid, or water
    keep : which part of a maceration is kept
    brix : °Brix read afterwards
    to_c : °C at which it boils when it is done
    """

    kind: str
    share_pct: float | None = None
    measured_g: float | None = None
    pot_g: float | None = None
    pressed: bool = True
    made_up: str = ""
    keep: str = "both"
    brix: float | None = None
    to_c: float | None = None

    @classmethod
    def from_dict(cls, data: Mapping[str, Any]) -> Step:
        """Read plain data; raises PreparationError naming what cannot be."""
        unknown = sorted(data.keys() - {field.name for field in fields(cls)})
        if unknown:
            raise PreparationError("step-unknown-key", unknown=unknown[0][:40])
        if data.get("kind") not in KINDS:
            raise PreparationError("unknown-step", kind=str(data.get("kind"))[:40], kinds=tuple(KINDS))
        for key, most in _MOST.items():
            value = data.get(key)
            if value is not None and (
                not isinstance(value, int | float) or not isfinite(value) or not 0 <= value <= most
            ):
                raise PreparationError("step-value-impossible", said=_SAID[key], value=str(value)[:40], most=most)
        if data.get("made_up", "") not in ("", "liquid", "water"):
            raise PreparationError("made-up-unknown")
        if data.get("keep", "both") not in ("both", "syrup", "fruit"):
            raise PreparationError("keep-unknown")
        return cls(**{key: value for key, value in data.items() if value is not None})


_SAID: Final = {
    "share_pct": "the share",
    "measured_g": "the weight afterwards",
    "pot_g": "the pot",
    "brix": "°Brix",
    "to_c": "the temperature",
}
_MOST: Final = {"share_pct": 100.0, "measured_g": 1e6, "pot_g": 1e6, "brix": 95.0, "to_c": HOTTEST_C}


@dataclass(frozen=True, slots=True)
class Prepared:
    """What a preparation gives: its composition, its mass in g, what happened, and what to mind.

    ``states`` are the contents in g, shape (WIDTH,) each: as they went in, and after each step.
    """

    composition: Composition
    yield_g: float
    put_in_g: float
    messages: tuple[Message, ...]
    cautions: tuple[str, ...]
    states: tuple[FloatArray, ...]


@dataclass(frozen=True, slots=True)
class _After:
    contents: FloatArray
    message: Message
    cautions: tuple[str, ...] = ()


def prepare(name: str, parts: Sequence[Part], steps: Sequence[Step]) -> Prepared:
    """Make a preparation.

    Raises
    ------
    PreparationError : nothing goes in, a step that cannot be done to this, or nothing left
    """
    contents: FloatArray = np.zeros(WIDTH)
    for part in parts:
        if not part.steeped:
            contents = contents + part.composition.row * part.grams / 100
    if not _mass(contents) > 0:
        raise PreparationError("nothing-goes-in")
    put_in_g = _mass(contents)
    leaves = [part for part in parts if part.steeped and part.grams > 0]
    messages: list[Message] = []
    cautions: list[str] = []
    states = [contents]
    for number, step in enumerate(steps, start=1):
        try:
            after = KINDS[step.kind](contents, step, leaves)
        except PreparationError as error:
            raise PreparationError("step-refused", number=number, reason=error.message) from None
        contents = after.contents
        states.append(contents)
        messages.append(after.message)
        cautions.extend(after.cautions)
    yield_g = _mass(contents)
    ingredient = Composition.from_row(name, contents * 100 / yield_g)
    return Prepared(ingredient, yield_g, put_in_g, tuple(messages), tuple(dict.fromkeys(cautions)), tuple(states))


def _mass(contents: FloatArray) -> float:
    return float(contents[: len(KEYS)].sum())


def _reduce(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    before = _mass(contents)
    if step.measured_g is None and step.to_c is not None:
        return _boiled_to(contents, step.to_c, step.pot_g)
    if step.measured_g is None and step.share_pct is None:
        raise PreparationError("reduction-target-missing")
    target = step.measured_g if step.measured_g is not None else before * (step.share_pct or 0) / 100
    return _boiled_down(contents, target, step.pot_g)


def _boiled_to(contents: FloatArray, to_c: float, pot_g: float | None) -> _After:
    before = _mass(contents)
    water = water_left_at(contents * 100 / before, to_c)
    if water is None:
        raise PreparationError("boils-never-at", to_c=to_c, now_c=boiling_c(contents * 100 / before))
    dry = before - float(contents[_WATER] + contents[_ETHANOL])
    after = _boiled_down(contents, dry + water * before / 100, pot_g)
    said = Message("boiled-to", {"reduced": after.message, "to_c": to_c})
    return _After(after.contents, said, after.cautions)


def _boiled_down(contents: FloatArray, target_g: float, pot_g: float | None) -> _After:
    before = _mass(contents)
    if target_g > before + 0.05:
        raise PreparationError("reduction-above-start", before=before, target_g=target_g)
    dry = before - float(contents[_WATER] + contents[_ETHANOL])
    if target_g <= dry:
        raise PreparationError("reduction-below-dry", target_g=target_g, dry=dry)
    left = contents.copy()
    left[_WATER], left[_ETHANOL] = _after_boiling(float(contents[_WATER]), float(contents[_ETHANOL]), before - target_g)
    solids = float(total_solids(left * 100 / target_g))
    said = {"before_g": before, "target_g": target_g}
    message = (
        Message("reduced-with-pot", {**said, "with_pot_g": target_g + pot_g}) if pot_g else Message("reduced", said)
    )
    if contents[_ETHANOL] > 0.01:
        stays = float(100 * left[_ETHANOL] / contents[_ETHANOL])
        message = Message("reduced-alcohol", {"reduced": message, "stays_pct": stays})
    return _After(left, message, _scorching(target_g / before, solids, left))


def _after_boiling(water_g: float, ethanol_g: float, boiled_off_g: float) -> tuple[float, float]:
    """Return what is left of water and alcohol, in g; the alcohol leaves first (Rayleigh, constant volatility)."""
    least, most = 0.0, 1.0
    for _ in range(60):
        share = (least + most) / 2
        gone = water_g * (1 - share) + ethanol_g * (1 - share**c.ETHANOL_RELATIVE_VOLATILITY)
        least, most = (share, most) if gone > boiled_off_g else (least, share)
    return water_g * most, ethanol_g * most**c.ETHANOL_RELATIVE_VOLATILITY


def _scorching(share: float, solids_pct: float, left: FloatArray) -> tuple[str, ...]:
    messages = []
    if share < _SCORCHES_BELOW_SHARE or solids_pct > _SCORCHES_ABOVE_SOLIDS_PCT:
        messages.append("It goes very fast at the end and scorches: low heat, stir, and weigh often.")
    if float(sugars(left)) * 100 / _mass(left) > _HOT_SUGAR_PCT:
        messages.append("Boiling sugar burns deeply and can erupt: a deep pot, long sleeves, cold water beside you.")
    return tuple(messages)


def _cook(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    if step.measured_g is None and step.to_c is not None:
        return _boiled_to(contents, step.to_c, step.pot_g)
    before = _mass(contents)
    target = step.measured_g if step.measured_g is not None else before * (1 - (step.share_pct or 0) / 100)
    after = _boiled_down(contents, target, step.pot_g)
    return _After(after.contents, Message("cooked", {"lost_g": before - target, "before_g": before}), after.cautions)


def _steep(contents: FloatArray, step: Step, leaves: Leaves) -> _After:
    if not leaves:
        raise PreparationError("nothing-steeped")
    before = _mass(contents)
    if step.measured_g is not None:
        held = before - step.measured_g
        if held < -0.05:
            raise PreparationError("more-out-than-in", measured_g=step.measured_g, before=before)
    else:
        held = sum(part.grams * _held_per_g(part.composition, step.pressed) for part in leaves)
    if held >= before:
        raise PreparationError("leaves-hold-all", held=held, before=before)
    stays = contents * (1 - held / before)
    how = "pressed" if step.pressed else "left to drain"
    said = {"how": how, "held_g": held, "before_g": before}
    if step.made_up == "liquid":
        return _After(contents, Message("steeped-with-same", said))
    if step.made_up == "water":
        stays[_WATER] += held
        return _After(stays, Message("steeped-with-water", said))
    return _After(stays, Message("steeped", said))


def _held_per_g(leaf: Composition, pressed: bool) -> float:
    fresh = leaf.row[_WATER] >= c.FRESH_LEAF_WATER_PCT
    return (c.HELD_BY_FRESH_LEAF_G_G if fresh else c.HELD_BY_DRY_LEAF_G_G)[0 if pressed else 1]


def _macerate(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    solid = _insoluble(contents)
    liquid = contents - solid
    liquid_g, before = _mass(liquid), _mass(contents)
    if liquid_g <= 0:
        raise PreparationError("nothing-macerates")
    share = c.SYRUP_SHARE if step.share_pct is None else step.share_pct / 100
    if step.measured_g is not None:
        share = (step.measured_g if step.keep != "fruit" else before - step.measured_g) / liquid_g
    if not 0 < share <= 1:
        raise PreparationError("syrup-beyond-liquid", liquid_g=liquid_g)
    syrup = liquid * share
    message = Message("macerated", {"syrup_g": _mass(syrup), "fruit_g": before - _mass(syrup)})
    kept = {"syrup": syrup, "fruit": contents - syrup, "both": contents}[step.keep]
    return _After(kept, message)


def _insoluble(contents: FloatArray) -> FloatArray:
    """Return what does not dissolve, in g; fibre that dissolves stays in the liquid."""
    solid = np.zeros_like(contents)
    solid[: len(KEYS)] = contents[: len(KEYS)] * _INSOLUBLE
    solid[_FIBRE] = max(float(contents[_FIBRE] - contents[_SOLUBLE_FIBRE]), 0)
    solid[_INSOLUBLE_TRAITS] = contents[_INSOLUBLE_TRAITS]
    return solid


def _strain(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    before = _mass(contents)
    passed = step.measured_g if step.measured_g is not None else before * (step.share_pct or 0) / 100
    if not 0 < passed <= before + 0.05:
        raise PreparationError("strained-impossible", before=before, passed=passed)
    behind = before - passed
    coarse = np.zeros_like(contents)
    coarse[_FIBRE] = min(float(_insoluble(contents)[_FIBRE]), behind * c.COARSE_SHARE_OF_STRAININGS)
    fine = contents - coarse
    left = fine * (1 - (behind - float(coarse[_FIBRE])) / _mass(fine))
    return _After(left, Message("strained", {"passed_g": passed, "before_g": before, "behind_g": behind}))


def _trim(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    bought = _mass(contents)
    usable = step.measured_g if step.measured_g is not None else bought * (1 - (step.share_pct or 0) / 100)
    if not 0 < usable <= bought + 0.05:
        raise PreparationError("trimmed-impossible", bought=bought, usable=usable)
    return _After(contents * usable / bought, Message("trimmed", {"bought_g": bought, "usable_g": usable}))


def _sour(contents: FloatArray, _step: Step, _leaves: Leaves) -> _After:
    acids = float(contents[INDEX["acids"]]) * 100 / _mass(contents)
    least, most = c.SOURED_MILK_ACIDS_PCT
    if acids >= least:
        return _After(contents, Message("soured"))
    weak = Message("acid-hardly-sours", {"acids": acids, "least_pct": least, "most_pct": most})
    return _After(contents, weak, (str(weak),))


def _invert(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    share = (step.share_pct or 0) / 100
    split = float(contents[INDEX["sucrose"]]) * share
    taken = split * (_INVERTED_MASS - 1)
    if taken > contents[_WATER]:
        raise PreparationError("too-little-water-to-invert")
    left = contents.copy()
    left[INDEX["sucrose"]] -= split
    left[_WATER] -= taken
    for sugar in ("glucose", "fructose"):
        left[INDEX[sugar]] += split * _INVERTED_MASS / 2
    return _After(left, Message("inverted", {"split_g": split}))


def _read_brix(contents: FloatArray, step: Step, _leaves: Leaves) -> _After:
    if not step.brix:
        raise PreparationError("brix-missing")
    dissolved = float(contents[: len(KEYS)] @ _DISSOLVED)
    if dissolved <= 0:
        raise PreparationError("brix-meaningless")
    other = _mass(contents) - float(contents[_WATER]) - dissolved
    water = dissolved * (100 / step.brix - 1) - other
    if water < 0:
        raise PreparationError("brix-impossible", brix=step.brix, other=other)
    left = contents.copy()
    left[_WATER] = water
    return _After(left, Message("read-at-brix", {"brix": step.brix, "mass_g": _mass(left)}))


KINDS: Final[Mapping[str, Callable[[FloatArray, Step, Leaves], _After]]] = {
    "reduce": _reduce,
    "cook": _cook,
    "steep": _steep,
    "macerate": _macerate,
    "strain": _strain,
    "trim": _trim,
    "sour": _sour,
    "invert": _invert,
    "brix": _read_brix,
}
"""What can be done: boil down to a share or mass; lose water in cooking; steep and take out; draw a syrup with sugar;
pass a sieve; trim; sour milk; split sucrose with acid; take a °Brix reading in the place of the estimate."""

HEATING: Final = frozenset({"reduce", "cook"})
"""Steps that bring the contents to the boil."""
