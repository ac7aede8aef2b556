"""Guests: a link to one sitting that nobody can guess, without an account, and what they say there."""

from __future__ import annotations

import hashlib
import secrets

from jalebi_core.model.errors import TastingError
from jalebi_core.tasting.serving import OPEN_CUP
from kitchens.models import Kitchen
from trials.cups import cups_hold
from trials.models import Sitting, TrialTest
from trials.schemas import GuestCup, GuestPage, GuestServing
from trials.trial_tests import design_of, question_of

_BYTES = 16
"""128 random bits."""

_MARKED = ("firmness", "sweetness", "flavour")


def new_link(test: TrialTest) -> str:
    """Return the secret of a new sitting; only its digest is kept. Raises TastingError where the test is closed."""
    if test.closed_at is not None:
        raise TastingError("test-closed")
    secret = secrets.token_urlsafe(_BYTES)
    Sitting.objects.create(kitchen_id=test.kitchen_id, test=test, digest=_digest(secret))
    return secret


def sitting_of(secret: str) -> TrialTest:
    """Return the test of a link; raises Sitting.DoesNotExist for none, TastingError where its sitting is over."""
    rows = Sitting.objects.of_all_kitchens().select_related("test__trial__mix", "test__kitchen")
    found = rows.get(digest=_digest(secret))
    if found.test.closed_at is not None:
        raise TastingError("sitting-over")
    return found.test


def _digest(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


def guest_page(test: TrialTest, kitchen: Kitchen) -> GuestPage:
    """Return what guests see: allergens and cautions of all variants first, then the question and coded cups."""
    answered = {one.serving for one in test.answers.all()}
    return GuestPage(
        kitchen=kitchen.name,
        kind=test.kind,
        question=question_of(test),
        **cups_hold(test, kitchen).model_dump(),
        servings=[
            GuestServing(
                number=number,
                taster=one.taster,
                cups=[GuestCup(code=code, open=code == OPEN_CUP) for code in one.cups],
                answered=number in answered,
            )
            for number, one in enumerate(design_of(test).servings)
        ],
        marks=list(_MARKED) if test.kind == "liking" else [],
    )
