"""Machines made ready as late as hands allow: ice melts, and a compressor need not run empty."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from jalebi_core.production.schedule.problem import Piece, Plan, Problem, Setup


def made_ready_late(problem: Problem, plan: Plan) -> Plan:
    """Return a plan with what stays ready only for a while made ready later, where somebody is free then.

    No level of what is best says when a machine is made ready, so that none is worse for it.
    """
    setups = list(plan.setups)
    for at, setup in enumerate(setups):
        if _may_move(problem, setup):
            setups[at] = _later(problem, Plan(plan.steps, tuple(setups)), setup)
    return Plan(plan.steps, tuple(setups))


def _may_move(problem: Problem, setup: Setup) -> bool:
    machine = problem.machine_by_id[setup.machine]
    return (
        setup.kind == "ready"
        and machine.ready_max_min is not None
        and setup.start >= problem.now
        and len(setup.people) == 1
    )


def _later(problem: Problem, plan: Plan, setup: Setup) -> Setup:
    """Return a setup at the latest minute at which somebody is free for it, who does it now before anybody else."""
    machine, now = problem.machine_by_id[setup.machine], setup.people[0]
    pieces = [piece for piece in _pieces(plan) if piece is not now]
    people = sorted(problem.people, key=lambda person: person.id != now.who)
    for start in range(setup.end - machine.ready_min, setup.start, -problem.grid):
        end = start + machine.ready_hands_min
        for person in people:
            there = any(begin <= start and end <= finish for begin, finish in person.shifts)
            busy = any(one.who == person.id and one.start < end and start < one.end for one in pieces)
            if there and not busy:
                return replace(setup, start=start, people=(Piece(person.id, start, end),))
    return setup


def _pieces(plan: Plan) -> Iterator[Piece]:
    for step in plan.steps:
        yield from step.people
    for setup in plan.setups:
        yield from setup.people
