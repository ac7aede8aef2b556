"""What a plan file says of a plan that is made anew: the hour, the plan before, and what has happened since."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Final

from jalebi_core.formats.plan_values import MOST_MINUTES, entries, known_keys, listed, whole, whole_or_none, word
from jalebi_core.model.errors import PlanError
from jalebi_core.production.schedule.problem import Begun, Machine, Piece, PlacedStep, Replanning, Setup, Step

KEYS: Final = ("now", "previous", "actual")
_PLACED: Final = {"start", "end", "option", "machine", "people"}
_SETUP: Final = {"kind", "machine", "step", "start", "end", "people"}


def read_replanning(
    content: Mapping[str, Any], steps: Iterable[Step], machines: Iterable[Machine]
) -> Replanning | None:
    """Read what has begun and what is to be moved least; None for a first plan."""
    if all(content.get(key) is None for key in KEYS):
        return None
    if content.get("now") is None:
        raise PlanError("plan-without-now")
    now = whole(content, "now", None, 0, MOST_MINUTES)
    before = content.get("previous") or {}
    if not isinstance(before, dict):
        raise PlanError("plan-malformed", what="previous")
    known_keys(before, {"steps", "setups"}, "previous")
    known = {step.id: step for step in steps}
    previous = {one["id"]: _placed(one, known) for one in entries(before, "steps", _PLACED)}
    actual = {one["id"]: _actual(one, known, previous) for one in entries(content, "actual", {"start", "end"})}
    began = {name for name, step in previous.items() if step.start < now} | actual.keys()
    begun = {name: _begun(known[name], previous.get(name), actual.get(name), now) for name in known if name in began}
    names = {machine.id for machine in machines}
    setups = [_setup(one, known, names) for one in listed(before, "setups")]
    return Replanning(now, begun, tuple(setup for setup in setups if setup.start < now), previous)


def _placed(data: Mapping[str, Any], known: Mapping[str, Step]) -> PlacedStep:
    step = _known(data["id"], known, "previous")
    option = whole(data, "option", 0, 0, len(step.options) - 1)
    start, end = _from_to(data, data["id"])
    return PlacedStep(step.id, start, end, option, step.options[option].machine, _people(data, step.id))


def _actual(
    data: Mapping[str, Any], known: Mapping[str, Step], previous: Mapping[str, PlacedStep]
) -> tuple[int, int | None]:
    step = _known(data["id"], known, "actual")
    start, end = whole_or_none(data, "start"), whole_or_none(data, "end")
    if start is None:
        if step.id not in previous:
            raise PlanError("plan-no-start", step=step.id)
        start = previous[step.id].start
    if end is not None and end < start:
        raise PlanError("plan-least-above-most", what=f"what {step.id} was done from and to")
    return start, end


def _begun(step: Step, before: PlacedStep | None, actual: tuple[int, int | None] | None, now: int) -> Begun:
    start, end = actual or (before.start if before else 0, None)
    if end is None and before is not None and start <= before.end <= now:
        end = before.end
    option = before.option if before else 0
    hands = step.options[option].hands
    ends = end if end is not None else before.end if before else now
    starts = [start] if hands.throughout or hands.first else []
    starts += [ends - hands.last] if hands.last else []
    who = [piece.who for piece in sorted(before.people, key=lambda piece: piece.start)] if before else []
    who += [""] * (len(starts) - len(who))
    people = tuple(name if at < now else None for at, name in zip(starts, who, strict=False))
    return Begun(start, end, option, people)


def _setup(data: Any, known: Mapping[str, Step], machines: set[str]) -> Setup:
    if not isinstance(data, dict) or data.get("kind") not in ("wash", "ready"):
        raise PlanError("plan-malformed", what="a setup of previous")
    known_keys(data, _SETUP, "a setup of previous")
    machine = word(data.get("machine"), "the machine of a setup")
    if machine not in machines:
        raise PlanError("plan-unknown-id", what="a setup of previous", id=machine)
    run = _known(word(data.get("step"), "the step of a setup"), known, "a setup of previous").id
    start, end = _from_to(data, f"the {data['kind']} for {run}")
    return Setup(data["kind"], machine, run, start, end, _people(data, run))


def _people(data: Mapping[str, Any], what: str) -> tuple[Piece, ...]:
    found = []
    for one in listed(data, "people"):
        if not isinstance(one, dict):
            raise PlanError("plan-malformed", what=f"the people of {what}")
        known_keys(one, {"who", "start", "end"}, f"the people of {what}")
        found.append(Piece(word(one.get("who"), "who"), *_from_to(one, what)))
    return tuple(found)


def _from_to(data: Mapping[str, Any], what: str) -> tuple[int, int]:
    start, end = (whole(data, key, None, -MOST_MINUTES, MOST_MINUTES) for key in ("start", "end"))
    if end < start:
        raise PlanError("plan-least-above-most", what=what)
    return start, end


def _known(name: str, known: Mapping[str, Step], what: str) -> Step:
    if name not in known:
        raise PlanError("plan-unknown-id", what=what, id=name)
    return known[name]
