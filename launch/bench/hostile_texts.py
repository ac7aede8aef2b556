"""Pasted texts that make a careless reader slow, from the list that the core's tests hold."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping

from launch.places import ROOT


def hostile_texts(characters: int) -> Mapping[str, str]:
    """Return one text of each kind, of so many characters, by name."""
    kinds = tomllib.loads((ROOT / "core/tests/data/hostile_texts.toml").read_text("utf-8"))["text"]
    return {
        kind["name"]: kind["before"] + kind["repeated"] * (characters // len(kind["repeated"])) + kind.get("after", "")
        for kind in kinds
    }
