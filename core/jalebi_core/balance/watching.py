"""Watching a balance while it is worked out: how far it is, the best so far, and when to give it up."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from jalebi_core.balance.solving import Balanced

Best = Callable[[], "Balanced"]
"""Works out the best balance so far as it would be proposed."""
Watch = Callable[[float, Best | None], None]
"""Is told between two programmes how much is done, 0 to 1, and the best so far; what it raises ends the balance."""


def unwatched(_share: float, _best: Best | None) -> None:
    """Let a balance take its time."""


def part_of(watch: Watch, begin: float, end: float) -> Watch:
    """Return what watches a part of something that is watched, from one share of the whole to another."""
    return lambda share, best: watch(begin + (end - begin) * share, best)
