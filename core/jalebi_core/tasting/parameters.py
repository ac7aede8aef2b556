"""What a kitchen's log teaches: every parameter with what it was, what it is, on what it rests and whether it is used.

Recomputed from the log at each call; nothing is stored, so that leaving an entry out, or putting it back, undoes it.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from math import exp, hypot
from math import log as ln
from typing import Final, TypeVar

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.model.styles import styles
from jalebi_core.tasting.freezers import feel
from jalebi_core.tasting.learning import (
    TAIL_SD,
    Interval,
    Learned,
    Posterior,
    alike,
    conventions,
    fit_linear,
    learn_one,
    normal,
)
from jalebi_core.tasting.log import Batch, Log, LogMachine
from jalebi_core.wording.message import Message
from jalebi_core.wording.names import counted

_STRAY_WEIGHT: Final = 0.25
Entry = TypeVar("Entry")
Key = TypeVar("Key", bound=Hashable)


@dataclass(frozen=True, slots=True)
class Parameter:
    """A figure that was learnt.

    of : the freezer, machine, ingredient, fruit or style it is about, None where it is the kitchen's
    piece, supplier, season : of what else, where it has them
    needed : from how many entries on it is used
    """

    key: str
    of: str | None
    posterior: Posterior
    needed: int
    said: Message
    piece: str | None = None
    supplier: str | None = None
    season: str | None = None

    @property
    def unit(self) -> str:
        return str(read_toml("learning.toml")[self.key]["unit"])

    @property
    def in_use(self) -> bool:
        """Whether it replaces what was assumed before."""
        return self.posterior.n >= self.needed and self.posterior.identified


def learn(log: Log) -> tuple[Parameter, ...]:
    """Return all parameters that a log says anything of."""
    return (
        *_of_cold(log),
        *_of_machines(log),
        *_losses(log),
        *_pieces(log),
        *_fruit(log),
        *_sweetness(log),
    )


def parameter(found: Iterable[Parameter], key: str, of: str | None = None) -> Parameter | None:
    """Return a parameter by its key and what it is about, None where nothing was learnt of it."""
    return next((one for one in found if one.key == key and one.of == of), None)


# ---- cold

_WHICH: Final = ("learnt-firmer-which", "learnt-softer-which")
"""What is said where a freezer is not told from a taste yet."""


def _of_cold(log: Log) -> Iterator[Parameter]:
    felt = feel(log)
    for one in felt.freezers:
        needed = int(conventions("freezer_c")["needed_with_reading" if one.t_c.measured else "needed"])
        if one.t_c.n:
            facts = {
                **_facts(one.t_c, "batch or reading", "batches and readings"),
                "dial_c": one.t_c.prior.value,
                "freezer": one.freezer.name,
            }
            code = "learnt-freezer" if one.freezer.dial_c is not None else "learnt-freezer-mark"
            said = Message(code if one.t_c.identified else "learnt-freezer-unclear", facts)
            yield Parameter("freezer_c", one.freezer.name, one.t_c, needed, said)
        if one.firmer is not None:
            by = one.firmer.value
            told = ("learnt-firmer", "learnt-softer") if one.t_c.identified else _WHICH
            facts = {**_facts(one.firmer), "by": abs(by), "freezer": one.freezer.name}
            said = Message(told[0 if by > 0 else 1], facts)
            needed = int(conventions("freezer_firmness")["needed"])
            yield Parameter("freezer_firmness", one.freezer.name, one.firmer, needed, said)
    if felt.scoops_at is not None:
        needed = int(conventions("scoop_firmness")["needed"])
        code = "learnt-scoop" if felt.scoops_at.identified else "learnt-scoop-unclear"
        yield Parameter("scoop_firmness", None, felt.scoops_at, needed, Message(code, _facts(felt.scoops_at)))


# ---- machines, losses


def _of_machines(log: Log) -> Iterator[Parameter]:
    for machine in log.machines:
        made = [one for one in log.batches if one.machine == machine.name]
        yield from _measured(log, "overrun_pct", machine, made, lambda one: one.made.air_pct)
        yield from _measured(log, "churn_factor", machine, made, _log_factor)
        yield from _measured(log, "draw_ice_g", machine, made, lambda one: one.made.draw_ice_g)


def _log_factor(batch: Batch) -> float | None:
    minutes, predicted = batch.made.churn_min, batch.facts.churn_min
    return ln(minutes / predicted) if minutes and predicted else None


def _losses(log: Log) -> Iterator[Parameter]:
    yield from _measured(log, "loss_pct", None, log.batches, _loss_pct)


def _loss_pct(batch: Batch) -> float | None:
    put_in, came_out = batch.made.in_g, batch.made.out_g
    return 100 * (1 - came_out / put_in) if put_in and came_out is not None else None


def _measured(
    log: Log,
    key: str,
    machine: LogMachine | None,
    batches: Iterable[Batch],
    measured: Callable[[Batch], float | None],
) -> Iterator[Parameter]:
    """Return the one parameter that every batch measures alike, none where none did."""
    entries = [
        (one.id, value) for one in batches if log.counts(key, one.id, one.at) and (value := measured(one)) is not None
    ]
    if not entries:
        return
    said = conventions(key)
    mean, sd = _air_prior(machine) if key == "overrun_pct" and machine else (said["prior"], said["prior_sd"])
    values = np.array([value for _, value in entries])
    found = learn_one(values, mean, sd, said["noise_sd"])
    learnt = _posterior(
        found, mean, sd, [id for id, _ in entries], len(entries), exp if key == "churn_factor" else None
    )
    facts = {**_facts(learnt), "machine": machine.name if machine else ""}
    yield Parameter(key, machine.name if machine else None, learnt, int(said["needed"]), Message(_SAID[key], facts))


_SAID: Final = {
    "overrun_pct": "learnt-overrun",
    "churn_factor": "learnt-churn",
    "loss_pct": "learnt-loss",
    "draw_ice_g": "learnt-draw",
}


def _air_prior(machine: LogMachine) -> tuple[float, float]:
    low, high = machine.air_pct
    return (low + high) / 2, (high - low) / 2 / TAIL_SD


# ---- pieces and fruit


def _pieces(log: Log) -> Iterator[Parameter]:
    said = conventions("piece_g")
    counted = [one for one in log.weighings if log.counts("piece_g", one.id, one.at)]
    for (ingredient, piece), own in _grouped(counted, lambda one: (one.ingredient, one.piece)):
        usual = own[-1].usual_g
        values = np.array([one.grams / one.pieces for one in own])
        noise = np.array([usual * hypot(said["scale_share"], said["piece_share"] / one.pieces**0.5) for one in own])
        sd = said["prior_share"] * usual
        found = learn_one(values, usual, sd, noise)
        learnt = _posterior(found, usual, sd, [one.id for one in own], len(own))
        facts = {**_facts(learnt, "weighing", "weighings"), "piece": piece, "ingredient": ingredient}
        yield Parameter("piece_g", ingredient, learnt, int(said["needed"]), Message("learnt-piece", facts), piece=piece)


def _fruit(log: Log) -> Iterator[Parameter]:
    said = conventions("brix")
    counted = [one for one in log.lots if log.counts("brix", one.id, one.at)]
    for fruit, own in _grouped(counted, lambda one: one.fruit):
        usual = own[-1].usual_brix
        variance = (said["fruit_share"] ** 2 + said["group_share"] ** 2) * usual**2
        fruit_var, group_var = (said["fruit_share"] * usual) ** 2, (said["group_share"] * usual) ** 2
        groups = [(one.supplier, one.season) for one in own]
        together = fruit_var + group_var * alike(groups)
        deviations = np.array([one.brix - one.usual_brix for one in own])
        noise = np.full(len(own), said["lot_share"] * usual)
        fit = fit_linear(deviations, together, noise)
        named = [group for group in dict.fromkeys(groups) if group != (None, None)]
        for group in ((None, None), *named):
            anybody = group == (None, None)
            in_group = np.array([not anybody and one == group for one in groups], dtype=float)
            found = fit.of(fruit_var + group_var * in_group, variance)
            ids = [one.id for one in own if anybody or (one.supplier, one.season) == group]
            weights = [w for one, w in zip(groups, found.weights.tolist(), strict=True) if anybody or one == group]
            learnt = _posterior(
                Learned(usual + found.mean, found.sd, np.array(weights)), usual, variance**0.5, ids, len(ids)
            )
            where = " ".join(word for word in group if word)
            facts = {**_facts(learnt, "lot", "lots"), "fruit": fruit, "of": f" ({where})" if where else ""}
            yield Parameter(
                "brix", fruit, learnt, int(said["needed"]), Message("learnt-brix", facts),
                supplier=group[0], season=group[1],
            )  # fmt: skip


# ---- sweetness


@dataclass(frozen=True, slots=True)
class _Mark:
    id: str
    batch: str
    style: str
    deviation: float


def _sweetness(log: Log) -> Iterator[Parameter]:
    said = conventions("sweetness_factor")
    marks = list(_marks(log))
    if not marks:
        return
    kitchen, style, batch = said["kitchen_sd"] ** 2, said["style_sd"] ** 2, said["batch_sd"] ** 2
    same_style, same_batch = alike([one.style for one in marks]), alike([one.batch for one in marks])
    together = kitchen + style * same_style + batch * same_batch
    deviations = np.array([one.deviation for one in marks])
    ids = [one.id for one in marks]
    fit = fit_linear(deviations, together, np.full(len(marks), said["noise_sd"]))
    found = fit.of(np.full(len(marks), kitchen), kitchen)
    learnt = _posterior(found, 0.0, kitchen**0.5, ids, len({one.batch for one in marks}), exp)
    code = "learnt-sweetness-less" if learnt.value < 1 else "learnt-sweetness-more"
    facts = {**_facts(learnt), "by_pct": abs(100 * (learnt.value - 1))}
    yield Parameter("sweetness_factor", None, learnt, int(said["needed"]), Message(code, facts))
    for name in dict.fromkeys(one.style for one in marks):
        own = np.array([one.style == name for one in marks], dtype=float)
        found = fit.of(kitchen + style * own, kitchen + style)
        low, high = styles()[name].bands["sweetness"]
        middle = ln((low + high) / 2)
        batches = len({one.batch for one in marks if one.style == name})
        strays = [one.id for one in marks if one.style == name]
        weights = np.array([w for one, w in zip(marks, found.weights.tolist(), strict=True) if one.style == name])
        learnt = _posterior(
            Learned(middle + found.mean, found.sd, weights), middle, (kitchen + style) ** 0.5, strays, batches, exp
        )
        said_of = Message("learnt-ideal", {**_facts(learnt), "style": name})
        yield Parameter("sweetness_ideal", name, learnt, int(conventions("sweetness_ideal")["needed"]), said_of)


def _marks(entries: Log) -> Iterator[_Mark]:
    per_mark = conventions("sweetness_factor")["mark"]
    for batch in entries.batches:
        band, sweet = batch.sweetness_band, batch.facts.sweetness_pod
        if batch.id in entries.left_out or band is None or not sweet or batch.style is None:
            continue
        for one in batch.tastings:
            if one.sweetness_mark is not None and entries.counts("sweetness_factor", one.id, one.at):
                wanted = ln(sweet) - per_mark * one.sweetness_mark
                yield _Mark(one.id, batch.id, batch.style, wanted - ln(sum(band) / 2))


# ---- shared


def _grouped(entries: Iterable[Entry], key: Callable[[Entry], Key]) -> Iterable[tuple[Key, list[Entry]]]:
    found: dict[Key, list[Entry]] = {}
    for one in entries:
        found.setdefault(key(one), []).append(one)
    return found.items()


def _posterior(
    found: Learned,
    mean: float,
    prior_sd: float,
    ids: Sequence[str],
    n: int,
    scale: Callable[[float], float] | None = None,
) -> Posterior:
    """Return a posterior beside its prior, both put through a scale where they are of a logarithm."""
    now, was = normal(found.mean, found.sd), normal(mean, prior_sd)
    if scale is not None:
        now, was = (Interval(scale(one.value), scale(one.low), scale(one.high)) for one in (now, was))
    strays = tuple(id for id, weight in zip(ids, found.weights.tolist(), strict=True) if weight < _STRAY_WEIGHT)
    return Posterior(now.value, now.low, now.high, was, n, strays=strays)


def _facts(found: Posterior, one: str = "batch", many: str = "batches") -> dict[str, object]:
    rests_on = counted(found.n, one, many)
    return {"value": found.value, "low": found.low, "high": found.high, "was": found.prior.value, "entries": rests_on}
