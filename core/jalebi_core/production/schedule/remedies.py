"""What would make everything on time: one change alone, as little as it can be, each with the plan that proves it."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, Final

from jalebi_core.production.schedule.model import Bend
from jalebi_core.production.schedule.problem import Machine, Person, Plan, Problem, Step
from jalebi_core.production.schedule.solving import least_bend

_LONGEST_SHIFT_MIN: Final = 240
LEAST_BUDGET_S: Final = 3.0


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change that makes everything on time, a plan with it, and the problem as it is then."""

    change: dict[str, Any]
    plan: Plan
    problem: Problem


@dataclass(frozen=True, slots=True)
class Remedies:
    """What helps, and what is proved useless however much of it there is."""

    helping: tuple[Remedy, ...]
    refuted: tuple[dict[str, Any], ...]


@dataclass(frozen=True, slots=True)
class _Try:
    change: dict[str, Any]
    problem: Problem
    bend: Bend | None = None


def remedies(problem: Problem, seconds: float) -> Remedies:
    """Return which single changes make everything on time, in the order in which a kitchen would think of them."""
    tries = list(_tries(problem))
    ends = time.monotonic() + max(seconds, LEAST_BUDGET_S)
    helping, refuted = [], []
    for done, one in enumerate(tries):
        share = (ends - time.monotonic()) / (len(tries) - done)
        if share <= 0:
            break
        found = least_bend(one.problem, one.bend, share)
        if found.refuted:
            refuted.append(one.change)
        elif found.plan is not None:
            changed = _bent(one.problem, one.bend, found.amount)
            helping.append(Remedy(_amounted(one, found.amount, problem), found.plan, changed))
    return Remedies(tuple(helping), tuple(refuted))


def _tries(problem: Problem) -> Iterator[_Try]:
    for step in problem.steps:
        if step.due is not None and step.due < problem.horizon and step.id not in problem.begun:
            bend = Bend("serve_later", step.id, problem.horizon - step.due)
            yield _Try({"kind": "serve_later", "step": step.id}, problem, bend)
    for person in problem.people:
        for number in range(len(person.shifts)):
            for end in ("start", "end"):
                change = {"kind": "longer_shift", "person": person.id, "shift": number, "end": end}
                yield _Try(change, problem, Bend("longer_shift", person.id, _LONGEST_SHIFT_MIN, number, end))
    for person in problem.people:
        more = Person(_free(f"{person.id}-2", [one.id for one in problem.people]), person.shifts)
        change = {"kind": "more_hands", "like": person.id, "id": more.id}
        yield _Try(change, replace(problem, people=(*problem.people, more)))
    for place, capacity in problem.places.items():
        if capacity > 0 and any(_uses(problem, place)):
            yield _Try({"kind": "more_room", "place": place}, problem, Bend("more_room", place, capacity))
    for machine in problem.machines:
        yield _another_machine(problem, machine)
    for product in problem.products:
        if len(problem.products) > 1 and product not in problem.bases and not _has_begun(problem, product):
            yield _Try({"kind": "leave_out", "product": product}, _without(problem, product))


def _has_begun(problem: Problem, product: str) -> bool:
    return any(step.product == product and step.id in problem.begun for step in problem.steps)


def _uses(problem: Problem, place: str) -> Iterator[bool]:
    for step in problem.steps:
        yield from (use.place == place for option in step.options for use in option.uses)
    for machine in problem.machines:
        yield from (use.place == place for use in (*machine.ready_uses, *machine.run_uses))


def _another_machine(problem: Problem, like: Machine) -> _Try:
    more = replace(like, id=_free(f"{like.id}-2", [one.id for one in problem.machines]))
    steps = tuple(_with_option(step, like.id, more.id) for step in problem.steps)
    change = {"kind": "another_machine", "like": like.id, "id": more.id}
    return _Try(change, replace(problem, machines=(*problem.machines, more), steps=steps))


def _with_option(step: Step, like: str, more: str) -> Step:
    added = tuple(replace(option, machine=more) for option in step.options if option.machine == like)
    return replace(step, options=(*step.options, *added))


def _without(problem: Problem, product: str) -> Problem:
    steps = tuple(step for step in problem.steps if step.product != product)
    ids = {step.id for step in steps}
    lags = tuple(lag for lag in problem.lags if lag.before in ids and lag.after in ids)
    products = {name: said for name, said in problem.products.items() if name != product}
    bases = {base: users - {product} for base, users in problem.bases.items() if base != product}
    left = replace(problem, steps=steps, lags=lags, products=products, bases=bases)
    unused = next((base for base, users in bases.items() if not users), None)
    return left if unused is None else _without(left, unused)


def _free(name: str, taken: list[str]) -> str:
    return name if name not in taken else _free(f"{name}+", taken)


def _bent(problem: Problem, bend: Bend | None, amount: int) -> Problem:
    """Return a problem with what was bent as it is then."""
    if bend is None:
        return problem
    if bend.kind == "more_room":
        return replace(problem, places={**problem.places, bend.of: problem.places[bend.of] + amount})
    if bend.kind == "serve_later":
        steps = tuple(
            replace(step, due=(step.due or 0) + amount) if step.id == bend.of else step for step in problem.steps
        )
        return replace(problem, steps=steps)
    return replace(problem, people=tuple(_longer(person, bend, amount) for person in problem.people))


def _longer(person: Person, bend: Bend, amount: int) -> Person:
    if person.id != bend.of:
        return person
    shifts = list(person.shifts)
    start, end = shifts[bend.shift]
    shifts[bend.shift] = (start - amount, end) if bend.end == "start" else (start, end + amount)
    return replace(person, shifts=tuple(shifts))


def _amounted(one: _Try, amount: int, problem: Problem) -> dict[str, Any]:
    kind = one.change["kind"]
    if kind == "serve_later":
        return {**one.change, "minutes": amount}
    if kind == "longer_shift":
        assert one.bend is not None
        person = next(_longer(person, one.bend, amount) for person in problem.people if person.id == one.bend.of)
        return {"kind": kind, "person": person.id, "shift": one.bend.shift, "to": list(person.shifts[one.bend.shift])}
    if kind == "more_room":
        return {**one.change, "capacity": problem.places[one.change["place"]] + amount}
    return one.change
