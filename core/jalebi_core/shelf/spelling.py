"""Misspelled words: which known ones may have been meant."""

from __future__ import annotations

from collections.abc import Sequence


def closest_words(word: str, known: Sequence[str], least_likeness: float) -> list[str]:
    """Return up to two known words that a misspelling may have meant; likeness goes from 0 to 100.

    Likeness is 100 less the share of letters put in or taken out (indel distance).
    """
    from rapidfuzz import fuzz, process

    found = process.extract(word, known, scorer=fuzz.ratio, limit=2, score_cutoff=least_likeness)
    return [name for name, _, _ in found]
