"""Constants, ingredients and words as files, each with its source, and how the rooms read them."""

from __future__ import annotations

import tomllib
from importlib.resources import files
from typing import Any, Final

_DATA: Final = files("jalebi_core.data")


def read_text(name: str) -> str:
    """Return a data file as text."""
    return _DATA.joinpath(name).read_text(encoding="utf-8")


def read_toml(name: str) -> dict[str, Any]:
    """Return a data file's content."""
    return tomllib.loads(read_text(name))


def shelf_kinds() -> list[str]:
    """Return the kinds of ingredients that ship, each a file ``shelf/KIND.toml``, in order."""
    return sorted(file.name.removesuffix(".toml") for file in _DATA.joinpath("shelf").iterdir())
