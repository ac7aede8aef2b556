"""Rescues: what to do in the next two minutes when something goes wrong, for this mix, and when it is thrown away.

Working practice, cautious on purpose; local codes and licensed practice go before it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from typing import Final

import numpy as np

from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.heat.churn import Conditions, churn
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.heat.sentences import say_remedies
from jalebi_core.model.components import INDEX
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import styles
from jalebi_core.physics.sweetness import sweetness_pod
from jalebi_core.production.machines import Machine, full_run_g
from jalebi_core.production.making.steps import PARTS
from jalebi_core.production.runs import RunForecast, churner_of
from jalebi_core.wording.message import Message, templates
from jalebi_core.wording.names import in_sentence

_HOURS: Final = (8.0, 10.0, 12.0, 16.0, 24.0)
_FRIDGE_H: Final = 72.0
_MILK_OF_CHOCOLATE: Final = 0.1
_SUGAR_PER_GUM: Final = 10.0
_GUM_SWELLS_C: Final = 70.0
_HOT_PART: Final = 0.2
_A_TENTH: Final = 0.1
_LEAST_THINNED: Final = 0.92
_LEAST_HOT_G: Final = 100.0
_MUCH_FAT_PCT: Final = 14.0
_SWEET: Final = ("sugar", "sweetener", "polyol")
_COARSER_C: Final = -8.0
_STORED_C: Final = -18.0


@dataclass(frozen=True, slots=True)
class AtHand:
    """What a batch stands at: its mix, its machine and the run in it, and lines that are not in yet."""

    mix: Mix
    machine: Machine | None = None
    run: RunForecast | None = None
    freezer_c: float = _STORED_C
    missing: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Rescue:
    """One rescue: what to do now, in order, and when it is thrown away; ``parts`` of the work where it happens."""

    key: str
    name: Message
    now: tuple[Message, ...]
    throw: Message
    parts: tuple[str, ...] = field(default=())


def rescues(at: AtHand, part: str | None = None) -> tuple[Rescue, ...]:
    """Return the rescues that this mix and machine can need, those of a part of the work first."""
    found = [
        Rescue(key, _say(key, "name"), tuple(now), _throw(key), where)
        for key, (where, work_out) in _RESCUES.items()
        if (now := list(work_out(at)))
    ]
    return tuple(sorted(found, key=lambda one: part not in one.parts))


def _say(key: str, part: str, **facts: object) -> Message:
    return Message(f"rescue-{key}-{part}", facts)


def _throw(key: str) -> Message:
    return _say(key, "throw", hours=_FRIDGE_H) if key == "spent-bowl" else _say(key, "throw")


# ---- in the machine


def _overfilled(at: AtHand) -> Iterator[Message]:
    if at.machine is None or at.run is None:
        return
    keep = full_run_g(at.mix, at.machine)
    if at.run.mass_g <= keep:
        yield _say("overfilled", "now-fits", fill_pct=at.run.fill.out_pct)
    out = max(at.run.mass_g - keep, _A_TENTH * at.run.mass_g)
    yield _say("overfilled", "now-out", out_g=out, keep_g=at.run.mass_g - out)
    yield _say("overfilled", "now-stand", hours=_FRIDGE_H)
    yield _say("overfilled", "now-wipe")


def _does_not_set(at: AtHand) -> Iterator[Message]:
    if at.machine is None or at.run is None:
        return
    run = at.run.run
    if run.drawn:
        yield _say("does-not-set", "now-drawn", minutes=run.minutes, t_c=run.t_c)
    else:
        yield _say("does-not-set", "now-remedy", remedies=say_remedies(at.run.remedies))
    yield _say("does-not-set", "now-stop", minutes=churner_of(at.machine).max_min)
    yield _say("does-not-set", "now-still")


def _spent_bowl(at: AtHand) -> Iterator[Message]:
    if at.machine is None or at.run is None or churner_of(at.machine).gel_kg <= 0:
        return
    yield _say("spent-bowl", "now-out")
    yield _say("spent-bowl", "now-second")
    table = thermal(at.mix.row(), at.mix.overrun_used_pct)
    for hours in _HOURS:
        conditions = Conditions(freezer_c=at.freezer_c, prefreeze_h=hours)
        run = churn(table, at.run.mass_g, churner_of(at.machine), conditions)
        if run.drawn:
            yield _say("spent-bowl", "now-again", hours=hours, mass_g=at.run.mass_g, minutes=run.minutes)
            return
    yield _say("spent-bowl", "now-never", mass_g=at.run.mass_g)


def _butter(at: AtHand) -> Iterator[Message]:
    fat_pct = float(at.mix.row()[INDEX["milk_fat"]])
    if at.machine is None or at.run is None or fat_pct <= 0:
        return
    yield _say("butter", "now-stop")
    yield _say("butter", "now-warm")
    yield _say("butter", "now-age", t_c=at.run.run.t_c)
    if fat_pct >= _MUCH_FAT_PCT:
        yield _say("butter", "now-fat", fat_pct=fat_pct)


# ---- in the pot


def _scrambled(at: AtHand) -> Iterator[Message]:
    yolk_g = sum(line.grams for line in at.mix.base if line.ingredient.kind == "egg")
    if yolk_g <= 0:
        return
    yield _say("scrambled", "now-off")
    yield _say("scrambled", "now-blend")
    yield _say("scrambled", "now-weigh", yolk_g=yolk_g)
    yield _say("scrambled", "now-anew", yolk_g=yolk_g)


def _split(at: AtHand) -> Iterator[Message]:
    chocolate_g = _grams(at.mix, lambda line: _holds(line, "cocoa_fat", 5.0))
    if chocolate_g <= 0:
        return
    yield _say("split-ganache", "now-warm")
    yield _say("split-ganache", "now-milk", milk_g=max(5.0, _MILK_OF_CHOCOLATE * chocolate_g))
    yield _say("split-ganache", "now-blend")


def _clumped(at: AtHand) -> Iterator[Message]:
    gums = [line for line in at.mix.base if line.ingredient.kind == "gum" and line.grams > 0]
    cocoa = [line for line in at.mix.base if _holds(line, "cocoa_solids", 50.0) and line.grams > 0]
    if not gums and not cocoa:
        return
    part_g = max(_LEAST_HOT_G, _HOT_PART * at.mix.mass_g)
    yield _say("clumped", "now-blend", part_g=min(part_g, at.mix.mass_g))
    if gums:
        grams = sum(line.grams for line in gums)
        needs = [line.ingredient.facts.hydrates for line in gums]
        hot = max((need.from_c or 0.0 for need in needs if need), default=_GUM_SWELLS_C)
        yield _say(
            "clumped", "now-gum", gum_g=grams, names=_names(gums), sugar_g=_SUGAR_PER_GUM * grams, t_c=max(hot, 40.0)
        )
    if cocoa:
        yield _say("clumped", "now-cocoa", cocoa_g=sum(line.grams for line in cocoa), names=_names(cocoa))


def _curdled(at: AtHand) -> Iterator[Message]:
    sour = [
        line
        for line in at.mix.base
        if _holds(line, "acids", 0.5) and not _holds(line, "cocoa_solids", 5.0) and line.grams > 0
    ]
    row = at.mix.row()
    if not sour or float(row[INDEX["milk_fat"]] + row[INDEX["milk_protein"]]) <= 0:
        return
    yield _say("curdled", "now-cold")
    yield _say("curdled", "now-blend")
    yield _say("curdled", "now-next", acid_g=sum(line.grams for line in sour), names=_names(sour))


def _burnt(at: AtHand) -> Iterator[Message]:
    hot_g = sum(line.grams for line in at.mix.base if line.stage in ("pot", "dry", "yolks", None))
    if hot_g <= 0 or all(line.stage == "cold" for line in at.mix.base):
        return
    yield _say("burnt", "now-pour")
    yield _say("burnt", "now-taste")
    yield _say("burnt", "now-weigh", mass_g=hot_g)


# ---- what is in it


def _too_sweet(at: AtHand) -> Iterator[Message]:
    band = styles()[at.mix.style].bands.get("sweetness") if at.mix.style else None
    pod = float(sweetness_pod(at.mix.row()))
    if band is None:
        return
    yield _say("too-sweet", "now-small")
    # Nothing raw into a base that is cooked already, and no gum that would have to swell.
    plain = _merged(line for line in at.mix.base if line.ingredient.kind not in (*_SWEET, "gum", "starch", "egg"))
    plain_g = sum(line.grams for line in plain)
    wanted = min(band[1], _LEAST_THINNED * pod)
    own = float(sweetness_pod(replace(at.mix, lines=plain).row())) if plain_g > 0 else pod
    if pod <= band[1] and pod < 1.05 * (band[0] + band[1]) / 2:
        yield _say("too-sweet", "now-within", pod=pod, low=band[0], high=band[1])
        return
    if own >= wanted or plain_g <= 0:
        return
    add = at.mix.mass_g * (pod - wanted) / (wanted - own)
    more = tuple(Line(line.ingredient, line.grams * add / plain_g, line.stage) for line in plain)
    after = replace(at.mix, lines=(*at.mix.lines, *more))
    parts = ", ".join(f"{line.grams:.0f} g {in_sentence(line.ingredient.name)}" for line in more if line.grams >= 1)
    yield _say("too-sweet", "now-add", add_g=add, parts=parts, pod=pod, to_pod=float(sweetness_pod(after.row())))
    before_c, after_c = (float(analyse_mix(one).scoop_c) for one in (at.mix, after))
    yield _say("too-sweet", "now-harder", apart=after_c - before_c, from_c=before_c, to_c=after_c)


def _merged(lines: Iterable[Line]) -> tuple[Line, ...]:
    """Return lines with those of one ingredient as one."""
    grams: dict[str, float] = {}
    known: dict[str, Line] = {}
    for line in lines:
        grams[line.ingredient.slug] = grams.get(line.ingredient.slug, 0.0) + line.grams
        known.setdefault(line.ingredient.slug, line)
    return tuple(replace(known[slug], grams=sum_g) for slug, sum_g in grams.items())


def _forgotten(at: AtHand) -> Iterator[Message]:
    if not at.missing:
        yield _say("forgotten", "now-none", mass_g=at.mix.mass_g)
    for number in at.missing:
        line = at.mix.lines[number]
        needs = line.ingredient.facts.hydrates
        yield _say(
            "forgotten",
            f"now-{_sort(line)}",
            name=line.ingredient.name,
            grams=line.grams,
            t_c=(needs.from_c if needs and needs.from_c else _GUM_SWELLS_C),
        )


def _sort(line: Line) -> str:
    kind = line.ingredient.kind
    if kind in ("gum", "starch", "stabilizer"):
        return "gum"
    if kind == "egg":
        return "egg"
    if kind in _SWEET:
        return "sugar"
    return "liquid" if float(line.ingredient.row[INDEX["water"]]) >= 20 else "powder"


# ---- in the cold


def _power_cut(_at: AtHand) -> Iterator[Message]:
    for part in ("now-shut", "now-base", "now-churn", "now-freezer"):
        yield _say("power-cut", part)


def _thawed(at: AtHand) -> Iterator[Message]:
    table = thermal(at.mix.row(), at.mix.overrun_used_pct)
    stored, soft = (float(table.frozen_at(np.array(celsius))) for celsius in (at.freezer_c, _COARSER_C))
    yield _say("thawed", "now-read")
    if stored > 0:
        yield _say("thawed", "now-back", t_c=_COARSER_C, melted_pct=100 * (1 - soft / stored))
    yield _say("thawed", "now-serve")


def _grams(mix: Mix, wanted: Callable[[Line], bool]) -> float:
    return sum(line.grams for line in mix.lines if wanted(line))


def _holds(line: Line, component: str, least_g: float) -> bool:
    return float(line.ingredient.row[INDEX[component]]) >= least_g


def _names(lines: list[Line]) -> str:
    return ", ".join(dict.fromkeys(in_sentence(line.ingredient.name) for line in lines))


_Work = Callable[[AtHand], Iterator[Message]]
_RESCUES: Final[Mapping[str, tuple[tuple[str, ...], _Work]]] = {
    "scrambled": (("pot",), _scrambled),
    "burnt": (("pot",), _burnt),
    "clumped": (("prepare", "weigh", "pot"), _clumped),
    "split-ganache": (("prepare", "pot"), _split),
    "curdled": (("pot", "cool"), _curdled),
    "forgotten": (("weigh", "pot", "cool"), _forgotten),
    "too-sweet": (("weigh", "cool"), _too_sweet),
    "overfilled": (("churn",), _overfilled),
    "does-not-set": (("churn",), _does_not_set),
    "spent-bowl": (("churn",), _spent_bowl),
    "butter": (("churn",), _butter),
    "power-cut": (tuple(PARTS), _power_cut),
    "thawed": (("pack",), _thawed),
}
assert all(f"rescue-{key}-name" in templates() for key in _RESCUES)
