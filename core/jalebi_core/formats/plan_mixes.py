"""The mixes of a plan file: what is made of each, how much, for when and in which way."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, Final

from jalebi_core.formats.plan_values import (
    MOST_MINUTES,
    flag,
    known_keys,
    listed,
    span,
    text,
    whole,
    whole_or_none,
    word,
)
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.expansion import PlannedMix, Preparing, default_minutes
from jalebi_core.production.schedule.problem import Machine

MIX_KEYS: Final = {
    "name", "style", "grams", "has", "serve", "overrun_pct", "runs", "machines", "way", "fresh", "fresh_max_min",
    "mix_in", "age_min", "keeps_min", "prepare", "stock", "minutes", "base", "cool",
    "churn_min",
}  # fmt: skip
_COOLING: Final = ("ice-bath", "stand-then-fridge", "cold-cream-then-fridge")
_WAYS: Final = ("cook", "scald", "syrup", "whip", "blend")


def read_mix(
    data: Mapping[str, Any], machines: Iterable[Machine], grid: int, minutes_at: Callable[[str], int]
) -> PlannedMix:
    """Read one mix; raises PlanError for what cannot be planned of it."""
    name, known = data["id"], [machine.id for machine in machines]
    wanted = tuple(word(one, "machines") for one in listed(data, "machines"))
    unknown = [one for one in wanted if one not in known]
    if unknown:
        raise PlanError("plan-unknown-id", what=f"a machine of {name}", id=unknown[0])
    way = data.get("way")
    if way is not None and way not in _WAYS:
        raise PlanError("plan-unknown-way", way=str(way)[:40], ways=_WAYS)
    if data.get("style") == "granita":
        raise PlanError("plan-granita", mix=text(data, "name", name))
    grams = whole(data, "grams", None, 1, 1_000_000)
    frozen, since = _stock(data.get("stock"), name, minutes_at)
    found = PlannedMix(
        id=name,
        name=text(data, "name", name),
        style=text(data, "style", ""),
        grams=grams,
        has=frozenset(word(one, "has") for one in listed(data, "has")),
        due=minutes_at(word(data.get("serve"), "serve")),
        overrun_pct=whole(data, "overrun_pct", 30, 0, 300),
        runs=whole(data, "runs", 1, 1, 20),
        machines=wanted,
        way=way,
        fresh=flag(data, "fresh"),
        fresh_max_min=whole(data, "fresh_max_min", 120, 0, 1440),
        mix_in=flag(data, "mix_in"),
        age_min=whole_or_none(data, "age_min"),
        keeps_min=whole_or_none(data, "keeps_min"),
        prepare=tuple(_preparation(one, grams, grid) for one in listed(data, "prepare")),
        frozen=frozen,
        chilled_since=since,
        minutes=_own_minutes(data.get("minutes")),
        base=None if data.get("base") is None else word(data["base"], "base"),
        cool=_cooling(data),
        churn_min=_churn_minutes(data.get("churn_min"), known),
    )
    if found.cool != "ice-bath" and "cool" not in found.minutes and way not in ("blend", "whip"):
        raise PlanError("plan-cooling-minutes", mix=found.name)
    if not known and found.way != "whip" and found.style != "no-churn":
        raise PlanError("plan-no-option", step=f"{name}.churn", why="there is no machine")
    return found


def _churn_minutes(data: Any, machines: list[str]) -> dict[str, int]:
    if data is None:
        return {}
    if not isinstance(data, dict):
        raise PlanError("plan-malformed", what="churn_min")
    unknown = next((name for name in data if name not in machines), None)
    if unknown is not None:
        raise PlanError("plan-unknown-id", what="churn_min", id=unknown[:40])
    return {name: whole(data, name, None, 1, 1440) for name in data}


def _cooling(data: Mapping[str, Any]) -> str:
    cool = data.get("cool", "ice-bath")
    if cool not in _COOLING:
        raise PlanError("plan-unknown-way", way=str(cool)[:40], ways=_COOLING)
    return str(cool)


def _preparation(data: Any, grams: int, grid: int) -> Preparing:
    if not isinstance(data, dict) or data.get("kind") not in ("reduce", "steep", "macerate"):
        raise PlanError("plan-malformed", what="a preparation")
    known_keys(data, {"kind", "minutes", "keeps_min"}, "a preparation")
    kind: str = data["kind"]
    keeps = whole(data, "keeps_min", 60, 0, MOST_MINUTES)
    minutes = data.get("minutes")
    least, most = default_minutes(kind, grams, grid) if minutes is None else span(minutes, f"the minutes of {kind}")
    return Preparing(kind, least, most, keeps)


def _stock(data: Any, mix: str, minutes_at: Callable[[str], int]) -> tuple[bool, int | None]:
    if data is None:
        return False, None
    if not isinstance(data, dict) or data.get("kind") not in ("frozen", "fridge"):
        raise PlanError("plan-malformed", what=f"the stock of {mix}")
    known_keys(data, {"kind", "since"}, f"the stock of {mix}")
    if data["kind"] == "frozen":
        return True, None
    since = minutes_at(word(data.get("since"), "since"))
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
            found[kind] = span(minutes, f"the minutes of {kind}")
        else:
            found[kind] = (whole(data, kind, None, 0, MOST_MINUTES), None)
    return found
