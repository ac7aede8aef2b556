"""What the Bench sends and receives."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from analysis.schemas import Draft, Name
from ingredients.schemas import Form
from jalebi_core.formats.mix_file import MOST_LINES
from jalebi_core.quantities.amounts import Spoons


class NewMix(BaseModel):
    """A new mix: from nothing, the copy of another, or the first draft of a style by an approach, at a batch size."""

    name: Name
    style: Annotated[str, Field(max_length=40)] | None = None
    copy_of: int | None = None
    approach: Annotated[str, Field(max_length=40)] | None = None
    batch_g: Annotated[float, Field(gt=0)] | None = None


class DraftToSave(Draft):
    """A draft as it is kept: with its name, and the number of the revision that it goes on from."""

    name: Name
    based_on: int | None = None


class MethodStep(BaseModel):
    """A sentence of a method and the stage it belongs to."""

    stage: Annotated[str, Field(max_length=20)] | None = None
    text: Annotated[str, Field(max_length=2000)]


class MixOut(DraftToSave):
    """A mix with its lines, and what the recipe it came from said."""

    method: list[MethodStep]
    servings: int | None
    makes: str

    id: int
    version: int
    changed_at: datetime


class Saved(BaseModel):
    """The version that a save has made."""

    version: int
    changed_at: datetime


class NewRevision(BaseModel):
    """The name of a point worth keeping, and what there is to say of it."""

    name: Name
    note: Annotated[str, Field(max_length=2000)] = ""


class RevisionOut(BaseModel):
    """A revision of a mix, and the number of the one it was made from."""

    id: int
    number: int
    name: str
    note: str
    parent: int | None
    kept_at: datetime


class LineChangeOut(BaseModel):
    """An ingredient that weighs something else now; 0 where it was not there or is gone."""

    name: str
    before_g: float
    after_g: float


class DifferenceOut(BaseModel):
    """What changed from one state of a mix to another."""

    changes: list[LineChangeOut]
    message: str


class RevisionDetail(RevisionOut, DifferenceOut, Draft):
    """A revision with its lines as they were, and what has changed since: in the mix, or up to another revision.

    What a snapshot of schema 1 does not hold, restrictions, pins, limits and notes of lines, is not set.
    """


class RecipeText(BaseModel):
    """A pasted recipe: text, a page, or its schema.org data."""

    text: Annotated[str, Field(max_length=900_000)]
    american: bool | None = None
    """Whether it measures in US cups and spoons; where nothing is said, its words say."""


class Choice(BaseModel):
    """Ingredients that a line may mean, and how well their name fits, 0 to 1."""

    ingredient: str
    name: str
    score: float


class RecipeLineOut(BaseModel):
    """A line of a pasted recipe as understood; ``doubts`` are sentences, none where it needs no second look."""

    raw: str
    name: str
    note: str
    choices: list[Choice]
    typed: str
    grams: float | None
    assumed: str | None
    form: Form | None
    stage: str | None
    reduced_to: float | None
    optional: bool
    doubts: list[str]


class RecipeOut(BaseModel):
    """A pasted recipe as understood."""

    name: str
    style: str | None
    servings: int | None
    makes: str | None
    spoons: Spoons
    """Whose cups and spoons it was read with."""
    lines: list[RecipeLineOut]
    method: list[MethodStep]
    doubts: list[str]
    """What is to be asked of the whole."""


class RecipeLineIn(BaseModel):
    """A line of a recipe as it goes into a mix; with ``reduced_to`` it becomes a preparation first."""

    ingredient: Annotated[str, Field(max_length=60)]
    typed: Annotated[str, Field(max_length=60)]
    stage: Annotated[str, Field(max_length=20)] | None = None
    reduced_to: Annotated[float, Field(gt=0, lt=1)] | None = None
    form: Form | None = None


class MixFromRecipe(BaseModel):
    """A mix to be made of a pasted recipe."""

    name: Name
    style: Annotated[str, Field(max_length=40)] | None = None
    lines: Annotated[list[RecipeLineIn], Field(min_length=1, max_length=MOST_LINES)]
    method: Annotated[list[MethodStep], Field(max_length=400)] = []
    servings: Annotated[int, Field(ge=1, le=10_000)] | None = None
    makes: Annotated[str, Field(max_length=40)] = ""
