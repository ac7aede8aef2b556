"""The people of a kitchen: who signs in, somebody new, and somebody who left."""

from __future__ import annotations

import secrets
from typing import Annotated

from django.http import HttpRequest
from ninja import Router, Status
from pydantic import BaseModel, Field

from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MixError
from kitchens.models import Person
from kitchens.sign_in import kitchen_of, person_of

router = Router(tags=["kitchen"])
MOST_PEOPLE = 100


class NewPerson(BaseModel):
    """Somebody new, by the name to sign in with."""

    name: Annotated[str, Field(min_length=1, max_length=100)]


class PersonOut(BaseModel):
    """Somebody who signs in here."""

    id: int
    name: str
    sees_prices: bool


class PersonChange(BaseModel):
    """What somebody may see."""

    sees_prices: bool


class NewPersonOut(PersonOut):
    """Somebody new, with the password to begin with; it is told once and kept nowhere."""

    password: str


@router.get("/people", response=list[PersonOut])
def people(request: HttpRequest) -> list[PersonOut]:
    """Return who works in the kitchen, by name."""
    rows = kitchen_of(request).people.filter(is_active=True).order_by("name")[:MOST_PEOPLE]
    return [_out(row) for row in rows]


@router.post("/people", response={201: NewPersonOut})
def add_person(request: HttpRequest, payload: NewPerson) -> Status[NewPersonOut]:
    """Let somebody new sign in, who sees prices where whoever adds them does."""
    kitchen, name = kitchen_of(request), checked_name(payload.name, "a person")
    if kitchen.people.filter(is_active=True).count() >= MOST_PEOPLE:
        raise MixError("too-many-people", most_people=MOST_PEOPLE)
    if Person.objects.filter(name=name).exists():
        raise MixError("person-name-taken", name=name)
    password = secrets.token_urlsafe(9)
    row = Person.objects.create_user(name, kitchen, password, sees_prices=person_of(request).sees_prices)
    return Status(201, NewPersonOut(**dict(_out(row)), password=password))


@router.patch("/people/{person_id}", response=PersonOut)
def change_person(request: HttpRequest, person_id: int, payload: PersonChange) -> PersonOut:
    """Let somebody see prices, or not."""
    row = kitchen_of(request).people.get(pk=person_id, is_active=True)
    if not person_of(request).sees_prices or row == person_of(request):
        raise MixError("own-sight-of-prices")
    row.sees_prices = payload.sees_prices
    row.save(update_fields=["sees_prices"])
    return _out(row)


@router.delete("/people/{person_id}", response={204: None})
def let_go(request: HttpRequest, person_id: int) -> Status[None]:
    """Let somebody sign in no more; what they wrote and recorded stays under their name."""
    row = kitchen_of(request).people.get(pk=person_id)
    if row == person_of(request):
        raise MixError("own-departure")
    row.is_active = False
    row.save(update_fields=["is_active"])
    return Status(204, None)


def _out(row: Person) -> PersonOut:
    return PersonOut(id=row.pk, name=row.name, sees_prices=row.sees_prices)
