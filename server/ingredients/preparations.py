"""Preparations on the shelf: made of other ingredients, used like them, made anew when what is in them changes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from api.problems import ConflictError
from ingredients.locking import changes_shelf
from ingredients.models import Ingredient as IngredientRow
from ingredients.models import IngredientVersion, by_slug
from ingredients.schemas import Preparation, PrepLine
from ingredients.shelf_cache import ingredients_of
from ingredients.versions import free_slug, version_now
from jalebi_core.assessment.flavour import together
from jalebi_core.model.components import FloatArray
from jalebi_core.model.errors import AmountError, JalebiError, PreparationError
from jalebi_core.model.ingredient import ANIMAL, Facts, Flavouring, Ingredient, Keeps
from jalebi_core.model.label_facts import OnLabel
from jalebi_core.production.cost import line_cost
from jalebi_core.production.preparation import HEATING, Part, Prepared, Step, prepare
from jalebi_core.quantities.amounts import Spoons, read_amount
from jalebi_core.regulation.allergens import allergens_together
from jalebi_core.regulation.cautions import cautions_together, traces_together
from jalebi_core.regulation.preparation_label import Used, preparation_nutrients, preparation_on_label
from jalebi_core.shelf.catalogue import find_among
from kitchens.models import Kitchen, Person, spoons_of

KIND: Final = "preparation"
_NOT_SAID_KEEPS_DAYS: Final = 3
_LONGEST_REASON: Final = 200
_WRITTEN: Final = (
    "name",
    "basis",
    "allergens",
    "may_hold",
    "composition",
    "facts",
    "price",
    "nutrients",
    "on_label",
    "version",
)


@dataclass(frozen=True, slots=True)
class PreparationResult:
    """A preparation as made, with what its ingredients bring beside their composition."""

    made: Prepared
    grams: tuple[float, ...]
    brought: tuple[FloatArray, ...]
    assumed: tuple[str, ...]
    allergens: tuple[str, ...] | None
    may_hold: tuple[str, ...]
    cost: float | None
    keeps_days: int
    measured: bool
    flavourings: tuple[Flavouring, ...]
    animal: str | None
    disclosed: bool
    cautions: tuple[str, ...]
    traces_mg: Mapping[str, float]
    nutrients: Mapping[str, float]
    on_label: OnLabel


def work_out(preparation: Preparation, ingredient: Mapping[str, Ingredient], spoons: Spoons) -> PreparationResult:
    """Make a preparation; raises JalebiError naming the line or step that cannot be."""
    parts, assumed = [], []
    used = []
    for number, line in enumerate(preparation.lines, start=1):
        item = find_among(ingredient, line.ingredient)
        part, message = _part(number, line, item, spoons)
        parts.append(part)
        used.append(item)
        if message:
            assumed.append(f"{item.name}: {message}")
    steps = [Step.from_dict(step.model_dump(exclude_none=True)) for step in preparation.steps]
    made = prepare(preparation.name, parts, steps)
    held = allergens_together(used)
    amounts = [(item, part.grams) for item, part in zip(used, parts, strict=True)]
    costs = [line_cost(item, part.grams) for item, part in zip(used, parts, strict=True)]
    stays = [item for item, part in zip(used, parts, strict=True) if not part.steeped]
    entered = [Used(item, part.grams, part.steeped) for item, part in zip(used, parts, strict=True)]
    days = [item.facts.keeps.days if item.facts.keeps else _NOT_SAID_KEEPS_DAYS for item in stays]
    return PreparationResult(
        made,
        tuple(part.grams for part in parts),
        tuple(part.composition.row * part.grams / 100 for part in parts),
        tuple(assumed),
        None if held.not_stated else held.contains,
        held.may_hold,
        None if None in costs else round(sum(cost for cost in costs if cost is not None), 4),
        min(days) if preparation.keeps_days is None else preparation.keeps_days,
        any(step.measured_g is not None or step.kind == "brix" for step in steps),
        together(amounts, made.yield_g),
        next((origin for origin in ANIMAL if any(item.facts.animal == origin for item in used)), None),
        all(item.facts.sure != "undisclosed" for item in used),
        cautions_together(used, heated=any(step.kind in HEATING for step in steps)),
        traces_together(amounts, made.yield_g),
        preparation_nutrients(entered, made.states[0], made.states[-1], made.yield_g),
        preparation_on_label(preparation.name, entered, made.states[0], made.states[-1]),
    )


def _part(number: int, line: PrepLine, item: Ingredient, spoons: Spoons) -> tuple[Part, str | None]:
    if not line.unit.isprintable():
        raise PreparationError("unit-hidden-characters", number=number, name=item.name)
    try:
        amount = read_amount(line.typed, line.unit, item.measures.in_form(line.form), spoons)
    except AmountError as error:
        raise PreparationError(
            "preparation-line-refused", number=number, name=item.name, reason=error.message
        ) from None
    return Part(item.composition, amount.grams, line.steeped), amount.assumed


@changes_shelf
def add_preparation(person: Person, preparation: Preparation) -> IngredientRow:
    """Put a new preparation on the shelf."""
    kitchen = person.kitchen
    row = IngredientRow(kitchen=kitchen, slug=free_slug(kitchen, preparation.name), kind=KIND)
    _fill(row, preparation, ingredients_of(kitchen), spoons_of(kitchen))
    row.save()
    return row


@changes_shelf
def change_preparation(person: Person, slug: str, version: int, preparation: Preparation) -> IngredientRow:
    """Change a preparation from the version that was looked at, and all that is made with it.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    ConflictError : somebody changed it first
    PreparationError : it is bought, would contain itself, or something made with it could no longer be made
    """
    row = by_slug(IngredientRow.objects.of(person.kitchen), slug)
    if row.version != version:
        raise ConflictError("Somebody else changed this preparation meanwhile. Look at it again.", version=row.version)
    if row.made_from is None:
        raise PreparationError("preparation-is-bought", name=row.name)
    _refuse_itself(row.kitchen, row.slug, preparation)
    version_now(person, row, "made otherwise").save()
    _fill(row, preparation, ingredients_of(row.kitchen), spoons_of(row.kitchen))
    row.version += 1
    row.save()
    remake_after(row.kitchen, [row.slug], person)
    return row


def _fill(row: IngredientRow, preparation: Preparation, ingredient: Mapping[str, Ingredient], spoons: Spoons) -> None:
    result = work_out(preparation, ingredient, spoons)
    facts = Facts(
        sure="undisclosed" if not result.disclosed else "measured" if result.measured else "typical",
        animal=result.animal,
        pack_g=round(result.made.yield_g, 2),
        keeps=Keeps(result.keeps_days, "fridge"),
        warnings=result.made.cautions,
        flavourings=result.flavourings,
        cautions=result.cautions,
        traces_mg=result.traces_mg,
    )
    row.name = preparation.name
    row.basis = " ".join(("made here.", *map(str, result.made.messages)))
    row.allergens = None if result.allergens is None else list(result.allergens)
    row.may_hold = list(result.may_hold)
    row.composition = {**result.made.composition.as_dict(), "pieces": {"batch": round(result.made.yield_g, 2)}}
    row.facts = facts.as_dict()
    row.price = result.cost
    row.nutrients = dict(result.nutrients)
    row.on_label = result.on_label.as_data()
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
            raise PreparationError("preparation-contains-itself", name=preparation.name, way=" → ".join(way))
        waiting.extend((inner, [*way, inner]) for inner in made.get(used, ()) if inner not in way)


def _made_from(kitchen: Kitchen) -> dict[str, list[str]]:
    """Return what each preparation of a kitchen is made from, by slug."""
    rows = IngredientRow.objects.of(kitchen).filter(made_from__isnull=False).values_list("slug", "made_from")
    return {slug: [line["ingredient"] for line in made["lines"]] for slug, made in rows if made}


def remake_after(kitchen: Kitchen, slugs: Iterable[str], person: Person | None = None) -> None:
    """Make anew everything that is made with some ingredients, those first that others are made with.

    What each was before is kept as a version.

    Raises
    ------
    PreparationError : something made with it can no longer be made; nothing is changed then
    """
    order = _in_order(_made_from(kitchen), set(slugs))
    if not order:
        return
    rows = {row.slug: row for row in IngredientRow.objects.of(kitchen)}
    names = ", ".join(rows[slug].name for slug in slugs)
    IngredientVersion.objects.bulk_create(
        version_now(person, rows[key], f"made anew: {names} changed"[:_LONGEST_REASON]) for key in order
    )
    shelf = {key: row.to_core() for key, row in rows.items()}
    for key in order:
        row = rows[key]
        try:
            _fill(row, Preparation.model_validate(row.made_from), shelf, spoons_of(kitchen))
        except JalebiError as error:
            raise PreparationError("dependent-preparation-breaks", name=row.name, reason=error.message) from None
        row.version += 1
        shelf[key] = row.to_core()
    IngredientRow.objects.of(kitchen).bulk_update([rows[key] for key in order], _WRITTEN)


def preparations_holding(kitchen: Kitchen, slug: str) -> list[IngredientRow]:
    """Return the preparations that hold an ingredient at any depth, each after all that it holds."""
    order = _in_order(_made_from(kitchen), {slug})
    rows = {row.slug: row for row in IngredientRow.objects.of(kitchen).filter(slug__in=order)}
    return [rows[key] for key in order]


def complete_preparations(kitchen: Kitchen) -> None:
    """Give label facts to the preparations that were made before those were kept."""
    without = IngredientRow.objects.of(kitchen).filter(made_from__isnull=False, on_label=None)
    slugs = set(without.values_list("slug", flat=True))
    if slugs:
        inside = {part for slug in slugs for part in _made_from(kitchen)[slug]}
        remake_after(kitchen, inside)


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
            raise PreparationError("preparations-in-circle")
        order += ready
        waiting -= set(ready)
    return order


def replace_in_preparations(person: Person, gone: IngredientRow, kept: IngredientRow) -> None:
    """Put one ingredient in the place of another in all preparations, and make them anew.

    Raises
    ------
    PreparationError : it is made with the one that goes, or a preparation could not be made with it
    """
    kitchen = person.kitchen
    if gone.slug in _made_with(_made_from(kitchen), kept.slug):
        raise PreparationError("preparation-contains-itself", name=kept.name, way=f"{kept.slug} → {gone.slug}")
    holding = IngredientRow.objects.of(kitchen).filter(made_from__lines__contains=[{"ingredient": gone.slug}])
    changed = []
    for row in holding:
        made = Preparation.model_validate(row.made_from)
        lines = [
            line.model_copy(update={"ingredient": kept.slug}) if line.ingredient == gone.slug else line
            for line in made.lines
        ]
        row.made_from = made.model_copy(update={"lines": lines}).model_dump(mode="json")
        changed.append(row)
    IngredientRow.objects.of(kitchen).bulk_update(changed, ["made_from"])
    remake_after(kitchen, [kept.slug], person)


def _made_with(made: Mapping[str, list[str]], slug: str) -> set[str]:
    """Return all that a preparation is made with, at any depth."""
    found, waiting = set[str](), [slug]
    while waiting:
        inner = [part for part in made.get(waiting.pop(), ()) if part not in found]
        found.update(inner)
        waiting.extend(inner)
    return found
