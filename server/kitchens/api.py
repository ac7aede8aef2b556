"""Sign-in and the kitchen's own settings."""

from __future__ import annotations

from typing import Annotated

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from ninja import Router, Status
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import BaseModel, Field

from api.problems import Problem
from jalebi_core.model.constants import COLDEST_ICE_C
from jalebi_core.production.scaling import MOST_LOSS_PCT
from jalebi_core.quantities.amounts import Spoons
from kitchens.models import Person, spoons_of
from kitchens.settings import change_settings
from kitchens.sign_in import kitchen_of, person_of

router = Router(tags=["kitchen"])


class SignIn(BaseModel):
    """A name and a password."""

    name: Annotated[str, Field(max_length=100)]
    password: Annotated[str, Field(max_length=500)]


class Me(BaseModel):
    """The signed-in person and the kitchen."""

    name: str
    kitchen: str
    freezer_c: float
    spoons: Spoons
    currency: str
    restrictions: list[str]
    cabinet_c: float
    scale_g: float
    fine_scale_g: float
    loss_pct: float
    scoop_ml: float
    may_come_in: list[str]
    aims: dict[str, dict[str, list[float]]]
    version: int
    """Of the kitchen's settings."""


AimChanges = dict[Annotated[str, Field(max_length=40)], Annotated[list[float], Field(max_length=2)] | None]


class KitchenSettings(BaseModel):
    """What a kitchen can set for itself; what is left out stays. ``version`` is the one that was looked at."""

    version: int
    freezer_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None
    spoons: Spoons | None = None
    currency: Annotated[str, Field(min_length=1, max_length=8)] | None = None
    restrictions: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=20)] | None = None
    cabinet_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None
    scale_g: Annotated[float, Field(ge=0.001, le=100)] | None = None
    fine_scale_g: Annotated[float, Field(ge=0.001, le=100)] | None = None
    loss_pct: Annotated[float, Field(ge=0, le=MOST_LOSS_PCT)] | None = None
    scoop_ml: Annotated[float, Field(ge=5, le=1000)] | None = None
    may_come_in: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=40)] | None = None
    aims: Annotated[dict[Annotated[str, Field(max_length=40)], AimChanges], Field(max_length=40)] | None = None
    """Bands by style and quantity, none for one that is taken back."""


def _me(person: Person) -> Me:
    return Me(
        name=person.name,
        kitchen=person.kitchen.name,
        freezer_c=person.kitchen.freezer_c,
        spoons=spoons_of(person.kitchen),
        currency=person.kitchen.currency,
        restrictions=person.kitchen.restrictions,
        cabinet_c=person.kitchen.cabinet_c,
        scale_g=person.kitchen.scale_g,
        fine_scale_g=person.kitchen.fine_scale_g,
        loss_pct=person.kitchen.loss_pct,
        scoop_ml=person.kitchen.scoop_ml,
        may_come_in=person.kitchen.may_come_in,
        aims=person.kitchen.aims,
        version=person.kitchen.version,
    )


@router.post("/session", auth=None, response={200: Me, 401: Problem, 403: Problem, 429: Problem})
def sign_in(request: HttpRequest, payload: SignIn) -> Me:
    """Sign in; wrong passwords are counted and slow the next try down."""
    if check_csrf(request) is not None:
        raise HttpError(403, "This request did not come from a Jalebi page; reload the page and try again.")
    person = None
    if "\x00" not in payload.name:
        person = authenticate(request, username=payload.name, password=payload.password)
    if not isinstance(person, Person):
        raise HttpError(401, "That name and password do not fit together.")
    login(request, person)
    return _me(person)


@router.get("/session", response={200: Me, 401: Problem})
def me(request: HttpRequest) -> Me:
    """Return who is signed in."""
    return _me(person_of(request))


@router.delete("/session", response={204: None, 401: Problem})
def sign_out(request: HttpRequest) -> Status[None]:
    """Sign out."""
    logout(request)
    return Status(204, None)


@router.patch("/kitchen", response={200: Me, 401: Problem, 409: Problem, 422: Problem})
def set_kitchen(request: HttpRequest, payload: KitchenSettings) -> Me:
    """Set what holds for every mix here: freezer and cabinet, scales, losses, spoons, money, whom it suits, aims."""
    changes = payload.model_dump(exclude_unset=True, exclude={"version"})
    change_settings(
        kitchen_of(request), payload.version, {key: value for key, value in changes.items() if value is not None}
    )
    return _me(person_of(request))
