"""Mix-ins and layers: what stands beside the mix in the tub, each with a freezing of its own."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.components import INDEX, KEYS, FloatArray
from jalebi_core.model.composition import Composition, blend
from jalebi_core.model.mix import Line, Mix
from jalebi_core.physics.density import density_kg_l, output_volume_l
from jalebi_core.physics.energy import energy_kcal
from jalebi_core.physics.firmness import firmness, firmness_word
from jalebi_core.physics.freezing import frozen_pct, liquid
from jalebi_core.wording.message import Message

_WATER: Final = INDEX["water"]
_AMPLE_WATER_G: Final = 600.0
_A_SAUCE_HAS_WATER: Final = 12.0
_SETS_LIKE_CHOCOLATE: Final = 18.0
_SOFT_BELOW_PCT: Final = 55.0
_NO_WORTH_NAMING_G: Final = 1.0


@dataclass(frozen=True, slots=True)
class MixIn:
    """One mix-in or layer.

    share_pct : of the product by weight; ``frozen_pct`` and ``word`` at the freezer's temperature, of its own water;
    pulls_g : water that 100 g of it can draw from the mix in the cold until both are in balance
    """

    grams: float
    share_pct: float
    frozen_pct: float
    word: str
    pulls_g: float
    message: Message
    advice: str


@dataclass(frozen=True, slots=True)
class Product:
    """What is in the tub: the mix with its air and all that stands beside it."""

    mass_g: float
    volume_l: float
    energy_kcal: float


def mix_ins_of(mix: Mix, freezer_c: float) -> tuple[MixIn, ...]:
    """Return the mix-ins and layers of a mix at a freezer's temperature."""
    whole_g = sum(line.grams for line in mix.lines)
    return tuple(_mix_in(line, whole_g, freezer_c) for line in mix.mix_ins)


def _mix_in(line: Line, whole_g: float, freezer_c: float) -> MixIn:
    row = line.ingredient.row
    frozen = float(frozen_pct(liquid(row), np.array([freezer_c]))[0])
    word = firmness_word(float(firmness(np.array(frozen), np.array(0.0))))
    pulls = water_pulled_g(line.ingredient.composition, freezer_c)
    return MixIn(
        line.grams,
        100 * line.grams / whole_g,
        frozen,
        word,
        pulls,
        _message(row, frozen, word, pulls, freezer_c),
        _advice(row, line.stage),
    )


def water_pulled_g(ingredient: Composition, freezer_c: float) -> float:
    """Return the g of water that 100 g of an ingredient can draw from a frozen mix at a temperature.

    In the cold the mix's liquid is as dilute as ice allows there. What is drier than that draws water until its
    own solution is as dilute: the water which stays unfrozen in it when there is more than enough.
    """
    wet = ingredient.row.copy()
    wet[_WATER] += _AMPLE_WATER_G
    frozen = float(frozen_pct(liquid(wet * 100 / wet[: len(KEYS)].sum()), np.array([freezer_c]))[0])
    return max(float(wet[_WATER]) * (1 - frozen / 100) - float(ingredient.row[_WATER]), 0.0)


def _message(row: FloatArray, frozen: float, word: str, pulls: float, freezer_c: float) -> Message:
    water = float(row[_WATER])
    said = {"freezer_c": freezer_c, "frozen_pct": frozen, "word": word}
    if float(row[INDEX["cocoa_fat"]]) >= _SETS_LIKE_CHOCOLATE:
        state = Message("cocoa-sets", said)
    elif water < _A_SAUCE_HAS_WATER:
        state = Message("too-dry", said)
    else:
        state = Message("stays-soft" if frozen < _SOFT_BELOW_PCT else "is-frozen", said)
    if pulls < _NO_WORTH_NAMING_G or water >= _A_SAUCE_HAS_WATER:
        return state
    return Message("draws-water", {"state": state, "pulls_g": pulls})


def _advice(row: FloatArray, stage: str | None) -> str:
    if float(row[INDEX["cocoa_fat"]]) >= _SETS_LIKE_CHOCOLATE:
        return "Bits of 3 to 5 mm or thin shavings; a tenth of coconut oil melted into it makes it break."
    if float(row[_WATER]) >= _A_SAUCE_HAS_WATER:
        return "In ribbons 3 to 5 mm thick, as cold as the mix, lifted in, not stirred."
    if float(row[INDEX["other_fat"]]) >= _SETS_LIKE_CHOCOLATE:
        return "Bits of 4 to 6 mm, toasted, cold."
    where = "between thin layers at packing" if stage == "layer" else "in the last minute"
    return f"Bits of 5 to 8 mm, frozen first, {where}; a coat of fat or chocolate keeps them crisp."


def product_of(mix: Mix) -> Product:
    """Return mass in g, volume in L and kcal per 100 g of the whole tub; what stands beside the mix takes no air."""
    rows = np.array([line.ingredient.row for line in mix.lines])
    grams = np.array([line.grams for line in mix.lines])
    of_mix = output_volume_l(np.array(mix.mass_g), density_kg_l(mix.row()), np.array(mix.overrun_used_pct))
    of_rest = sum(line.grams / 1000 / float(density_kg_l(line.ingredient.row)) for line in mix.mix_ins)
    return Product(float(grams.sum()), float(of_mix) + of_rest, float(energy_kcal(blend(grams, rows))))
