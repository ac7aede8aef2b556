"""The method of a recipe: its sentences and clauses, and the stage of the work that each belongs to."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Final

from jalebi_core.formats.recipe.source import LONGEST_STEP, MOST_STEPS
from jalebi_core.model.styles import HEATED
from jalebi_core.quantities.typed_line import LONGEST_LINE, share_reduced_to
from jalebi_core.shelf.ingredient_search import telling_words, words_of

_SENTENCE: Final = re.compile(r"(?<=[.!?])\s+(?=[A-ZÀ-Ž0-9])")
_NUMBERING: Final = re.compile(r"^\s*(?:step\s*)?[0-9]{1,2}\s*[.):-]\s*", re.IGNORECASE)
_VERBS: Final = (
    "add|age|beat|blend|boil|bring|brew|chill|churn|combine|cook|cool|cover|dissolve|drizzle|fold|freeze|heat|infuse|"
    "layer|leave|let|melt|mix|pass|pour|place|press|process|puree|put|reduce|refrigerate|remove|return|ripple|scald|scatter|"
    "scrape|set|sieve|simmer|soak|spin|spread|sprinkle|steep|stir|strain|swirl|take|temper|toast|transfer|warm|whip|"
    "whisk"
)
_CLAUSE: Final = re.compile(
    rf"[;:]\s+|,\s+(?:(?:and|then|and then)\s+)?(?=(?:gently |slowly |gradually )?(?:{_VERBS})(?:ing|ring|ping)?\b)"
    rf"|\s+(?:and then|then|afterwards|before|meanwhile)\s+|\s+and\s+(?=(?:{_VERBS})\b)|\s+until\s+",
    re.IGNORECASE,
)
_SIGNS: Final = (
    ("layer", r"\bripple|\bswirl|\blayer(?:s|ed|ing)?\b|\bdrizzle"),
    ("mix-in", r"\bfold(?:ed|ing)? in|\bscatter|\blast (?:few |couple of |[0-9]+ )?minutes? of|\bend of (?:the )?churn|"
               r"\bonce churned|\bafter churning|\bsoft[- ]serve"),
    ("churn", r"\bchurn|\bice[- ]cream (?:machine|maker)|\bmachine\b|\bspin\b"),
    ("cold", r"\bchill|\brefrigerat|\bfridge|\bovernight\b|\bice bath|\bcold base|\bonce cold|\bwhen cold|\bage\b|"
             r"\bcompletely cool|\bcool(?:ed)? (?:it )?completely|\blet (?:it |this )?cool|\bcooled base"),
    ("off-heat", r"\boff the heat|\bfrom (?:the )?(?:heat|stove|hob)|\bheat off|\bcool(?:ed)? (?:slightly|to|a little)|"
                 r"\bstrain|\bsieve|\bwarm, not hot"),
    ("yolks", r"\byolks?\b|\btemper\b|\beggs?\b"),
    ("dry", r"\b(?:combine|mix|whisk|stir|toss) (?:together )?(?:all )?(?:the )?dry\b|\bdry[- ]blend (?:the|sugar)"),
    ("pot", r"\bheat(?:ed)?\b|\bsimmer|\bboil|\bscald|\bsaucepan|\bpan\b|\bpot\b|\bwarm\b|\bcook\b|\bdissolv|"
            r"\bmelt|\bsteep|\binfus|°|\bmicrowave|\bsteaming\b|\bstove|\breduce\b"),
)  # fmt: skip
"""Words that give a stage away, the most telling stage first."""
_DRY: Final = re.compile(
    r"\b(?:mix|whisk|stir|blend|combine|toss)\b.*\bsugars?\b.*\b(?:gums?|stabili[sz]er|powders?|dextrose|pectin)\b"
    r"|\b(?:mix|whisk|stir|blend|combine|toss)\b.*\b(?:gums?|stabili[sz]er|pectin)\b.*\bsugars?\b",
    re.IGNORECASE,
)
"""Sugar and gum or powder in one clause are blended dry, unless something wet is in it too."""
_WET: Final = re.compile(r"\b(?:milk|cream|water|juice|puree)\b(?! powder)", re.IGNORECASE)
_ALL: Final = re.compile(
    r"\b(?:all|everything|(?:the )?(?:remaining|other|rest of the) ingredients?|the rest(?! of))\b", re.IGNORECASE
)
_COLD: Final = ("cold", "churn")
_HEAT: Final = re.compile(r"\bheat\b|\bstove\b|\bhob\b", re.IGNORECASE)
"""What is strained once it is cold stays cold, unless the heat is spoken of."""
_GENERIC: Final = frozenset(
    ("powder", "extract", "paste", "juice", "puree", "leaf", "syrup", "liqueur", "zest", "crumb", "bit", "piece", "gum",
     "starch", "seed", "bean", "flower", "essence")
)  # fmt: skip
"""Second words of many names: a clause that has no more than such a word does not speak of the thing."""
_STEEPED: Final = re.compile(r"\b(?:steep|infus|brew)", re.IGNORECASE)
_TAKEN_OUT: Final = re.compile(r"\b(?:strain|sieve|discard|remove|fish out|lift out)", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Step:
    """One sentence of the method and its stage; None while nothing has given one away."""

    text: str
    stage: str | None


@dataclass(frozen=True, slots=True)
class _Clause:
    """A part of a sentence: what it says, its words, and the stage that it tells or goes on with."""

    text: str
    words: frozenset[str]
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


def _stage_told_by(text: str) -> str | None:
    if _DRY.search(text) and not _WET.search(text):
        return "dry"
    told = (stage for stage, signs in _SIGNS if re.search(signs, text, re.IGNORECASE))
    return next(told, None)


class Method:
    """The sentences of a method, with the words of each found once for all the ingredients that are looked up in it."""

    def __init__(self, paragraphs: Sequence[str]) -> None:
        self.steps = steps_of(paragraphs)
        self._clauses = list(_clauses([step.text for step in self.steps]))
        self._reduces = any(share_reduced_to(clause.text) for clause in self._clauses)
        self._found: dict[str, _Clause | None] = {}

    def stage_of(self, name: str) -> str | None:
        """Return the stage of the first clause that speaks of the named thing, None where none does."""
        clause = self._clause_of(name)
        return clause.stage if clause else None

    def is_named(self, name: str) -> bool:
        """Whether the method speaks of the named thing."""
        return self._clause_of(name) is not None

    def share_left_of(self, name: str) -> float | None:
        """Return the share of its weight to which the named thing is cooked down by itself, None where it is not."""
        clause = self._clause_of(name) if self._reduces else None
        if clause is None:
            return None
        at = self._clauses.index(clause)
        return next((share for one in self._clauses[at : at + 3] if (share := share_reduced_to(one.text))), None)

    def is_taken_out(self, name: str) -> bool:
        """Whether the named thing is steeped and strained out again."""
        clause = self._clause_of(name)
        if clause is None:
            return False
        after = self._clauses[self._clauses.index(clause) :]
        steeped = next((at for at, one in enumerate(after[:6]) if _STEEPED.search(one.text)), None)
        return steeped is not None and any(_TAKEN_OUT.search(one.text) for one in after[steeped : steeped + 6])

    @property
    def stage_of_all(self) -> str | None:
        """The stage of a clause that speaks of everything at once, None where none does."""
        return next((clause.stage for clause in self._clauses if clause.stage and _ALL.search(clause.text)), None)

    @property
    def heated(self) -> bool:
        """Whether something is heated."""
        return any(clause.stage in HEATED and clause.stage != "dry" for clause in self._clauses)

    def _clause_of(self, name: str) -> _Clause | None:
        if name not in self._found:
            self._found[name] = self._first_naming(name)
        return self._found[name]

    def _first_naming(self, name: str) -> _Clause | None:
        words = words_of(name)
        if not words:
            return None
        for clause in self._clauses:
            if set(words) <= clause.words:
                return clause
        alone = [word for word in (words[-1], *telling_words(words)) if word not in _GENERIC]
        other = re.compile(rf"\b(?:{'|'.join(_GENERIC - set(words))})\b", re.IGNORECASE)
        for word in alone:
            for clause in self._clauses:
                if word in clause.words and _speaks_of(word, clause.text, other):
                    return clause
        generic = next((word for word in reversed(words) if word in _GENERIC), None)
        by_itself = re.compile(rf"(?:\b(?:the|and|with|add|in)|,)\s+{generic}\b", re.IGNORECASE)
        return next((clause for clause in self._clauses if generic and by_itself.search(clause.text)), None)


def _speaks_of(word: str, text: str, other: re.Pattern[str]) -> bool:
    """Whether a clause means the thing by its word alone: not milk by “milk powder”."""
    said = re.finditer(rf"\b{word}\w*\s*(?P<next>[\w-]*)", text, re.IGNORECASE)
    following = [match["next"] for match in said]
    return not following or any(not other.fullmatch(after) for after in following)


def _clauses(sentences: Sequence[str]) -> Iterator[_Clause]:
    """Part sentences at their verbs; one that tells no stage goes on with the one before, or waits for the next."""
    parts = [part for sentence in sentences for part in _CLAUSE.split(sentence[:LONGEST_STEP]) if part.strip()]
    told = [_stage_told_by(part[:LONGEST_LINE]) for part in parts]
    first = next((stage for stage in told if stage), None)
    stage = first if first in HEATED else None
    for part, own in zip(parts, told, strict=True):
        if own == "off-heat" and stage in _COLD and not _HEAT.search(part):
            own = None
        stage = own or stage
        yield _Clause(part, frozenset(_words_of_sentence(part)), stage)


def _words_of_sentence(text: str) -> list[str]:
    """Return the words of a sentence of any length, in the form in which names are compared."""
    return [word for part in re.findall(r".{1,180}(?:\s|$)", text) for word in words_of(part)]
