"""The outcomes as tracks: names, end words, scales, bands and words, from ``data/outcomes.toml``."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

from .firmness import FIRMNESS_WORDS, firmness_word
from .styles import Band


@dataclass(frozen=True, slots=True)
class Track:
    """One outcome's track; `data/outcomes.toml` explains the fields."""

    key: str
    name: str
    unit: str
    ends: tuple[str, str]
    scale: Band
    band: Band
    rule: str
    style_band: str | None = None
    said: tuple[str, str, str] | None = None
    words: tuple[tuple[float, str], ...] = ()
    none: tuple[float, str] | None = None

    def band_for(self, bands: Mapping[str, Band]) -> Band:
        """Return the band among a mix's bands that is this track's, or the usual one."""
        return bands.get(self.style_band or "", self.band)

    def limits(self, band: Band) -> list[float]:
        """Return the values at which `word_for` says another word, rising."""
        if self.key == "firmness":
            return sorted(limit for limit, _ in FIRMNESS_WORDS)
        if not self.said:
            return [limit for limit, _ in self.words]
        return ([self.none[0]] if self.none and self.none[0] < band[0] else []) + list(band)

    def word_for(self, value: float, band: Band) -> str:
        """Return what a cook would call a value."""
        if self.key == "firmness":
            return firmness_word(value)
        if self.none and value < self.none[0]:
            return self.none[1]
        if self.said:
            return self.said[0 if value < band[0] else 2 if value > band[1] else 1]
        return next((word for limit, word in self.words if value < limit), self.words[-1][1])


@cache
def tracks() -> dict[str, Track]:
    """Return the tracks by key, in the order they are shown."""
    text = files(__package__).joinpath("data/outcomes.toml").read_text(encoding="utf-8")
    return {key: _track(key, fields) for key, fields in tomllib.loads(text).items()}


def _track(key: str, fields: dict[str, Any]) -> Track:
    low, high = fields["band"]
    return Track(
        key,
        fields["name"],
        fields["unit"],
        (fields["ends"][0], fields["ends"][1]),
        (float(fields["scale"][0]), float(fields["scale"][1])),
        (float(low), float(high)),
        fields["rule"],
        fields.get("style_band"),
        tuple(fields["said"]) if "said" in fields else None,
        tuple((float(limit), word) for limit, word in fields.get("words", ())),
        (fields["none"]["below"], fields["none"]["word"]) if "none" in fields else None,
    )
