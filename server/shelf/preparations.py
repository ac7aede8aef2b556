"""Preparations on the shelf: made of other goods, used like goods, made anew when what is in them changes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from django.db import transaction

from jalebi.problems import ConflictError
from jalebi_core.allergens import ALLERGENS
from jalebi_core.amounts import Spoons, read_amount
from jalebi_core.errors import AmountError, JalebiError, PreparationError
from jalebi_core.flavour import together
from jalebi_core.goods import Facts, Flavouring, Goods, Keeps
from jalebi_core.preparation import Made, Part, Step, prepare
from jalebi_core.shelf import find_among
from kitchens.models import Kitchen, Person, spoons_of

from .kept import goods_of
from .models import Ingredient, by_slug
from .schemas import Preparation, PreparationToSave, PrepLine
from .versions import free_slug, version_now

KIND: Final = "preparation"
_NOT_SAID_KEEPS_DAYS: Final = 3


@dataclass(frozen=True, slots=True)
class Prepared:
    """A preparation as made, with what its goods bring beside their composition."""

    made: Made
    grams: tuple[float, ...]
    assumed: tuple[str, ...]
    allergens: tuple[str, ...] | None
    cost: float | None
    keeps_days: int
    measured: bool
    flavourings: tuple[Flavouring, ...]


def prepared(preparation: Preparation, goods: Mapping[str, Goods], spoons: Spoons) -> Prepared:
    """Make a preparation; raises JalebiError naming the line or step that cannot be."""
    parts, assumed, cost = [], [], 0.0
    used = []
    for number, line in enumerate(preparation.lines, start=1):
        item = find_among(goods, line.ingredient)
        part, said = _part(number, line, item, spoons)
        parts.append(part)
        used.append(item)
        if said:
            assumed.append(f"{item.composition.name}: {said}")
        cost += (item.price_per_kg or 0) * part.grams / 1000
    steps = [Step.from_dict(step.model_dump(exclude_none=True)) for step in preparation.steps]
    made = prepare(preparation.name, parts, steps)
    stated = all(item.allergens_stated for item in used)
    allergens = tuple(name for name in ALLERGENS if any(name in item.allergens for item in used))
    priced = all(item.price_per_kg is not None for item in used)
    days = [item.facts.keeps.days if item.facts.keeps else _NOT_SAID_KEEPS_DAYS for item in used]
    return Prepared(
        made,
        tuple(part.grams for part in parts),
        tuple(assumed),
        allergens if stated else None,
        round(cost, 4) if priced else None,
        min(days) if preparation.keeps_days is None else preparation.keeps_days,
        any(step.measured_g is not None or step.kind == "brix" for step in steps),
        together([(item, part.grams) for item, part in zip(used, parts, strict=True)], made.yield_g),
    )


def _part(number: int, line: PrepLine, item: Goods, spoons: Spoons) -> tuple[Part, str | None]:
    if not line.unit.isprintable():
        raise PreparationError(
            f"Line {number}, {item.composition.name}: the unit holds characters that cannot be shown."
        )
    try:
        amount = read_amount(line.typed, line.unit, item.measures, spoons)
    except AmountError as error:
        raise PreparationError(f"Line {number}, {item.composition.name}: {error}") from None
    return Part(item.composition, amount.grams, line.steeped), amount.assumed


def add_preparation(person: Person, preparation: Preparation) -> Ingredient:
    """Put a new preparation on the shelf."""
    kitchen = person.kitchen
    row = Ingredient(kitchen=kitchen, slug=free_slug(kitchen, preparation.name), kind=KIND)
    _fill(row, preparation, goods_of(kitchen), spoons_of(kitchen))
    row.save()
    return row


@transaction.atomic
def change_preparation(person: Person, slug: str, change: PreparationToSave) -> Ingredient:
    """Change a preparation and all that is made with it.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    ConflictError : somebody changed it first
    PreparationError : it is bought, would contain itself, or something made with it could no longer be made
    """
    Kitchen.objects.select_for_update().get(pk=person.kitchen_id)  # two changes at once could close a circle
    row = by_slug(Ingredient.objects.of(person.kitchen), slug)
    if row.version != change.version:
        raise ConflictError("Somebody else changed this preparation meanwhile. Look at it again.")
    preparation = Preparation.model_validate(change.model_dump(exclude={"version"}))
    if row.made_from is None:
        raise PreparationError(f"“{row.name}” is bought, not made here.")
    _refuse_itself(row.kitchen, row.slug, preparation)
    version_now(person, row, "made otherwise").save()
    _fill(row, preparation, goods_of(row.kitchen), spoons_of(row.kitchen))
    row.version += 1
    row.save()
    remake_after(row.kitchen, [row.slug])
    return row


def _fill(row: Ingredient, preparation: Preparation, goods: Mapping[str, Goods], spoons: Spoons) -> None:
    result = prepared(preparation, goods, spoons)
    facts = Facts(
        sure="measured" if result.measured else "typical",
        pack_g=round(result.made.yield_g, 2),
        keeps=Keeps(result.keeps_days, "fridge"),
        warnings=result.made.cautions,
        flavourings=result.flavourings,
    )
    row.name = preparation.name
    row.basis = " ".join(("made here.", *result.made.said))
    row.allergens = None if result.allergens is None else list(result.allergens)
    row.composition = {**result.made.ingredient.as_dict(), "pieces": {"batch": round(result.made.yield_g, 2)}}
    row.facts = facts.as_dict()
    row.price = result.cost
    row.made_from = with_grams(preparation, result.grams).model_dump(mode="json")


def with_grams(preparation: Preparation, grams: Sequence[float]) -> Preparation:
    """Return a preparation whose lines say what they weigh beside what was typed."""
    lines = [line.model_copy(update={"grams": weighs}) for line, weighs in zip(preparation.lines, grams, strict=True)]
    return preparation.model_copy(update={"lines": lines})


def _refuse_itself(kitchen: Kitchen, slug: str, preparation: Preparation) -> None:
    made = _made_from(kitchen)
    waiting = [(line.ingredient, [line.ingredient]) for line in preparation.lines]
    while waiting:
        used, way = waiting.pop()
        if used == slug:
            raise PreparationError(f"“{preparation.name}” would contain itself, by way of {' → '.join(way)}.")
        waiting.extend((inner, [*way, inner]) for inner in made.get(used, ()) if inner not in way)


def _made_from(kitchen: Kitchen) -> dict[str, list[str]]:
    """Return what each preparation of a kitchen is made from, by slug."""
    rows = Ingredient.objects.of(kitchen).filter(made_from__isnull=False).values_list("slug", "made_from")
    return {slug: [line["ingredient"] for line in made["lines"]] for slug, made in rows}


def remake_after(kitchen: Kitchen, slugs: Iterable[str]) -> None:
    """Make anew everything that is made with some ingredients, those first that others are made with.

    Raises
    ------
    PreparationError : something made with it can no longer be made; nothing is changed then
    """
    made = _made_from(kitchen)
    order = _in_order(made, set(slugs))
    if not order:
        return
    rows = {row.slug: row for row in Ingredient.objects.of(kitchen)}
    goods: dict[str, Goods] = {key: row.to_goods() for key, row in rows.items()}
    for key in order:
        row = rows[key]
        try:
            _fill(row, Preparation.model_validate(row.made_from), goods, spoons_of(kitchen))
        except JalebiError as error:
            raise PreparationError(f"“{row.name}” is made with it and could no longer be made: {error}") from None
        goods[key] = row.to_goods()
    Ingredient.objects.bulk_update(
        [rows[key] for key in order], ["name", "basis", "allergens", "composition", "facts", "price"]
    )


def _in_order(made: Mapping[str, list[str]], slugs: set[str]) -> list[str]:
    """Return the preparations that hold one of the ingredients at any depth, each after all that it holds."""
    touched = set(slugs)
    grown = True
    while grown:
        more = {key for key, parts in made.items() if touched & set(parts)} - touched
        touched |= more
        grown = bool(more)
    waiting, order = touched - slugs, []
    while waiting:
        ready = sorted(key for key in waiting if not waiting & set(made[key]))
        if not ready:
            raise PreparationError("preparations contain each other in a circle.")
        order += ready
        waiting -= set(ready)
    return order
