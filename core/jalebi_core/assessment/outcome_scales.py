"""The outcomes as tracks: names, end words, scales, bands and words, from ``data/outcomes.toml``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any, Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.components import FloatArray
from jalebi_core.model.constants import SCOOPING_FIRMNESS
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF, Noticeable, noticeable
from jalebi_core.model.styles import Band
from jalebi_core.physics.firmness import FIRMNESS_WORDS, firmness_word

_SALTY: Final = frozenset(("salted", "cheese", "miso", "caramel"))


@dataclass(frozen=True, slots=True)
class OutcomeScale:
    """One outcome's track; `data/outcomes.toml` explains the fields."""

    key: str
    name: str
    unit: str
    ends: tuple[str, str]
    scale: Band
    band: Band
    rule: str
    noticed: Noticeable
    style_band: str | None = None
    words: tuple[tuple[float, str], ...] = ()
    none: tuple[float, str] | None = None
    digits: int = 1
    blur: float = 0.0
    scoop_firmness: float = SCOOPING_FIRMNESS
    of_styles: Mapping[str, Band] = field(default_factory=dict)
    salty: Band | None = None

    def felt_by(self, scoop_firmness: float) -> OutcomeScale:
        """Return the track for those to whom a clean scoop begins there; only firmness knows of it."""
        if self.key != "firmness" or scoop_firmness == self.scoop_firmness:
            return self
        shift = scoop_firmness - self.scoop_firmness
        return replace(self, scoop_firmness=scoop_firmness, band=(self.band[0] + shift, self.band[1] + shift))

    def band_for(self, mix: Mix) -> Band:
        """Return the band among a mix's bands that is this track's, or the usual one of its style."""
        if self.salty is not None and any(_is_salty(line.ingredient) for line in mix.base):
            return self.salty
        return mix.bands.get(self.style_band or "", self.of_styles.get(mix.style or "", self.band))

    def rounded(self, value: FloatArray | float) -> FloatArray:
        """Return values as they are shown; number, word and state all come from this."""
        return np.asarray(np.floor(np.asarray(value) * 10**self.digits + 0.5) / 10**self.digits)

    def limits(self) -> list[float]:
        """Return the values at which `word_for` says another word, rising."""
        if self.key == "firmness":
            return sorted(limit + self.scoop_firmness - SCOOPING_FIRMNESS for limit, _ in FIRMNESS_WORDS)
        return [*([self.none[0]] if self.none else []), *(limit for limit, _ in self.words[:-1])]

    def word_for(self, value: float) -> str:
        """Return what a cook would call a value, whatever the style."""
        shown = float(self.rounded(value))
        if self.key == "firmness":
            return firmness_word(shown, self.scoop_firmness)
        if self.none and shown < self.none[0]:
            return self.none[1]
        return next((word for limit, word in self.words if shown < limit), self.words[-1][1])

    def words_near(self, value: float) -> tuple[str, ...]:
        """Return the word of a value, or those on both sides, rising, where a limit is as near as the blur."""
        if self.none and self.rounded(value) < self.none[0]:
            return (self.none[1],)
        return tuple(dict.fromkeys((self.word_for(value - self.blur), self.word_for(value + self.blur))))

    def state_for(self, value: float, beyond: float, band: Band) -> str:
        """Return low, in or high against a band, edge where it lies less than half a step beyond it.

        ``beyond`` is how many steps it lies beyond.
        """
        shown = float(self.rounded(value))
        if beyond <= 0 or band[0] <= shown <= band[1] or (self.none and shown < self.none[0] and band[0] <= 0):
            return "in"
        if beyond < HALF:
            return "edge"
        return "low" if shown < band[0] else "high"


def _is_salty(ingredient: Ingredient) -> bool:
    """Tell whether it is there for its salt: salted butter, cheese, miso, caramel, but not salt itself."""
    return not _SALTY.isdisjoint(ingredient.slug.split("-"))


@cache
def outcome_scales() -> dict[str, OutcomeScale]:
    """Return the tracks by key, in the order they are shown."""
    return {key: _track(key, fields) for key, fields in read_toml("outcomes.toml").items()}


def _track(key: str, fields: dict[str, Any]) -> OutcomeScale:
    low, high = fields["band"]
    return OutcomeScale(
        key,
        fields["name"],
        fields["unit"],
        (fields["ends"][0], fields["ends"][1]),
        (float(fields["scale"][0]), float(fields["scale"][1])),
        (float(low), float(high)),
        fields["rule"],
        noticeable()[fields["noticed"]],
        fields.get("style_band"),
        tuple((float(limit), word) for limit, word in fields.get("words", ())),
        (fields["none"]["below"], fields["none"]["word"]) if "none" in fields else None,
        int(fields.get("digits", 1)),
        float(fields.get("blur", 0)),
        of_styles={style: _band(band) for style, band in fields.get("bands", {}).items()},
        salty=_band(fields["salty_band"]) if "salty_band" in fields else None,
    )


def _band(limits: Sequence[float]) -> Band:
    low, high = limits
    return float(low), float(high)
