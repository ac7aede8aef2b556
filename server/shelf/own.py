"""A kitchen's own ingredients: from a label, from a °Brix reading, or a blend whose maker does not say."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from jalebi_core.composition import Ingredient as Composition
from jalebi_core.composition import checked_name
from jalebi_core.errors import CompositionError
from jalebi_core.goods import Facts, Goods
from jalebi_core.label import Label, at_brix, from_label
from jalebi_core.shelf import find_among
from kitchens.models import Person

from .kept import goods_of
from .models import Ingredient
from .schemas import FromBlend, FromBrix, FromLabel, OwnWay
from .versions import checked_allergens, free_slug


@dataclass(frozen=True, slots=True)
class OwnGoods:
    """An own ingredient before it stands on the shelf."""

    composition: Composition
    basis: str
    facts: Facts
    doubts: tuple[str, ...]


def own_goods(way: OwnWay, goods: Mapping[str, Goods]) -> OwnGoods:
    """Work an own ingredient out; raises JalebiError naming what cannot be."""
    if isinstance(way, FromLabel):
        made = _labelled(way, goods)
    elif isinstance(way, FromBrix):
        made = _read(way, goods)
    else:
        made = _blended(way)
    composition = made.composition
    if way.density_kg_l is not None:
        composition = replace(composition, density_kg_l=way.density_kg_l)
    return replace(made, composition=composition, facts=replace(made.facts, pack_g=way.pack_g))


def _labelled(way: FromLabel, goods: Mapping[str, Goods]) -> OwnGoods:
    like = find_among(goods, way.like).composition if way.like else None
    label = Label(**way.label.model_dump(exclude={"serving_g"}))
    if way.label.serving_g is not None:
        label = label.per_100g_of(way.label.serving_g)
    found = from_label(way.name, label, like)
    basis = f"its label, its kinds of fat, protein and sugars as in {like.name}" if like else "its label"
    return OwnGoods(found.ingredient, basis, Facts(energy_kcal=label.energy_kcal), found.doubts)


def _read(way: FromBrix, goods: Mapping[str, Goods]) -> OwnGoods:
    fruit = find_among(goods, way.of).composition
    basis = f"{fruit.name} at {way.brix:g} °Brix, read in this kitchen"
    return OwnGoods(at_brix(fruit, way.brix, way.name), basis, Facts(sure="measured"), ())


def _blended(way: FromBlend) -> OwnGoods:
    if not 0 < way.dose_low_pct <= way.dose_high_pct:
        raise CompositionError("the dose goes from a lower to a higher share of the mix, both above 0.")
    parts = {"hydrocolloids": 80.0, "water": 10.0, "other_solids": 10.0}
    if way.of == "gums and emulsifiers":
        parts = {"hydrocolloids": 45.0, "emulsifiers": 40.0, "water": 5.0, "other_solids": 10.0}
    doubt = "What is in it is not disclosed: its gums are taken at the middle of what such blends hold."
    return OwnGoods(
        Composition(way.name, parts, density_kg_l=0.6),
        f"undisclosed blend of {way.of}, dosed as its label says",
        Facts(sure="undisclosed", dose_pct=(way.dose_low_pct, way.dose_high_pct)),
        (doubt,),
    )


def add_own(person: Person, way: OwnWay) -> Ingredient:
    """Put an own ingredient on the shelf."""
    made = own_goods(way, goods_of(person.kitchen))
    row = Ingredient(
        kitchen=person.kitchen,
        slug=free_slug(person.kitchen, way.name),
        name=made.composition.name,
        kind="gum" if isinstance(way, FromBlend) else "own",
        also=[checked_name(other, "another name") for other in way.also],
        basis=made.basis,
        allergens=checked_allergens(way.allergens),
        composition=made.composition.as_dict(),
        facts=made.facts.as_dict(),
        price=way.price,
    )
    row.save()
    return row
