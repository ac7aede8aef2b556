"""From a batch and its entries to what screens show."""

from __future__ import annotations

from typing import Any, Final, Literal

from analysis.details import serialize_details
from analysis.draft_analysis import serialize_cost
from analysis.serialize import serialize_analysis
from batches.as_made import made_or_fault
from batches.models import Batch, Event
from batches.replay import BatchState, replay
from batches.schemas import AddedLine, BatchHead, BatchLine, BatchOut, BatchSummary, ChurnedOut, LatePress
from ingredients.schemas import Part
from ingredients.serialize import parts_of_lines
from jalebi_core.assessment.analysis import analyse_mix
from jalebi_core.assessment.verdict import verdict
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.allergens import allergens_together
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of

_DONE: Final = {
    "ticked": "in",
    "weighed": "no weight",
    "skipped": "left out",
    "chose": "chosen otherwise",
    "swapped": "something else in its place",
    "otherwise": "not as planned",
    "undone": "a press taken back",
}
"""What a press did that carries no figure."""


def serialize_batch(batch: Batch, kitchen: Kitchen) -> BatchOut:
    """Return a batch with its sheet, as it was planned and as it was made."""
    state, planned = replay(batch.events.select_related("by")), read_mix_snapshot(batch.content)
    made, fault = made_or_fault(batch, state)
    held = allergens_together(line.ingredient for line in (made or planned).lines)
    return BatchOut(
        **dict(serialize_head(batch, state)),
        lines=_lines(state, planned, batch.content["lines"]),
        added=[AddedLine(name=one["name"], grams=one["grams"], why=one["why"]) for one in state.added],
        fault=words(fault, notation_of(kitchen)) if fault else "",
        gap_g=state.gap["grams"] if state.gap else None,
        late=[serialize_late(event, planned, notation_of(kitchen)) for event in state.late],
        became=str(state.closed.value) if state.closed and state.closed.kind == Event.Kind.ABANDONED else "",
        planned=serialize_analysis(planned, kitchen),
        as_made=serialize_analysis(made, kitchen) if made else None,
        details=serialize_details(made, kitchen, kitchen.used_freezer_c) if made else None,
        cost=serialize_cost(made, kitchen) if made else None,
        allergens=list(held.contains),
        may_hold=list(held.may_hold),
        allergens_not_stated=list(held.not_stated),
        churned=ChurnedOut(**state.churned) if state.churned else None,
    )


def serialize_summary(batch: Batch, kitchen: Kitchen) -> BatchSummary:
    """Return a batch as lists show it."""
    state = replay(batch.events.all())
    made, fault = made_or_fault(batch, state)
    return BatchSummary(
        **dict(serialize_head(batch, state)),
        verdict=_verdict(made, kitchen) if made else "" if fault else "Nothing went in.",
        fault=words(fault, notation_of(kitchen)) if fault else "",
        ticked=len(state.ticked),
        lines=len(batch.content["lines"]),
    )


def _verdict(made: Mix, kitchen: Kitchen) -> str:
    found = analyse_mix(made, freezer_c=kitchen.used_freezer_c)
    return words(verdict(found, kitchen.used_freezer_c), notation_of(kitchen))


def serialize_head(batch: Batch, state: BatchState) -> BatchHead:
    """Return what is said of a batch wherever it stands."""
    return BatchHead(
        id=batch.pk,
        number=batch.number,
        mix_id=batch.revision.mix_id,
        mix_name=batch.content["name"],
        revision=batch.revision.number,
        begun_at=batch.begun_at,
        begun_by=batch.begun_by.name if batch.begun_by else None,
        tasted=state.tasted,
        note=state.note,
        closed=_closed(state),
    )


def serialize_late(event: Event, mix: Mix, notation: Notation) -> LatePress:
    """Return a press that came in after its batch was closed, in words."""
    about = mix.lines[event.line].ingredient.name if event.line is not None else event.step.partition(".")[0]
    said = _said(event, notation)
    return LatePress(
        key=str(event.key),
        what=f"{about.capitalize()}: {said}" if about else said.capitalize(),
        by=event.by.name if event.by else "",
        at=event.at,
    )


def _said(event: Event, notation: Notation) -> str:
    """Return what a press says, as it was weighed or read, or else what was done."""
    value: Any = event.value
    if isinstance(value, dict) and value.get("grams") is not None:
        return notation.mass_of(value["grams"], "g")
    if isinstance(value, dict) and value.get("number") is not None:
        is_temperature = str(value.get("key", "")).endswith("_c")
        return (
            notation.temperature_at(value["number"], "g") if is_temperature else notation.number(value["number"], "g")
        )
    return _DONE.get(event.kind, event.kind)


def _closed(state: BatchState) -> Literal["finished", "abandoned"] | None:
    if state.closed is None:
        return None
    return "finished" if state.closed.kind == Event.Kind.FINISHED else "abandoned"


def _lines(state: BatchState, planned: Mix, lines: list[dict[str, Any]]) -> list[BatchLine]:
    parts = parts_of_lines([(line.ingredient, line.grams) for line in planned.lines])
    return [
        _line(state, number, planned.lines[number].ingredient.name, line, strata)
        for number, (line, strata) in enumerate(zip(lines, parts, strict=True))
    ]


def _line(state: BatchState, number: int, name: str, line: dict[str, Any], strata: list[Part]) -> BatchLine:
    weighed = state.weighed.get(number, {})
    return BatchLine(
        name=name,
        stage=line["stage"],
        unit=line["unit"],
        planned_g=line["grams"],
        as_made_typed=weighed.get("typed"),
        as_made_g=weighed.get("grams"),
        instead=state.swapped[number]["name"] if number in state.swapped else None,
        ticked=number in state.ticked,
        strata=strata,
    )
