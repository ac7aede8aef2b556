"""Blind servings: whoever knows all that a guest's page is sent, and tastes nothing, does no better than chance."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Callable, Sequence
from itertools import combinations
from math import sqrt
from random import Random

import pytest

from jalebi_core.tasting.serving import OPEN_CUP, Serving, design

DESIGNS = 2000 if os.environ.get("JALEBI_THOROUGH") == "1" else 600
REPLICATES = 4
Picked = tuple[str, ...]
Guess = Callable[[str, Sequence[Sequence[str]]], list[Picked]]
"""From the kind and the codes of all of one's own sets, from left to right: what is picked of each."""


def sizes(kind: str) -> int:
    """How many cups are picked: one, or the two of a pair."""
    return 2 if kind == "tetrad" else 1


def first_cups(kind: str, sets: Sequence[Sequence[str]]) -> list[Picked]:
    return [tuple([code for code in cups if code != OPEN_CUP][: sizes(kind)]) for cups in sets]


def rarest_codes(kind: str, sets: Sequence[Sequence[str]]) -> list[Picked]:
    """Pick what was seen least over all sets: what stands alone has fewer codes than what stands twice."""
    seen = Counter(code for cups in sets for code in cups)
    return [
        tuple(sorted((code for code in cups if code != OPEN_CUP), key=lambda code: (seen[code], code))[: sizes(kind)])
        for cups in sets
    ]


def smallest_codes(kind: str, sets: Sequence[Sequence[str]]) -> list[Picked]:
    return [tuple(sorted(code for code in cups if code != OPEN_CUP)[: sizes(kind)]) for cups in sets]


def never_together(kind: str, sets: Sequence[Sequence[str]]) -> list[Picked]:
    """Pick what stood beside the others least: two of one variant stand together whenever that is doubled."""
    together = Counter(frozenset(pair) for cups in sets for pair in combinations(cups, 2))

    def closeness(code: str, cups: Sequence[str]) -> int:
        return max(together[frozenset((code, other))] for other in cups if other != code)

    return [
        tuple(
            sorted((code for code in cups if code != OPEN_CUP), key=lambda code: (closeness(code, cups), code))[
                : sizes(kind)
            ]
        )
        for cups in sets
    ]


def is_right(kind: str, serving: Serving, picked: Picked) -> bool:
    variant = dict(zip(serving.cups, serving.variants, strict=True))
    of_picked = [variant[code] for code in picked]
    counted = Counter(serving.variants)
    if kind == "tetrad":
        return of_picked[0] == of_picked[1]
    if kind == "duo-trio":
        return of_picked[0] == serving.variants[0]
    return counted[of_picked[0]] == 1


CHANCE = {"triangle": 1 / 3, "3-afc": 1 / 3, "duo-trio": 1 / 2, "tetrad": 1 / 3}


GUESSES: tuple[Guess, ...] = (first_cups, rarest_codes, smallest_codes, never_together)


@pytest.mark.parametrize("kind", list(CHANCE))
def test_a_guest_who_tastes_nothing_is_right_by_chance(kind: str) -> None:
    chance, total = CHANCE[kind], DESIGNS * REPLICATES
    right = dict.fromkeys(GUESSES, 0)
    for seed in range(DESIGNS):
        found = design(kind, ("A", "B"), ["Ada", "Bo", "Cy"], REPLICATES, seed)
        own = [one for one in found.servings if one.taster == "Bo"]
        assert len(own) == REPLICATES
        for guess in GUESSES:
            picked = guess(kind, [one.cups for one in own])
            right[guess] += sum(is_right(kind, *pair) for pair in zip(own, picked, strict=True))
    for guess, count in right.items():
        assert abs(count / total - chance) < 4 * sqrt(chance * (1 - chance) / total), guess.__name__


def test_which_of_two_is_first_or_which_code_is_smaller_tells_nothing() -> None:
    for kind in ("2-afc", "preference"):
        servings = [design(kind, ("A", "B"), ["Ada"], 1, seed).servings[0] for seed in range(DESIGNS)]
        first = sum(one.variants[0] == "A" for one in servings)
        smaller = sum(one.variants[one.cups.index(min(one.cups))] == "A" for one in servings)
        for count in (first, smaller):
            assert abs(count / DESIGNS - 1 / 2) < 4 * sqrt(0.25 / DESIGNS)


def test_twins_stand_in_either_order_and_in_one_before_that_was_mended() -> None:
    def orders(*, twins_in_order: bool) -> set[bool]:
        found = design("tetrad", ("A", "B"), ["Ada"] * 1, 6, 7, twins_in_order=twins_in_order)
        first, second = found.codes["A"]
        return {one.cups.index(first) < one.cups.index(second) for one in found.servings}

    assert orders(twins_in_order=False) == {True, False}
    assert orders(twins_in_order=True) == {True}


def test_a_triangle_has_other_codes_each_time_a_taster_comes_back() -> None:
    found = design("triangle", ("A", "B"), ["Ada", "Bo"], 6, Random(3).randrange(2**53))
    by_replicate = [
        {code for one in found.servings if one.replicate == number for code in one.cups} for number in range(1, 7)
    ]
    assert all(not one & other for one, other in combinations(by_replicate, 2))
    assert sum(len(codes) for codes in found.codes.values()) == 24
