"""What a kitchen has learnt, for every app that computes: an overlay on its settings, worked out by the one that logs.

The app that reads the log stands above those that compute, so that it gives its function in here as it starts. What
was worked out is kept in memory until something more is logged.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, field, replace
from threading import Lock
from typing import TYPE_CHECKING, Final

from jalebi_core.model.constants import SCOOPING_FIRMNESS
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import Band, styles
from jalebi_core.production.machines import Tuning

if TYPE_CHECKING:
    from kitchens.models import Kitchen

MOST_KEPT: Final = 200
"""Kitchens whose overlay one process remembers."""


OF_INGREDIENTS: Final = ("piece_g", "brix", "strength_g_kg")


@dataclass(frozen=True, slots=True)
class Mark:
    """A figure that was learnt and is used: on how much it rests, and in words."""

    key: str
    of: str | None
    n: int
    said: str


@dataclass(frozen=True, slots=True)
class Learnt:
    """What is used in the place of settings; None and empty where nothing was learnt.

    freezer_c : how cold the kitchen's freezer is
    scoop_firmness : where a clean scoop begins
    sweetness : what is sweet enough by style, g as sugar in 100 g
    overrun_pct : the air of machines by number
    tuning : how fast machines are by number, of all whose minutes were logged
    piece_g : what a piece weighs, by the slug of its ingredient and its name
    brix : of fruit, by slug
    strength_g_kg : the kitchen's own ladders of flavour, by slug: the weakest and the strongest dose
    """

    freezer_c: float | None = None
    scoop_firmness: float = SCOOPING_FIRMNESS
    loss_pct: float | None = None
    sweetness: Mapping[str, float] = field(default_factory=dict)
    overrun_pct: Mapping[int, float] = field(default_factory=dict)
    tuning: Mapping[int, Tuning] = field(default_factory=dict)
    piece_g: Mapping[tuple[str, str], float] = field(default_factory=dict)
    brix: Mapping[str, float] = field(default_factory=dict)
    strength_g_kg: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    marks: tuple[Mark, ...] = ()

    def as_eaten(self, mix: Mix) -> Mix:
        """Return a mix for those who eat it here, as far as their tastings say."""
        return replace(mix, scoop_firmness=self.scoop_firmness)

    def liked_sweetness(self) -> dict[str, Band]:
        """Return the bands of sweetness that tastings ask for by style, each as wide as is usual for it."""
        usual = {style: styles()[style].bands.get("sweetness") for style in self.sweetness}
        rooms = {style: (band[1] - band[0]) / 2 for style, band in usual.items() if band is not None}
        return {style: (self.sweetness[style] - room, self.sweetness[style] + room) for style, room in rooms.items()}

    def of_ingredient(self, slug: str | None) -> list[Mark]:
        """Return what was learnt of an ingredient."""
        return [one for one in self.marks if one.key in OF_INGREDIENTS and one.of == slug]

    def of_machines(self, names: Collection[str]) -> list[Mark]:
        """Return what was learnt of the minutes of machines by their names."""
        return [one for one in self.marks if one.key == "churn_factor" and one.of in names]


NOTHING: Final = Learnt()

_worked_out: OrderedDict[int, tuple[tuple[int, int], Learnt]] = OrderedDict()
_lock = Lock()
_sources: list[Callable[[Kitchen], Learnt]] = []


def teach_by(source: Callable[[Kitchen], Learnt]) -> None:
    """Let a function work out what kitchens have learnt; the last one given does."""
    _sources[:] = [source]


def forget_learnt() -> None:
    """Forget what was worked out, where kitchens go back to what they were, as they do between tests."""
    with _lock:
        _worked_out.clear()


def learnt_by(kitchen: Kitchen) -> Learnt:
    """Return what a kitchen has learnt by what it has logged up to now."""
    if not kitchen.log_version or not _sources:
        return NOTHING
    at = (kitchen.log_version, kitchen.version)
    with _lock:
        known = _worked_out.get(kitchen.pk)
    if known is not None and known[0] == at:
        return known[1]
    found = _sources[0](kitchen)
    with _lock:
        _worked_out[kitchen.pk] = (at, found)
        _worked_out.move_to_end(kitchen.pk)
        while len(_worked_out) > MOST_KEPT:
            _worked_out.popitem(last=False)
    return found
