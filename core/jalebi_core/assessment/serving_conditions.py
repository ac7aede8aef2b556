"""How a mix stands where it is kept and served, and what the two other schools say of the same mix."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final

import numpy as np

from jalebi_core.model.constants import SCOOPING_FIRMNESS
from jalebi_core.model.mix import Mix
from jalebi_core.physics.firmness import firmness, firmness_word
from jalebi_core.physics.freezing import frozen_at, frozen_pct, liquid
from jalebi_core.physics.phases import phases_of

CABINET_C: Final = -14.0
"""A scooping cabinet where nobody says; working convention."""

PLACES: Final = {"freezer": "In the freezer", "cabinet": "In the cabinet", "serving": "As served"}
"""Where a mix is kept and served, by key."""

SERVING_C: Final = -12.0
"""A style without a serving band is served at this."""


@dataclass(frozen=True, slots=True)
class ServingCondition:
    """A mix at one temperature: ice as % of all water and of the volume, strength of the liquid, firmness."""

    key: str
    name: str
    t_c: float
    frozen_pct: float
    unfrozen_water_g: float
    strength_pct: float
    ice_volume_pct: float
    firmness: float
    word: str


@dataclass(frozen=True, slots=True)
class Served:
    """How firm a mix is where its style is served."""

    t_c: float
    firmness: float
    scoop_firmness: float = SCOOPING_FIRMNESS

    @property
    def word(self) -> str:
        return firmness_word(self.firmness, self.scoop_firmness)

    @property
    def words(self) -> str:
        """What it does there, to stand behind “it”."""
        word = self.word
        return _AS_DONE.get(word, f"is {word}")


_AS_DONE: Final = {
    "scoops": "scoops cleanly",
    "soft-serve": "is as soft as soft-serve",
    "rock": "is like rock",
    "soft scoop": "is a soft scoop",
}


def serving_c(mix: Mix) -> float:
    """Return the temperature at which a mix is served: the middle of its band."""
    low, high = mix.bands.get("serve_c", (SERVING_C, SERVING_C))
    return (low + high) / 2


def served_of(mix: Mix) -> Served:
    """Return how firm a mix is where its style is served."""
    row, celsius = mix.row(), serving_c(mix)
    firm = float(firmness(row, frozen_at(row, celsius), np.array(mix.overrun_used_pct)))
    return Served(celsius, firm, mix.scoop_firmness)


def serving_conditions_of(mix: Mix, freezer_c: float, cabinet_c: float) -> tuple[ServingCondition, ...]:
    """Return the mix in the freezer, in the cabinet and as it is served."""
    celsius = np.array([freezer_c, cabinet_c, serving_c(mix)])
    row, overrun = mix.row(), np.array(mix.overrun_used_pct)
    frozen = frozen_pct(liquid(row), celsius)
    hard = firmness(row, frozen, overrun)
    cold = phases_of(np.tile(row, (len(celsius), 1)), overrun, frozen, celsius)
    return tuple(
        ServingCondition(
            key,
            name,
            float(celsius[at]),
            float(frozen[at]),
            float(cold.unfrozen_water_g[at]),
            float(cold.strength_pct[at]),
            float(cold.ice_volume_pct[at]),
            float(hard[at]),
            firmness_word(float(hard[at]), mix.scoop_firmness),
        )
        for at, (key, name) in enumerate(PLACES.items())
    )
