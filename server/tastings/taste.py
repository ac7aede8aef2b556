"""A batch as it is tasted: the card, what was said on it, and what the mix as made was expected to be."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import timedelta
from typing import Final, Literal

import numpy as np
from django.utils import timezone

from batches.as_made import made_or_planned
from batches.models import Batch
from batches.replay import WITH_EVENTS, replay
from ingredients.shelf_cache import shown_ingredients
from jalebi_core.advice.difference import Difference, difference
from jalebi_core.assessment.assessment import Outcome, outcomes_of
from jalebi_core.assessment.serving_conditions import serving_c
from jalebi_core.balance.job_context import JobContext
from jalebi_core.balance.summary import summary
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.model.errors import BalanceError
from jalebi_core.model.mix import Line, Mix
from jalebi_core.tasting.card import Card as CoreCard
from jalebi_core.tasting.card import attributes, symptoms_on
from jalebi_core.tasting.diagnosis import symptoms
from jalebi_core.tasting.freezers import WORDS
from jalebi_core.tasting.melt_test import USUAL_ONSET_MIN, USUAL_RATE, melted
from jalebi_core.tasting.next_change import NextChange, afterwards, balanced, next_change
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, Person, Place, notation_of
from tastings.kitchen_log import OWN_FREEZER, card_id, freezer_name, left_out, standing
from tastings.models import Card, Choice, MeltTest
from tastings.schemas import (
    BandOut,
    CardAttribute,
    CardOut,
    Drip,
    FreezerChoice,
    MeltTestOut,
    NextChangeOut,
    SinceGood,
    SymptomOut,
    TasteOut,
    ToTaste,
    Track,
)

_HOURS: Final = 3600.0
_DUE: Final[tuple[tuple[Literal["hour", "day", "week"], float, float], ...]] = (
    ("hour", 1.0, 12.0),
    ("day", 20.0, 72.0),
    ("week", 150.0, 336.0),
)
"""Which card is due from how many hours of age on, and up to when it can still be given."""

_EARLIER: Final = 20
"""So many batches of a mix before this one are looked at."""

_GOOD: Final = 7.0
"""A mean liking from which on a batch was a good one."""


def taste_of(person: Person, batch: Batch) -> TasteOut:
    """Return a batch as it is tasted by somebody."""
    kitchen = person.kitchen
    state = replay(batch.events.select_related("by"))
    made = kitchen.learnt.as_eaten(made_or_planned(batch, state))
    every = list(batch.cards.select_related("place", "by"))
    cards = standing(every)
    mine = any(card.by_id == person.pk for card in cards)
    out = left_out(Choice.objects.of(kitchen))
    earlier = _earlier(batch)
    change = _next_change(kitchen, made, cards)
    return TasteOut(
        batch=batch.pk,
        number=batch.number,
        mix=batch.revision.mix_id,
        mix_name=batch.content["name"],
        revision=batch.revision.number,
        begun_at=batch.begun_at,
        age_h=_age_h(batch),
        attributes=_attributes(outcomes_of(made, kitchen.used_freezer_c) if mine else ()),
        firmness_words=list(WORDS),
        freezers=[
            FreezerChoice(id=None, name=OWN_FREEZER),
            *(FreezerChoice(id=place.pk, name=place.name) for place in _freezers(kitchen)),
        ],
        cards=[_card(card, batch, card not in cards, card_id(card) in out) for card in every],
        symptoms=_symptoms(batch, cards),
        melt_tests=[_melt_test(one, kitchen) for one in batch.melt_tests.all()],
        usual_melt=[*USUAL_ONSET_MIN, *USUAL_RATE],
        overrun_pct=state.overrun["number"] if state.overrun else None,
        photos=list(batch.photos.values_list("pk", flat=True)),
        next_change=None if change is None else _serialize_change(kitchen, made, change),
        last_change=_last_change(kitchen, batch, cards, earlier),
        since_good=_since_good(kitchen, batch, earlier),
    )


def as_core(card: Card) -> CoreCard:
    """Return a card as the core reads it."""
    return CoreCard(card.marks, card.firmness or None, card.liking)


def age_d(batch: Batch, card: Card) -> float:
    """Return how old a batch was when it was tasted, in days."""
    return max(0.0, (card.at - batch.begun_at).total_seconds() / _HOURS / 24)


def tasted_symptoms(batch: Batch, cards: Iterable[Card]) -> list[str]:
    """Return the symptoms that cards say, those that most say first."""
    return [symptom for symptom, _ in _counted(batch, cards).most_common()]


def shared_symptoms(batch: Batch, cards: Sequence[Card]) -> list[str]:
    """Return the symptoms that half of the cards say: what one of four tasters says is no trouble of the batch."""
    return [symptom for symptom, count in _counted(batch, cards).most_common() if 2 * count >= len(cards)]


def _counted(batch: Batch, cards: Iterable[Card]) -> Counter[str]:
    return Counter(symptom for card in cards for symptom in symptoms_on(as_core(card), age_d(batch, card)))


def to_taste(kitchen: Kitchen, most: int = 40) -> list[ToTaste]:
    """Return the last batches, those first of which a card is due: after an hour, a day, a week."""
    rows = Batch.objects.of(kitchen).select_related("revision").prefetch_related("cards", WITH_EVENTS)
    found = [_waiting(batch) for batch in rows.order_by("-begun_at", "-id")[:most]]
    return sorted(found, key=lambda one: (one.due is None, -one.begun_at.timestamp()))


def _waiting(batch: Batch) -> ToTaste:
    cards = standing(batch.cards.all())
    liked = [card.liking for card in cards if card.liking is not None]
    return ToTaste(
        batch=batch.pk,
        number=batch.number,
        mix=batch.revision.mix_id,
        mix_name=batch.content["name"],
        begun_at=batch.begun_at,
        age_h=_age_h(batch),
        cards=len(cards),
        liking=float(np.mean(liked)) if liked else None,
        due=_due(batch, cards) if replay(batch.events.all()).weighed or cards else None,
    )


def _due(batch: Batch, cards: Sequence[Card]) -> Literal["hour", "day", "week"] | None:
    age = _age_h(batch)
    given = [(card.at - batch.begun_at).total_seconds() / _HOURS for card in cards]
    for key, low, high in _DUE:
        if low <= age < high and not any(low <= hours < high for hours in given):
            return key
    return None


def _age_h(batch: Batch) -> float:
    return max(0.0, (timezone.now() - batch.begun_at) / timedelta(hours=1))


def _freezers(kitchen: Kitchen) -> Iterable[Place]:
    return Place.objects.of(kitchen).filter(
        kind__in=("still-freezer", "fan-freezer", "cabinet", "blast"), put_away=False
    )


def _attributes(expected: Sequence[Outcome]) -> list[CardAttribute]:
    tracks = {outcome.key: outcome for outcome in expected}
    return [
        CardAttribute(
            key=key,
            name=one.name,
            kind=one.kind,
            cue=one.cue,
            ends=list(one.ends) if one.ends else None,
            off=list(one.off) if one.off else None,
            least=one.range[0],
            most=one.range[1],
            quick=one.quick,
            expected=_track(tracks[one.outcome]) if one.outcome in tracks else None,
        )
        for key, one in attributes().items()
    ]


def _track(outcome: Outcome) -> Track:
    return Track(value=outcome.value, band=list(outcome.band), scale=list(outcome.scale), word=outcome.word)


def _card(card: Card, batch: Batch, mended: bool, is_left_out: bool) -> CardOut:
    return CardOut(
        id=card.pk,
        taster=card.taster,
        at=card.at,
        age_h=24 * age_d(batch, card),
        freezer=freezer_name(card.place),
        out_min=card.out_min,
        t_c=card.t_c,
        eaten_with=card.eaten_with,
        firmness=card.firmness or None,
        liking=card.liking,
        marks=card.marks,
        words=card.words,
        mended=mended,
        left_out=is_left_out,
    )


def _symptoms(batch: Batch, cards: Sequence[Card]) -> list[SymptomOut]:
    tasted = tasted_symptoms(batch, cards)
    others = [key for key in symptoms() if key not in tasted]
    return [SymptomOut(key=key, said=symptoms()[key].said, tasted=key in tasted) for key in (*tasted, *others)]


def _melt_test(one: MeltTest, kitchen: Kitchen) -> MeltTestOut:
    found = melted(one.ball_g, one.room_c, [(minute, grams) for minute, grams in one.drips])
    return MeltTestOut(
        id=one.pk,
        at=one.at,
        ball_g=one.ball_g,
        room_c=one.room_c,
        drips=[Drip(minute=minute, grams=grams) for minute, grams in one.drips],
        onset_min=found.onset_min,
        rate=found.rate,
        said=words(found.said, notation_of(kitchen)),
    )


def context_of(kitchen: Kitchen, mix: Mix) -> JobContext:
    """Return what Balance goes by for a mix as it was made here."""
    return JobContext(
        mix,
        kitchen.used_freezer_c,
        shown_ingredients(kitchen),
        kitchen.restrictions,
        wanted=kitchen.may_come_in,
        fine_scale_g=kitchen.fine_scale_g,
    )


def _next_change(kitchen: Kitchen, made: Mix, cards: Sequence[Card]) -> NextChange | None:
    ideal = kitchen.learnt.sweetness.get(made.style or "")
    return next_change(made, [(card.taster, as_core(card)) for card in cards], serving_c(made), ideal)


def _serialize_change(kitchen: Kitchen, made: Mix, change: NextChange) -> NextChangeOut:
    notation = notation_of(kitchen)
    try:
        found = balanced(change, context_of(kitchen, made), {})
        grams = "" if found is None else words(summary(found, asked=False), notation)
    except BalanceError as error:
        grams = words(error.message, notation)
    aim = change.aim
    serve_c = serving_c(made)
    return NextChangeOut(
        attribute=change.marked.attribute,
        said=words(change.said, notation),
        grams=grams,
        aim=None if aim is None else BandOut(of=aim.of, min=aim.low, max=aim.high, at_c=aim.at_c),
        values=[change.times(made, by, serve_c) for by in (0, 1, 2)],
    )


def _earlier(batch: Batch) -> list[Batch]:
    """Return the batches of the same mix before this one, the newest first, with their cards."""
    rows = Batch.objects.of(batch.kitchen_id).filter(revision__mix_id=batch.revision.mix_id)
    before = rows.filter(begun_at__lt=batch.begun_at).exclude(pk=batch.pk)
    return list(before.select_related("revision").prefetch_related("cards").order_by("-begun_at")[:_EARLIER])


def _last_change(kitchen: Kitchen, batch: Batch, cards: Sequence[Card], earlier: Sequence[Batch]) -> str | None:
    """Return whether what was marked worst of the batch before has come right, where the mix was changed since."""
    last = next((batch for batch in earlier if batch.cards.all()), None)
    if last is None or not cards or not _changed(last, batch).lines:
        return None
    before = standing(last.cards.all())
    made = read_mix_snapshot(last.content)
    change = _next_change(kitchen, kitchen.learnt.as_eaten(made), before)
    if change is None:
        return None
    key = change.marked.attribute
    was = [card.marks[key] for card in before if key in card.marks]
    found = afterwards(key, was, [card.marks[key] for card in cards if key in card.marks])
    return None if found is None else words(found.said, notation_of(kitchen))


def _since_good(kitchen: Kitchen, batch: Batch, earlier: Sequence[Batch]) -> SinceGood | None:
    """Return what was changed since the batch that was liked best of those that were good."""
    liked = []
    for one in earlier:
        marks = [card.liking for card in standing(one.cards.all()) if card.liking is not None]
        if marks and float(np.mean(marks)) >= _GOOD:
            liked.append((float(np.mean(marks)), one))
    if not liked:
        return None
    liking, best = max(liked, key=lambda one: one[0])
    said = words(_changed(best, batch).message, notation_of(kitchen))
    return SinceGood(batch=best.pk, number=best.number, liking=liking, said=said)


def _changed(earlier: Batch, later: Batch) -> Difference:
    """Return what was changed between two batches of a mix, the earlier one as big as the later."""
    before, after = read_mix_snapshot(earlier.content), read_mix_snapshot(later.content)
    as_big = tuple(replace(line, grams=_rescaled(line, before, after)) for line in before.lines)
    return difference(replace(before, lines=as_big), after)


def _rescaled(line: Line, before: Mix, after: Mix) -> float:
    return line.grams * after.mass_g / before.mass_g
