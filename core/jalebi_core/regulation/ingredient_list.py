"""The list of ingredients of a label: order, additive classes, quantities, allergens set off, parts of compounds."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import groupby
from typing import Final

from jalebi_core.model.components import INDEX
from jalebi_core.model.composition import components_of
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.label_facts import LabelPart
from jalebi_core.regulation.allergens import in_order
from jalebi_core.regulation.rounding import rounded

_NUTS: Final = (
    "hazelnuts", "almonds", "walnuts", "cashews", "pecans", "pistachios", "macadamias", "brazil nuts",
)  # fmt: skip
_WORDS: Final[Mapping[str, tuple[str, ...]]] = {
    "milk": ("milk",),
    "egg": ("egg",),
    "wheat": ("wheat", "spelt"),
    "gluten": ("barley", "rye", "oats", "oat"),
    "nuts": (*(word for nut in _NUTS for word in (nut, nut[:-1])), "nuts", "nut"),
    "peanuts": ("peanuts", "peanut"),
    "sesame": ("sesame",),
    "soy": ("soya", "soy"),
    "sulphites": ("sulphites", "sulphur dioxide"),
    "fish": ("fish",),
    "crustaceans": ("crustaceans",),
    "molluscs": ("molluscs",),
    "celery": ("celery",),
    "mustard": ("mustard",),
    "lupin": ("lupin",),
}  # fmt: skip
"""Words in a name that tell an allergen; the first is what it is called where a name tells nothing."""
_CALLED: Final = {"nuts": "nuts"}
_WATER_LEFT_OUT_PCT: Final = 5.0
_PURE_PCT: Final = 99.99


@dataclass(frozen=True, slots=True)
class Listed:
    """An entry: its label name, g put in, % of the finished food, additive class, quantity, allergens and text."""

    name: str
    grams: float
    share_pct: float
    additive_class: str | None
    quid: str | None
    allergens: tuple[str, ...]
    text: str


@dataclass(frozen=True, slots=True)
class _Entry:
    name: str
    additive_class: str | None
    grams: float
    allergens: tuple[str, ...]
    words: Mapping[str, str]
    parts: tuple[LabelPart, ...]
    is_water: bool


def ingredient_list(
    lines: Sequence[tuple[Ingredient, float]], finished_g: float, region: str, quid: Sequence[str] = ()
) -> tuple[str, tuple[Listed, ...]]:
    """Return the list as text and its entries, heaviest first by what was put in.

    Parameters
    ----------
    lines : what was put in, g each
    finished_g : what it weighs in the end; what is missing has boiled off as water
    region : eu, uk or us
    quid : label names that are named or pictured, in any case
    """
    boiled_g = sum(grams for _, grams in lines) - finished_g
    entries = _joined([entry for one, grams in lines if grams > 0 for entry in _entries(one, grams, region)])
    weighed = [replace(one, grams=max(one.grams - boiled_g, 0.0)) if one.is_water else one for one in entries]
    kept = [one for one in weighed if one.grams > 0 and not (region != "us" and _is_little_water(one, finished_g))]
    kept.sort(key=lambda one: -one.grams)
    wanted = {name.casefold() for name in quid}
    listed = tuple(_listed(one, finished_g, region, wanted) for one in kept)
    return _text_of(listed, region), listed


def label_name(ingredient: Ingredient, region: str) -> str:
    """Return what an ingredient is called on the labels of a region."""
    return ingredient.on_label.name_in(region) or ingredient.name


def word_for(allergen: str, words: Mapping[str, str]) -> str:
    """Return what an allergen is called: as the ingredient names it, or its usual word."""
    return words.get(allergen) or _CALLED.get(allergen) or _WORDS[allergen][0]


def _entries(one: Ingredient, grams: float, region: str) -> list[_Entry]:
    facts = one.on_label
    allergens = _without_implied(one.allergens)
    if facts.spread and facts.parts:
        return [
            _Entry(
                part.name_in(region),
                part.additive_class,
                grams * part.pct / 100,
                in_order(part.allergens or _named_in(part.name, allergens, facts.allergen_words)),
                facts.allergen_words,
                (),
                is_water=False,
            )
            for part in facts.parts
        ]
    parts = components_of(one.row)
    is_water = float(parts[INDEX["water"]]) >= _PURE_PCT
    return [
        _Entry(
            label_name(one, region), facts.additive_class, grams, allergens, facts.allergen_words, facts.parts, is_water
        )
    ]


def _without_implied(allergens: Sequence[str]) -> tuple[str, ...]:
    """Return allergens without the gluten that wheat names."""
    return tuple(one for one in allergens if one != "gluten" or "wheat" not in allergens)


def _joined(entries: Sequence[_Entry]) -> list[_Entry]:
    """Return entries of one name and class as one."""
    found: dict[tuple[str, str | None], _Entry] = {}
    for one in entries:
        key = (one.name.casefold(), one.additive_class)
        before = found.get(key)
        if before is None:
            found[key] = one
        else:
            together = in_order((*before.allergens, *one.allergens))
            words = {**one.words, **before.words}
            found[key] = replace(before, grams=before.grams + one.grams, allergens=together, words=words)
    return list(found.values())


def _is_little_water(one: _Entry, finished_g: float) -> bool:
    return one.is_water and 100 * one.grams / finished_g <= _WATER_LEFT_OUT_PCT


def _listed(one: _Entry, finished_g: float, region: str, wanted: set[str]) -> Listed:
    share = 100 * one.grams / finished_g
    quid = _quantity(share) if region != "us" and one.name.casefold() in wanted else None
    text = _us_text(one) if region == "us" else _eu_text(one, quid)
    return Listed(one.name, one.grams, share, one.additive_class, quid, one.allergens, text)


def _quantity(share_pct: float) -> str:
    if share_pct >= 5:
        return f"{rounded(share_pct, '1'):f}%"
    nearest = rounded(share_pct, "0.5")
    return "<0.5%" if nearest == 0 else f"{nearest.normalize():f}%"


def _us_text(one: _Entry) -> str:
    return f"{one.name} ({', '.join(part.name_in('us') for part in one.parts)})" if one.parts else one.name


def _eu_text(one: _Entry, quid: str | None) -> str:
    """Return an entry with its quantity behind its name, then its parts, each allergen set off once at least."""
    name, told = _set_off(one.name, one.allergens, one.words)
    text = name if quid is None else f"{name} ({quid})"
    untold = [allergen for allergen in one.allergens if allergen not in told]
    if not one.parts:
        called = ", ".join(f"**{word_for(allergen, one.words)}**" for allergen in untold)
        return f"{text} ({called})" if untold else text
    parts, told_inside = [], set[str]()
    for part in one.parts:
        inner, told = _set_off(part.name, in_order((*one.allergens, *part.allergens)), one.words)
        told_inside |= told
        own = [f"**{word_for(allergen, one.words)}**" for allergen in part.allergens if allergen not in told]
        told_inside |= set(part.allergens)
        inner = f"{inner} ({', '.join(own)})" if own else inner
        parts.append(f"{part.additive_class} ({inner})" if part.additive_class else inner)
    rest = [allergen for allergen in untold if allergen not in told_inside]
    ending = f", contains {', '.join(f'**{word_for(one_, one.words)}**' for one_ in rest)}" if rest else ""
    return f"{text} ({', '.join(parts)}{ending})"


def _candidates(allergen: str, words: Mapping[str, str]) -> list[str]:
    own = words.get(allergen)
    mine = [own, own.removesuffix("s")] if own else []
    return sorted({*mine, *_WORDS.get(allergen, ())}, key=len, reverse=True)


def nuts_named_by(one: Ingredient) -> list[str]:
    """Return which nuts the names of ingredients and of their parts tell."""
    names = [one.name, label_name(one, "eu"), label_name(one, "us"), *(part.name for part in one.on_label.parts)]
    low = " ".join(names).casefold()
    return [nut for nut in _NUTS if nut[:-1] in low]


def _named_in(name: str, allergens: Sequence[str], words: Mapping[str, str]) -> tuple[str, ...]:
    low = name.casefold()
    return tuple(one for one in allergens if any(word.casefold() in low for word in _candidates(one, words)))


def _set_off(name: str, allergens: Sequence[str], words: Mapping[str, str]) -> tuple[str, set[str]]:
    """Return a name with the words of allergens between asterisks, and which allergens that tells."""
    told = set()
    for allergen in allergens:
        for word in _candidates(allergen, words):
            found = re.search(re.escape(word), name, re.IGNORECASE)
            if found:
                begins, ends = found.span()
                if "**" not in name[max(0, begins - 2) : begins]:
                    name = f"{name[:begins]}**{name[begins:ends]}**{name[ends:]}"
                told.add(allergen)
                break
    return name, told


def _text_of(listed: Sequence[Listed], region: str) -> str:
    if region == "us":
        return ", ".join(one.text for one in listed)
    groups = []
    for additive_class, members in groupby(listed, key=lambda one: one.additive_class):
        texts = [one.text for one in members]
        if additive_class is None:
            groups.extend(texts)
        else:
            plural = "s" if len(texts) > 1 else ""
            groups.append(f"{additive_class}{plural} ({', '.join(texts)})")
    return ", ".join(groups)
