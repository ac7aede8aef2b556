"""Machines made ready as late as hands allow: ice melts, and a compressor need not run empty."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from jalebi_core.production.schedule.problem import Piece, Plan, Problem, Setup


def made_ready_late(problem: Problem, plan: Plan) -> Plan:
    """Return a plan with what stays ready only for a while made ready later, where who does it is free then.

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
    machine, piece = problem.machine_by_id[setup.machine], setup.people[0]
    shifts = next(person.shifts for person in problem.people if person.id == piece.who)
    busy = [other for other in _pieces(plan) if other.who == piece.who and other is not piece]
    for start in range(setup.end - machine.ready_min, setup.start, -problem.grid):
        moved = Piece(piece.who, start, start + machine.ready_hands_min)
        there = any(begin <= moved.start and moved.end <= end for begin, end in shifts)
        if there and not any(other.start < moved.end and moved.start < other.end for other in busy):
            return replace(setup, start=start, people=(moved,))
    return setup


def _pieces(plan: Plan) -> Iterator[Piece]:
    for step in plan.steps:
        yield from step.people
    for setup in plan.setups:
        yield from setup.people
