"""The plan that a plan file asks for, as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, Final

from jalebi_core.formats.plan_file import read_plan
from jalebi_core.production.schedule.checker import faults_of
from jalebi_core.production.schedule.conflicts import Conflict, pin_conflict
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

NOUNS: Final = {
    "weigh": "weighing", "cook": "cooking", "scald": "scalding", "syrup": "the syrup", "cool": "cooling",
    "age": "ageing", "churn": "the churn", "harden": "hardening", "keep": "keeping", "temper": "tempering",
    "thaw": "thawing", "whip": "whipping", "blend": "blending", "flavour": "flavouring", "reduce": "reducing",
    "steep": "steeping", "macerate": "macerating", "serve": "serving",
}  # fmt: skip
"""What the kinds of steps are called within a sentence."""


Clock = Callable[[int], str]
"""Says a minute as a clock shows it."""


def plan_report(data: bytes) -> dict[str, Any]:
    """Return the best plan of a plan file, proved as far as its time limit allows; raises PlanError for the file."""
    problem = read_plan(data)
    return report_of(problem, solve(problem))


def report_of(problem: Problem, solved: Solved, says: Clock | None = None) -> dict[str, Any]:
    """Return what came of a problem, with what would help where it cannot be on time; every plan is checked again."""
    found = remedies(problem, problem.time_limit_s) if solved.status == "impossible" else None
    _recheck(problem, solved, found)
    late = late_minutes(problem, solved.plan) if solved.plan else {}
    return {
        "status": solved.status,
        **plan_data(solved.plan),
        "lateness": [
            {"product": step.product, "step": step.id, "minutes": late[step.id]}
            for step in problem.steps
            if step.id in late
        ],
        "objective": [
            {"name": level.name, "value": level.value, "bound": level.bound, "proved": level.proved}
            for level in solved.levels
        ],
        "why": _why(problem, solved, late, says or clock),
        "would_help": [{"change": one.change, **plan_data(one.plan)} for one in found.helping] if found else [],
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


def plan_data(plan: Plan | None) -> dict[str, Any]:
    """Return steps and setups of a plan as plain data, none where there is no plan."""
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


def _why(problem: Problem, solved: Solved, late: Mapping[str, int], says: Clock) -> dict[str, Any] | None:
    """Return the late products and what holds them back; None for a plan that is on time."""
    if solved.status not in ("impossible", "unknown"):
        return None
    products = [step.product for step in problem.steps if late.get(step.id)]
    said = [sentence for step in problem.steps if late.get(step.id) and (sentence := _chain(problem, step, says))]
    if not said and (conflict := pin_conflict(problem)):
        said = [_against_pin(problem, conflict, says)]
    if not said:
        names = ", ".join(problem.products[product] for product in dict.fromkeys(products)) or "All of it"
        order = "hands, machines and places are taken by one another; no order of the work is on time"
        said = [_crowded(problem) or f"{names}: {order}."]
    return {"products": list(dict.fromkeys(products)), "said": " ".join(said)}


def _against_pin(problem: Problem, conflict: Conflict, says: Clock) -> str:
    """Return why a step cannot be where it is pinned."""
    step, lag = conflict.step, conflict.lag
    doing = NOUNS.get(step.kind, step.kind)
    what = f"{problem.products[step.product]} cannot be pinned like that, {doing} at {says(step.earliest or 0)}"
    if lag is None:
        return f"{what}: it leaves too little time for the steps around it."
    kinds = {one.id: NOUNS.get(one.kind, one.kind) for one in problem.steps}
    wait = f"{hours(lag.least)} at least" if lag.most is None else f"{hours(lag.most)} at most"
    safety = " This is for safety and cannot be moved away." if lag.safety else ""
    return f"{what}: {wait} lie between {kinds[lag.before]} and {kinds[lag.after]} ({lag.why}).{safety}"


def _crowded(problem: Problem) -> str | None:
    """Return that a machine has more to do than there is time for, with what it is made ready and washed in."""
    last = max((step.due for step in problem.steps if step.due is not None), default=0)
    for machine in problem.machines:
        runs = [step for step in problem.steps if {option.machine for option in step.options} == {machine.id}]
        each = machine.ready_min + machine.wash_min if machine.wash_always else 0
        takes = sum(min(option.least for option in run.options) + each for run in runs)
        if len(runs) > 1 and takes > last - problem.now:
            left = hours(last - problem.now)
            return f"{machine.id} would be busy for {hours(takes)} with {len(runs)} runs, and there are {left} left."
    return None


def _chain(problem: Problem, due: Step, says: Clock) -> str | None:
    """Return that a product alone takes longer than there is, from the first hand on; None where it does not."""
    comes = min(((max(shift[0], 0), person.id) for person in problem.people for shift in person.shifts), default=None)
    if comes is None:
        return "Nobody is there."
    start, who = max(comes[0], problem.now), comes[1]
    if due.due is None or problem.replanning is not None:
        return None
    name, steps = problem.products[due.product], [step for step in problem.steps if step.product == due.product]
    served = start + _earliest(problem, due, {})
    if served > due.due:
        first = steps[0].kind
        takes = f"{name} takes {hours(served - start)} from {NOUNS.get(first, first)}"
        return f"{takes}, {who} comes at {says(start)}: {says(served)}."
    churns = [step for step in steps if any(option.machine for option in step.options)]
    ready = {step.id: min(_ready_at(problem, option.machine, start) for option in step.options) for step in churns}
    served = start + _earliest(problem, due, {step: at - start for step, (at, _) in ready.items()})
    if served > due.due and ready:
        at, machine = max(ready.values())
        return f"{name} waits for the {machine}, which is ready at {says(at)} at the earliest: {says(served)}."
    return None


def _ready_at(problem: Problem, machine: str | None, start: int) -> tuple[int, str]:
    """Return when a machine can be ready at the earliest, and which it is."""
    if machine is None:
        return start, ""
    found = problem.machine_by_id[machine]
    since = start if found.ready_since is None else found.ready_since
    return max(since + found.ready_min, start), machine


def _earliest(problem: Problem, due: Step, not_before: Mapping[str, int]) -> int:
    """Return the minutes after the first hand at which a step begins at the earliest, its product made alone."""
    mine = {due.product, *problem.bases_of(due.product)}
    steps = {step.id: step for step in problem.steps if step.product in mine}
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
            reached[name] = max(reached[name], not_before.get(name, 0))
        return reached.get(name, 0)

    return begins(due.id, frozenset())


def hours(minutes: int) -> str:
    """Return minutes as hours and minutes."""
    hours, rest = divmod(minutes, 60)
    return f"{hours} h {rest} min" if hours and rest else f"{hours} h" if hours else f"{rest} min"


def clock(minutes: int) -> str:
    """Return a minute from the origin as a clock shows it, with the day where that is not the first."""
    days, rest = divmod(minutes, 1440)
    return f"{rest // 60}:{rest % 60:02d}" + (f" on day {days + 1}" if days else "")
