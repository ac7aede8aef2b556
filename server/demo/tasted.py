"""A month of tasting in the demo kitchen: cards, readings and trials, dated back from today."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone

from batches.models import Batch
from batches.record import add_event
from batches.schemas import NewEvent
from kitchens.models import Person
from mixes.models import Mix
from tastings.models import Card, Reading
from trials.deciding import decide
from trials.models import Trial, TrialTest
from trials.schemas import FactorIn, NewTest, NewTrial, SaidIn
from trials.trial_tests import begin_test, close_test, design_of, keep_answers
from trials.variants import build

Played = Mapping[str, Any]


def taste_demo(keeper: Person, mixes: Mapping[str, Mix], played: Played) -> None:
    """Play what was measured of the freezer in a month, and three trials."""
    for reading in played["readings"]:
        Reading.objects.create(
            kitchen=keeper.kitchen, where=reading["where"], t_c=reading["t_c"], at=_ago(reading["days_ago"]), by=keeper
        )
    for one in played["trials"]:
        _try(keeper, mixes[one["mix"]], one)
    keeper.kitchen.note_logged()


def _ago(days: float) -> datetime:
    return timezone.now() - timedelta(days=days)


def taste_batch(keeper: Person, batch: Batch, one: Played) -> None:
    """Make a batch whose air somebody weighed as it was planned, and keep the cards of who tasted it."""
    if "cup" in one:
        for number in range(len(batch.content["lines"])):
            add_event(keeper, batch, NewEvent(kind="ticked", line=number))
        mix_g, frozen_g = one["cup"]
        add_event(keeper, batch, NewEvent(kind="overrun", text=f"{mix_g} g", more=f"{frozen_g} g"))
        add_event(keeper, batch, NewEvent(kind="finished"))
    Card.objects.bulk_create(
        Card(
            kitchen=keeper.kitchen,
            batch=batch,
            taster=card["taster"],
            at=batch.begun_at + timedelta(hours=card["after_h"]),
            out_min=card["out_min"],
            firmness=card["firmness"],
            liking=card["liking"],
            marks=card["marks"],
            words=card.get("words", ""),
            by=keeper,
        )
        for card in one.get("cards", ())
    )


def _try(keeper: Person, mix: Mix, one: Played) -> None:
    slugs = list(mix.lines.values_list("ingredient__slug", "grams"))
    factors = [_factor(factor, slugs) for factor in one["factors"]]
    new = NewTrial(name=one["name"], mix=mix.pk, factors=factors, serve_c=one["serve_c"])
    trial: Trial = build(keeper.kitchen, new)
    trial.begun_at, trial.begun_by = _ago(one["days_ago"]), keeper
    trial.save()
    for asked in one["tests"]:
        test = begin_test(
            trial, NewTest.model_validate({key: asked[key] for key in NewTest.model_fields if key in asked})
        )
        _answer(keeper, test, asked)
        if asked["closed"]:
            close_test(test)
    if "decided" in one:
        decide(keeper, trial, one["decided"])


def _factor(factor: Played, lines: list[tuple[str, float | None]]) -> FactorIn:
    """Return a factor whose line is named by its ingredient, and whose g are multiples of what is there."""
    number = [slug for slug, _ in lines].index(factor["line"])
    if "by" in factor:
        return FactorIn(line=number, by=factor["by"], share_pct=factor["share_pct"])
    grams = lines[number][1] or 0.0
    taker = [slug for slug, _ in lines].index(factor["take_up"])
    return FactorIn(line=number, grams=[round(grams * step, 1) for step in factor["scale"]], take_up=taker)


def _answer(keeper: Person, test: TrialTest, asked: Played) -> None:
    """Let tasters say what they say, by variants, in the codes that they were served."""
    served = design_of(test).servings
    said = [[pick] for pick in asked.get("picks", ())] or [list(order) for order in asked["orders"]]
    answers = [
        SaidIn(serving=number, picked=[serving.cups[serving.variants.index(key)] for key in keys])
        for number, (serving, keys) in enumerate(zip(served, said, strict=False))
    ]
    keep_answers(test, answers, keeper)
