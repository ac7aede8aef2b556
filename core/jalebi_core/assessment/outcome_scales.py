"""The outcomes as tracks: names, end words, scales, bands and words, from ``data/outcomes.toml``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from jalebi_core.data import read_toml
from jalebi_core.model.styles import Band
from jalebi_core.physics.firmness import FIRMNESS_WORDS, firmness_word


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
    style_band: str | None = None
    band_words: tuple[str, str, str] | None = None
    words: tuple[tuple[float, str], ...] = ()
    none: tuple[float, str] | None = None

    def band_for(self, bands: Mapping[str, Band]) -> Band:
        """Return the band among a mix's bands that is this track's, or the usual one."""
        return bands.get(self.style_band or "", self.band)

    def limits(self, band: Band) -> list[float]:
        """Return the values at which `word_for` says another word, rising."""
        if self.key == "firmness":
            return sorted(limit for limit, _ in FIRMNESS_WORDS)
        if not self.band_words:
            return [limit for limit, _ in self.words]
        return ([self.none[0]] if self.none and self.none[0] < band[0] else []) + list(band)

    def word_for(self, value: float, band: Band) -> str:
        """Return what a cook would call a value."""
        if self.key == "firmness":
            return firmness_word(value)
        if self.none and value < self.none[0]:
            return self.none[1]
        if self.band_words:
            return self.band_words[0 if value < band[0] else 2 if value > band[1] else 1]
        return next((word for limit, word in self.words if value < limit), self.words[-1][1])


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
        fields.get("style_band"),
        tuple(fields["band_words"]) if "band_words" in fields else None,
        tuple((float(limit), word) for limit, word in fields.get("words", ())),
        (fields["none"]["below"], fields["none"]["word"]) if "none" in fields else None,
    )
