"""Adjustments: what a cook would try against each fault, with its consequence in words, or an honest none."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from math import isfinite
from typing import Final

import numpy as np

from jalebi_core.advice.additions import restrictions_in
from jalebi_core.advice.comparison import Effect, effects_of
from jalebi_core.advice.contributions import CONTRIBUTIONS, contributions_of
from jalebi_core.advice.search import MOST_OFFERED, Found, Search
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.assessment.flavour import doses_of
from jalebi_core.assessment.gums import working_gum_pct
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import gum_hold
from jalebi_core.assessment.serving_conditions import served_of
from jalebi_core.heat.tub import tempering_min
from jalebi_core.model import constants as c
from jalebi_core.model.components import FloatArray
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF
from jalebi_core.model.styles import styles
from jalebi_core.physics.firmness import air_factor, firmness_word, hardening
from jalebi_core.physics.freezing import liquid, temperature_at_frozen_c
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import in_sentence

_SERVED_WELL: Final = frozenset(("soft-serve", "very soft", "soft scoop", "scoops"))
_MOST_WARMER_C: Final = 5.0
_COLDEST_FREEZER_C: Final = -24.0
_WARMEST_SCOOPED_C: Final = -8.0
_SPOKEN_FOR: Final = {
    "firmness": ("scoop_c",),
    "sweetness": ("sweetness_pod",),
    "richness": ("fat",),
    "body": ("total_solids",),
    "sand": ("lactose_in_water",),
    "slip": ("gum",),
    "tartness": ("tartness",),
    "snow": ("overrun",),
    "flavour": ("flavour",),
}
"""What an adjustment is made for, and so is not among its consequences."""


@dataclass(frozen=True, slots=True)
class NewAmount:
    """What a line weighs then; ``line`` is None for one that comes in."""

    line: int | None
    slug: str
    name: str
    stage: str | None
    grams: float


@dataclass(frozen=True, slots=True)
class Adjustment:
    """What a cook may try against a fault.

    lines : the lines that change; none where it is about air, another place or time
    overrun_pct : where the air changes
    value : of the outcome then
    said : the change, what it comes to, and its consequence
    """

    lines: tuple[NewAmount, ...]
    overrun_pct: float | None
    value: float
    said: Message


@dataclass(frozen=True, slots=True)
class Help:
    """What helps against one fault: adjustments, the best first, or why there is none."""

    key: str
    found: tuple[Adjustment, ...]
    none: Message | None


def help_for(
    mix: Mix,
    freezer_c: float,
    shelf: Mapping[str, Ingredient],
    restrictions: Sequence[str] = (),
    region: str | None = None,
) -> tuple[Help, ...]:
    """Return help for every outcome of a mix that is out of its band by half a step or more.

    Parameters
    ----------
    mix, freezer_c : what is judged, and where
    shelf : what is to be had; not tried is what offends a restriction or brings an allergen or alcohol anew
    region : whose protected names are not to be lost, those of all regions where None
    """
    judged = outcomes_of(mix, freezer_c)
    faults = [outcome for outcome in judged if outcome.state in ("low", "high")]
    if not faults:
        return ()
    search = Search(mix, freezer_c, shelf, restrictions_in(mix, restrictions), region, judged)
    cured = [(fault, search.cures(fault)) for fault in faults]
    mixes = [(found.mix, _SPOKEN_FOR.get(fault.key, ())) for fault, cures in cured for found in cures]
    effects = iter(effects_of(mix, [made for made, _ in mixes], [silent for _, silent in mixes]))
    return tuple(_help(search, freezer_c, fault, cures, effects) for fault, cures in cured)


def _help(search: Search, freezer_c: float, fault: Outcome, cures: Sequence[Found], effects: Iterator[Effect]) -> Help:
    waits = list(_elsewhere(search.mix, freezer_c, fault))
    told = [(found, _told(search, fault, found, next(effects))) for found in cures]
    changes = [adjustment for found, adjustment in told if not (found.last and waits)]
    first = fault.key == "firmness" and served_of(search.mix).word in _SERVED_WELL
    found = [*waits, *changes] if first else [*changes, *waits]
    return Help(fault.key, tuple(found[: MOST_OFFERED + 1]), None if found else _none(search.mix, fault))


def _told(search: Search, fault: Outcome, found: Found, effect: Effect) -> Adjustment:
    """Say what changes, what the outcome comes to, and what else a taster would notice."""
    air = None if found.overrun_pct == search.mix.overrun_used_pct else found.overrun_pct
    felt = effect.message.code == "felt"
    said = {
        "change": _change(search, found.grams, air),
        "comes_to": _comes_to(search.mix, fault, found.value),
        "effect": Message("besides", {"effect": effect.message}) if felt else Message("nothing-besides"),
    }
    return Adjustment(tuple(_new_amounts(search, found.grams)), air, found.value, Message("adjustment", said))


def _new_amounts(search: Search, grams: FloatArray) -> Iterator[NewAmount]:
    columns = search.columns
    for number, line, weighs in zip(columns.lines, columns.columns, grams.tolist(), strict=False):
        if weighs != line.grams:
            yield NewAmount(number, line.ingredient.slug, line.ingredient.name, line.stage, weighs)


def _change(search: Search, grams: FloatArray, air: float | None) -> Message:
    more, less = [], []
    moved = [(weighs - line.grams, line) for line, weighs in zip(search.columns.columns, grams.tolist(), strict=False)]
    for by, line in sorted(moved, key=lambda one: -abs(one[0])):
        said = {"name": in_sentence(line.ingredient.name), "by_g": _to_say(abs(by))}
        if by > 0:
            more.append(Message("comes-in" if line.grams == 0 else "more-of", said))
        elif by < 0:
            less.append(Message("so-much-of", said))
    lines = Message("instead", {"more": more, "less": less})
    if air is None:
        return lines
    other_air = Message("other-air", {"overrun_pct": air, "now_pct": search.mix.overrun_used_pct})
    return Message("with-air", {"change": lines, "air": other_air}) if more else other_air


def _to_say(grams: float) -> float:
    """Return grams as one says them; what is weighed stands in the lines."""
    return round(grams, 0 if grams >= 20 else 1 if grams >= 2 else 2)


def _comes_to(mix: Mix, fault: Outcome, value: float) -> Message:
    scale = outcome_scales()[fault.key].felt_by(mix.scoop_firmness)
    said = {"name": scale.name.lower(), "value": float(scale.rounded(value)), "word": scale.word_for(value)}
    if scale.style_band == fault.key or fault.key in ("firmness", "sweetness"):
        return Message("comes-to", said)
    return Message("comes-to-word", said)


def _elsewhere(mix: Mix, freezer_c: float, fault: Outcome) -> Iterator[Adjustment]:
    """Offer another place in the freezer, or minutes on the counter, where it is the cold that is wrong."""
    style = styles().get(mix.style or "")
    if fault.key != "firmness" or (style and style.fresh):
        return
    low, high = fault.band
    margin = outcome_scales()["firmness"].noticed.moved(0.0, HALF)
    if fault.state == "low":
        colder = _temperature_for(mix, low + margin)
        if isfinite(colder) and _COLDEST_FREEZER_C <= colder < freezer_c:
            yield Adjustment((), None, low + margin, Message("colder-place", {"t_c": colder}))
        return
    warmer = _temperature_for(mix, high - margin)
    if isfinite(warmer) and freezer_c < warmer <= freezer_c + _MOST_WARMER_C:
        said = {"t_c": warmer, "word": firmness_word(high - margin, mix.scoop_firmness)}
        yield Adjustment((), None, high - margin, Message("warmer-place", said))
    scoops = _temperature_for(mix, mix.scoop_firmness)
    if isfinite(scoops) and freezer_c < scoops <= _WARMEST_SCOOPED_C:
        span = tempering_min(mix, freezer_c)
        if span is not None:
            said = {"from_min": _in_fives(span[0]), "to_min": _in_fives(span[1])}
            yield Adjustment((), None, mix.scoop_firmness, Message("stand", said))


def _in_fives(minutes: float) -> int:
    """Return minutes as one says them."""
    return 5 * max(round(minutes / 5), 1)


def _temperature_for(mix: Mix, firmness: float) -> float:
    """Return the °C at which a mix as it is has a firmness; NaN where it never has."""
    row = mix.row()
    share = max(firmness - float(hardening(row)), 0.0) / float(air_factor(np.array(mix.overrun_used_pct)))
    return float(temperature_at_frozen_c(liquid(row), np.array(share)))


def _none(mix: Mix, fault: Outcome) -> Message:
    """Say honestly that no single change cures it, and where to go from there."""
    if fault.key == "flavour":
        code = "stronger-wanted" if fault.state == "low" else "weaker-wanted"
        return Message(code, {"name": in_sentence(doses_of(mix)[0].flavouring)})
    if fault.key == "firmness" and fault.state == "high":
        return Message("none-so-hard")
    if fault.key == "iciness":
        return _none_for_iciness(mix, fault)
    of = "freezing" if fault.key == "firmness" else fault.key
    if of in CONTRIBUTIONS and (fault.state == "high" or of == "freezing"):
        shares = contributions_of(mix)[:, CONTRIBUTIONS.index(of)]
        base = mix.base[int(np.argmax(shares))]
        said = {"name": in_sentence(base.ingredient.name), "share_pct": float(shares.max())}
        return Message("none-so-soft" if of == "freezing" else "none-brings-most", said)
    return Message("none-single")


def _none_for_iciness(mix: Mix, fault: Outcome) -> Message:
    """Say what a full dose of gum would hold, and what is wanted beside it."""
    gum = float(gum_hold(np.array(working_gum_pct(mix))))
    held = fault.value * (1 - c.MOST_HELD_BY_GUM) / (1 - gum)
    said = {"ice_g": fault.value, "held_g": held, "smooth_g": fault.band[1]}
    if mix.bands.get("fat", (0.0, 1.0))[1] == 0:
        return Message("none-icy-sorbet", said)
    return Message("none-icy", said)
