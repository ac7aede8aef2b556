"""The plan that a plan file asks for, as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Final

from jalebi_core.formats.plan_file import read_plan
from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.problem import (
    Hands,
    Lag,
    Option,
    Piece,
    PlacedStep,
    Plan,
    Problem,
    Setup,
    Step,
    Use,
    late_minutes,
)
from jalebi_core.production.schedule.remedies import Remedies, remedies
from jalebi_core.production.schedule.solving import Solved, solve

_DOING: Final = {
    "weigh": "weighing", "thaw": "thawing", "age": "ageing", "reduce": "reducing", "steep": "steeping",
    "macerate": "macerating",
}  # fmt: skip


def plan_report(data: bytes) -> dict[str, Any]:
    """Return the best plan of a plan file, proved as far as its time limit allows; raises PlanError for the file."""
    problem = read_plan(data)
    solved = solve(problem)
    found = remedies(problem, problem.time_limit_s) if solved.status == "impossible" else None
    _recheck(problem, solved, found)
    late = late_minutes(problem, solved.plan) if solved.plan else {}
    return {
        "status": solved.status,
        **_plan(solved.plan),
        "lateness": [
            {"product": step.product, "step": step.id, "minutes": late[step.id]}
            for step in problem.steps
            if step.id in late
        ],
        "objective": [
            {"name": level.name, "value": level.value, "bound": level.bound, "proved": level.proved}
            for level in solved.levels
        ],
        "why": _why(problem, solved, late),
        "would_help": [{"change": one.change, **_plan(one.plan)} for one in found.helping] if found else [],
        "refuted": list(found.refuted) if found else [],
        "seconds": round(solved.seconds, 3),
        "expanded": expanded(problem),
    }


def _recheck(problem: Problem, solved: Solved, found: Remedies | None) -> None:
    """Check every plan by code that shares nothing with the model: a plan that breaks something is a fault of ours."""
    plans = [(problem, solved.plan)] if solved.plan else []
    plans += [(one.problem, one.plan) for one in (found.helping if found else ())]
    for asked, plan in plans:
        broken = faults_of(asked, plan)
        if broken:
            raise AssertionError(f"The plan breaks what it must obey: {broken[0]}.")


def expanded(problem: Problem) -> dict[str, Any]:
    """Return steps, waits and products as a plan file has them, with every mix worked out."""
    return {
        "steps": [_step(step) for step in problem.steps],
        "lags": [_lag(lag) for lag in problem.lags],
        "products": [{"id": key, "name": name} for key, name in problem.products.items()],
    }


def _plan(plan: Plan | None) -> dict[str, Any]:
    if plan is None:
        return {"steps": [], "setups": []}
    setups = sorted(plan.setups, key=lambda setup: (setup.start, setup.machine))
    return {"steps": [_placed(step) for step in plan.steps], "setups": [_setup(setup) for setup in setups]}


def _placed(step: PlacedStep) -> dict[str, Any]:
    return {
        "id": step.id, "start": step.start, "end": step.end, "option": step.option, "machine": step.machine,
        "people": [_piece(piece) for piece in step.people],
    }  # fmt: skip


def _setup(setup: Setup) -> dict[str, Any]:
    return {
        "kind": setup.kind, "machine": setup.machine, "step": setup.step, "start": setup.start, "end": setup.end,
        "people": [_piece(piece) for piece in setup.people],
    }  # fmt: skip


def _piece(piece: Piece) -> dict[str, Any]:
    return {"who": piece.who, "start": piece.start, "end": piece.end}


def _step(step: Step) -> dict[str, Any]:
    found: dict[str, Any] = {
        "id": step.id, "product": step.product, "kind": step.kind, "options": [_option(one) for one in step.options],
    }  # fmt: skip
    if step.kind == "churn" or step.carries:
        found["carries"] = sorted(step.carries)
    bounds = {key: getattr(step, key) for key in ("earliest", "latest", "due")}
    return found | {key: value for key, value in bounds.items() if value is not None}


def _option(option: Option) -> dict[str, Any]:
    found = {"minutes": [option.least, option.most], "hands": _hands(option.hands), "uses": _uses(option.uses)}
    return found if option.machine is None else {**found, "machine": option.machine}


def _hands(hands: Hands) -> Any:
    if hands.throughout:
        return "all"
    return {"first": hands.first, "last": hands.last} if hands.first or hands.last else "none"


def _uses(uses: tuple[Use, ...]) -> list[dict[str, Any]]:
    return [{"place": use.place, "units": use.units} for use in uses]


def _lag(lag: Lag) -> dict[str, Any]:
    return {
        "from": lag.before,
        "to": lag.after,
        "from_at": "start" if lag.from_start else "end",
        "to_at": "end" if lag.to_end else "start",
        "min": lag.least,
        "max": lag.most,
        "why": lag.why,
        "safety": lag.safety,
    }


def _why(problem: Problem, solved: Solved, late: Mapping[str, int]) -> dict[str, Any] | None:
    """Return the late products and what holds them back; None for a plan that is on time."""
    if solved.status in ("optimal", "feasible"):
        return None
    products = [step.product for step in problem.steps if late.get(step.id)]
    said = [sentence for step in problem.steps if late.get(step.id) and (sentence := _chain(problem, step))]
    if not said:
        names = ", ".join(problem.products[product] for product in dict.fromkeys(products)) or "All of it"
        said = [f"{names}: hands, machines and places are taken by one another; no order of the work is on time."]
    return {"products": list(dict.fromkeys(products)), "said": " ".join(said)}


def _chain(problem: Problem, due: Step) -> str | None:
    """Return that a product alone takes longer than there is, from the first hand on; None where it does not."""
    steps = {step.id: step for step in problem.steps if step.product == due.product}
    least = {name: min(option.least for option in step.options) for name, step in steps.items()}
    reached: dict[str, int] = {}

    def begins(name: str, seen: frozenset[str]) -> int:
        if name not in reached and name not in seen:
            waits = [lag for lag in problem.lags if lag.after == name and lag.before in steps and not lag.to_end]
            reached[name] = max(
                (
                    begins(lag.before, seen | {name}) + lag.least + (0 if lag.from_start else least[lag.before])
                    for lag in waits
                ),
                default=0,
            )
        return reached.get(name, 0)

    takes = begins(due.id, frozenset())
    comes = min(((shift[0], person.id) for person in problem.people for shift in person.shifts), default=None)
    if comes is None:
        return "Nobody is there."
    start, who = max(comes[0], 0), comes[1]
    if due.due is None or start + takes <= due.due:
        return None
    name, first = problem.products[due.product], next(iter(steps.values())).kind
    ends = clock(start + takes)
    return f"{name} takes {_hours(takes)} from {_DOING.get(first, first)}, {who} comes at {clock(start)}: {ends}."


def _hours(minutes: int) -> str:
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest} min" if hours and rest else f"{hours} h" if hours else f"{rest} min"


def clock(minutes: int) -> str:
    """Return a minute from the origin as a clock shows it, with the day where that is not the first."""
    days, rest = divmod(minutes, 1440)
    return f"{rest // 60}:{rest % 60:02d}" + (f" on day {days + 1}" if days else "")
