"""Prices are for those who may see them: who that is, and the fields of answers that hide them from everybody else."""

from __future__ import annotations

from typing import Annotated, Any, Final

from pydantic import BaseModel, PlainSerializer, SerializationInfo

from kitchens.models import Kitchen, Person

_WHOLE: Final = "whole"


def kitchen_seen_by(person: Person) -> Kitchen:
    """Return a person's kitchen, which shows its prices where the person may see them."""
    person.kitchen.shows_prices = person.sees_prices
    return person.kitchen


def whole(answer: BaseModel) -> dict[str, Any]:
    """Return an answer as it is kept, prices and all: they are hidden again from whoever is answered with it."""
    return answer.model_dump(mode="json", context={_WHOLE: True})


def _to_who_asks(value: float | None, info: SerializationInfo) -> float | None:
    context = info.context or {}
    person = getattr(context.get("request"), "auth", None)
    return value if _WHOLE in context or (isinstance(person, Person) and person.sees_prices) else None


VisiblePrice = Annotated[float | None, PlainSerializer(_to_who_asks)]
"""A sum of money in an answer: none for who may not see prices, also where the answer was worked out before."""
