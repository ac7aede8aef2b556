"""A plan as the people in the kitchen see it: what each of them does when, in the order of the day."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from jalebi_core.production.schedule.problem import Lag, Option, PlacedStep, Plan, Problem

_WHOLE, _FIRST, _LAST = range(3)
_WORDS: Final[dict[str, tuple[str, str, str]]] = {
    "reduce": ("Reduce for {product}", "Put on to reduce for {product}", "Take the reduction for {product} off"),
    "steep": ("Steep for {product}", "Put on to steep for {product}", "Strain what steeped for {product}"),
    "macerate": ("Macerate for {product}", "Set fruit to macerate for {product}", "Drain the fruit for {product}"),
    "weigh": ("Weigh {product}",) * 3,
    "cook": ("Cook {product}",) * 3,
    "scald": ("Scald {product}",) * 3,
    "syrup": ("Dissolve the syrup of {product}",) * 3,
    "whip": ("Whip {product}",) * 3,
    "blend": ("Blend {product}",) * 3,
    "flavour": ("Split off and flavour {product}",) * 3,
    "cool": (
        "Cool {product}",
        "Set {product} to cool",
        "Check that {product} is at 5\N{NO-BREAK SPACE}°C, into the fridge",
    ),
    "thaw": ("Thaw the base of {product}", "Move the base of {product} to the fridge", "Take {product} out"),
    "churn": ("Churn {product}", "Start churning {product}", "Take {product} out of the machine, pack"),
    "harden": ("Harden {product}", "Pack {product} in the bucket", "Move {product} to the freezer"),
    "temper": ("Temper {product}", "Move {product} to the fridge to temper", "Take out {product}"),
    "wash": ("Wash the {machine}",) * 3,
    "ready": ("Make the {machine} ready",) * 3,
}
_INTO_FREEZER: Final = "Put the {machine} into the freezer"


@dataclass(frozen=True, slots=True)
class Task:
    """Something that one person does without a break.

    id : stays the same however the plan is made anew
    step : the step that it belongs to, for a wash or for making ready the run
    latest : the last minute at which it may begin for what it follows; None where nothing waits
    """

    id: str
    who: str
    start: int
    end: int
    title: str
    step: str
    product: str
    kind: str
    machine: str | None
    latest: int | None


def tasks_of(problem: Problem, plan: Plan) -> list[Task]:
    """Return what is done by hand, in the order of the day."""
    found = [*_of_steps(problem, plan), *_of_setups(problem, plan)]
    return sorted(found, key=lambda task: (task.start, task.end, task.id))


def _of_steps(problem: Problem, plan: Plan) -> Iterator[Task]:
    placed = {step.id: step for step in plan.steps}
    for step in problem.steps:
        found = placed[step.id]
        option = step.options[found.option]
        for piece in sorted(found.people, key=lambda piece: piece.start):
            part = _part(option, found, piece.start)
            latest = found.start + option.most - option.hands.last if part == _LAST else _latest(problem, placed, found)
            words = _WORDS.get(step.kind, (f"{step.kind.capitalize()} {{product}}",) * 3)[part]
            title = words.format(product=problem.products[step.product], machine=found.machine)
            name = f"{step.id}.{('whole', 'first', 'last')[part]}"
            yield Task(
                name, piece.who, piece.start, piece.end, title, step.id, step.product, step.kind, found.machine, latest
            )


def _part(option: Option, found: PlacedStep, start: int) -> int:
    if option.hands.throughout:
        return _WHOLE
    return _FIRST if option.hands.first and start == found.start else _LAST


def _latest(problem: Problem, placed: dict[str, PlacedStep], found: PlacedStep) -> int | None:
    waits = [lag for lag in problem.lags if lag.after == found.id and not lag.to_end and lag.most is not None]
    return min((_from(lag, placed) + (lag.most or 0) for lag in waits), default=None)


def _from(lag: Lag, placed: dict[str, PlacedStep]) -> int:
    before = placed[lag.before]
    return before.start if lag.from_start else before.end


def _of_setups(problem: Problem, plan: Plan) -> Iterator[Task]:
    product = {step.id: step.product for step in problem.steps}
    ends = {step.id: step.end for step in plan.steps}
    machines = problem.machine_by_id
    for setup in plan.setups:
        machine = machines[setup.machine]
        latest = ends[setup.step] + machine.dirty_max_min if setup.kind == "wash" else setup.end - machine.ready_min
        freezes = any(use.place == "freezer" for use in machine.ready_uses)
        words = _INTO_FREEZER if setup.kind == "ready" and freezes else _WORDS[setup.kind][_WHOLE]
        for piece in setup.people:
            yield Task(
                f"{setup.kind}.{setup.step}",
                piece.who,
                piece.start,
                piece.end,
                words.format(machine=_in_sentence(setup.machine)),
                setup.step,
                product[setup.step],
                setup.kind,
                setup.machine,
                latest,
            )


def _in_sentence(name: str) -> str:
    """Return a name as it stands within a sentence: “the compressor machine”, but “the XB 2”."""
    return name if name[1:2].isupper() or name[1:2].isdigit() else name[:1].lower() + name[1:]
