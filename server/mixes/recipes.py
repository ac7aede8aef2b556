"""Pasted recipes: what is understood of them, and the mix that is made of one."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from analysis.schemas import DraftLine
from ingredients.locking import lock_shelf
from ingredients.models import Ingredient
from ingredients.preparations import KIND, add_preparation
from ingredients.schemas import Preparation, PrepLine, PrepStep
from ingredients.shelf_cache import ShelfCache, ingredients_of, shelf_of
from jalebi_core.formats.recipe.reading import UnderstoodLine, read_recipe
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import MixError
from jalebi_core.model.styles import checked_stage, checked_style
from jalebi_core.shelf.catalogue import find_among
from kitchens.models import Kitchen, Machine, Person, spoons_of
from mixes.drafts import put_lines
from mixes.models import Mix
from mixes.schemas import Choice, MethodStep, MixFromRecipe, RecipeLineIn, RecipeLineOut, RecipeOut


def serialize_recipe(kitchen: Kitchen, text: str, *, american: bool | None = None) -> RecipeOut:
    """Read a recipe against a kitchen's shelf; raises RecipeError where there is none."""
    shelf = shelf_of(kitchen)
    recipe = read_recipe(text, shelf.words, spoons_of(kitchen), american=american)
    return RecipeOut(
        name=recipe.name,
        style=recipe.style,
        servings=recipe.servings,
        makes=recipe.makes.amount if recipe.makes else None,
        spoons=recipe.spoons,
        doubts=list(recipe.doubts),
        lines=[_line_out(line, shelf) for line in recipe.lines],
        method=[MethodStep(stage=step.stage, text=step.text[:2000]) for step in recipe.steps[:400]],
    )


def _line_out(line: UnderstoodLine, shelf: ShelfCache) -> RecipeLineOut:
    return RecipeLineOut(
        raw=line.line.raw,
        name=line.line.name,
        note=line.line.note,
        choices=[
            Choice(ingredient=match.slug, name=shelf.ingredients[match.slug].name, score=round(match.score, 3))
            for match in line.choices
        ],
        typed=line.typed,
        grams=line.grams,
        assumed=line.assumed,
        form=line.form,
        stage=line.stage,
        reduced_to=line.line.reduced_to,
        optional=line.line.optional,
        doubts=list(line.doubts),
    )


@transaction.atomic
def mix_from_recipe(person: Person, recipe: MixFromRecipe) -> Mix:
    """Make a mix of a recipe; what is cooked down in it becomes a preparation on the shelf.

    Raises
    ------
    JalebiError : a name, style, stage, ingredient or amount that cannot be; nothing is kept then
    """
    kitchen = person.kitchen
    lock_shelf(kitchen)
    if any(not step.text.isprintable() for step in recipe.method) or not recipe.makes.isprintable():
        raise MixError("method-hidden-characters")
    mix = Mix.objects.create(
        kitchen=kitchen,
        name=checked_name(recipe.name, "the mix"),
        style=checked_style(recipe.style),
        method=[{"stage": checked_stage(step.stage), "text": step.text} for step in recipe.method],
        servings=recipe.servings,
        makes=recipe.makes,
        machine=Machine.objects.of(kitchen).first(),
    )
    drafted = [_drafted(person, line, number) for number, line in enumerate(recipe.lines, start=1)]
    kitchen.refresh_from_db(fields=["shelf_version"])
    put_lines(mix, drafted)
    return mix


def _drafted(person: Person, line: RecipeLineIn, number: int) -> DraftLine:
    if not line.typed.isprintable():
        raise MixError("amount-hidden-characters", number)
    if line.reduced_to is None or not line.typed.strip():
        return DraftLine(ingredient=line.ingredient, typed=line.typed, stage=line.stage, form=line.form)
    made = _reduced(person, line, line.reduced_to)
    grams = made.facts["pack_g"]
    return DraftLine(ingredient=made.slug, typed=f"{grams:.1f}", grams=grams, stage=line.stage)


def _reduced(person: Person, line: RecipeLineIn, share: float) -> Ingredient:
    """Return the reduction of a line as ingredients on the shelf; the same one again where it was made before."""
    kitchen = person.kitchen
    name = find_among(ingredients_of(kitchen), line.ingredient).composition.name
    preparation = Preparation(
        name=f"{name}, reduced to {round(share * 100)} % from {line.typed.strip()}"[:200],
        lines=[PrepLine(ingredient=line.ingredient, typed=line.typed, form=line.form)],
        steps=[PrepStep(kind="reduce", share_pct=share * 100)],
    )
    before: Ingredient | None = Ingredient.objects.of(kitchen).filter(kind=KIND, name=preparation.name).first()
    if before is not None and _as_typed(before.made_from) == _as_typed(preparation.model_dump(mode="json")):
        return before
    return add_preparation(person, preparation)


def _as_typed(made_from: dict[str, Any] | None) -> dict[str, Any]:
    """Return what a preparation is made from without what its lines were read to weigh."""
    return Preparation.model_validate(made_from).model_dump(exclude={"lines": {"__all__": {"grams"}}})
