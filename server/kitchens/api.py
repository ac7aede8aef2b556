"""The kitchen itself: what holds for everything that is made there."""

from __future__ import annotations

from typing import Annotated

from django.http import HttpRequest, HttpResponse
from ninja import Router
from pydantic import BaseModel, Field

from api.versions import IfMatch, tag, version_of
from jalebi_core.model.constants import COLDEST_ICE_C
from jalebi_core.production.scaling import MOST_LOSS_PCT
from jalebi_core.quantities.amounts import Spoons
from jalebi_core.regulation.cautions import REGIONS
from jalebi_core.wording.notation import LOCALES, MassUnit, TemperatureUnit
from kitchens.models import Kitchen
from kitchens.settings import change_settings
from kitchens.sign_in import kitchen_of

router = Router(tags=["kitchen"])

Locale = Annotated[str, Field(pattern=f"^({'|'.join(LOCALES)})$")]
Region = Annotated[str, Field(pattern=f"^({'|'.join(REGIONS)})$")]
AimChanges = dict[Annotated[str, Field(max_length=40)], Annotated[list[float], Field(max_length=2)] | None]


class KitchenOut(BaseModel):
    """A kitchen's settings; ``version`` counts their changes.

    ``used_freezer_c`` is how cold its freezer is as far as anybody knows: what was learnt, else what is set; so with
    ``used_aims``.
    """

    slug: str
    name: str
    freezer_c: float
    used_freezer_c: float
    spoons: Spoons
    currency: str
    restrictions: list[str]
    region: Region
    cabinet_c: float
    scale_g: float
    fine_scale_g: float
    loss_pct: float
    scoop_ml: float
    may_come_in: list[str]
    aims: dict[str, dict[str, list[float]]]
    used_aims: dict[str, dict[str, list[float]]]
    temperature_unit: TemperatureUnit
    mass_unit: MassUnit
    locale: str
    zone: str
    version: int


class KitchenSettings(BaseModel):
    """What a kitchen can set for itself; what is left out stays."""

    freezer_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None
    spoons: Spoons | None = None
    currency: Annotated[str, Field(min_length=1, max_length=8)] | None = None
    region: Region | None = None
    """Whose food law cautions and labels go by."""
    restrictions: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=20)] | None = None
    cabinet_c: Annotated[float, Field(ge=COLDEST_ICE_C, le=0)] | None = None
    scale_g: Annotated[float, Field(ge=0.001, le=100)] | None = None
    fine_scale_g: Annotated[float, Field(ge=0.001, le=100)] | None = None
    loss_pct: Annotated[float, Field(ge=0, le=MOST_LOSS_PCT)] | None = None
    scoop_ml: Annotated[float, Field(ge=5, le=1000)] | None = None
    may_come_in: Annotated[list[Annotated[str, Field(max_length=60)]], Field(max_length=40)] | None = None
    aims: Annotated[dict[Annotated[str, Field(max_length=40)], AimChanges], Field(max_length=40)] | None = None
    """Bands by style and quantity, none for one that is taken back."""
    temperature_unit: TemperatureUnit | None = None
    mass_unit: MassUnit | None = None
    locale: Locale | None = None
    """How numbers and dates are written, as a BCP 47 tag of language and region."""
    zone: Annotated[str, Field(min_length=1, max_length=60)] | None = None
    """The time zone by which its days go, an IANA name."""


@router.get("", response=KitchenOut)
def kitchen(request: HttpRequest, response: HttpResponse) -> KitchenOut:
    """Return a kitchen's settings."""
    return _out(kitchen_of(request), response)


@router.patch("", response=KitchenOut)
def set_kitchen(
    request: HttpRequest, response: HttpResponse, payload: KitchenSettings, if_match: IfMatch = None
) -> KitchenOut:
    """Set what holds for everything made here; what others set meanwhile is no conflict unless it is the same."""
    found = kitchen_of(request)
    changes = payload.model_dump(exclude_unset=True)
    change_settings(found, version_of(if_match), {key: value for key, value in changes.items() if value is not None})
    return _out(found, response)


def _out(kitchen: Kitchen, response: HttpResponse) -> KitchenOut:
    tag(response, kitchen.version)
    return KitchenOut.model_validate(kitchen, from_attributes=True)
