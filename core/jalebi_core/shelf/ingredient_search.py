"""Finding ingredients by what people call them: names and by-names ranked against a phrase."""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, lru_cache
from math import log
from typing import Final

from jalebi_core.model.measures import Measures
from jalebi_core.shelf.catalogue import catalogue, ingredients
from jalebi_core.shelf.spelling import closest_words

_TOKEN: Final = re.compile(r"[a-z]+|[0-9]+")
_LONGEST_PHRASE: Final = 200
_MOST_WORDS: Final = 16
"""Words of a phrase that are looked up; the longest names of things have eight."""
_UNSAYING: Final = frozenset(
    """
    a an the of or and with in into for from to at about each your our some any few plus more as
    fresh freshly large medium small big good best quality extra finely coarsely roughly thinly lightly
    chopped sliced diced minced grated crushed ground beaten sifted packed softened melted cold cool cooled warm hot
    room temperature organic free range ripe peeled pitted cored hulled washed toasted roasted strong pure plain
    optional needed taste divided pieces piece handful handfuls store bought homemade unsalted natural real raw
    sweet fine coarse frozen mixed assorted thawed drained squeezed rinsed trimmed unwaxed split scraped plump
    """.split()  # noqa: SIM905  a list of quoted words would be five times as long
)
"""Words that say how a thing is cut or bought rather than what it is; they count little."""
_WEIGHT_OF_UNSAYING: Final = 0.12
_WEIGHT_OF_NUMBERS: Final = 0.35
_PREFIX_CREDIT: Final = 0.8
_SPELLING_CREDIT: Final = 0.7
_SHARE_OF_PHRASE: Final = 0.7
_FIRST_NAME_BONUS: Final = 0.01
_LEAST_LIKE_A_SPELLING: Final = 80.0
_ENDING_CREDIT: Final = 0.8
_SHORTEST_PART: Final = 3
_ALIKE: Final = 0.3
"""Scores that are no further apart are of the same thing in several strengths."""
_MOST_STRENGTHS: Final = 20
_SURE_SCORE: Final = 0.72
_CLEAR_LEAD: Final = 0.04
_SAME_STRENGTH: Final = 0.03
"""By how much of itself a stated strength may differ from a row's: 36 % is 35 %, 38 % is neither 36 nor 40."""
_STRENGTH: Final = re.compile(
    r"(?<![0-9.,])(?P<low>[0-9]{1,3}(?:[.,][0-9]{1,3})?)(?:\s?[-–]\s?(?P<high>[0-9]{1,3}(?:[.,][0-9]{1,3})?))?"
    r"\s?(?:%|per ?cent\b|° ?brix\b)",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class Match:
    """A slug and how well its best name answers the phrase, 0 to 1.

    complete : whether every word of the phrase that says something is in that name, as it is written
    """

    slug: str
    score: float
    complete: bool = True


@dataclass(frozen=True, slots=True)
class _Answer:
    """A known word that answers one of a phrase, with its credit; ``as_written`` where it is that word."""

    known: str
    credit: float
    as_written: bool = False


@lru_cache(maxsize=65_536)
def _singular(word: str) -> str:
    for ending, kept in (("ies", "y"), ("oes", "o"), ("ches", "ch"), ("shes", "sh"), ("sses", "ss")):
        if word.endswith(ending) and len(word) > len(ending) + 1:
            return word.removesuffix(ending) + kept
    if word.endswith("s") and not word.endswith(("ss", "us", "is")) and len(word) > 3:
        return word[:-1]
    return word


def words_of(phrase: str) -> list[str]:
    """Return the words of a phrase in the form in which they are compared: lower case, no accents, singular.

    >>> words_of("Crème fraîche, 2 leaves")
    ['creme', 'fraiche', '2', 'leaf']
    """
    plain = unicodedata.normalize("NFKD", phrase[:_LONGEST_PHRASE].casefold().replace("leaves", "leaf"))
    if not plain.isascii():
        plain = "".join(char for char in plain if not unicodedata.combining(char)).replace("’s", "")
    letters = plain.replace("'s", "")
    return [_singular(word) for word in _TOKEN.findall(letters)]


def telling_words(words: Iterable[str]) -> list[str]:
    """Return those of the words that say what a thing is, and not how it is cut or bought."""
    return [word for word in words if word not in _UNSAYING and not word.isdigit()]


class IngredientIndex:
    """An index of what ingredients are called.

    Parameters
    ----------
    called : names by slug, the main one first
    """

    def __init__(self, called: Mapping[str, Iterable[str]]) -> None:
        self._names: list[tuple[str, frozenset[str], bool]] = []
        self._having: dict[str, list[int]] = defaultdict(list)
        self._strengths: dict[str, float] = {}
        for slug, stated_names in called.items():
            names = tuple(stated_names)
            for number, name in enumerate(names):
                words = frozenset(words_of(name))
                for word in words:
                    self._having[word].append(len(self._names))
                self._names.append((slug, words, number == 0))
            main = next(iter(names), "")
            if (stated := strength_in(main)) is not None:
                self._strengths[slug] = stated
        self._vocabulary = sorted(self._having)
        self._turned = sorted(word[::-1] for word in self._vocabulary)
        self._weight = {word: self._rarity(word) for word in self._vocabulary}
        self._name_weight = [sum(self._weight[word] for word in words) for _, words, _ in self._names]

    def _rarity(self, word: str) -> float:
        rarity = log(1 + len(self._names) / (1 + len(self._having.get(word, ()))))
        return rarity * (_WEIGHT_OF_UNSAYING if word in _UNSAYING else _WEIGHT_OF_NUMBERS if word.isdigit() else 1)

    def ranked(self, phrase: str, limit: int = 8, *, typing: bool = False) -> list[Match]:
        """Rank ingredients against a phrase, best first; of several strengths the one that the phrase states.

        Parameters
        ----------
        phrase : what somebody calls the thing
        limit : how many to return at the most
        typing : the last word may still be unfinished, so what begins with it answers too
        """
        words = self._in_known_words(list(dict.fromkeys(words_of(phrase)))[:_MOST_WORDS])
        of_phrase: dict[int, float] = defaultdict(float)
        of_name: dict[int, float] = defaultdict(float)
        answered: dict[int, int] = defaultdict(int)
        asked, said = 0.0, 0
        for number, word in enumerate(words):
            answers = self._answering(word, typing and number == len(words) - 1)
            weight = self._rarity(word)
            if word not in self._having and answers:
                weight = max(self._weight[answer.known] for answer in answers)
            asked += weight
            counts = word not in _UNSAYING and not word.isdigit()
            said += counts
            for answer in answers:
                for name in self._having[answer.known]:
                    of_phrase[name] += answer.credit * weight
                    of_name[name] += answer.credit * self._weight[answer.known]
                    answered[name] += counts and answer.as_written
        if not asked:
            return []
        best: dict[str, tuple[float, bool]] = {}
        for name, gained in of_phrase.items():
            slug, _, first = self._names[name]
            share_of_name = of_name[name] / (self._name_weight[name] or 1)
            score = _SHARE_OF_PHRASE * (gained / asked if gained < asked else 1.0)
            score += (1 - _SHARE_OF_PHRASE) * (share_of_name if share_of_name < 1 else 1.0) + _FIRST_NAME_BONUS * first
            if slug not in best or score > best[slug][0]:
                best[slug] = score, answered[name] >= said
        found = ((min(score, 1.0), slug, complete) for slug, (score, complete) in best.items())
        order = [Match(slug, score, whole) for score, slug, whole in sorted(found, key=lambda one: (-one[0], one[1]))]
        return self._of_stated_strength(phrase, order)[:limit]

    def is_sure(self, phrase: str, matches: Sequence[Match]) -> bool:
        """Tell whether the first of the matches of a phrase is without doubt what it means."""
        if not matches or not matches[0].complete or matches[0].score < _SURE_SCORE:
            return False
        wanted, has = strength_in(phrase), self._strengths.get(matches[0].slug)
        if wanted is not None and has is not None:
            return abs(wanted - has) <= _SAME_STRENGTH * wanted
        return len(matches) == 1 or matches[0].score - matches[1].score >= _CLEAR_LEAD

    def strength_of(self, slug: str) -> float | None:
        """Return the % that an ingredient's first name states, the middle of a range; None where it states none."""
        return self._strengths.get(slug)

    def _of_stated_strength(self, phrase: str, order: list[Match]) -> list[Match]:
        """Bring the strength nearest to the one that a phrase states to the front, among all that answer it alike."""
        wanted = strength_in(phrase)
        if wanted is None or not order:
            return order
        alike = [
            match
            for match in order[:_MOST_STRENGTHS]
            if match.slug in self._strengths and match.score > order[0].score - _ALIKE
        ]
        nearest = min(alike, key=lambda match: abs(self._strengths[match.slug] - wanted), default=order[0])
        raised = Match(nearest.slug, order[0].score, nearest.complete)
        return [raised, *(match for match in order if match.slug != nearest.slug)]

    def _in_known_words(self, words: list[str]) -> list[str]:
        """Join “butter milk” and part “coconutmilk” where that makes words that names have."""
        found: list[str] = []
        for word in words:
            if found and (joined := found[-1] + word) in self._having and joined.isalpha():
                found[-1] = joined
                continue
            found.extend([word] if word in self._having or not word.isalpha() else self._parted(word))
        return found

    def _parted(self, word: str) -> list[str]:
        for at in range(len(word) - _SHORTEST_PART, _SHORTEST_PART - 1, -1):
            parts = [word[:at], _singular(word[at:])]
            if all(part in self._having for part in parts):
                return parts
        return [word]

    def _answering(self, word: str, unfinished: bool) -> list[_Answer]:
        """Return the known words that answer one word."""
        exact = [_Answer(word, 1.0, as_written=True)] if word in self._having else []
        if unfinished:
            at = bisect_left(self._vocabulary, word)
            begun = []
            while at < len(self._vocabulary) and self._vocabulary[at].startswith(word):
                begun.append(self._vocabulary[at])
                at += 1
            return exact + [_Answer(known, _PREFIX_CREDIT) for known in begun if known != word]
        if len(word) < 4:
            return exact
        ending = [_Answer(known, _ENDING_CREDIT) for known in self._ending_with(word) if known != word]
        if exact or ending:
            return exact + ending
        near = [known for known in self._beginning(word[0]) if abs(len(known) - len(word)) <= 2]
        return [_Answer(known, _SPELLING_CREDIT) for known in closest_words(word, near, _LEAST_LIKE_A_SPELLING)]

    def _ending_with(self, word: str) -> list[str]:
        """Return the known words that end with a word, as strawberry does with berry."""
        turned = word[::-1]
        at = bisect_left(self._turned, turned)
        found = []
        while at < len(self._turned) and self._turned[at].startswith(turned):
            found.append(self._turned[at][::-1])
            at += 1
        return found

    def _beginning(self, letter: str) -> list[str]:
        return self._vocabulary[bisect_left(self._vocabulary, letter) : bisect_left(self._vocabulary, letter + "{")]


def strength_in(phrase: str) -> float | None:
    """Return the % that a phrase states, the middle of a range; None where it states none.

    >>> strength_in("Cocoa powder 10–12 %")
    11.0
    """
    match = _STRENGTH.search(phrase[:_LONGEST_PHRASE])
    if match is None:
        return None
    low = float(match["low"].replace(",", "."))
    high = float(match["high"].replace(",", ".")) if match["high"] else low
    return (low + high) / 2


@dataclass(frozen=True, slots=True)
class SearchIndex:
    """What reading a recipe needs of a shelf: its names, and measures and kind by slug."""

    names: IngredientIndex
    measures: Mapping[str, Measures]
    kinds: Mapping[str, str]


@cache
def search_index() -> SearchIndex:
    """Return what finding and reading needs of the ingredients that ship."""
    return SearchIndex(
        IngredientIndex({slug: (entry.ingredient.name, *entry.also) for slug, entry in catalogue().items()}),
        {slug: ingredient.measures for slug, ingredient in ingredients().items()},
        {slug: ingredient.kind for slug, ingredient in ingredients().items()},
    )
