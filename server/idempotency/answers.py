"""Requests that are done once however often they are sent: each carries a key, and its answer is kept for a day."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from datetime import timedelta
from typing import Annotated, Final, TypeVar

from django.db import IntegrityError, transaction
from django.http import HttpRequest
from django.utils import timezone
from ninja import Header, Status
from pydantic import BaseModel

from api.problems import RefusedError
from api.retries import retried
from idempotency.models import DoneRequest
from kitchens.models import Kitchen, Person
from kitchens.prices import whole

KEPT_FOR: Final = timedelta(days=1)
"""Longer than a browser that lost its connection goes on sending."""

Answer = TypeVar("Answer", bound=BaseModel)
IdempotencyKey = Annotated[
    str | None,
    Header(
        alias="Idempotency-Key",
        min_length=8,
        max_length=100,
        pattern=r"^[\x21-\x7e]+$",
        description="Of the sender's choosing; the same request with the same key is done once.",
    ),
]


class KeyTakenError(RefusedError):
    """A key that was sent with another request before."""

    status = 422
    code = "key-taken"


@retried
def answer_once(
    request: HttpRequest,
    asked_by: Person,
    key: str | None,
    model: type[Answer],
    make: Callable[[], Answer],
    status: int = 201,
) -> Status[Answer]:
    """Do what a request asks and answer, or answer as before where its key was sent already.

    Two at the same moment wait for each other: what is made and the memory of it are kept together or not at all.

    Raises
    ------
    KeyTakenError : another request came with this key
    """
    if key is None:
        return Status(status, make())
    fingerprint = _fingerprint(request)
    try:
        with transaction.atomic():
            done = _claim(asked_by, key, fingerprint)
            answer = make()
            DoneRequest.objects.of(done.kitchen_id).filter(pk=done.pk).update(answer=whole(answer))
            return Status(status, answer)
    except IntegrityError:
        before = DoneRequest.objects.of(asked_by.kitchen).filter(asked_by=asked_by, key=key).first()
        if before is None:
            raise
    if before.fingerprint != fingerprint:
        raise KeyTakenError("This key was sent with another request before. Send each request with a key of its own.")
    return Status(status, model.model_validate(before.answer))


def forget_old_requests(kitchen: Kitchen) -> None:
    """Forget what a kitchen's browsers no longer send again."""
    DoneRequest.objects.of(kitchen).filter(at__lt=timezone.now() - KEPT_FOR).delete()


def _claim(asked_by: Person, key: str, fingerprint: str) -> DoneRequest:
    forget_old_requests(asked_by.kitchen)
    return DoneRequest.objects.create(
        kitchen=asked_by.kitchen, asked_by=asked_by, key=key, fingerprint=fingerprint, answer={}
    )


def _fingerprint(request: HttpRequest) -> str:
    """Return what tells a request from another: a file counts by its content, whatever form it came in."""
    files = [file for name in request.FILES for file in request.FILES.getlist(name)]
    body = b"".join(file.read() for file in files) if files else request.body
    for file in files:
        file.seek(0)
    return hashlib.sha256(b" ".join([str(request.method).encode(), request.get_full_path().encode(), body])).hexdigest()
