"""Changing an ingredient: the version before is kept, and what is made with it follows."""

from __future__ import annotations

from django.utils import timezone

from api.problems import ConflictError
from ingredients.locking import changes_shelf
from ingredients.models import Ingredient, Price, by_slug
from ingredients.preparations import remake_after
from ingredients.schemas import IngredientChange
from ingredients.versions import version_now
from jalebi_core.model.composition import checked_name
from jalebi_core.model.errors import CompositionError, MixError
from jalebi_core.model.ingredient import Facts
from jalebi_core.regulation.allergens import checked_allergens
from kitchens.models import Person


@changes_shelf
def change_ingredient(person: Person, slug: str, version: int, change: IngredientChange) -> Ingredient:
    """Change an ingredient from the version that was looked at, and make anew what is made with it.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name in this kitchen
    ConflictError : somebody changed it first
    CompositionError : a value that cannot be
    MixError : a price, by who may not see prices
    PreparationError : something made with it could no longer be made; nothing is changed then
    """
    row = by_slug(Ingredient.objects.of(person.kitchen), slug)
    if row.version != version:
        raise ConflictError("Somebody else changed this ingredient meanwhile. Look at it again.", version=row.version)
    if not change.why.isprintable():
        raise CompositionError("reason-hidden-characters")
    if "price" in change.model_fields_set and not person.sees_prices:
        raise MixError("price-unseen")
    version_now(person, row, change.why).save()
    message = change.model_dump(exclude_unset=True)
    composition, facts = dict(row.composition), dict(row.facts)
    if message.get("name"):
        row.name = composition["name"] = checked_name(message["name"], "an ingredient")
    if "also" in message:
        row.also = [checked_name(other, "another name") for other in message["also"] or []]
    if "allergens" in message:
        stated = message["allergens"]
        row.allergens = None if stated is None else list(checked_allergens(stated))
    if message.get("may_hold") is not None:
        row.may_hold = list(checked_allergens(message["may_hold"], "may_hold"))
    for key in ("density_kg_l", "pieces"):
        if key in message:
            composition[key] = message[key]
            if not message[key]:
                del composition[key]
    for key in ("pack_g", "strength_g_kg"):
        if key in message:
            facts[key] = message[key]
    if "price" in message:
        row.price = message["price"]
    asked = {key: message[key] for key in ("price", "pack_g") if key in message}
    row.facts = Facts.from_dict(facts).as_dict()
    row.composition = composition
    row.to_composition()
    row.version += 1
    row.save()
    if asked and row.price is not None and facts.get("pack_g"):
        _log_price(person, row, row.price, facts["pack_g"], change.supplier)
    remake_after(row.kitchen, [row.slug], person)
    return row


def _log_price(person: Person, row: Ingredient, price: float, pack_g: float, supplier: str) -> None:
    if not supplier.isprintable():
        raise CompositionError("note-hidden-characters")
    Price.objects.create(
        kitchen=row.kitchen,
        ingredient=row,
        price=price,
        pack_g=pack_g,
        supplier=supplier,
        since=timezone.localdate(),
        noted_by=person,
    )


@changes_shelf
def confirm_pack(person: Person, slug: str) -> Ingredient:
    """Note that somebody has read on the pack which traces it names; raises as `by_slug` does."""
    row = by_slug(Ingredient.objects.of(person.kitchen), slug)
    row.pack_read = {"may_hold": row.may_hold, "by": person.name, "on": timezone.localdate().isoformat()}
    row.save(update_fields=["pack_read"])
    return row


@changes_shelf
def put_away_ingredient(person: Person, slug: str) -> None:
    """Put an ingredient away; raises Ingredient.DoesNotExist where nothing is called so in this kitchen."""
    row = by_slug(Ingredient.objects.of(person.kitchen), slug)
    row.put_away = True
    row.save(update_fields=["put_away"])
