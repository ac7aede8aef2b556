"""The list of a kitchen's mixes: found by name, tag and style, a page at a time, each with how it comes out."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import fields
from typing import Annotated, Final, Literal

import numpy as np
from django.db import connection
from django.db.models import F, OrderBy, Q, QuerySet
from pydantic import Field

from api.pages import Page, PageQuery, total_of
from ingredients.schemas import Part
from ingredients.shelf_cache import shelf_of
from jalebi_core.assessment.analysis import Analysis, analyse, number
from jalebi_core.assessment.verdict import verdict
from jalebi_core.formats.mix_file import checked_tag
from jalebi_core.model.components import FloatArray
from jalebi_core.model.composition import WIDTH, blend
from jalebi_core.model.errors import MixError
from jalebi_core.model.mix import overrun_or_usual
from jalebi_core.model.strata import STRATA, by_stratum
from jalebi_core.model.styles import MIX_IN_STAGES
from jalebi_core.physics.firmness import firmness_word
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, notation_of
from mixes.list_schemas import Marks, MixSummary
from mixes.models import Mix, MixLine

_LISTED: Final = ("name", "style", "overrun_pct", "changed_at", "put_away", "tags", "starred", "made_at")
_NO_CURVE: Final = np.array([])
_ORDERS: Final[dict[str, tuple[str | OrderBy, str]]] = {
    "name": ("name", "id"),
    "changed": ("-changed_at", "-id"),
    "made": (F("made_at").desc(nulls_last=True), "-id"),
}


class MixFilter(PageQuery):
    """Which mixes are wanted, and which page of them; words of ``find`` must each be in the name or be a tag."""

    find: Annotated[str, Field(max_length=100)] = ""
    style: Annotated[str, Field(max_length=40)] = ""
    tag: Annotated[str, Field(max_length=40)] = ""
    starred: bool = False
    archived: bool = False
    order: Literal["name", "changed", "made"] = "name"


def mixes_page(kitchen: Kitchen, mix_filter: MixFilter) -> Page[MixSummary]:
    """Return a page of mixes, starred ones first."""
    rows = _filtered_rows(kitchen, mix_filter)
    ordered = rows.only(*_LISTED).order_by("-starred", *_ORDERS[mix_filter.order])
    page = list(ordered[mix_filter.offset : mix_filter.offset + mix_filter.limit])
    return Page(items=_summaries(kitchen, page), total=total_of(rows, mix_filter, len(page)))


def _filtered_rows(kitchen: Kitchen, mix_filter: MixFilter) -> QuerySet[Mix]:
    if any(not text.isprintable() for text in (mix_filter.find, mix_filter.style, mix_filter.tag)):
        raise MixError("search-hidden-characters")
    rows: QuerySet[Mix] = Mix.objects.of(kitchen).filter(put_away=mix_filter.archived)
    for word in mix_filter.find.split():
        rows = rows.filter(Q(name__icontains=word) | Q(tags__contains=[word.casefold()]))
    if mix_filter.style:
        rows = rows.filter(style=mix_filter.style)
    if mix_filter.tag:
        rows = rows.filter(tags__contains=[mix_filter.tag])
    return rows.filter(starred=True) if mix_filter.starred else rows


def tags_of(kitchen: Kitchen) -> list[str]:
    """Return every tag of a kitchen's mixes."""
    query = "SELECT DISTINCT unnest(tags) AS tag FROM mixes_mix WHERE kitchen_id = %s AND tags <> '{}' ORDER BY tag"
    with connection.cursor() as cursor:
        cursor.execute(query, [kitchen.pk])
        return [tag for (tag,) in cursor.fetchall()]


def set_marks(mix: Mix, marks: Marks) -> None:
    """Set what marks a mix in the list; raises MixError for a tag that cannot be shown."""
    changes = marks.model_dump(exclude_none=True)
    if "archived" in changes:
        changes["put_away"] = changes.pop("archived")
    if marks.tags is not None:
        changes["tags"] = sorted({checked_tag(tag) for tag in marks.tags})
    if changes:
        Mix.objects.of(mix.kitchen_id).filter(pk=mix.pk).update(**changes)


def _summaries(kitchen: Kitchen, mixes: Sequence[Mix]) -> list[MixSummary]:
    """Return all of a page at once: one query for the lines, one pass through the core for the figures."""
    rows, mass_g = _blended(kitchen, mixes)
    overrun = np.array([overrun_or_usual(mix.overrun_pct) for mix in mixes])
    found = (
        analyse(rows, mass_g, overrun, _NO_CURVE, kitchen.used_freezer_c, kitchen.learnt.scoop_firmness)
        if mixes
        else None
    )
    return [
        _summary(mix, float(mass_g[at]), _one(found, at) if found and mass_g[at] > 0 else None, kitchen)
        for at, mix in enumerate(mixes)
    ]


def _blended(kitchen: Kitchen, mixes: Sequence[Mix]) -> tuple[FloatArray, FloatArray]:
    """Return the mixes as rows per 100 g, shape (mixes, WIDTH), and their mass in g, shape (mixes,)."""
    ingredient = shelf_of(kitchen).ingredients
    lines: dict[int, list[tuple[float, FloatArray]]] = defaultdict(list)
    asked = MixLine.objects.filter(mix__in=[mix.pk for mix in mixes], grams__gt=0)
    for mix_id, slug, weight, stage in asked.values_list("mix_id", "ingredient__slug", "grams", "stage"):
        if stage not in MIX_IN_STAGES:
            lines[mix_id].append((weight or 0.0, ingredient[slug].composition.row))
    rows, mass_g = np.zeros((len(mixes), WIDTH)), np.zeros(len(mixes))
    for at, mix in enumerate(mixes):
        if held := lines[mix.pk]:
            grams = np.array([amount for amount, _ in held])
            rows[at], mass_g[at] = blend(grams, np.array([row for _, row in held])), grams.sum()
    return rows, mass_g


def _one(found: Analysis, at: int) -> Analysis:
    """Return the analysis of one mix out of that of many."""
    return Analysis(**{field.name: getattr(found, field.name)[at] for field in fields(found)})


def _summary(mix: Mix, mass_g: float, found: Analysis | None, kitchen: Kitchen) -> MixSummary:
    strata = by_stratum(found.row).tolist() if found else []
    felt = kitchen.learnt.scoop_firmness
    return MixSummary(
        id=mix.pk,
        name=mix.name,
        style=mix.style,
        changed_at=mix.changed_at,
        mass_g=mass_g,
        scoop_c=number(found.scoop_c) if found else None,
        verdict=words(verdict(found, kitchen.used_freezer_c, felt), notation_of(kitchen))
        if found
        else "Nothing in it yet.",
        word=firmness_word(float(found.firmness), felt) if found else None,
        strata=[Part(key=key, grams=part) for key, part in zip(STRATA, strata, strict=False) if part > 0],
        tags=mix.tags,
        starred=mix.starred,
        archived=mix.put_away,
        made_at=mix.made_at,
    )
