"""A kitchen's own ingredients: from a label, from a °Brix reading, or a blend whose maker does not say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ingredients.locking import changes_shelf
from ingredients.models import Ingredient as IngredientRow
from ingredients.schemas import CustomWay, FromBlend, FromBrix, FromLabel
from ingredients.shelf_cache import ingredients_of
from ingredients.versions import free_slug
from jalebi_core.model.composition import Composition, checked_name
from jalebi_core.model.errors import CompositionError
from jalebi_core.model.ingredient import Facts, Ingredient
from jalebi_core.regulation.allergens import checked_allergens
from jalebi_core.shelf.catalogue import find_among
from jalebi_core.shelf.custom_ingredients import Label, at_brix, from_label
from kitchens.models import Person


@dataclass(frozen=True, slots=True)
class CustomIngredient:
    """An own ingredient before it stands on the shelf."""

    composition: Composition
    basis: str
    facts: Facts
    doubts: tuple[str, ...]


def custom_ingredient(way: CustomWay, ingredient: Mapping[str, Ingredient]) -> CustomIngredient:
    """Work an own ingredient out; raises JalebiError naming what cannot be."""
    if isinstance(way, FromLabel):
        made = _labelled(way, ingredient)
    elif isinstance(way, FromBrix):
        made = _read(way, ingredient)
    else:
        made = _blended(way)
    composition = made.composition
    if way.density_kg_l is not None:
        composition = replace(composition, density_kg_l=way.density_kg_l)
    facts = replace(made.facts, pack_g=way.pack_g, animal=_origin(way), sold=way.sold)
    return replace(made, composition=composition, facts=facts)


def _origin(way: CustomWay) -> str | None:
    """Return what of it comes from animals; what nobody said of a good with a label has to be asked of its maker."""
    if way.animal is None:
        return None if isinstance(way, FromBrix) else "ask"
    return None if way.animal == "none" else way.animal


def _labelled(way: FromLabel, ingredient: Mapping[str, Ingredient]) -> CustomIngredient:
    like = find_among(ingredient, way.like).composition if way.like else None
    label = Label(**way.label.model_dump(exclude={"serving_g"}))
    if way.label.serving_g is not None:
        label = label.per_100g_of(way.label.serving_g)
    found = from_label(way.name, label, like)
    basis = f"its label, its kinds of fat, protein and sugars as in {like.name}" if like else "its label"
    return CustomIngredient(found.composition, basis, Facts(energy_kcal=label.energy_kcal), found.doubts)


def _read(way: FromBrix, ingredient: Mapping[str, Ingredient]) -> CustomIngredient:
    fruit = find_among(ingredient, way.of).composition
    basis = f"{fruit.name} at {way.brix:g} °Brix, read in this kitchen"
    return CustomIngredient(at_brix(fruit, way.brix, way.name), basis, Facts(sure="measured"), ())


def _blended(way: FromBlend) -> CustomIngredient:
    if not 0 < way.dose_low_pct <= way.dose_high_pct:
        raise CompositionError("dose-range-reversed")
    parts = {"hydrocolloids": 80.0, "water": 10.0, "other_solids": 10.0}
    if way.of == "gums and emulsifiers":
        parts = {"hydrocolloids": 45.0, "emulsifiers": 40.0, "water": 5.0, "other_solids": 10.0}
    doubt = "What is in it is not disclosed: its gums are taken at the middle of what such blends hold."
    return CustomIngredient(
        Composition(way.name, parts, density_kg_l=0.6),
        f"undisclosed blend of {way.of}, dosed as its label says",
        Facts(sure="undisclosed", dose_pct=(way.dose_low_pct, way.dose_high_pct)),
        (doubt,),
    )


@changes_shelf
def add_custom_ingredient(person: Person, way: CustomWay) -> IngredientRow:
    """Put an own ingredient on the shelf."""
    made = custom_ingredient(way, ingredients_of(person.kitchen))
    row = IngredientRow(
        kitchen=person.kitchen,
        slug=free_slug(person.kitchen, way.name),
        name=made.composition.name,
        kind="gum" if isinstance(way, FromBlend) else "own",
        also=[checked_name(other, "another name") for other in way.also],
        basis=made.basis,
        allergens=None if way.allergens is None else list(checked_allergens(way.allergens)),
        may_hold=list(checked_allergens(way.may_hold, "may_hold")),
        composition=made.composition.as_dict(),
        facts=made.facts.as_dict(),
        price=way.price,
    )
    row.save()
    return row
