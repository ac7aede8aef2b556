"""The tests of a trial: designed, answered in codes, closed once, and read."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from typing import Any, Final
from uuid import uuid4

from django.db import IntegrityError, transaction
from django.utils import timezone

from api.items import Unreadable
from jalebi_core.formats.design_snapshot import design_snapshot, read_design
from jalebi_core.formats.trial_file import FORMAT, SCOOPING, amounts_of
from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.card import attributes
from jalebi_core.tasting.coded_answers import Said, read_answers
from jalebi_core.tasting.serving import Design, design
from jalebi_core.tasting.telling_apart import STEPS, figures_as_tasted
from jalebi_core.tasting.trial import OF_TWO, Answer, TastingTest, analyse, planned
from jalebi_core.wording.message import Message, words
from kitchens.models import Kitchen, Person, notation_of
from trials.cups import cups_hold
from trials.models import Trial, TrialAnswer, TrialTest
from trials.schemas import NewTest, SaidIn, ServingOut, TestOut
from trials.variants import variants_of

MOST_TESTS: Final = 12
_WHAT: Final = {
    "sweetness": "sweetness",
    "firmness": "firmness",
    "fat": "richness",
    "total_solids": "body",
    "hydrocolloids": "stretch",
    "overrun_pct": "airiness",
    "flavour_g_kg": "strength of flavour",
    "acid_sweetness": "tartness",
}
_MORE: Final = {
    "sweetness": "sweeter",
    "firmness": "firmer",
    "fat": "richer",
    "total_solids": "fuller",
    "hydrocolloids": "more elastic",
    "overrun_pct": "airier",
    "flavour_g_kg": "stronger in flavour",
    "acid_sweetness": "more tart",
}


@transaction.atomic
def begin_test(trial: Trial, new: NewTest) -> TrialTest:
    """Begin a test; raises TastingError for one that cannot be."""
    Trial.objects.of(trial.kitchen_id).select_for_update(of=("self",)).get(pk=trial.pk)
    if trial.tests.count() >= MOST_TESTS:
        raise TastingError("trial-tests-many", most=MOST_TESTS)
    known = [one["key"] for one in trial.variants]
    unknown = next((key for key in new.variants if key not in known), None)
    if unknown is not None:
        raise TastingError("trial-key-unknown", key=unknown)
    chosen = [key for key in known if key in new.variants]
    if new.kind in OF_TWO and len(chosen) != 2:
        raise TastingError("trial-kind-two", kind=new.kind)
    if len(chosen) < 2:
        raise TastingError("trial-kind-some")
    if new.kind == "3-afc":
        chosen = _weaker_first(trial, chosen, new.attribute)
    tasters = [name.strip() for name in new.tasters]
    if any(not name or not name.isprintable() for name in tasters) or not new.attribute.isprintable():
        raise TastingError("trial-name-hidden")
    twice = next((name for name in tasters if tasters.count(name) > 1), None)
    if twice is not None:
        raise TastingError("taster-twice", name=twice)
    seed = secrets.randbelow(2**53)
    served = design(new.kind, chosen, tasters, new.replicates, seed)
    return TrialTest.objects.create(
        kitchen=trial.kitchen,
        trial=trial,
        kind=new.kind,
        attribute=new.attribute.strip(),
        variants=chosen,
        tasters=tasters,
        replicates=new.replicates,
        seed=seed,
        served=design_snapshot(served),
    )


def _weaker_first(trial: Trial, keys: list[str], attribute: str) -> list[str]:
    """Return two variants so that the one with more of an attribute stands last, alone among three cups."""
    figures = {one.key: figures_as_tasted(one.mix, trial.serve_c) for one in variants_of(trial) if one.key in keys}
    if any(attribute not in own for own in figures.values()):
        return keys
    return sorted(keys, key=lambda key: figures[key][attribute])


def design_of(test: TrialTest) -> Design:
    """Return who gets which cups in which order, as it was when the test was begun."""
    return read_design(test.served)


def keep_answers(
    test: TrialTest, answers: Sequence[SaidIn | Unreadable], by: Person | None, taster: str | None = None
) -> tuple[int, list[TastingError | Unreadable]]:
    """Keep answers in codes, each once; one that is none is refused and holds up no other.

    Raises TastingError for a test that is closed.

    Parameters
    ----------
    taster : who alone may answer; None for whoever sits at the table
    """
    served, kept = design_of(test), 0
    refused: list[TastingError | Unreadable] = []
    with transaction.atomic():
        locked = TrialTest.objects.of(test.kitchen_id).select_for_update().get(pk=test.pk)
        if locked.closed_at is not None:
            raise TastingError("test-closed")
        for one in answers:
            if isinstance(one, Unreadable):
                refused.append(one)
                continue
            try:
                with transaction.atomic():
                    _keep(test, served, one, by, taster)
                kept += 1
            except TastingError as error:
                refused.append(error)
    return kept, refused


def _keep(test: TrialTest, served: Design, one: SaidIn, by: Person | None, taster: str | None) -> None:
    known = test.answers.filter(key=one.key).first() if one.key is not None else None
    if known is not None and known.serving == one.serving:
        return
    if known is not None:
        raise TastingError("answer-key-twice", taken=known.serving + 1)
    if one.serving >= len(served.servings):
        raise TastingError("serving-unknown", number=one.serving + 1, last=len(served.servings))
    if taster is not None and served.servings[one.serving].taster != taster:
        raise TastingError("serving-of-another", number=one.serving + 1)
    said = Said(tuple(one.picked), one.liking, one.marks)
    unknown = next((key for marks in one.marks.values() for key in marks if key not in attributes()), None)
    if unknown is not None:
        raise TastingError("card-attribute", key=unknown, known=tuple(attributes()))
    read_answers(test.kind, served.servings[one.serving], said)
    try:
        with transaction.atomic():
            TrialAnswer.objects.create(
                test=test,
                key=one.key or uuid4(),
                serving=one.serving,
                said={"picked": one.picked, "liking": one.liking, "marks": one.marks},
                by=by,
            )
    except IntegrityError:
        raise TastingError("serving-answered", taster=served.servings[one.serving].taster) from None


@transaction.atomic
def close_test(test: TrialTest) -> TrialTest:
    """Close a test, so that its codes are known; raises TastingError where nobody has answered."""
    locked: TrialTest = TrialTest.objects.of(test.kitchen_id).select_for_update().get(pk=test.pk)
    if locked.closed_at is not None:
        return locked
    if not locked.answers.exists():
        raise TastingError("test-nobody")
    locked.closed_at = timezone.now()
    locked.save(update_fields=["closed_at"])
    return locked


def answers_of(test: TrialTest) -> list[Answer]:
    """Return the answers of a test, by variants."""
    served = design_of(test).servings
    return [
        answer for one in test.answers.all() for answer in read_answers(test.kind, served[one.serving], _said(one.said))
    ]


def _said(data: Mapping[str, Any]) -> Said:
    return Said(tuple(data["picked"]), data["liking"], data["marks"])


def core_test(test: TrialTest) -> TastingTest:
    """Return a test as the core knows it, with which of two has more of what is asked."""
    more = None
    if test.attribute in STEPS and len(test.variants) == 2:
        figures = {
            one.key: figures_as_tasted(one.mix, test.trial.serve_c)
            for one in variants_of(test.trial)
            if one.key in test.variants
        }
        if all(test.attribute in own for own in figures.values()):
            more = max(figures, key=lambda key: figures[key][test.attribute])
    return TastingTest(test.kind, tuple(test.variants), test.attribute or None, more=more)


def serialize_test(test: TrialTest, kitchen: Kitchen) -> TestOut:
    """Return a test; what its codes stand for and what was found only once it is closed."""
    served = design_of(test)
    answered = {one.serving for one in test.answers.all()}
    core = core_test(test)
    plan = planned(core)
    notation = notation_of(kitchen)
    closed = test.closed_at is not None
    found = analyse(core, answers_of(test)) if closed else None
    return TestOut(
        id=test.pk,
        kind=test.kind,
        attribute=test.attribute,
        question=question_of(test),
        variants=test.variants,
        tasters=test.tasters,
        linked=[] if test.closed_at is not None else [one.taster for one in test.sittings.all()],
        servings=[
            ServingOut(
                number=number,
                taster=one.taster,
                round=one.replicate,
                cups=list(one.cups),
                answered=number in answered,
            )
            for number, one in enumerate(served.servings)
        ],
        answered=len(answered),
        tastings=int(plan["tastings"]) if plan and plan["tastings"] else None,
        warnings=[words(one, notation) for one in served.warnings],
        cups_hold=cups_hold(test, kitchen),
        closed_at=test.closed_at,
        codes={key: list(codes) for key, codes in served.codes.items()} if closed else {},
        analysis=found,
        said=str(found["said"]) if found else "",
        settle=_settle(found, plan) if found else "",
    )


def question_of(test: TrialTest) -> str:
    """Return what a taster is asked."""
    known = attributes().get(test.attribute)
    named = _MORE.get(test.attribute) or (known.name.lower() if known else test.attribute)
    said = {
        "triangle": Message("ask-triangle"),
        "tetrad": Message("ask-tetrad"),
        "duo-trio": Message("ask-duo-trio"),
        "2-afc": Message("ask-more", {"more": named or "stronger"}),
        "3-afc": Message("ask-most", {"more": named or "stronger"}),
        "preference": Message("ask-preference"),
        "pairs": Message("ask-more", {"more": named}) if named else Message("ask-preference"),
        "ranking": Message("ask-ranking", {"what": _WHAT.get(test.attribute) or named or "liking"}),
        "liking": Message("ask-liking"),
    }[test.kind]
    return str(said)


def _settle(found: Mapping[str, Any], plan: Mapping[str, Any] | None) -> str:
    """Return which test would settle it; nothing where it is settled or cannot be said."""
    if found["verdict"] == "different" or plan is None or plan["tastings"] is None:
        return ""
    tastings = int(plan["tastings"])
    return str(Message("settle-anew", {"tastings": tastings})) if tastings > int(found["n"]) else ""


def trial_file(test: TrialTest) -> dict[str, Any]:
    """Return a closed test as a trial file; raises TastingError while its codes are to stay unknown."""
    if test.closed_at is None:
        raise TastingError("test-not-closed")
    chosen = [one for one in variants_of(test.trial) if one.key in test.variants]
    return {
        "format": FORMAT,
        "version": 1,
        "kind": test.kind,
        **({"attribute": test.attribute} if test.attribute else {}),
        "variants": [
            {
                "key": one.key,
                "name": one.name,
                "lines": [
                    {"ingredient": name, "grams": grams, "stage": stage}
                    for (name, stage), grams in amounts_of(one.mix).items()
                ],
                "figures": figures_as_tasted(one.mix, test.trial.serve_c),
            }
            for one in chosen
        ],
        "serve_c": SCOOPING if test.trial.serve_c is None else test.trial.serve_c,
        "tasters": test.tasters,
        "replicates": test.replicates,
        "seed": test.seed,
        "spare_pct": test.trial.spare_pct,
        "results": [_result(answer) for answer in answers_of(test)],
    }


def _result(answer: Answer) -> dict[str, Any]:
    said: dict[str, Any] = {
        "taster": answer.taster,
        "correct": answer.correct,
        "picked": answer.picked,
        "a": answer.a,
        "b": answer.b,
        "order": list(answer.order) or None,
        "variant": answer.variant,
        "liking": answer.liking,
        "jar": dict(answer.marks) or None,
    }
    return {key: value for key, value in said.items() if value is not None}
