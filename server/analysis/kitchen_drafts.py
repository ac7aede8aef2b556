"""A draft read in its kitchen: against its shelf, by its spoons, for its freezer and its aims."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from analysis.schemas import Draft, DraftToAnalyse
from ingredients.shelf_cache import shown_ingredients
from jalebi_core.formats.draft import ReadDraft, read_draft
from jalebi_core.model.aims import checked_aims
from jalebi_core.model.styles import Band, checked_style
from jalebi_core.regulation.restrictions import checked_restriction
from kitchens.models import Kitchen, spoons_of


def read_in_kitchen(kitchen: Kitchen, draft: Draft) -> ReadDraft:
    """Read a draft; raises MixError for a style or an aim that cannot be. A line that cannot be read says so."""
    style = checked_style(draft.style)
    read = read_draft(
        draft.lines,
        shown_ingredients(kitchen),
        spoons_of(kitchen),
        style=style,
        overrun_pct=draft.overrun_pct,
        aims=aims_of(kitchen, style, checked_aims(draft.aims)),
    )
    return replace(read, mix=None if read.mix is None else kitchen.learnt.as_eaten(read.mix))


def aims_of(kitchen: Kitchen, style: str | None, own: Mapping[str, Sequence[float]]) -> dict[str, Band]:
    """Return the aims that hold for a mix as bands: those of its kitchen for its style, and its own before them."""
    bands = {**kitchen.used_aims.get(style or "", {}), **own}
    return {key: (low, high) for key, (low, high) in bands.items()}


def restrictions_of(kitchen: Kitchen, draft: Draft) -> list[str]:
    """Return the restrictions of a kitchen and of a draft together; raises MixError for one that is not known."""
    return [checked_restriction(key) for key in (*kitchen.restrictions, *draft.restrictions)]


def freezer_of(kitchen: Kitchen, draft: DraftToAnalyse) -> float:
    """Return the °C that a draft is judged for, the kitchen's own freezer where it names none."""
    return kitchen.used_freezer_c if draft.freezer_c is None else draft.freezer_c
