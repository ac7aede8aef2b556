"""Signing in and out, and which kitchens a person works in."""

from __future__ import annotations

from typing import Annotated

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from ninja import Router, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import BaseModel, Field

from api.problems import SignInError
from kitchens.models import Person
from kitchens.sign_in import person_of
from kitchens.throttle import begin_try, forgive, remember_browser

router = Router(tags=["session"])


class SignIn(BaseModel):
    """A name and a password."""

    name: Annotated[str, Field(max_length=100)]
    password: Annotated[str, Field(max_length=500)]


class KitchenOfPerson(BaseModel):
    """A kitchen that somebody works in; its slug stands in the addresses of all that belongs to it."""

    slug: str
    name: str


class Session(BaseModel):
    """Who is signed in, and the kitchens that are open to them."""

    installation: str
    person: int
    name: str
    sees_prices: bool
    kitchens: list[KitchenOfPerson]


@router.post("/session", auth=None, response={200: Session, 401: None, 403: None, 429: None})
def sign_in(request: HttpRequest, response: HttpResponse, payload: SignIn) -> Session:
    """Sign in; wrong passwords are counted and make the next try wait."""
    if check_csrf(request) is not None:
        raise HttpError(403, "not from a page of Jalebi")
    tried = begin_try(request, payload.name)
    person = None
    if "\x00" not in payload.name:
        person = authenticate(request, username=payload.name, password=payload.password)
    if not isinstance(person, Person):
        raise SignInError("That name and password do not fit together.")
    forgive(request, tried)
    remember_browser(request, response, person)
    login(request, person)
    return _session(person)


@router.get("/session", response=Session)
def session(request: HttpRequest) -> Session:
    """Return who is signed in."""
    return _session(person_of(request))


@router.delete("/session", response={204: None})
def sign_out(request: HttpRequest) -> Status[None]:
    """Sign out."""
    logout(request)
    return Status(204, None)


def _session(person: Person) -> Session:
    kitchen = person.kitchen
    return Session(
        installation=settings.INSTALLATION,
        person=person.pk,
        name=person.name,
        sees_prices=person.sees_prices,
        kitchens=[KitchenOfPerson(slug=kitchen.slug, name=kitchen.name)],
    )
