"""Steady it: which gum or pair of gums and how much, by how a mix is made and who eats it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.advice.additions import Guests
from jalebi_core.assessment.assessment import outcomes_of
from jalebi_core.assessment.gums import HOT_STAGES, working_gum_pct
from jalebi_core.assessment.outcomes import gum_hold
from jalebi_core.data import read_toml
from jalebi_core.model import constants as c
from jalebi_core.model.composition import hydrocolloids
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.wording.message import Message

_AIRY_PCT: Final = 50.0
_READINGS: Final = 20
_ENOUGH_PCT: Final = 0.3
"""A mix that holds as much gum already is not steadied by more."""


@dataclass(frozen=True, slots=True)
class Steadying:
    """What steadies a mix: g of each gum by slug, and what is to be said."""

    grams: Mapping[str, float]
    notes: tuple[Message, ...]


def steadying_of(
    mix: Mix, freezer_c: float, shelf: Mapping[str, Ingredient], restrictions: Sequence[str], fine_scale_g: float
) -> Steadying:
    """Return what steadies a mix; raises BalanceError where it has enough gum, or none that may come in."""
    if float(hydrocolloids(mix.row())) >= _ENOUGH_PCT:
        raise BalanceError("gum-enough", gum_pct=float(hydrocolloids(mix.row())))
    kind = _kind_of(mix)
    heated = any(line.stage in HOT_STAGES for line in mix.base)
    guests = Guests.of(mix, restrictions)
    for choice in read_toml("steadying.toml")[kind]["choices"]:
        grams = {slug: round(share / 100 * mix.mass_g, 2) for slug, share in choice.items()}
        if all(_may(shelf.get(slug), guests, grams[slug], fine_scale_g, heated=heated) for slug in grams):
            return Steadying(grams, tuple(_notes(mix, freezer_c, kind)))
    raise BalanceError("no-gum-bears")


def _kind_of(mix: Mix) -> str:
    heated = any(line.stage in HOT_STAGES for line in mix.base)
    fruit = sum(line.grams for line in mix.base if line.ingredient.kind == "fruit" and line.stage not in HOT_STAGES)
    if not heated or fruit > mix.mass_g / 3:
        return "fresh-fruit"
    return "airy" if mix.overrun_used_pct >= _AIRY_PCT else "dense"


def _may(ingredient: Ingredient | None, guests: Guests, grams: float, fine_scale_g: float, *, heated: bool) -> bool:
    """Tell whether a gum is there, is borne, swells at this heat, and weighs enough for the scale."""
    if ingredient is None or not guests.welcome(ingredient):
        return False
    needs = ingredient.facts.hydrates
    return (heated or (needs is not None and needs.cold)) and grams >= _READINGS * fine_scale_g


def _notes(mix: Mix, freezer_c: float, kind: str) -> list[Message]:
    """Say what it is for, and that fat or solids come first where no gum cures the wateriness."""
    notes = [Message("steadied-for", {"says": read_toml("steadying.toml")[kind]["says"]})]
    icy = next((one for one in outcomes_of(mix, freezer_c) if one.key == "iciness"), None)
    if icy is not None:
        now = float(gum_hold(np.array(working_gum_pct(mix))))
        held = icy.value * (1 - c.MOST_HELD_BY_GUM) / (1 - now)
        if held > icy.band[1]:
            code = "solids-first" if mix.bands.get("fat", (0.0, 1.0))[1] > 0 else "fruit-first"
            notes.append(Message(code, {"held_g": held, "smooth_g": icy.band[1]}))
    return notes
