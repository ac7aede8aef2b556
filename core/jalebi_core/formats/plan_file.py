"""Plan files (`jalebi.plan`): what is to be served when, by whom and with what; described in docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any, Final

from jalebi_core.formats import plan_replanning
from jalebi_core.formats.json_text import load_json
from jalebi_core.formats.plan_mixes import MIX_KEYS, read_mix
from jalebi_core.formats.plan_replanning import read_replanning
from jalebi_core.formats.plan_values import (
    MOST_MINUTES,
    MOST_UNITS,
    entries,
    flag,
    known_keys,
    listed,
    minutes_from,
    origin_of,
    seconds_of,
    shift_of,
    span,
    text,
    uses,
    whole,
    whole_or_none,
    word,
    zone_of,
)
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.expansion import Workplace, base_steps, steps_of
from jalebi_core.production.schedule.problem import (
    ALL_HANDS,
    NO_HANDS,
    Hands,
    Lag,
    Machine,
    Option,
    Person,
    Problem,
    Step,
)

FORMAT: Final = "jalebi.plan"
MOST_BYTES: Final = 1_000_000
MOST_MIXES: Final = 40
MOST_STEPS: Final = 400
_KEYS: Final = {
    "format", "version", "origin", "zone", "horizon_min", "grid_min", "time_limit_s", "spare_min", "people", "places",
    "machines", "mixes", "products", "steps", "lags", "pins", *plan_replanning.KEYS,
}  # fmt: skip


def read_plan(data: bytes) -> Problem:
    """Read a plan file and expand its mixes into steps; raises PlanError for anything in it that cannot be used."""
    content = _content(data)
    grid, horizon = whole(content, "grid_min", 5, 1, 1440), whole(content, "horizon_min", None, 1, MOST_MINUTES)
    origin, zone = origin_of(content), zone_of(content)
    places = {
        place["id"]: whole(place, "capacity", None, 0, MOST_UNITS) for place in entries(content, "places", {"capacity"})
    }
    people = tuple(
        Person(one["id"], tuple(shift_of(shift, one["id"]) for shift in listed(one, "shifts")))
        for one in entries(content, "people", {"shifts"})
    )
    machines = tuple(_machine(one, places) for one in entries(content, "machines", _MACHINE))
    spare = whole(content, "spare_min", 0, 0, MOST_MINUTES)
    at = Workplace(
        grid,
        horizon,
        spare if content.get("now") is None else 0,
        machines,
        frozenset(places),
    )
    products = {one["id"]: text(one, "name", one["id"]) for one in entries(content, "products", {"name"})}
    steps = [_step(one, places, machines) for one in entries(content, "steps", _STEP)]
    lags = [_lag(one) for one in listed(content, "lags")]
    mixes = entries(content, "mixes", MIX_KEYS)
    if len(mixes) > MOST_MIXES:
        raise PlanError("plan-too-many", what="mixes", most=MOST_MIXES)
    planned = [read_mix(one, machines, grid, lambda said: minutes_from(origin, said, zone)) for one in mixes]
    for base in dict.fromkeys(mix.base for mix in planned if mix.base is not None):
        more, waits, products[base] = base_steps(base, [mix for mix in planned if mix.base == base], at)
        steps, lags = steps + more, lags + waits
    for mix in planned:
        products[mix.id] = mix.name
        more, waits = steps_of(mix, at)
        steps, lags = steps + more, lags + waits
    bases = {
        base: frozenset(mix.id for mix in planned if mix.base == base)
        for base in {mix.base for mix in planned} - {None}
    }
    problem = Problem(
        horizon,
        grid,
        people,
        places,
        machines,
        tuple(steps),
        tuple(lags),
        products,
        seconds_of(content),
        bases={base: users for base, users in bases.items() if base is not None},
    )
    _check(problem)
    pinned = replace(problem, steps=_pinned(problem, content.get("pins")))
    return replace(pinned, replanning=read_replanning(content, pinned.steps, machines))


def _pinned(problem: Problem, pins: Any) -> tuple[Step, ...]:
    """Return the steps with those that somebody has put at an hour held there."""
    if pins is None:
        return problem.steps
    if not isinstance(pins, dict):
        raise PlanError("plan-malformed", what="pins")
    unknown = sorted(pins.keys() - {step.id for step in problem.steps})
    if unknown:
        raise PlanError("plan-unknown-id", what="pins", id=unknown[0][:40])
    at = {name: whole(pins, name, None, 0, problem.horizon) for name in pins}
    off = next((name for name in at if at[name] % problem.grid), None)
    if off is not None:
        raise PlanError("plan-pin-off-grid", step=off, minutes=problem.grid)
    return tuple(
        replace(step, earliest=at[step.id], latest=at[step.id]) if step.id in at else step for step in problem.steps
    )


def _content(data: bytes) -> dict[str, Any]:
    if len(data) > MOST_BYTES:
        raise PlanError("plan-too-large")
    try:
        content = load_json(data.decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise PlanError("plan-not-json") from None
    if not isinstance(content, dict) or content.get("format") != FORMAT or content.get("version") != 1:
        raise PlanError("not-a-plan", format=FORMAT)
    known_keys(content, _KEYS, "a plan")
    return content


_MACHINE: Final = {
    "churn_min", "wash_min", "dirty_max_min", "wash_always", "ready_min", "ready_hands_min", "ready_uses",
    "ready_since", "run_uses", "off", "ready_max_min",
}  # fmt: skip
_STEP: Final = {"product", "kind", "options", "carries", "earliest", "latest", "due"}


def _machine(data: Mapping[str, Any], places: Mapping[str, int]) -> Machine:
    since = data.get("ready_since")
    return Machine(
        data["id"],
        whole(data, "churn_min", None, 1, 1440),
        whole(data, "wash_min", None, 1, 1440),
        whole(data, "dirty_max_min", None, 0, MOST_MINUTES),
        flag(data, "wash_always"),
        whole(data, "ready_min", 0, 0, MOST_MINUTES),
        whole(data, "ready_hands_min", 0, 0, MOST_MINUTES),
        uses(data, "ready_uses", places),
        None if since is None else whole(data, "ready_since", None, -MOST_MINUTES, MOST_MINUTES),
        uses(data, "run_uses", places),
        tuple(span(one, f"when {data['id']} is off", -MOST_MINUTES) for one in listed(data, "off")),
        whole_or_none(data, "ready_max_min"),
    )


def _step(data: Mapping[str, Any], places: Mapping[str, int], machines: Iterable[Machine]) -> Step:
    known = {machine.id for machine in machines}
    options = tuple(_option(one, data["id"], places, known) for one in listed(data, "options"))
    if not options:
        raise PlanError("plan-no-option", step=data["id"], why="it has none")
    bounds = {key: whole_or_none(data, key) for key in ("earliest", "latest", "due")}
    carries = frozenset(word(one, "carries") for one in listed(data, "carries"))
    return Step(
        data["id"], word(data.get("product"), "product"), word(data.get("kind"), "kind"), options, carries, **bounds
    )


def _option(data: Any, step: str, places: Mapping[str, int], machines: set[str]) -> Option:
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what=f"an option of {step}")
    known_keys(data, {"minutes", "hands", "uses", "machine"}, f"an option of {step}")
    least, most = span(data.get("minutes"), f"the minutes of {step}")
    machine = data.get("machine")
    if machine is not None and machine not in machines:
        raise PlanError("plan-unknown-id", what=f"the machine of {step}", id=str(machine)[:40])
    hands = _hands(data.get("hands", NO_HANDS), step)
    if hands.first + hands.last > least:
        raise PlanError("plan-hands-too-long", step=step)
    return Option(least, most, hands, uses(data, "uses", places), machine)


def _hands(data: Any, step: str) -> Hands:
    if data in (ALL_HANDS, NO_HANDS):
        return Hands(throughout=data == ALL_HANDS)
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what=f"the hands of {step}")
    known_keys(data, {"first", "last"}, f"the hands of {step}")
    return Hands(first=whole(data, "first", 0, 0, MOST_MINUTES), last=whole(data, "last", 0, 0, MOST_MINUTES))


def _lag(data: Any) -> Lag:
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what="a wait")
    known_keys(data, {"from", "to", "from_at", "to_at", "min", "max", "why", "safety"}, "a wait")
    before, after = word(data.get("from"), "from"), word(data.get("to"), "to")
    ends = (data.get("from_at", "end"), data.get("to_at", "start"))
    if not set(ends) <= {"start", "end"}:
        raise PlanError("plan-malformed", what=f"the wait from {before} to {after}")
    least = whole(data, "min", 0, -MOST_MINUTES, MOST_MINUTES)
    most = None if data.get("max") is None else whole(data, "max", None, -MOST_MINUTES, MOST_MINUTES)
    if most is not None and least > most:
        raise PlanError("plan-least-above-most", what=f"the wait from {before} to {after}")
    return Lag(
        before,
        after,
        least,
        most,
        text(data, "why", ""),
        bool(data.get("safety")),
        ends[0] == "start",
        ends[1] == "end",
    )


def _check(problem: Problem) -> None:
    if not problem.steps:
        raise PlanError("plan-empty")
    if len(problem.steps) > MOST_STEPS:
        raise PlanError("plan-too-many", what="steps", most=MOST_STEPS)
    ids = [step.id for step in problem.steps]
    twice = next((one for one in ids if ids.count(one) > 1), None)
    if twice is not None:
        raise PlanError("plan-double-id", id=twice)
    for lag in problem.lags:
        for one in (lag.before, lag.after):
            if one not in ids:
                raise PlanError("plan-unknown-id", what="a wait", id=one)
    for step in problem.steps:
        _check_step(problem, step)


def _check_step(problem: Problem, step: Step) -> None:
    if step.product not in problem.products:
        raise PlanError("plan-unknown-id", what=f"the product of {step.id}", id=step.product)
    if step.due is not None and (step.due % problem.grid or not 0 <= step.due <= problem.horizon):
        raise PlanError("plan-due-beyond", step=step.id, due=step.due)
    for option in step.options:
        if step.kind == "age" and option.most < 0:
            raise PlanError("plan-stock-old", mix=problem.products[step.product])
        if option.least > option.most:
            raise PlanError("plan-least-above-most", what=f"the minutes of {step.id}")
        for use in option.uses:
            if use.place not in problem.places:
                raise PlanError(
                    "plan-no-option", step=step.id, why=_NO_PLACE.get(use.place, f"there is no {use.place}")
                )


_NO_PLACE: Final = {"ice-bath": "there is no ice bath, and hot base never goes into the fridge"}
