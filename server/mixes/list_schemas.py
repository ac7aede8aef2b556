"""What the list of mixes sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from ingredients.schemas import Part


class MixSummary(BaseModel):
    """A mix in the list, with how it comes out."""

    id: int
    name: str
    style: str | None
    changed_at: datetime
    mass_g: float
    scoop_c: float | None
    verdict: str
    word: str | None
    strata: list[Part]
    tags: list[str]
    starred: bool
    archived: bool
    made_at: datetime | None


class Marks(BaseModel):
    """What marks a mix in the list; what is left out stays."""

    starred: bool | None = None
    archived: bool | None = None
    tags: Annotated[list[Annotated[str, Field(min_length=1, max_length=40)]], Field(max_length=20)] | None = None
