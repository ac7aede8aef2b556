"""Plan files (`jalebi.plan`): what is to be served when, by whom and with what; described in docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import datetime
from typing import Any, Final
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from jalebi_core.formats.json_text import load_json
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.expansion import PlannedMix, Workplace, default_minutes, steps_of
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
    Use,
)

FORMAT: Final = "jalebi.plan"
MOST_BYTES: Final = 1_000_000
MOST_MIXES: Final = 40
MOST_STEPS: Final = 400
_MOST_MINUTES: Final = 20_160
_MOST_UNITS: Final = 100_000
_REPLAN: Final = ("now", "previous", "actual")
_KEYS: Final = {
    "format", "version", "origin", "zone", "horizon_min", "grid_min", "time_limit_s", "spare_min", "people", "places",
    "machines", "mixes", "products", "steps", "lags", *_REPLAN,
}  # fmt: skip
_WAYS: Final = ("cook", "scald", "syrup", "whip", "blend")
_LONGEST: Final = 120


def read_plan(data: bytes) -> Problem:
    """Read a plan file and expand its mixes into steps; raises PlanError for anything in it that cannot be used."""
    content = _content(data)
    grid, horizon = _int(content, "grid_min", 5, 1, 1440), _int(content, "horizon_min", None, 1, _MOST_MINUTES)
    origin, zone = _origin(content), _zone(content)
    places = {
        place["id"]: _int(place, "capacity", None, 0, _MOST_UNITS) for place in _named(content, "places", {"capacity"})
    }
    people = tuple(
        Person(one["id"], tuple(_shift(span, one["id"]) for span in _list(one, "shifts")))
        for one in _named(content, "people", {"shifts"})
    )
    machines = tuple(_machine(one, places) for one in _named(content, "machines", _MACHINE))
    at = Workplace(
        grid, horizon, _int(content, "spare_min", 0, 0, _MOST_MINUTES), machines, "blast" in places, "motor" in places
    )
    products = {one["id"]: _text(one, "name", one["id"]) for one in _named(content, "products", {"name"})}
    steps = [_step(one, places, machines) for one in _named(content, "steps", _STEP)]
    lags = [_lag(one) for one in _list(content, "lags")]
    mixes = _named(content, "mixes", _MIX)
    if len(mixes) > MOST_MIXES:
        raise PlanError("plan-too-many", what="mixes", most=MOST_MIXES)
    for one in mixes:
        mix = _mix(one, machines, grid, lambda text: _minutes_from(origin, text, zone))
        products[mix.id] = mix.name
        more, waits = steps_of(mix, at)
        steps += more
        lags += waits
    problem = Problem(horizon, grid, people, places, machines, tuple(steps), tuple(lags), products, _seconds(content))
    _check(problem)
    return problem


def _content(data: bytes) -> dict[str, Any]:
    if len(data) > MOST_BYTES:
        raise PlanError("plan-too-large")
    try:
        content = load_json(data.decode("utf-8-sig"))
    except (ValueError, RecursionError):
        raise PlanError("plan-not-json") from None
    if not isinstance(content, dict) or content.get("format") != FORMAT or content.get("version") != 1:
        raise PlanError("not-a-plan", format=FORMAT)
    _known(content, _KEYS, "a plan")
    if any(content.get(key) is not None for key in _REPLAN):
        raise PlanError("plan-no-replanning")
    return content


_MACHINE: Final = {
    "churn_min", "wash_min", "dirty_max_min", "wash_always", "ready_min", "ready_hands_min", "ready_uses",
    "ready_since", "run_uses",
}  # fmt: skip
_STEP: Final = {"product", "kind", "options", "carries", "earliest", "latest", "due"}
_MIX: Final = {
    "name", "style", "grams", "has", "serve", "overrun_pct", "runs", "machines", "way", "fresh", "fresh_max_min",
    "mix_in", "age_min", "keeps_min", "prepare", "stock", "minutes",
}  # fmt: skip


def _machine(data: Mapping[str, Any], places: Mapping[str, int]) -> Machine:
    since = data.get("ready_since")
    return Machine(
        data["id"],
        _int(data, "churn_min", None, 1, 1440),
        _int(data, "wash_min", None, 1, 1440),
        _int(data, "dirty_max_min", None, 0, _MOST_MINUTES),
        _bool(data, "wash_always"),
        _int(data, "ready_min", 0, 0, _MOST_MINUTES),
        _int(data, "ready_hands_min", 0, 0, _MOST_MINUTES),
        _uses(data, "ready_uses", places),
        None if since is None else _int(data, "ready_since", None, -_MOST_MINUTES, _MOST_MINUTES),
        _uses(data, "run_uses", places),
    )


def _step(data: Mapping[str, Any], places: Mapping[str, int], machines: Iterable[Machine]) -> Step:
    known = {machine.id for machine in machines}
    options = tuple(_option(one, data["id"], places, known) for one in _list(data, "options"))
    if not options:
        raise PlanError("plan-no-option", step=data["id"], why="it has none")
    bounds = {key: _optional(data, key) for key in ("earliest", "latest", "due")}
    carries = frozenset(_word(one, "carries") for one in _list(data, "carries"))
    return Step(
        data["id"], _word(data.get("product"), "product"), _word(data.get("kind"), "kind"), options, carries, **bounds
    )


def _option(data: Any, step: str, places: Mapping[str, int], machines: set[str]) -> Option:
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what=f"an option of {step}")
    _known(data, {"minutes", "hands", "uses", "machine"}, f"an option of {step}")
    least, most = _range(data.get("minutes"), f"the minutes of {step}")
    machine = data.get("machine")
    if machine is not None and machine not in machines:
        raise PlanError("plan-unknown-id", what=f"the machine of {step}", id=str(machine)[:40])
    hands = _hands(data.get("hands", NO_HANDS), step)
    if hands.first + hands.last > least:
        raise PlanError("plan-hands-too-long", step=step)
    return Option(least, most, hands, _uses(data, "uses", places), machine)


def _hands(data: Any, step: str) -> Hands:
    if data in (ALL_HANDS, NO_HANDS):
        return Hands(throughout=data == ALL_HANDS)
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what=f"the hands of {step}")
    _known(data, {"first", "last"}, f"the hands of {step}")
    return Hands(first=_int(data, "first", 0, 0, _MOST_MINUTES), last=_int(data, "last", 0, 0, _MOST_MINUTES))


def _lag(data: Any) -> Lag:
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what="a wait")
    _known(data, {"from", "to", "from_at", "to_at", "min", "max", "why", "safety"}, "a wait")
    before, after = _word(data.get("from"), "from"), _word(data.get("to"), "to")
    ends = (data.get("from_at", "end"), data.get("to_at", "start"))
    if not set(ends) <= {"start", "end"}:
        raise PlanError("plan-malformed", what=f"the wait from {before} to {after}")
    least = _int(data, "min", 0, -_MOST_MINUTES, _MOST_MINUTES)
    most = None if data.get("max") is None else _int(data, "max", None, -_MOST_MINUTES, _MOST_MINUTES)
    if most is not None and least > most:
        raise PlanError("plan-least-above-most", what=f"the wait from {before} to {after}")
    return Lag(
        before,
        after,
        least,
        most,
        _text(data, "why", ""),
        bool(data.get("safety")),
        ends[0] == "start",
        ends[1] == "end",
    )


def _mix(
    data: Mapping[str, Any], machines: Iterable[Machine], grid: int, minutes_at: Callable[[str], int]
) -> PlannedMix:
    name, known = data["id"], [machine.id for machine in machines]
    wanted = tuple(_word(one, "machines") for one in _list(data, "machines"))
    unknown = [one for one in wanted if one not in known]
    if unknown:
        raise PlanError("plan-unknown-id", what=f"a machine of {name}", id=unknown[0])
    way = data.get("way")
    if way is not None and way not in _WAYS:
        raise PlanError("plan-unknown-way", way=str(way)[:40], ways=_WAYS)
    grams = _int(data, "grams", None, 1, 1_000_000)
    frozen, since = _stock(data.get("stock"), name, minutes_at)
    found = PlannedMix(
        id=name,
        name=_text(data, "name", name),
        style=_text(data, "style", ""),
        grams=grams,
        has=frozenset(_word(one, "has") for one in _list(data, "has")),
        due=minutes_at(_word(data.get("serve"), "serve")),
        overrun_pct=_int(data, "overrun_pct", 30, 0, 300),
        runs=_int(data, "runs", 1, 1, 20),
        machines=wanted,
        way=way,
        fresh=_bool(data, "fresh"),
        fresh_max_min=_int(data, "fresh_max_min", 120, 0, 1440),
        mix_in=_bool(data, "mix_in"),
        age_min=_optional(data, "age_min"),
        keeps_min=_optional(data, "keeps_min"),
        prepare=tuple(_preparation(one, grams, grid) for one in _list(data, "prepare")),
        frozen=frozen,
        chilled_since=since,
        minutes=_own_minutes(data.get("minutes")),
    )
    if not known and found.way != "whip" and found.style != "no-churn":
        raise PlanError("plan-no-option", step=f"{name}.churn", why="there is no machine")
    return found


def _preparation(data: Any, grams: int, grid: int) -> tuple[str, int, int]:
    if not isinstance(data, dict) or data.get("kind") not in ("reduce", "steep", "macerate"):
        raise PlanError("plan-malformed", what="a preparation")
    _known(data, {"kind", "minutes"}, "a preparation")
    kind: str = data["kind"]
    if data.get("minutes") is None:
        return (kind, *default_minutes(kind, grams, grid))
    return (kind, *_range(data["minutes"], f"the minutes of {kind}"))


def _stock(data: Any, mix: str, minutes_at: Callable[[str], int]) -> tuple[bool, int | None]:
    if data is None:
        return False, None
    if not isinstance(data, dict) or data.get("kind") not in ("frozen", "fridge"):
        raise PlanError("plan-malformed", what=f"the stock of {mix}")
    _known(data, {"kind", "since"}, f"the stock of {mix}")
    if data["kind"] == "frozen":
        return True, None
    since = minutes_at(_word(data.get("since"), "since"))
    if since > 0:
        raise PlanError("plan-stock-later", mix=mix)
    return False, since


def _own_minutes(data: Any) -> dict[str, tuple[int, int | None]]:
    if data is None:
        return {}
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what="minutes")
    found: dict[str, tuple[int, int | None]] = {}
    for kind, minutes in data.items():
        if isinstance(minutes, list):
            found[kind] = _range(minutes, f"the minutes of {kind}")
        else:
            found[kind] = (_int(data, kind, None, 0, _MOST_MINUTES), None)
    return found


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
        if option.least > option.most:
            raise PlanError("plan-least-above-most", what=f"the minutes of {step.id}")
        for use in option.uses:
            if use.place not in problem.places:
                raise PlanError(
                    "plan-no-option", step=step.id, why=_NO_PLACE.get(use.place, f"there is no {use.place}")
                )


_NO_PLACE: Final = {"ice-bath": "there is no ice bath, and hot base never goes into the fridge"}


def _minutes_from(origin: datetime, text: str, zone: ZoneInfo | None) -> int:
    at = _time(text)
    if zone is not None:
        seconds = at.replace(tzinfo=zone).timestamp() - origin.replace(tzinfo=zone).timestamp()
    else:
        seconds = (at - origin).total_seconds()
    minutes = seconds / 60
    if not minutes.is_integer():
        raise PlanError("plan-time", text=text[:40])
    return int(minutes)


def _time(text: Any) -> datetime:
    try:
        at = datetime.fromisoformat(text)
    except (TypeError, ValueError):
        raise PlanError("plan-time", text=str(text)[:40]) from None
    if at.tzinfo is not None:
        raise PlanError("plan-time", text=str(text)[:40])
    return at


def _origin(content: Mapping[str, Any]) -> datetime:
    return _time(content.get("origin"))


def _zone(content: Mapping[str, Any]) -> ZoneInfo | None:
    name = content.get("zone")
    if name is None:
        return None
    try:
        return ZoneInfo(_word(name, "zone"))
    except (ZoneInfoNotFoundError, ValueError, OSError):
        raise PlanError("plan-zone", zone=str(name)[:40]) from None


def _seconds(content: Mapping[str, Any]) -> float:
    limit = content.get("time_limit_s", 8)
    if isinstance(limit, bool) or not isinstance(limit, int | float) or not 0 < limit <= 600:
        raise PlanError("plan-number", key="time_limit_s", value=str(limit)[:40])
    return float(limit)


def _shift(data: Any, who: str) -> tuple[int, int]:
    start, end = _range(data, f"a shift of {who}", -_MOST_MINUTES)
    return start, end


def _range(data: Any, what: str, least: int = 0) -> tuple[int, int]:
    if not isinstance(data, list) or len(data) != 2:
        raise PlanError("plan-malformed", what=what)
    low, high = (_int({"value": one}, "value", None, least, _MOST_MINUTES) for one in data)
    if low > high:
        raise PlanError("plan-least-above-most", what=what)
    return low, high


def _uses(data: Mapping[str, Any], key: str, places: Mapping[str, int]) -> tuple[Use, ...]:
    found = []
    for one in _list(data, key):
        if not isinstance(one, dict):
            raise PlanError("plan-malformed", what=key)
        _known(one, {"place", "units"}, key)
        place = _word(one.get("place"), "place")
        if place not in places:
            raise PlanError("plan-unknown-id", what=key, id=place)
        found.append(Use(place, _int(one, "units", None, 1, _MOST_UNITS)))
    return tuple(found)


def _named(content: Mapping[str, Any], key: str, more: set[str]) -> list[dict[str, Any]]:
    found = []
    for one in _list(content, key):
        if not isinstance(one, dict):
            raise PlanError("plan-malformed", what=key)
        _known(one, {"id", *more}, key)
        one["id"] = _word(one.get("id"), f"the id of {key}")
        found.append(one)
    ids = [one["id"] for one in found]
    twice = next((name for name in ids if ids.count(name) > 1), None)
    if twice is not None:
        raise PlanError("plan-double-id", id=twice)
    return found


def _list(data: Mapping[str, Any], key: str) -> list[Any]:
    found = data.get(key)
    if found is None:
        return []
    if not isinstance(found, list) or len(found) > 2000:
        raise PlanError("plan-malformed", what=key)
    return found


def _known(data: Mapping[str, Any], keys: set[str], where: str) -> None:
    unknown = sorted(map(str, data.keys() - keys))
    if unknown:
        raise PlanError("plan-unknown-key", key=unknown[0][:40], where=where)


def _word(value: Any, what: str) -> str:
    if not isinstance(value, str) or not value.strip() or not value.isprintable() or len(value) > _LONGEST:
        raise PlanError("plan-malformed", what=what)
    return value


def _text(data: Mapping[str, Any], key: str, usual: str) -> str:
    value = data.get(key)
    if value is None:
        return usual
    if not isinstance(value, str) or not value.isprintable() or len(value) > _LONGEST:
        raise PlanError("plan-malformed", what=key)
    return value


def _bool(data: Mapping[str, Any], key: str) -> bool:
    value = data.get(key, False)
    if not isinstance(value, bool):
        raise PlanError("plan-malformed", what=key)
    return value


def _optional(data: Mapping[str, Any], key: str) -> int | None:
    return None if data.get(key) is None else _int(data, key, None, -_MOST_MINUTES, _MOST_MINUTES)


def _int(data: Mapping[str, Any], key: str, usual: int | None, least: int, most: int) -> int:
    value = data.get(key, usual)
    if isinstance(value, bool) or not isinstance(value, int) or not least <= value <= most:
        raise PlanError("plan-number", key=key, value=str(value)[:40])
    return value
