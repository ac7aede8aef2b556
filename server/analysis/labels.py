"""The draft of a label for a draft on the Bench: by a region's rules, with what is not stated named."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from analysis.kitchen_drafts import read_in_kitchen
from analysis.schemas import Draft
from jalebi_core.regulation.label import DRAFT, REGIONS, LabelRow, LabelWish, label_of
from jalebi_core.shelf.label_facts import with_shipped_label_facts
from kitchens.models import Kitchen, notation_of

_BY_US_RULES = "There are no rules for Canada here yet: this is drafted by those of the United States."


class LabelQuestion(Draft):
    """A draft and what its label is for; the kitchen's region where none is named."""

    region: Literal["eu", "uk", "us"] | None = None
    net_ml: Annotated[float, Field(gt=0, le=100_000)] | None = None
    serving_ml: Annotated[float, Field(gt=0, le=10_000)] | None = None


class LabelRowOut(BaseModel):
    """A nutrition row as it is printed, and who does not state what it rests on."""

    key: str
    per_100g: str | None
    per_100ml: str | None
    per_serving: str | None
    dv: str | None
    missing: list[str]


class LabelDraftOut(BaseModel):
    """The draft of a label; allergens in the list stand between two asterisks."""

    region: Literal["eu", "uk", "us"]
    draft: str
    serving: str | None
    rows: list[LabelRowOut]
    ingredients: str
    contains: list[str]
    not_stated: list[str]
    statement: str | None
    statements: list[str]
    net: str | None
    cautions: list[str]


def label_draft(kitchen: Kitchen, question: LabelQuestion) -> LabelDraftOut | None:
    """Return the draft of a label; None for a draft with nothing in it."""
    mix = read_in_kitchen(kitchen, question).mix
    if mix is None:
        return None
    lines = tuple(replace(line, ingredient=with_shipped_label_facts(line.ingredient)) for line in mix.lines)
    region = question.region or (kitchen.region if kitchen.region in REGIONS else "us")
    wish = LabelWish(region=region, net_ml=question.net_ml, serving_ml=question.serving_ml)
    found = label_of(replace(mix, lines=lines), wish)
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
            "contains": list(found.contains),
            "not_stated": list(found.not_stated),
            "statement": found.statement,
            "statements": [notation.text(text) for _, text in found.statements],
            "net": found.net[2] if found.net else None,
            "cautions": [*([_BY_US_RULES] if own else []), *found.cautions],
        }
    )


def _row(row: LabelRow) -> dict[str, object]:
    return {"key": row.row.key, **row.printed, "dv": row.dv, "missing": list(row.row.missing)}
