"""What a kitchen has learnt, as answers say beside the figures that it moves."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel

from kitchens.learnt import Mark


class LearntMark(BaseModel):
    """Something that a kitchen has learnt and that these figures go by: on how many entries it rests, and in words."""

    key: str
    n: int
    said: str


def learnt_marks(marks: Iterable[Mark]) -> list[LearntMark]:
    """Return what was learnt as answers say it."""
    return [LearntMark(key=one.key, n=one.n, said=one.said) for one in marks]
