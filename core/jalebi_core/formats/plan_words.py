"""What a cook reads first of a plan: whether all of it is on time, when to begin, and how sure that is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Final

from jalebi_core.formats.plan_answers import NOUNS, Clock, hours
from jalebi_core.production.schedule.problem import Lag, Problem
from jalebi_core.production.schedule.slack import Slip

_COUNTS: Final = ("Nothing", "It", "Both", "All three", "All four", "All five", "All six", "All seven", "All eight")
_HELD: Final = {
    "service": "it would miss its service",
    "shift": "{of} leaves then",
    "machine": "{of} is needed then",
    "hands": "{of} is needed elsewhere then",
    "place": "{of} is taken then",
    "wait": "it may not wait longer",
    "time": "it may not last longer",
    "pin": "it is pinned",
    "horizon": "the plan ends then",
}
_CHANGE: Final = {
    "serve_later": "Serve {what} {minutes} later",
    "longer_shift": "{person} is there from {from_} to {until}",
    "more_hands": "Somebody more, there when {like} is",
    "more_room": "{place} for {capacity}",
    "another_machine": "A second {like}",
    "leave_out": "Leave out {what}",
}
_OWN_WORDS: Final = {
    "ages at least, keeps at most": "The base ages for {least} at least and keeps for {most} at most",
    "from the fridge straight into the machine": "It goes from the fridge straight into the machine",
    "never thaws in between": "It stays frozen from here on: what has thawed is never frozen again",
    "tempers straight from the freezer": "It tempers straight from the freezer",
    "cold base goes into the fridge at once": "Cold base goes into the fridge at once",
}
_ROOM: Final = {
    "burner": "{n} burners", "ice-bath": "{n} ice baths", "motor": "{n} motors for the bowls", "bucket": "{n} buckets",
    "fridge": "{l} L free in the fridge", "freezer": "{l} L free in the freezer", "blast": "{l} L in the blast chiller",
}  # fmt: skip


def verdict(problem: Problem, report: Mapping[str, Any], says: Clock) -> tuple[str, str]:
    """Return the verdict in a sentence, and what stands beside it: the first hand, and what is proved."""
    status, steps = report["status"], report["steps"]
    late = [one for one in report["lateness"] if one["minutes"]]
    if not steps:
        return _without_plan(status), report["why"]["said"] if report["why"] else ""
    first = min((piece["start"] for one in (*steps, *report["setups"]) for piece in one["people"]), default=None)
    begin = "" if first is None else f"First hand at {says(first)}"
    if late:
        names = ", ".join(f"{problem.products[one['product']]} is {hours(one['minutes'])} late" for one in late)
        return f"{names}.", " ".join(part for part in (report["why"] and report["why"]["said"], f"{begin}.") if part)
    products = [problem.products[step.product] for step in problem.steps if step.due is not None]
    count = len(products)
    subject = products[0] if count == 1 else _COUNTS[count] if count < len(_COUNTS) else f"All {count}"
    on_time = f"{subject} {'is' if count == 1 else 'are'} on time."
    return on_time, f"{begin}; {_proved(report)}."


def _without_plan(status: str) -> str:
    if status == "impossible":
        return "There is no way to make all of it."
    return "No plan was found in the time given."


def _proved(report: Mapping[str, Any]) -> str:
    levels = {one["name"]: one for one in report["objective"]}
    if not levels:
        return "the best so far"
    if "moved_min" in levels:
        return (
            "no plan moves less of what was planned"
            if report["status"] == "optimal"
            else "a calmer plan may be left to find"
        )
    if report["status"] == "optimal":
        return "no plan needs fewer washes or is fresher"
    if levels["washes"]["proved"]:
        return "no plan needs fewer washes; a fresher one may be left to find"
    return "a better plan may be left to find"


def say_overdue(problem: Problem, lags: Iterable[Lag]) -> str:
    """Return what was begun and waits longer than it should; empty where nothing does."""
    said = [
        f"{problem.products[next(one.product for one in problem.steps if one.id == lag.before)]} waits longer than"
        f" {hours(lag.most or 0)} ({lag.why})"
        for lag in lags
    ]
    return f"{'; '.join(dict.fromkeys(said))}: look at it before you go on." if said else ""


def say_slip(slip: Slip, names: Mapping[str, str]) -> str:
    """Return what holds a step that slips."""
    return _HELD[slip.by].format(of=names.get(slip.of, slip.of))


def say_change(change: Mapping[str, Any], problem: Problem, names: Mapping[str, str], says: Clock) -> str:
    """Return a change that would help as a cook would say it."""
    kind: str = change["kind"]
    of = change.get("product")
    if kind == "serve_later":
        of = next(step.product for step in problem.steps if step.id == change["step"])
    if kind == "more_room":
        units: int = change["capacity"]
        litres = f"{units / 10:g}"
        place: str = change["place"]
        return _ROOM.get(place, "{n} of " + place).format(n=units, l=litres)
    facts = {key: names.get(value, value) if isinstance(value, str) else value for key, value in change.items()}
    facts["what"] = problem.products.get(of or "", "")
    if "minutes" in change:
        facts["minutes"] = hours(change["minutes"])
    if "to" in change:
        facts |= {"from_": says(change["to"][0]), "until": says(change["to"][1])}
    return str(_CHANGE[kind].format(**facts))


def say_waits(problem: Problem, step: str) -> list[str]:
    """Return the waits before a step, least and most, each with its reason."""
    kinds = {one.id: one.kind for one in problem.steps}
    found = []
    for lag in problem.lags:
        if lag.after == step and not lag.to_end and lag.why:
            before = NOUNS.get(kinds[lag.before], kinds[lag.before])
            after = f"after the {'start' if lag.from_start else 'end'} of {before}"
            own = _OWN_WORDS.get(lag.why) if lag.most is not None else None
            found.append(
                own.format(least=hours(lag.least), most=hours(lag.most or 0))
                if own
                else f"{_span(lag.least, lag.most)} {after}: {lag.why}"
            )
    return found


def _span(least: int, most: int | None) -> str:
    if most is None:
        return f"At least {hours(least)}" if least else "Any time"
    if least == most:
        return "At once" if most == 0 else hours(least)
    return f"{hours(least)} to {hours(most)}" if least else f"At most {hours(most)}"
