"""Mix-ins and layers: what stands beside the mix in the tub, each with a freezing of its own."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp, pi
from typing import Final

import numpy as np

from jalebi_core.assessment.serving_conditions import CABINET_C
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, KEYS, FloatArray
from jalebi_core.model.composition import Composition, blend, trait_of
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
_NONE_WORTH_NAMING_PCT: Final = 1.0
_CRUMB_MM: Final = 6.5
_CRISP_WATER: Final = 6.0
_FAT_KEEPS_OUT_WATER: Final = 40.0
_CRISP_AT_C: Final = -18.0
_CRISP_DAYS: Final = 7.0
_HALF_AS_LONG_C: Final = 3.0
"""An uncoated crumb of 6.5 mm loses its crunch in about a week at −18 °C; working convention."""


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


def mix_ins_of(mix: Mix, freezer_c: float, cabinet_c: float = CABINET_C) -> tuple[MixIn, ...]:
    """Return the mix-ins and layers of a mix at a freezer's temperature, and how they keep there and in a cabinet."""
    if not mix.mix_ins:
        return ()
    whole, scoops = sum(line.grams for line in mix.lines), 1000 * product_of(mix).volume_l / c.SCOOP_ML
    return tuple(_mix_in(line, whole, scoops, freezer_c, cabinet_c) for line in mix.mix_ins)


def _mix_in(line: Line, whole_g: float, scoops: float, freezer_c: float, cabinet_c: float) -> MixIn:
    row = line.ingredient.row
    frozen = float(frozen_pct(liquid(row), np.array([freezer_c]))[0])
    word = firmness_word(float(firmness(row, np.array(frozen), np.array(0.0))))
    pulls = water_pulled_g(line.ingredient.composition, freezer_c)
    return MixIn(
        line.grams,
        100 * line.grams / whole_g,
        frozen,
        word,
        pulls,
        Message(
            "mix-in",
            {
                "parts": [
                    _message(row, frozen, word, pulls, freezer_c),
                    *_scattered(line, scoops),
                    *_crisp(row, pulls, freezer_c, cabinet_c),
                ]
            },
        ),
        _advice(row, line.stage),
    )


def _bit_mm(row: FloatArray) -> float | None:
    """Return how big the bits are that the advice names, mm across; None for what goes in as ribbons."""
    if float(row[INDEX["cocoa_fat"]]) >= _SETS_LIKE_CHOCOLATE:
        return 4.0
    if float(row[_WATER]) >= _A_SAUCE_HAS_WATER:
        return None
    return 5.0 if float(trait_of(row, "nut_fat")) >= _SETS_LIKE_CHOCOLATE else _CRUMB_MM


def _scattered(line: Line, scoops: float) -> list[Message]:
    """Say how many bits a scoop has, and how many scoops have none, scattered by chance: e^−n of them."""
    row, across = line.ingredient.row, _bit_mm(line.ingredient.row)
    if across is None or line.stage != "mix-in" or scoops <= 0:
        return []
    bit_g = pi / 6 * (across / 10) ** 3 * float(density_kg_l(row))
    each = line.grams / bit_g / scoops
    none_pct = 100 * exp(-each)
    said = {"each": each, "across_mm": across, "scoop_ml": c.SCOOP_ML, "none_pct": none_pct}
    return [Message("bits-in-every-scoop" if none_pct < _NONE_WORTH_NAMING_PCT else "bits-missing", said)]


def _crisp(row: FloatArray, pulls: float, freezer_c: float, cabinet_c: float) -> list[Message]:
    """Say roughly how long dry crumbs stay crisp: half as long for 3 °C warmer, working convention."""
    fats = float(row[INDEX["cocoa_fat"]] + row[INDEX["other_fat"]] + row[INDEX["milk_fat"]])
    dry = float(row[_WATER]) < _CRISP_WATER and pulls >= _NO_WORTH_NAMING_G
    if not dry or fats >= _FAT_KEEPS_OUT_WATER:
        return []
    days = [_CRISP_DAYS * 2 ** ((_CRISP_AT_C - celsius) / _HALF_AS_LONG_C) for celsius in (freezer_c, cabinet_c)]
    return [Message("crisp-for", {"freezer_days": max(days[0], 1), "cabinet_days": max(days[1], 1)})]


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
    if float(trait_of(row, "nut_fat")) >= _SETS_LIKE_CHOCOLATE:
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
