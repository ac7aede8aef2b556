"""The mix of a batch as it was made: weighed where somebody weighed, planned elsewhere."""

from __future__ import annotations

from typing import Final

from batches.models import Batch
from batches.replay import BatchState
from jalebi_core.formats.snapshot import read_ingredient, read_mix_snapshot
from jalebi_core.model.components import INDEX
from jalebi_core.model.errors import JalebiError, MixError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.production.making.base_weight import without_water
from jalebi_core.wording.message import Message

_LEAST_WATER_PCT: Final = 1.0
"""A base that has boiled down to less holds nothing that freezes: a weight was typed wrongly."""


def mix_as_made(batch: Batch, state: BatchState) -> Mix | None:
    """Return the mix as made: weighed where somebody weighed, planned elsewhere; None when nothing of it went in.

    What went in instead stands in its line, what was added at the end, and water that boiled off is gone.
    """
    content = batch.content
    lines = [{**line, **state.swapped.get(number, {})} for number, line in enumerate(content["lines"])]
    grams = [state.weighed.get(number, line)["grams"] for number, line in enumerate(content["lines"])]
    went_in = any(weight for line, weight in zip(lines, grams, strict=True) if line["stage"] not in MIX_IN_STAGES)
    if not went_in:
        return None
    mix = read_mix_snapshot({**content, "lines": lines}, grams)
    if state.added:
        more = tuple(
            Line(read_ingredient(one["ingredient"], one["slug"]), one["grams"], one["stage"]) for one in state.added
        )
        mix = Mix(mix.name, (*mix.lines, *more), mix.style, mix.overrun_pct, mix.aims)
    return _boiled_down(mix, state.gap["grams"]) if state.gap and state.gap["to"] == "water" else mix


def _boiled_down(mix: Mix, grams: float) -> Mix:
    left_g = mix.mass_g * mix.row()[INDEX["water"]] / 100 - grams
    if grams > 0 and left_g < _LEAST_WATER_PCT / 100 * mix.mass_g:
        raise MixError("as-made-without-water", gap_g=grams)
    return without_water(mix, grams)


def made_or_fault(batch: Batch, state: BatchState) -> tuple[Mix | None, Message | None]:
    """Return the mix as made, None when nothing went in; or what is wrong with what was noted of it."""
    try:
        return mix_as_made(batch, state), None
    except JalebiError as error:
        return None, error.message


def made_or_planned(batch: Batch, state: BatchState) -> Mix:
    """Return the mix as made, or as planned where nothing went in or what was noted makes no mix."""
    return made_or_fault(batch, state)[0] or read_mix_snapshot(batch.content)
