"""Where a glut can go: churned now, put up as a preparation, or frozen as base."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from django.http import HttpRequest
from ninja import Router
from pydantic import BaseModel, Field

from ingredients.models import Ingredient, by_slug
from ingredients.schemas import Grams, Slug
from ingredients.shelf_cache import ingredients_of
from jalebi_core.production.glut import Outlet, outlet_of, split_glut
from kitchens.models import Kitchen, Machine
from kitchens.sign_in import kitchen_of
from mixes.models import Mix
from mixes.price_effects import core_mix

router = Router(tags=["ingredients"])
_MOST = 20
Kind = Literal["churned", "put up", "frozen base"]


class GlutShare(BaseModel):
    """How much of an ingredient goes where; the key is one that an earlier answer named."""

    key: Annotated[str, Field(max_length=80)]
    grams: Grams


class GlutQuestion(BaseModel):
    """So much of an ingredient, and how it is to be split; a sensible split where nothing is said."""

    ingredient: Slug
    grams: Annotated[float, Field(gt=0, le=1_000_000)]
    shares: Annotated[list[GlutShare], Field(max_length=_MOST)] | None = None


class GlutUse(BaseModel):
    """Where some of it goes and what comes of it; ``keeps_days`` where that is known."""

    key: str
    kind: Kind
    name: str
    mix: int | None
    preparation: str | None
    grams: float
    makes_g: float
    makes_l: float
    keeps_days: int | None


class GlutOut(BaseModel):
    """All that this kitchen makes of an ingredient, with what goes into each, and what is left over."""

    grams: float
    uses: list[GlutUse]
    left_g: float


@dataclass(frozen=True, slots=True)
class _Use:
    key: str
    kind: Kind
    name: str
    outlet: Outlet
    mix: int | None = None
    preparation: str | None = None
    keeps_days: int | None = None


@router.post("/gluts", response=GlutOut)
def glut(request: HttpRequest, payload: GlutQuestion) -> GlutOut:
    """Say where so much of an ingredient can go, and what comes of it."""
    kitchen = kitchen_of(request)
    row = by_slug(Ingredient.objects.of(kitchen), payload.ingredient)
    uses = _uses(kitchen, row.slug)
    shares = _sensible(uses, payload.grams) if payload.shares is None else _asked(payload.shares)
    found = [_serialize(use, shares.get(use.key, 0.0)) for use in uses]
    return GlutOut(grams=payload.grams, uses=found, left_g=payload.grams - sum(use.grams for use in found))


def _uses(kitchen: Kitchen, slug: str) -> list[_Use]:
    shelf, machine = dict(ingredients_of(kitchen)), Machine.objects.of(kitchen).first()
    uses = []
    rows = Mix.objects.of(kitchen).filter(lines__ingredient__slug=slug, put_away=False).distinct()
    for mix in rows.order_by("name").select_related("machine").prefetch_related("lines__ingredient")[:_MOST]:
        made, meant = core_mix(mix, shelf), mix.machine or machine
        outlet = made and outlet_of(made, slug, meant.to_core() if meant else None)
        if outlet:
            base = Outlet(outlet.holds_g, outlet.makes_g)
            uses.append(_Use(f"mix:{mix.pk}", "churned", mix.name, outlet, mix=mix.pk))
            uses.append(_Use(f"base:{mix.pk}", "frozen base", mix.name, base, mix=mix.pk))
    held = Ingredient.objects.of(kitchen).filter(made_from__lines__contains=[{"ingredient": slug}], put_away=False)
    for row in held.order_by("name")[:_MOST]:
        lines = (row.made_from or {})["lines"]
        holds = sum(line["grams"] for line in lines if line["ingredient"] == slug and line["grams"])
        if holds > 0:
            keeps = row.facts.get("keeps")
            outlet = Outlet(holds, row.facts["pack_g"])
            days = keeps["days"] if keeps else None
            uses.append(_Use(f"made:{row.slug}", "put up", row.name, outlet, preparation=row.slug, keeps_days=days))
    return uses


def _sensible(uses: list[_Use], grams: float) -> dict[str, float]:
    """Return a split over the first of each kind."""
    first = {
        kind: next((use for use in uses if use.kind == kind), None) for kind in ("churned", "put up", "frozen base")
    }
    now = first["churned"]
    keeping = [use for kind in ("put up", "frozen base") if (use := first[kind]) is not None]
    split = split_glut(grams, now.outlet if now else None, [use.outlet for use in keeping])
    return {use.key: part for use, part in zip((now, *keeping), split, strict=True) if use is not None}


def _asked(shares: list[GlutShare]) -> dict[str, float]:
    return {share.key: share.grams for share in shares}


def _serialize(use: _Use, grams: float) -> GlutUse:
    makes_g, makes_l = use.outlet.made_of(grams)
    return GlutUse(
        key=use.key,
        kind=use.kind,
        name=use.name,
        mix=use.mix,
        preparation=use.preparation,
        grams=grams,
        makes_g=makes_g,
        makes_l=makes_l,
        keeps_days=use.keeps_days,
    )
