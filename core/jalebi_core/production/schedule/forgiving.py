"""What to do where something that has begun has waited too long already: the day goes on, and it is said."""

from __future__ import annotations

from dataclasses import replace

from jalebi_core.production.schedule.problem import Lag, Plan, Problem, Step


def forgiven(problem: Problem) -> Problem:
    """Return a problem in which what has begun may last and wait longer than it should; safety waits stay."""
    if problem.replanning is None:
        return problem
    begun = problem.begun
    lags = tuple(
        replace(lag, most=None) if lag.before in begun and not lag.safety and lag.most is not None else lag
        for lag in problem.lags
    )
    return replace(problem, lags=lags, steps=tuple(_longer(problem, step) for step in problem.steps))


def _longer(problem: Problem, step: Step) -> Step:
    if step.id not in problem.begun:
        return step
    return replace(step, options=tuple(replace(option, most=problem.horizon) for option in step.options))


def overdue_waits(problem: Problem, plan: Plan) -> list[Lag]:
    """Return the waits after something that has begun which are longer in a plan than they should be."""
    placed = {step.id: step for step in plan.steps}
    found = []
    for lag in problem.lags:
        if lag.before in problem.begun and lag.after not in problem.begun and lag.most is not None:
            before, after = placed[lag.before], placed[lag.after]
            wait = (after.end if lag.to_end else after.start) - (before.start if lag.from_start else before.end)
            if wait > lag.most:
                found.append(lag)
    return found
