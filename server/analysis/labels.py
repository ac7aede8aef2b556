"""The draft of a label for a draft on the Bench: by a region's rules, with what is not stated named."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from analysis.kitchen_drafts import read_in_kitchen
from analysis.schemas import Draft
from ingredients.shelf_cache import shelf_of
from jalebi_core.model.mix import Mix
from jalebi_core.regulation.ingredient_list import label_name
from jalebi_core.regulation.label import DRAFT, REGIONS, LabelWish, label_of
from kitchens.models import Kitchen, notation_of

_BY_US_RULES = "There are no rules for Canada here yet: this is drafted by those of the United States."


class LabelQuestion(Draft):
    """A draft and what its label is for; the kitchen's region where none is named."""

    region: Literal["eu", "uk", "us"] | None = None
    net_ml: Annotated[float, Field(gt=0, le=100_000)] | None = None
    serving_ml: Annotated[float, Field(gt=0, le=10_000)] | None = None
    quid: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=40, default_factory=list)]
    """Names on the list that the pack names or shows, whose share must be said."""


class LabelRowOut(BaseModel):
    """A nutrition row as it is printed, and who does not state what it rests on."""

    key: str
    per_100g: str | None
    per_100ml: str | None
    per_serving: str | None
    dv: str | None
    missing: list[str]


class UnreadPack(BaseModel):
    """An ingredient that may hold allergens, on whose pack nobody has looked yet."""

    slug: str
    name: str
    may_hold: list[str]


class GuestWord(BaseModel):
    """What an additive is, for a guest who reads its name on the list."""

    name: str
    text: str


class LabelDraftOut(BaseModel):
    """The draft of a label; allergens in the list stand between two asterisks."""

    region: Literal["eu", "uk", "us"]
    draft: str
    serving: str | None
    rows: list[LabelRowOut]
    ingredients: str
    names: list[str]
    """What stands on the list, entry by entry."""
    contains: list[str]
    not_stated: list[str]
    unread: list[UnreadPack]
    """Nothing is printed before somebody has read these packs."""
    statement: str | None
    statements: list[str]
    net: str | None
    cautions: list[str]
    for_guests: list[GuestWord]


def label_draft(kitchen: Kitchen, question: LabelQuestion) -> LabelDraftOut | None:
    """Return the draft of a label; None for a draft with nothing in it."""
    mix = read_in_kitchen(kitchen, question).mix
    if mix is None:
        return None
    region = question.region or (kitchen.region if kitchen.region in REGIONS else "us")
    quid = tuple(question.quid)
    wish = LabelWish(region=region, net_ml=question.net_ml, serving_ml=question.serving_ml, quid=quid)
    found = label_of(mix, wish)
    notation = notation_of(kitchen)
    own = question.region is None and region != kitchen.region
    return LabelDraftOut.model_validate(
        {
            "region": region,
            "draft": DRAFT,
            "serving": found.serving.text if found.serving else None,
            "rows": [
                {"key": one.row.key, **one.printed, "dv": one.dv, "missing": list(one.row.missing)}
                for one in found.rows
            ],
            "ingredients": found.list_text,
            "names": [one.name for one in found.listed],
            "contains": list(found.contains),
            "not_stated": list(found.not_stated),
            "unread": _unread(kitchen, mix),
            "statement": found.statement,
            "statements": [notation.text(text) for _, text in found.statements],
            "net": found.net[2] if found.net else None,
            "for_guests": _for_guests(mix, region),
            "cautions": [*([_BY_US_RULES] if own else []), *found.cautions],
        }
    )


def _unread(kitchen: Kitchen, mix: Mix) -> list[UnreadPack]:
    places = shelf_of(kitchen).places
    used = {line.ingredient.slug: line.ingredient for line in mix.lines if line.grams > 0}
    return [
        UnreadPack(slug=slug, name=one.name, may_hold=list(one.may_hold))
        for slug, one in used.items()
        if one.may_hold and slug in places and not places[slug].pack_read
    ]


def _for_guests(mix: Mix, region: str) -> list[GuestWord]:
    known = {line.ingredient.slug: line.ingredient for line in mix.lines if line.grams > 0}
    told = {label_name(one, region): one.facts.for_guests for one in known.values()}
    return [GuestWord(name=name, text=text) for name, text in told.items() if text]
