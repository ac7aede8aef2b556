"""The method of a recipe: its sentences, and the stage of the work that each belongs to."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Final

from jalebi_core.formats.recipe.source import LONGEST_STEP, MOST_STEPS
from jalebi_core.quantities.typed_line import LONGEST_LINE
from jalebi_core.shelf.ingredient_search import words_of

_SENTENCE: Final = re.compile(r"(?<=[.!?])\s+(?=[A-ZÀ-Ž0-9])")
_NUMBERING: Final = re.compile(r"^\s*(?:step\s*)?[0-9]{1,2}\s*[.):-]\s*", re.IGNORECASE)
_SIGNS: Final = (
    ("churn", r"\bchurn|\bice[- ]cream (?:machine|maker)|\bmachine\b|\bspin\b|\blast (?:few )?minutes? of"),
    ("cold", r"\bchill|\brefrigerat|\bfridge|\bovernight\b|\bice bath|\bcold base|\bonce cold|\bwhen cold|\bage\b"),
    ("off-heat", r"\boff the heat|\bfrom (?:the )?heat|\bheat off|\bcool(?:ed)? (?:slightly|to|until)|\bstrain|"
                 r"\bsieve"),
    ("yolks", r"\byolks?\b|\btemper\b|\beggs?\b"),
    ("pot", r"\bheat\b|\bsimmer|\bboil|\bscald|\bsaucepan|\bpan\b|\bpot\b|\bwarm\b|\bcook\b|\bdissolv|\bmelt|\bsteep|"
            r"\binfuse|°|\bmicrowave"),
    ("dry", r"\bdry[- ]?(?:mix|blend|ingredient)|\bwhisk together the (?:sugar|dry)|\bgums?\b|\bpowders?\b"),
)  # fmt: skip
"""Words that give a stage away, the most telling stage first."""


@dataclass(frozen=True, slots=True)
class Step:
    """One sentence of the method and its stage; None while nothing has given one away."""

    text: str
    stage: str | None


def steps_of(paragraphs: Sequence[str]) -> tuple[Step, ...]:
    """Split a method into sentences with stages; a sentence that tells none goes on with the one before."""
    steps: list[Step] = []
    stage: str | None = None
    for sentence in islice(_sentences(paragraphs), MOST_STEPS):
        stage = _stage_told_by(sentence[:LONGEST_LINE]) or stage
        steps.append(Step(sentence[:LONGEST_STEP], stage))
    return tuple(steps)


def _sentences(paragraphs: Sequence[str]) -> Iterator[str]:
    for paragraph in paragraphs:
        for sentence in _SENTENCE.split(_NUMBERING.sub("", " ".join(paragraph.split()))):
            if sentence.strip():
                yield sentence.strip()


def _stage_told_by(sentence: str) -> str | None:
    told = (stage for stage, signs in _SIGNS if re.search(signs, sentence, re.IGNORECASE))
    return next(told, None)


class Method:
    """The sentences of a method, with the words of each found once for all the ingredients that are looked up in it."""

    def __init__(self, paragraphs: Sequence[str]) -> None:
        self.steps = steps_of(paragraphs)
        self._words = [frozenset(_words_of_sentence(step.text)) for step in self.steps]

    def stage_of(self, name: str) -> str | None:
        """Return the stage of the first sentence that speaks of the named thing, None where none does."""
        words = words_of(name)
        if not words:
            return None
        for wanted in (set(words), {words[-1]}):
            for step, said in zip(self.steps, self._words, strict=True):
                if wanted <= said:
                    return step.stage
        return None

    @property
    def heated(self) -> bool:
        """Whether something is heated, which is taken to be so where no method is given."""
        return not self.steps or any(step.stage in ("pot", "yolks") for step in self.steps)


def _words_of_sentence(text: str) -> list[str]:
    """Return the words of a sentence of any length, in the form in which names are compared."""
    return [word for part in re.findall(r".{1,180}(?:\s|$)", text) for word in words_of(part)]
