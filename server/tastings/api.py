"""Taste: cards, melt tests and diagnosis of a batch, the cards of a mix, and what the kitchen has learnt."""

from __future__ import annotations

import numpy as np
from django.http import HttpRequest
from ninja import Router, Status

from batches.models import Batch
from batches.replay import WITH_EVENTS
from jalebi_core.tasting.diagnosis import symptoms
from kitchens.sign_in import kitchen_of, person_of
from mixes.drafts import mix_by_id
from tastings.diagnosing import diagnosis_of
from tastings.kitchen_log import standing
from tastings.learnt_view import learnt_out
from tastings.notes import keep_card, keep_choice, keep_dose, keep_melt_test, keep_reading, keep_weighing
from tastings.own_ladders import own_ladders
from tastings.schemas import (
    CardsOfMix,
    DiagnosisOut,
    DiagnosisQuestion,
    LearntOut,
    MixCards,
    NewCard,
    NewChoice,
    NewDose,
    NewMeltTest,
    NewPieceWeighing,
    NewReading,
    OwnLadders,
    TasteList,
    TasteOut,
)
from tastings.taste import shared_symptoms, taste_of, to_taste

router = Router(tags=["tasting"])
_MOST_BATCHES = 60


def _batch(request: HttpRequest, batch_id: int) -> Batch:
    rows = Batch.objects.of(kitchen_of(request)).select_related("revision", "begun_by", "machine")
    return rows.prefetch_related(WITH_EVENTS).get(pk=batch_id)


@router.get("/tastings", response=TasteList)
def tastings(request: HttpRequest) -> TasteList:
    """Return the last batches, those first of which a card is due."""
    return TasteList(items=to_taste(kitchen_of(request)))


@router.get("/batches/{batch_id}/taste", response=TasteOut)
def taste(request: HttpRequest, batch_id: int) -> TasteOut:
    """Return a batch with its card; what it was expected to be comes only after one's own word."""
    return taste_of(person_of(request), _batch(request, batch_id))


@router.post("/batches/{batch_id}/cards", response={201: TasteOut})
def add_card(request: HttpRequest, batch_id: int, payload: NewCard) -> Status[TasteOut]:
    """Keep a card; the same press is kept once."""
    keep_card(person_of(request), _batch(request, batch_id), payload)
    return Status(201, taste_of(person_of(request), _batch(request, batch_id)))


@router.post("/batches/{batch_id}/melt-tests", response={201: TasteOut})
def add_melt_test(request: HttpRequest, batch_id: int, payload: NewMeltTest) -> Status[TasteOut]:
    """Keep a melt test."""
    keep_melt_test(person_of(request), _batch(request, batch_id), payload)
    return Status(201, taste_of(person_of(request), _batch(request, batch_id)))


@router.post("/batches/{batch_id}/diagnosis", response=DiagnosisOut)
def diagnosis(request: HttpRequest, batch_id: int, payload: DiagnosisQuestion) -> DiagnosisOut:
    """Return why a batch is as it is, with its own evidence; nothing is kept."""
    return diagnosis_of(kitchen_of(request), _batch(request, batch_id), payload)


@router.get("/mixes/{mix_id}/cards", response=MixCards)
def cards_of_mix(request: HttpRequest, mix_id: int) -> MixCards:
    """Return all cards of a mix, batch by batch, the newest first."""
    mix = mix_by_id(kitchen_of(request), mix_id)
    rows = Batch.objects.of(mix.kitchen_id).filter(revision__mix_id=mix.pk).select_related("revision")
    batches = list(rows.prefetch_related("cards").order_by("-begun_at", "-id")[:_MOST_BATCHES])
    counts: dict[str, int] = {}
    for batch in batches:
        for symptom in shared_symptoms(batch, standing(batch.cards.all())):
            counts[symptom] = counts.get(symptom, 0) + 1
    again = [f"{symptoms()[key].said}: {count} batches" for key, count in counts.items() if count > 1]
    return MixCards(mix=mix.pk, name=mix.name, batches=[_cards_of(one) for one in batches], again=again)


def _cards_of(batch: Batch) -> CardsOfMix:
    cards = standing(batch.cards.all())
    liked = [card.liking for card in cards if card.liking is not None]
    keys = dict.fromkeys(key for card in cards for key in card.marks)
    return CardsOfMix(
        batch=batch.pk,
        number=batch.number,
        revision=batch.revision.number,
        begun_at=batch.begun_at,
        cards=len(cards),
        liking=float(np.mean(liked)) if liked else None,
        marks={key: float(np.mean([card.marks[key] for card in cards if key in card.marks])) for key in keys},
    )


@router.get("/learnt", response=LearntOut)
def learnt(request: HttpRequest) -> LearntOut:
    """Return what the kitchen has learnt, and the log that it rests on."""
    return learnt_out(kitchen_of(request))


@router.post("/learnt/choices", response={201: LearntOut})
def choose(request: HttpRequest, payload: NewChoice) -> Status[LearntOut]:
    """Leave an entry out or put it back; forget what was logged up to now, or keep the setting."""
    keep_choice(person_of(request), payload)
    return Status(201, learnt_out(kitchen_of(request)))


@router.post("/readings", response={201: LearntOut})
def add_reading(request: HttpRequest, payload: NewReading) -> Status[LearntOut]:
    """Keep what a thermometer showed in a freezer or in ice water."""
    keep_reading(person_of(request), payload)
    return Status(201, learnt_out(kitchen_of(request)))


@router.get("/doses", response=OwnLadders)
def doses(request: HttpRequest) -> OwnLadders:
    """Return the kitchen's own ladders of flavour and colour."""
    return own_ladders(kitchen_of(request))


@router.post("/doses", response={201: OwnLadders})
def add_dose(request: HttpRequest, payload: NewDose) -> Status[OwnLadders]:
    """Keep a dose that was tasted."""
    keep_dose(person_of(request), payload)
    return Status(201, own_ladders(kitchen_of(request)))


@router.post("/piece-weighings", response={201: LearntOut})
def add_weighing(request: HttpRequest, payload: NewPieceWeighing) -> Status[LearntOut]:
    """Keep some pieces of an ingredient, weighed together."""
    keep_weighing(person_of(request), payload)
    return Status(201, learnt_out(kitchen_of(request)))
