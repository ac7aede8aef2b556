"""What is wrong with a batch: what is known of it for the core's diagnosis, and the answer in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from batches.as_made import made_or_planned
from batches.models import Batch
from batches.replay import BatchState, replay
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.model.errors import TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.production.making.process import process_quantities, steeps
from jalebi_core.tasting.batch_facts import mix_facts
from jalebi_core.tasting.diagnosis import SHOWN, Suspect, diagnose, process
from jalebi_core.tasting.remedy import remedy
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from making.bench import making_of
from tastings.kitchen_log import standing
from tastings.models import Card
from tastings.schemas import DiagnosisOut, DiagnosisQuestion, EvidenceOut, SuspectOut
from tastings.taste import age_d, context_of, shared_symptoms

_LOOKED_BACK: int = 12
_AGAIN: int = 2


def diagnosis_of(kitchen: Kitchen, batch: Batch, question: DiagnosisQuestion) -> DiagnosisOut:
    """Return why a batch is as it is; raises TastingError for a symptom or a quantity that nobody knows."""
    unknown = next((key for key in question.known if key not in process()), None)
    if unknown is not None:
        raise TastingError("quantity-unknown", quantity=unknown, known=tuple(process()))
    state = replay(batch.events.select_related("by"))
    made = kitchen.learnt.as_eaten(made_or_planned(batch, state))
    cards = standing(batch.cards.select_related("place"))
    facts = {**_facts(kitchen, batch, state, made, cards), **question.known}
    found = diagnose(question.symptoms, facts)
    notation = notation_of(kitchen)
    first = found.suspects[0]
    change = remedy(first.cause, context_of(kitchen, made), kitchen.learnt.sweetness.get(made.style or ""))
    return DiagnosisOut(
        said=words(Message("cause-said", {"likely": first.likely.capitalize(), "cause": first.cause.name}), notation),
        suspects=[_suspect(one, notation) for one in found.suspects[:SHOWN]],
        ask=found.ask,
        question=found.question,
        test_first=found.test_first,
        test=notation.text(first.cause.test),
        change=notation.text(words(change.said, notation)),
        again=_again(batch, question.symptoms),
    )


def _facts(kitchen: Kitchen, batch: Batch, state: BatchState, made: Mix, cards: Sequence[Card]) -> Mapping[str, float]:
    """Return what is known of the mix as made, of how it was made, and of how it was tasted."""
    making = making_of(kitchen, batch, state)
    run = making.run
    found = process_quantities(making.steps, state.notes, run.minutes if run else None, run.fill_pct if run else None)
    last = cards[-1] if cards else None
    served_c = None
    if last is not None:
        found["age_d"] = age_d(batch, last)
        served_c = last.t_c
        if last.out_min is not None:
            found["temper_min"] = last.out_min
        if served_c is None and (last.out_min or 0.0) <= 3:
            served_c = kitchen.used_freezer_c if last.place is None else last.place.air_c
    found["freezer_c"] = last.place.air_c if last is not None and last.place is not None else kitchen.used_freezer_c
    if "overrun_pct" in found and batch.machine_id in kitchen.learnt.overrun_pct:
        found["overrun_off"] = found["overrun_pct"] - kitchen.learnt.overrun_pct[batch.machine_id or 0]
    planned = read_mix_snapshot(batch.content)
    mix = mix_facts(made, planned, served_c, made.scoop_firmness, kitchen.learnt.sweetness.get(made.style or ""))
    return {**mix, **found, "steeps": steeps(made)}


def _suspect(one: Suspect, notation: Notation) -> SuspectOut:
    return SuspectOut(
        key=one.cause.key,
        name=one.cause.name,
        share=one.share,
        likely=one.likely,
        evidence=[
            EvidenceOut(said=words(evidence.said, notation), speaks_for=evidence.ratio > 1) for evidence in one.evidence
        ],
        test=notation.text(one.cause.test),
    )


def _again(batch: Batch, tasted: Sequence[str]) -> str | None:
    """Return whether the same symptom came up in other batches of the kitchen lately."""
    rows = Batch.objects.of(batch.kitchen_id).exclude(pk=batch.pk).prefetch_related("cards")
    others = [
        one
        for one in rows.order_by("-begun_at")[:_LOOKED_BACK]
        if set(shared_symptoms(one, standing(one.cards.all()))) & set(tasted)
    ]
    if len(others) < _AGAIN:
        return None
    numbers = [str(one.number) for one in sorted(others, key=lambda one: one.number)]
    return words(Message("trouble-again", {"numbers": numbers}))
