"""Serving blind: three-digit codes that do not look alike, and orders in which each cup stands everywhere equally."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from math import ceil
from random import Random
from typing import Final

from jalebi_core.model.errors import TastingError
from jalebi_core.wording.message import Message

CUPS_A_SITTING: Final = 6
MOST_TASTERS: Final = 200
OPEN_CUP: Final = "R"
"""What the first cup of a duo-trio is called: everybody knows it, it needs no code."""

_EMERGENCY: Final = "911"
_ORDERS: Final = {
    "triangle": ("AAB", "ABA", "BAA", "BBA", "BAB", "ABB"),
    "tetrad": ("AABB", "ABAB", "ABBA", "BAAB", "BABA", "BBAA"),
    "duo-trio": ("AAB", "ABA", "BBA", "BAB"),
    "3-afc": ("AAB", "ABA", "BAA"),
    "2-afc": ("AB", "BA"),
    "preference": ("AB", "BA"),
}
"""Of the kinds that compare two: in which orders, A the first variant and B the second."""

_TWICE: Final = {"triangle": "AB", "tetrad": "AB", "3-afc": "A"}
"""Which of the two stand twice in a set, and so have two codes."""
_ANEW: Final = ("triangle",)
"""Of which a set shows some of the codes only: seen in two sets, they would tell which two belong together. They have
other codes each time that a taster comes back."""


@dataclass(frozen=True, slots=True)
class Serving:
    """A set of cups for a taster: the variants and their codes, from left to right."""

    taster: str
    replicate: int
    variants: tuple[str, ...]
    cups: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Design:
    """Who gets which cups in which order; servings are counted round by round, all tasters before any comes twice."""

    codes: dict[str, tuple[str, ...]]
    servings: tuple[Serving, ...]
    cups_a_taster: int
    sittings: int
    warnings: tuple[Message, ...]


def design(
    kind: str, keys: Sequence[str], tasters: Sequence[str], replicates: int, seed: int, *, twins_in_order: bool = False
) -> Design:
    """Return the design of a test; the same seed gives the same one.

    Raises TastingError for too many tasters.

    Parameters
    ----------
    twins_in_order : as tests were served that were begun before December 2026: of two cups of one variant the same one
        always stood first, which told them apart, and of odd counts one might stand twice in a place
    """
    if len(tasters) > MOST_TASTERS:
        raise TastingError("too-many-tasters", count=len(tasters), most=MOST_TASTERS)
    random = Random(seed)
    twice = {keys["AB".index(letter)] for letter in _TWICE.get(kind, "")}
    sets_of_codes = replicates if kind in _ANEW and not twins_in_order else 1
    codes = _codes({key: sets_of_codes * (2 if key in twice else 1) for key in keys}, random)
    rounds = [(taster, replicate) for replicate in range(1, replicates + 1) for taster in tasters]
    if kind == "pairs":
        sets = _paired(keys, rounds, random)
    else:
        orders = (
            _two_orders(kind, keys, len(rounds), random)
            if kind in _ORDERS
            else _squares(keys, len(rounds), random, halves=not twins_in_order)
        )
        sets = [(*who, order) for who, order in zip(rounds, orders, strict=True)]
    shuffling = None if twins_in_order else Random(f"twins {seed}")
    servings = tuple(_serving(kind, _codes_of(codes, one[1], sets_of_codes, shuffling), *one) for one in sets)
    cups = sum(len(one.cups) for one in servings) // max(1, len(tasters))
    sittings = ceil(cups / CUPS_A_SITTING)
    warnings = (
        (Message("many-cups", {"cups": cups, "most": CUPS_A_SITTING, "sittings": sittings}),) if sittings > 1 else ()
    )
    return Design(codes, servings, cups, sittings, warnings)


def _codes_of(
    codes: dict[str, tuple[str, ...]], replicate: int, sets_of_codes: int, shuffling: Random | None
) -> dict[str, tuple[str, ...]]:
    """Return the codes of one set of cups, twins in an order of their own."""
    found = {}
    for key, own in codes.items():
        each = len(own) // sets_of_codes
        at = each * ((replicate - 1) % sets_of_codes)
        of_set = own[at : at + each]
        found[key] = of_set if shuffling is None else tuple(shuffling.sample(of_set, each))
    return found


def _serving(
    kind: str, codes: dict[str, tuple[str, ...]], taster: str, replicate: int, order: Sequence[str]
) -> Serving:
    met: dict[str, int] = {}
    cups = []
    for at, key in enumerate(order):
        if kind == "duo-trio" and at == 0:
            cups.append(OPEN_CUP)
            continue
        own = codes[key]
        cups.append(own[met.get(key, 0) % len(own)])
        met[key] = met.get(key, 0) + 1
    return Serving(taster, replicate, tuple(order), tuple(cups))


def _two_orders(kind: str, keys: Sequence[str], count: int, random: Random) -> list[tuple[str, ...]]:
    """Return so many orders of two variants, each as often as any other or once more."""
    named = [tuple(keys["AB".index(letter)] for letter in order) for order in _ORDERS[kind]]
    found: list[tuple[str, ...]] = []
    while len(found) < count:
        found += random.sample(named, len(named))
    return found[:count]


def _squares(keys: Sequence[str], count: int, random: Random, *, halves: bool) -> list[tuple[str, ...]]:
    """Return so many rows of Williams squares, whole squares first, names and rows shuffled in each.

    halves : whether the two squares of an odd count come one after the other, so that each name stands once in each
        place before any stands there twice
    """
    found: list[tuple[str, ...]] = []
    while len(found) < count:
        names = random.sample(list(keys), len(keys))
        rows = williams(len(keys))
        size = len(keys) if halves else len(rows)
        for square in (rows[at : at + size] for at in range(0, len(rows), size)):
            found += [tuple(names[at] for at in row) for row in random.sample(square, len(square))]
    return found[:count]


def williams(count: int) -> list[tuple[int, ...]]:
    """Return the orders in which each of so many stands in each place, and after each other one, equally often."""
    first = [0, *(at for pair in zip(range(1, count), range(count - 1, 0, -1), strict=True) for at in pair)][:count]
    rows = [tuple((at + by) % count for at in first) for by in range(count)]
    return rows if count % 2 == 0 else rows + [row[::-1] for row in rows]


def _paired(
    keys: Sequence[str], rounds: Sequence[tuple[str, int]], random: Random
) -> list[tuple[str, int, tuple[str, ...]]]:
    """Return every pair once for each serving, in shuffled order; who is first alternates."""
    pairs = list(combinations(keys, 2))
    turned = {pair: at % 2 for at, pair in enumerate(pairs)}
    found: list[tuple[str, int, tuple[str, ...]]] = []
    for at, (taster, replicate) in enumerate(rounds):
        for pair in random.sample(pairs, len(pairs)):
            found.append((taster, replicate, pair[::-1] if (at + turned[pair]) % 2 else pair))
    return found


def _codes(counts: dict[str, int], random: Random) -> dict[str, tuple[str, ...]]:
    """Return codes of three different digits, not 0 first, no run, any two of them different in two places."""
    usable = [code for code in map(str, range(100, 1000)) if _is_plain(code)]
    random.shuffle(usable)
    wanted = sum(counts.values())
    taken: list[str] = []
    for code in usable:
        if len(taken) == wanted:
            break
        if all(sum(a != b for a, b in zip(code, other, strict=True)) >= 2 for other in taken):
            taken.append(code)
    free = iter(taken)
    return {key: tuple(next(free) for _ in range(count)) for key, count in counts.items()}


def _is_plain(code: str) -> bool:
    first, second, third = map(int, code)
    run = second - first == third - second and abs(second - first) == 1
    return len(set(code)) == 3 and not run and code != _EMERGENCY
