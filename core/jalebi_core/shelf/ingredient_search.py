"""Finding ingredients by what people call them: names and by-names ranked against a phrase."""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_left
from collections import defaultdict
from collections.abc import Iterable, Mapping
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
    sweet fine coarse frozen thawed drained squeezed rinsed trimmed unwaxed split scraped plump
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


@dataclass(frozen=True, slots=True)
class Match:
    """A slug and how well its best name answers the phrase, 0 to 1."""

    slug: str
    score: float


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


class IngredientIndex:
    """An index of what ingredients are called.

    Parameters
    ----------
    called : names by slug, the main one first
    """

    def __init__(self, called: Mapping[str, Iterable[str]]) -> None:
        self._names: list[tuple[str, frozenset[str], bool]] = []
        self._having: dict[str, list[int]] = defaultdict(list)
        for slug, names in called.items():
            for number, name in enumerate(names):
                words = frozenset(words_of(name))
                for word in words:
                    self._having[word].append(len(self._names))
                self._names.append((slug, words, number == 0))
        self._vocabulary = sorted(self._having)
        self._weight = {word: self._rarity(word) for word in self._vocabulary}
        self._name_weight = [sum(self._weight[word] for word in words) for _, words, _ in self._names]

    def _rarity(self, word: str) -> float:
        rarity = log(1 + len(self._names) / (1 + len(self._having.get(word, ()))))
        return rarity * (_WEIGHT_OF_UNSAYING if word in _UNSAYING else _WEIGHT_OF_NUMBERS if word.isdigit() else 1)

    def ranked(self, phrase: str, limit: int = 8, *, typing: bool = False) -> list[Match]:
        """Rank ingredients against a phrase, best first.

        Parameters
        ----------
        phrase : what somebody calls the thing
        limit : how many to return at the most
        typing : the last word may still be unfinished, so what begins with it answers too
        """
        words = list(dict.fromkeys(words_of(phrase)))[:_MOST_WORDS]
        asked = sum(self._rarity(word) for word in words)
        if not asked:
            return []
        found: dict[int, float] = defaultdict(float)
        for number, word in enumerate(words):
            for known, credit in self._answering(word, typing and number == len(words) - 1):
                for name in self._having[known]:
                    found[name] += credit * min(self._weight[known], self._rarity(word) or self._weight[known])
        best: dict[str, float] = {}
        for name, gained in found.items():
            slug, _, first = self._names[name]
            of_phrase, of_name = min(gained / asked, 1), min(gained / (self._name_weight[name] or 1), 1)
            score = _SHARE_OF_PHRASE * of_phrase + (1 - _SHARE_OF_PHRASE) * of_name + _FIRST_NAME_BONUS * first
            best[slug] = max(best.get(slug, 0), min(score, 1.0))
        order = sorted(best.items(), key=lambda item: (-item[1], item[0]))
        return [Match(slug, score) for slug, score in order[:limit]]

    def _answering(self, word: str, unfinished: bool) -> list[tuple[str, float]]:
        """Return the known words that answer one word, each with its credit."""
        exact = [(word, 1.0)] if word in self._having else []
        if unfinished:
            at = bisect_left(self._vocabulary, word)
            begun = []
            while at < len(self._vocabulary) and self._vocabulary[at].startswith(word):
                begun.append(self._vocabulary[at])
                at += 1
            return exact + [(known, _PREFIX_CREDIT) for known in begun if known != word]
        if exact or len(word) < 4:
            return exact
        near = [known for known in self._beginning(word[0]) if abs(len(known) - len(word)) <= 2]
        return [(known, _SPELLING_CREDIT) for known in closest_words(word, near, _LEAST_LIKE_A_SPELLING)]

    def _beginning(self, letter: str) -> list[str]:
        return self._vocabulary[bisect_left(self._vocabulary, letter) : bisect_left(self._vocabulary, letter + "{")]


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
