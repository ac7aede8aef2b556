"""Why a product cannot be made as it is pinned: the wait that stands against it, those for safety first.

The waits, the minutes of the steps, pins and services of one product are bounds of times by one another; where they
contradict each other they form a cycle along which every time would be before itself.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from jalebi_core.production.schedule.problem import Lag, Problem, Step

_ORIGIN = "·"


@dataclass(frozen=True, slots=True)
class Conflict:
    """A pinned step, and the wait that it breaks; None where the minutes of its steps alone stand against it."""

    step: Step
    lag: Lag | None


@dataclass(frozen=True, slots=True)
class _Bound:
    later: str
    than: str
    most: int
    lag: Lag | None = None
    step: Step | None = None


def pin_conflict(problem: Problem) -> Conflict | None:
    """Return what stands against a pin within its own product; None where nothing does."""
    pinned = {step.product for step in problem.steps if _is_pinned(step)}
    for product in pinned:
        cycle = _cycle(list(_bounds(problem, {product, *problem.bases_of(product)})))
        steps = [bound.step for bound in cycle if bound.step is not None and _is_pinned(bound.step)]
        if steps:
            lags = [bound.lag for bound in cycle if bound.lag is not None]
            lags.sort(key=lambda lag: (not lag.safety, lag.most is None))
            return Conflict(steps[0], lags[0] if lags else None)
    return None


def _is_pinned(step: Step) -> bool:
    return step.earliest is not None and step.earliest == step.latest


def _bounds(problem: Problem, products: set[str]) -> Iterator[_Bound]:
    mine = {step.id: step for step in problem.steps if step.product in products}
    for step in mine.values():
        start, end = f"{step.id}>", f"{step.id}<"
        begun = problem.begun.get(step.id)
        if begun is not None:
            yield from (_Bound(start, _ORIGIN, begun.start), _Bound(_ORIGIN, start, -begun.start))
            continue
        yield _Bound(end, start, max(option.most for option in step.options))
        yield _Bound(start, end, -min(option.least for option in step.options))
        yield _Bound(_ORIGIN, start, -max(problem.now, step.earliest or 0, step.due or 0), step=step)
        yield _Bound(start, _ORIGIN, problem.horizon if step.latest is None else step.latest, step=step)
    for lag in problem.lags:
        if lag.before in mine and lag.after in mine:
            after, before = f"{lag.after}{'<' if lag.to_end else '>'}", f"{lag.before}{'>' if lag.from_start else '<'}"
            yield _Bound(before, after, -lag.least, lag)
            if lag.most is not None:
                yield _Bound(after, before, lag.most, lag)


def _cycle(bounds: list[_Bound]) -> list[_Bound]:
    """Return the bounds of a cycle that contradicts itself, none where there is none (Bellman and Ford)."""
    at = {node: 0 for bound in bounds for node in (bound.later, bound.than)}
    via: dict[str, _Bound] = {}
    changed = None
    for _ in range(len(at) + 1):
        changed = None
        for bound in bounds:
            if at[bound.than] + bound.most < at[bound.later]:
                at[bound.later], via[bound.later], changed = at[bound.than] + bound.most, bound, bound.later
        if changed is None:
            return []
    node = changed or _ORIGIN
    for _ in at:
        node = via[node].than
    found, first = [via[node]], node
    while found[-1].than != first:
        found.append(via[found[-1].than])
    return found
