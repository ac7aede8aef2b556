"""Constants, ingredients and words as files, each with its source, and how the rooms read them."""

from __future__ import annotations

import re
import tomllib
from functools import cache
from pathlib import Path
from typing import Any, Final

_DATA: Final = Path(__file__).parent
_SECTION: Final = re.compile(r"^\[([a-z0-9-]+)\]\n(.*?)(?=^\[|\Z)", re.MULTILINE | re.DOTALL)


def read_text(name: str) -> str:
    """Return a data file as text."""
    return (_DATA / name).read_text(encoding="utf-8")


def read_toml(name: str) -> dict[str, Any]:
    """Return a data file's content."""
    return tomllib.loads(read_text(name))


@cache
def shelf_sections() -> dict[str, tuple[str, str]]:
    """Return the kind and the text of each ingredient that ships, by slug: one file ``shelf/KIND.toml`` a kind.

    Reading 220 tables takes longer than analysing a mix, so that each is only cut out here and read when it is wanted.
    """
    kinds = sorted(file.stem for file in (_DATA / "shelf").glob("*.toml"))
    return {
        slug: (kind, section) for kind in kinds for slug, section in _SECTION.findall(read_text(f"shelf/{kind}.toml"))
    }


def read_shelf_section(slug: str) -> tuple[str, dict[str, Any]]:
    """Return the kind and the fields of an ingredient that ships."""
    kind, section = shelf_sections()[slug]
    return kind, tomllib.loads(section)
