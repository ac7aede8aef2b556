"""The demo's mixes as examples for another kitchen."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import BaseModel

from demo.kitchen import bring_examples
from kitchens.sign_in import kitchen_of

router = Router(tags=["mixes"])


class Examples(BaseModel):
    """How many mixes have come."""

    mixes: int


@router.post("/examples", response={201: Examples})
def add_examples(request: HttpRequest) -> Status[Examples]:
    """Bring the mixes of the demo kitchen into this one; one of a name that is there already stays out."""
    return Status(201, Examples(mixes=len(bring_examples(kitchen_of(request)))))
