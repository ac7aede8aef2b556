"""The search for adjustments: amounts along moves, worked out together, and what is refused of them.

First come the moves that the craft knows by name, then every exchange of what builds the mix, then two moves together.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Final

import numpy as np
from numpy.typing import NDArray

from jalebi_core.advice.moves import (
    Columns,
    Direction,
    as_weighed,
    flavour_direction,
    named_directions,
    searched_directions,
    whole_moves,
)
from jalebi_core.assessment.assessment import Outcome, fat_judged, steps_beyond
from jalebi_core.assessment.cautions import free_glucose_most
from jalebi_core.assessment.flavour import doses_of, flavourings_of, is_base
from jalebi_core.assessment.outcome_scales import outcome_scales
from jalebi_core.assessment.outcomes import eating
from jalebi_core.assessment.serving_conditions import serving_c
from jalebi_core.model import constants as c
from jalebi_core.model.components import INDEX, FloatArray
from jalebi_core.model.composition import bulk_sweetener, msnf, sugars, total_solids
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Mix
from jalebi_core.model.noticeable import HALF, noticeable
from jalebi_core.model.styles import Band, styles
from jalebi_core.physics.freezing import frozen_at
from jalebi_core.regulation.identity_standards import identity_standards_of

MOST_OFFERED: Final = 3
_PARTS: Final = np.geomspace(0.02, 1.0, 16)
_PARTS_OF_TWO: Final = np.array([0.25, 0.5, 0.75, 1.0])
_MOST_COMBINED: Final = 10
_MOST_LINES: Final = 3
_WORSE: Final = 0.3
_INSIDE_SHARE: Final = 0.15
_ROUNDING: Final = 0.05
_MOST_HARM: Final = 4.0
_SHARE_COSTS: Final = 4.0
_NEW_LINE_COSTS: Final = 0.3
_GLUCOSE_COSTS: Final = 10.0
_LAST_COSTS: Final = 100.0
_PRICE_COSTS: Final = 0.2
_GLUCOSE_PULL: Final = 0.05
"""Free glucose is pulled under its most softly: by so much it may pass, at a price in the ranking."""

_GUARDED: Final = {"msnf": msnf, "sugars": sugars, "total_solids": total_solids}
"""Figures that do not leave the style's band for the sake of an outcome."""

_OF_ONE_LINE: Final = ("flavour", "slip", "grit", "saltiness", "tartness")
"""Faults that come from what is there for them: nothing else is exchanged to mend them."""
_TARTNESS_PASSES: Final = 4.0
"""Sugar that comes in for another reason makes a mix less tart, and a squeeze of lemon brings that back."""
_OF_ICE: Final = frozenset(("firmness", "iciness", "grit", "melt"))
"""Outcomes that depend on how much of the water is ice; the others need no freezing."""

_AIR_SIGN: Final = {"firmness high": 1, "firmness low": -1, "snow high": -1, "melt low": 1}
_AIR_STEP_PCT: Final = 5.0
_AIR_COSTS: Final = 1.0
"""A machine beats in what it beats in: other air is not sure to be had, and never far from what there is."""


@dataclass(frozen=True, slots=True)
class Found:
    """Something that cures a fault: the columns' amounts, the overrun, the outcome's value, and the mix it makes."""

    grams: FloatArray
    overrun_pct: float
    value: float
    mix: Mix
    last: bool


@dataclass(frozen=True, slots=True)
class _Tried:
    """What is tried: amounts, shape (many, columns), the overrun of each, and whether it is a last resort."""

    grams: FloatArray
    overrun_pct: FloatArray
    last: NDArray[np.bool_] | None = None

    def only(self, kept: FloatArray | NDArray[np.bool_]) -> _Tried:
        """Return those that are kept, shape (many,)."""
        return _Tried(self.grams[kept], self.overrun_pct[kept], self.is_last[kept])

    @property
    def is_last(self) -> NDArray[np.bool_]:
        return np.zeros(len(self.grams), dtype=bool) if self.last is None else self.last


def _together(one: _Tried, other: _Tried) -> _Tried:
    return _Tried(
        np.concatenate((one.grams, other.grams)),
        np.concatenate((one.overrun_pct, other.overrun_pct)),
        np.concatenate((one.is_last, other.is_last)),
    )


class Search:
    """The search in one mix: its columns, how it stands, and what is refused.

    ``region`` is whose protected names are not to be lost, those of all regions where None.
    """

    def __init__(
        self,
        mix: Mix,
        freezer_c: float,
        shelf: Mapping[str, Ingredient],
        restrictions: Sequence[str],
        region: str | None,
        judged: Sequence[Outcome],
    ) -> None:
        self.mix, self.region = mix, region
        self.judged = {outcome.key: outcome for outcome in judged}
        self.columns = Columns(mix, shelf, restrictions)
        style = styles().get(mix.style or "")
        self.judged_c = serving_c(mix) if style and style.fresh else freezer_c
        self.doses = doses_of(mix)
        self._exchanges: tuple[_Tried, dict[str, FloatArray]] | None = None

    def cures(self, fault: Outcome) -> list[Found]:
        """Return the best of each kind of move that cures a fault, the one with the least harm first."""
        named, airs = self._directions(fault), self._airs(fault)
        by_air = _Tried(np.tile(self.columns.grams, (len(airs), 1)), airs)
        if found := self._best(_together(self._along(named, _PARTS), by_air), fault):
            return found
        if fault.key not in _OF_ONE_LINE and (found := self._best_exchanges(fault)):
            return found
        first = [move for move in named if not move.last][:_MOST_COMBINED]
        return self._best(
            _together(self._two_moves(first), self._with_air(self._along(first, _PARTS[::2]), airs)), fault
        )

    def _directions(self, fault: Outcome) -> list[Direction]:
        if fault.key == "flavour":
            lead = self.doses[0].flavouring
            only = flavour_direction(self.columns, lead, more=fault.state == "low")
            return [only] if only else []
        return named_directions(self.columns, f"{fault.key} {fault.state}")

    def _airs(self, fault: Outcome) -> FloatArray:
        """Return other overruns that the style carries, where air can cure the fault."""
        sign, band = _AIR_SIGN.get(f"{fault.key} {fault.state}"), self.mix.bands.get("overrun_pct")
        if sign is None or band is None:
            return np.array([])
        steps = _AIR_STEP_PCT * np.arange(1, 13 if fault.key == "snow" else 4)
        tried: FloatArray = np.round((self.mix.overrun_used_pct + sign * steps) / _AIR_STEP_PCT) * _AIR_STEP_PCT
        return tried[(tried >= band[0]) & (tried <= band[1])]

    def _along(self, directions: Sequence[Direction], parts: FloatArray) -> _Tried:
        """Return the amounts at parts of the way along directions."""
        moves = whole_moves(self.columns, directions)
        last = np.repeat([direction.last for direction in directions], len(parts)).astype(bool)
        return self._moved((parts[None, :, None] * moves[:, None, :]).reshape(-1, moves.shape[1]), last)

    def _two_moves(self, named: Sequence[Direction]) -> _Tried:
        """Return two moves at once that change three lines at most."""
        pairs = [
            (one, other)
            for one, other in combinations(range(len(named)), 2)
            if len(named[one].by.keys() | named[other].by.keys()) <= _MOST_LINES
        ]
        moves = whole_moves(self.columns, named)
        first, second = (moves[[pair[at] for pair in pairs]] for at in (0, 1))
        parts = _PARTS_OF_TWO
        both = parts[:, None, None, None] * first + parts[None, :, None, None] * second
        return self._moved(both.reshape(-1, moves.shape[1]))

    def _moved(self, by_g: FloatArray, last: NDArray[np.bool_] | None = None) -> _Tried:
        """Return amounts moved by so many g, as they are weighed; what would be less than nothing is left out."""
        now = self.columns.grams
        kept = (now + by_g >= -1e-9).all(axis=1)
        grams = as_weighed(now, np.maximum(now + by_g[kept], 0.0), self.mix.mass_g)
        overrun = np.full(len(grams), self.mix.overrun_used_pct)
        tried = _Tried(grams, overrun, None if last is None else last[kept])
        return tried.only(np.asarray((grams >= 0).all(axis=1)))

    def _with_air(self, tried: _Tried, airs: FloatArray) -> _Tried:
        """Return the same amounts with as much or as little air as may be tried."""
        if not len(airs):
            return _Tried(tried.grams[:0], tried.overrun_pct[:0])
        return _Tried(tried.grams, np.full(len(tried.grams), airs[-1]))

    def _rows(self, grams: FloatArray) -> FloatArray:
        rows: FloatArray = grams @ self.columns.rows / self.mix.mass_g
        return rows

    def _values(self, tried: _Tried, *, cold: bool = True) -> dict[str, FloatArray]:
        """Return the values of all judged outcomes; those of ice are wrong where nobody asks for the cold."""
        rows = self._rows(tried.grams)
        gum = tried.grams @ self.columns.working_gum / self.mix.mass_g
        frozen = frozen_at(rows, self.judged_c) if cold else np.zeros(len(rows))
        eaten = eating(rows, tried.overrun_pct, frozen, self.judged_c, gum)
        values = {key: getattr(eaten, key) for key in self.judged if key != "flavour"}
        if "flavour" in self.judged:
            low, high = self.doses[0].ladder
            values["flavour"] = 100 * (self._dose(tried.grams) - low) / (high - low)
        return values

    def _beyond(self, values: Mapping[str, FloatArray], tried: _Tried) -> dict[str, FloatArray]:
        """Return how many steps each judged outcome lies beyond its band."""
        beyond = {}
        for key, outcome in self.judged.items():
            scale, counts = outcome_scales()[key], values[key]
            shown = scale.rounded(counts)
            inside = (shown >= outcome.band[0]) & (shown <= outcome.band[1])
            if scale.none and outcome.band[0] <= 0:
                inside |= shown < scale.none[0]
            band = outcome.band
            if key == "richness":
                counts = fat_judged(self._rows(tried.grams), band)
            elif key == "flavour":
                counts, band = self._dose(tried.grams), self.doses[0].ladder
                counts = np.minimum(counts, band[1]) if is_base(self.mix, self.doses[0].flavouring) else counts
            beyond[key] = np.where(inside, 0.0, steps_beyond(scale, counts, band))
        return beyond

    def _dose(self, grams: FloatArray) -> FloatArray:
        """Return the g of the leading flavour in a kg."""
        lead = self.doses[0]
        share = np.array(
            [
                sum(one.share_pct for one in flavourings_of(line.ingredient) if one.name == lead.flavouring)
                for line in self.columns.columns
            ]
        )
        dose: FloatArray = 10 * grams @ share / self.mix.mass_g
        return dose

    def _best(self, tried: _Tried, fault: Outcome) -> list[Found]:
        """Return which to offer of what is tried."""
        if not len(tried.grams):
            return []
        tried = tried.only(self._keeps_figures(self._rows(tried.grams)))
        if fault.key not in _OF_ICE:
            tried = tried.only(self._cures(self._values(tried, cold=False)[fault.key], fault))
        return self._chosen(tried, self._values(tried), fault)

    def _best_exchanges(self, fault: Outcome) -> list[Found]:
        """Return which to offer of every exchange; these are worked out once for all faults."""
        if self._exchanges is None:
            tried = self._along(searched_directions(self.columns), _PARTS[::2])
            tried = tried.only(self._keeps_figures(self._rows(tried.grams)))
            self._exchanges = tried, self._values(tried)
        tried, values = self._exchanges
        come_in_since = len(self.columns.columns) - tried.grams.shape[1]
        grams = np.pad(tried.grams, ((0, 0), (0, come_in_since)))
        return self._chosen(_Tried(grams, tried.overrun_pct, tried.last), values, fault)

    def _chosen(self, tried: _Tried, values: dict[str, FloatArray], fault: Outcome) -> list[Found]:
        """Return which to offer: of each move the one that costs least, of those that cure and harm nothing."""
        cures = self._cures(values[fault.key], fault)
        tried, values = tried.only(cures), {key: found[cures] for key, found in values.items()}
        if not len(tried.grams):
            return []
        rows = self._rows(tried.grams)
        harm = self._harm(values, rows, tried, fault)
        fine = self._harmless(self._beyond(values, tried), fault) & np.asarray(harm <= _MOST_HARM)
        costs = harm + self._costs(rows, tried)
        chosen: dict[frozenset[int], Found] = {}
        for index in np.argsort(np.where(fine, costs, np.inf), kind="stable"):
            done = len(chosen) == MOST_OFFERED or (bool(chosen) and bool(tried.is_last[index]))
            if not fine[index] or done:
                break
            family = frozenset(np.flatnonzero(tried.grams[index] != self.columns.grams).tolist())
            if family in chosen:
                continue
            mix = self._mix_of(tried, int(index))
            if self._keeps_names(mix):
                overrun, value = float(tried.overrun_pct[index]), float(values[fault.key][index])
                chosen[family] = Found(tried.grams[index], overrun, value, mix, bool(tried.is_last[index]))
        return list(chosen.values())

    def _cures(self, values: FloatArray, fault: Outcome) -> FloatArray:
        """Tell which land inside the band by half a step or 15 % of its width, whichever is less."""
        low, high = fault.band
        step = outcome_scales()[fault.key].noticed
        width = high - low
        if fault.state == "high":
            half = np.inf if fault.key == "flavour" else high - step.moved(high, -HALF)
            return np.asarray((values <= high - min(_INSIDE_SHARE * width, half)) & (values >= low))
        half = np.inf if fault.key == "flavour" else step.moved(low, HALF) - low
        inside = min(_INSIDE_SHARE * width, half)
        return np.asarray((values >= low + inside) & (values <= high))

    def _harmless(self, beyond: Mapping[str, FloatArray], fault: Outcome) -> FloatArray:
        """Tell which bring no new fault, and make none that is there worse."""
        fine = np.ones(len(beyond[fault.key]), dtype=bool)
        for key, steps in beyond.items():
            if key == fault.key:
                continue
            was = self.judged[key].beyond
            fine &= np.asarray(steps < HALF) | np.asarray(steps <= was + _WORSE) & (was >= HALF)
        return np.asarray(fine)

    def _keeps_figures(self, rows: FloatArray) -> FloatArray:
        """Tell which keep milk solids, sugars and solids where the style has them, and free glucose under its most."""
        now = self.mix.row()
        most = min(free_glucose_most(self.mix) + _GLUCOSE_PULL, c.MOST_FREE_GLUCOSE_COVERED)
        fine = self._glucose(rows) <= np.maximum(most, self._glucose(now[None])) + 1e-6
        for key, figure in _GUARDED.items():
            band = self.mix.bands.get(key)
            if band is not None:
                was = _outside(figure(now), band)
                fine &= _outside(figure(rows), band) <= np.maximum(was + _WORSE * (was > _ROUNDING), _ROUNDING)
        return np.asarray(fine)

    def _glucose(self, rows: FloatArray) -> FloatArray:
        sweet = bulk_sweetener(rows)
        return np.divide(rows[:, INDEX["glucose"]], sweet, out=np.zeros_like(sweet), where=sweet > 0)

    def _harm(self, values: Mapping[str, FloatArray], rows: FloatArray, tried: _Tried, fault: Outcome) -> FloatArray:
        """Return by how many steps the other outcomes move further than anyone would let pass."""
        harm = np.zeros(len(rows))
        for key, now in values.items():
            if key in (fault.key, "flavour", "melt"):
                continue
            was, (low, high), steps = self.judged[key].value, self.judged[key].band, outcome_scales()[key].noticed.steps
            start = np.clip(was, low, high)
            better = np.where(was < low, (now >= was) & (now <= low), (now <= was) & (now >= high))
            passes = _TARTNESS_PASSES if key == "tartness" else HALF
            harm += np.where(better & (start != was), 0.0, np.maximum(np.abs(steps(start, now)) - passes, 0.0))
        air = np.abs(noticeable()["overrun"].steps(self.mix.overrun_used_pct, tried.overrun_pct))
        return harm + (np.maximum(air - HALF, 0.0) if fault.key != "snow" else 0.0)

    def _costs(self, rows: FloatArray, tried: _Tried) -> FloatArray:
        """Return what ranks beside harm: the share moved, what comes in, much glucose, the price, last resorts."""
        now = self.columns.grams
        moved = np.abs(tried.grams - now).sum(axis=1) / 2 / self.mix.mass_g
        new = ((now == 0) & (tried.grams > 0)).sum(axis=1)
        prices = np.array([line.ingredient.used_price_per_kg or 0.0 for line in self.columns.columns])
        dearer = np.maximum((tried.grams - now) @ prices, 0.0) / self.mix.mass_g
        much = np.maximum(self._glucose(rows) - free_glucose_most(self.mix), 0.0)
        costs = _SHARE_COSTS * moved + _NEW_LINE_COSTS * new + _GLUCOSE_COSTS * much + _PRICE_COSTS * dearer
        costs += _AIR_COSTS * (tried.overrun_pct != self.mix.overrun_used_pct)
        return np.asarray(costs + _LAST_COSTS * tried.is_last)

    def _keeps_names(self, mix: Mix) -> bool:
        """Tell whether a mix may still bear every protected name that it bears now."""
        before = {name.name + name.region for name in identity_standards_of(self.mix, self.region) if name.fits}
        after = identity_standards_of(mix, self.region) if before else ()
        return before <= {name.name + name.region for name in after if name.fits}

    def _mix_of(self, tried: _Tried, index: int) -> Mix:
        """Return a mix with amounts that were tried."""
        lines = list(self.mix.lines)
        for at, line in enumerate(self.columns.columns):
            number, grams = self.columns.lines[at], float(tried.grams[index, at])
            if number is not None:
                lines[number] = replace(lines[number], grams=grams)
            elif grams > 0:
                lines.append(replace(line, grams=grams))
        overrun = float(tried.overrun_pct[index])
        changed = overrun if overrun != self.mix.overrun_used_pct else self.mix.overrun_pct
        return replace(self.mix, lines=tuple(lines), overrun_pct=changed)


def _outside(values: FloatArray, band: Band) -> FloatArray:
    return np.maximum(np.maximum(band[0] - values, values - band[1]), 0.0)
