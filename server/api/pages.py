"""Lists a page at a time."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Final, Generic, TypeVar

from django.db.models import Model, QuerySet
from pydantic import BaseModel, Field

MOST_AT_ONCE: Final = 100
Item = TypeVar("Item")
Row = TypeVar("Row", bound=Model)


class PageQuery(BaseModel):
    """Which page of a list is wanted."""

    limit: Annotated[int, Field(ge=1, le=MOST_AT_ONCE)] = 40
    offset: Annotated[int, Field(ge=0, le=1_000_000)] = 0


class Page(BaseModel, Generic[Item]):
    """Some items of a list, and how many there are in all."""

    items: list[Item]
    total: int


def page_of(rows: QuerySet[Row], wanted: PageQuery, serialize: Callable[[Row], Item]) -> Page[Item]:
    """Return a page of ordered rows; they are counted only where there may be more of them."""
    page = list(rows[wanted.offset : wanted.offset + wanted.limit])
    return Page(items=[serialize(row) for row in page], total=total_of(rows, wanted, len(page)))


def total_of(rows: QuerySet[Row], wanted: PageQuery, found: int) -> int:
    """Return how many rows there are in all, given how many were found on a page."""
    ends_here = found < wanted.limit and (found > 0 or wanted.offset == 0)
    return wanted.offset + found if ends_here else rows.count()
