"""Snapshots of making steps: what a batch was told to do, with its limits and sentences as they were shown.

A snapshot is read for ever and never rewritten; ``schema`` counts its shape.

- 1: steps with their weighing, readings and sentences.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any, Final

from jalebi_core.production.making.steps import MakingStep, Reading, Stage, Weighing
from jalebi_core.wording.message import Message
from jalebi_core.wording.record import message_data, read_message

SCHEMA: Final = 1


def steps_snapshot(steps: Sequence[MakingStep]) -> dict[str, Any]:
    """Return steps as the plain data that `read_steps` reads back."""
    return {"schema": SCHEMA, "steps": [_step_data(step) for step in steps]}


def read_steps(data: Mapping[str, Any]) -> tuple[MakingStep, ...]:
    """Read the steps of a snapshot, as they were shown."""
    return tuple(_read_step(step) for step in data["steps"])


def _step_data(step: MakingStep) -> dict[str, Any]:
    return {
        "id": step.id,
        "part": step.part,
        "kind": step.kind,
        "title": message_data(step.title),
        "plan_step": step.plan_step,
        "do": [message_data(one) for one in step.do],
        "why": _maybe_data(step.why),
        "cue": _maybe_data(step.cue),
        "mind": [message_data(one) for one in step.mind],
        "lines": list(step.lines),
        "weighing": None if step.weighing is None else asdict(step.weighing),
        "readings": [asdict(one) for one in step.readings],
        "least_min": step.least_min,
        "most_min": step.most_min,
        "stages": [asdict(one) for one in step.stages],
        "critical": step.critical,
        "choice": list(step.choice),
        "method": list(step.method),
    }


def _read_step(data: Mapping[str, Any]) -> MakingStep:
    return MakingStep(
        id=data["id"],
        part=data["part"],
        kind=data["kind"],
        title=read_message(data["title"]),
        plan_step=data["plan_step"],
        do=tuple(read_message(one) for one in data["do"]),
        why=_read_maybe(data["why"]),
        cue=_read_maybe(data["cue"]),
        mind=tuple(read_message(one) for one in data["mind"]),
        lines=tuple(data["lines"]),
        weighing=None if data["weighing"] is None else Weighing(**data["weighing"]),
        readings=tuple(Reading(**one) for one in data["readings"]),
        least_min=data["least_min"],
        most_min=data["most_min"],
        stages=tuple(Stage(**one) for one in data["stages"]),
        critical=data["critical"],
        choice=tuple(data["choice"]),
        method=tuple(data["method"]),
    )


def _maybe_data(message: Message | None) -> dict[str, Any] | None:
    return None if message is None else message_data(message)


def _read_maybe(data: Mapping[str, Any] | None) -> Message | None:
    return None if data is None else read_message(data)
