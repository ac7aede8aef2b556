"""Guests: a link for one taster that nobody can guess, without an account, and what is said there."""

from __future__ import annotations

import hashlib
import secrets

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.serving import OPEN_CUP
from trials.cups import cups_hold
from trials.models import Sitting, TrialTest
from trials.schemas import GuestCup, GuestPage, GuestServing
from trials.trial_tests import design_of, question_of

_BYTES = 16
"""128 random bits."""
_SHOWN = 40
"""Characters of a name that an error repeats."""

_MARKED = ("firmness", "sweetness", "flavour")


def new_link(test: TrialTest, taster: str) -> str:
    """Return the secret of a link for one taster, in the place of an earlier one; only its digest is kept.

    Raises TastingError where the test is closed, or nobody of that name tastes.
    """
    if test.closed_at is not None:
        raise TastingError("test-closed")
    if taster not in test.tasters:
        raise TastingError("taster-unknown", name=taster[:_SHOWN], known=test.tasters)
    secret = secrets.token_urlsafe(_BYTES)
    Sitting.objects.of(test.kitchen_id).update_or_create(
        test=test, taster=taster, defaults={"kitchen_id": test.kitchen_id, "digest": _digest(secret)}
    )
    return secret


def end_link(test: TrialTest, taster: str) -> None:
    """Take the link of one taster back; raises Sitting.DoesNotExist where there is none."""
    test.sittings.get(taster=taster).delete()


def sitting_of(secret: str) -> Sitting:
    """Return what a link leads to; raises Sitting.DoesNotExist for none, TastingError where its sitting is over."""
    rows = Sitting.objects.of_all_kitchens().select_related("test__trial__mix", "test__kitchen")
    found: Sitting = rows.get(digest=_digest(secret))
    if found.test.closed_at is not None:
        raise TastingError("sitting-over")
    return found


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def guest_page(sitting: Sitting) -> GuestPage:
    """Return what a guest sees: allergens and cautions of all variants first, then the question and the own cups.

    What others are served, and what was answered, would tell which cups belong together.
    """
    test = sitting.test
    answered = {one.serving for one in test.answers.all()}
    return GuestPage(
        kitchen=test.kitchen.name,
        kind=test.kind,
        question=question_of(test),
        taster=sitting.taster,
        **cups_hold(test, test.kitchen).model_dump(),
        servings=[
            GuestServing(number=number, cups=[GuestCup(code=code, open=code == OPEN_CUP) for code in one.cups])
            for number, one in enumerate(design_of(test).servings)
            if one.taster == sitting.taster and number not in answered
        ],
        marks=list(_MARKED) if test.kind == "liking" else [],
    )
