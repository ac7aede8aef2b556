"""Files of ingredients into a kitchen's shelf: first what would change, then the change, whole or not at all."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ingredients.locking import changes_shelf
from ingredients.models import Ingredient, IngredientVersion
from ingredients.preparations import remake_after
from ingredients.schemas import ImportPreview, RowChange
from ingredients.versions import version_now
from jalebi_core.formats.ingredient_file import IngredientEntry, ReadRow, entry_data, read_ingredients
from jalebi_core.model.errors import IngredientFileError
from jobs.kinds import Report, unreported
from kitchens.models import Person

_ROWS_SHOWN = 500
_WRITTEN = (
    "name", "kind", "also", "basis", "allergens", "may_hold", "composition", "facts", "price", "nutrients", "on_label",
    "version", "put_away",
)  # fmt: skip
_READING = 0.8
"""Of the whole work; the rest is writing."""


@changes_shelf
def import_ingredients(
    person: Person, data: bytes, apply: bool, leave_out_wrong: bool, report: Report = unreported
) -> ImportPreview:
    """Say what importing a file would do, and do it where ``apply`` says so.

    Raises
    ------
    IngredientFileError : the file cannot be used, or rows are wrong and are not to be left out
    """
    rows = read_ingredients(data, lambda share: report(_READING * share))
    kept = {row.slug: row for row in Ingredient.objects.of(person.kitchen)}
    if not person.sees_prices:
        rows = [_priced_as_before(row, kept) for row in rows]
    names = {row.name.casefold(): row.slug for row in kept.values() if not row.put_away}
    changes = [_change(row, kept, names) for row in rows]
    wrong = sum(change.what == "wrong" for change in changes)
    if apply and wrong and not leave_out_wrong:
        raise IngredientFileError("rows-wrong", wrong=wrong)
    report(_READING)
    if apply:
        _apply(person, [(row.entry, change) for row, change in zip(rows, changes, strict=True) if row.entry], kept)
    counted = {what: sum(change.what == what for change in changes) for what in ("new", "changed", "same", "wrong")}
    shown = sorted((change for change in changes if change.what != "same"), key=lambda change: change.what != "wrong")
    return ImportPreview(**counted, rows=shown[:_ROWS_SHOWN], done=apply)


def _priced_as_before(row: ReadRow, kept: Mapping[str, Ingredient]) -> ReadRow:
    """Return a row of who may not see prices: what stands on the shelf keeps the price it has."""
    if row.entry is None or row.entry.slug not in kept:
        return row
    return replace(row, entry=replace(row.entry, price=kept[row.entry.slug].price))


def _change(row: ReadRow, kept: Mapping[str, Ingredient], names: Mapping[str, str]) -> RowChange:
    if row.entry is None:
        return RowChange(row=row.number, name="", what="wrong", fields=[], error=row.error)
    name = row.entry.composition.name
    before = kept.get(row.entry.slug)
    namesake = names.get(name.casefold(), row.entry.slug)
    if namesake != row.entry.slug:
        error = f"“{name}” is on the shelf already, as {namesake}."
        return RowChange(row=row.number, name=name, what="wrong", fields=[], error=error)
    if before is None:
        return RowChange(row=row.number, name=name, what="new", fields=[], error=None)
    changed = _differing(before.to_entry(), row.entry) + (["place on the shelf"] if before.put_away else [])
    if not changed:
        return RowChange(row=row.number, name=name, what="same", fields=[], error=None)
    if before.made_from is not None:
        error = f"“{name}” is made here: change what it is made from instead."
        return RowChange(row=row.number, name=name, what="wrong", fields=[], error=error)
    return RowChange(row=row.number, name=name, what="changed", fields=changed, error=None)


def _differing(before: IngredientEntry, after: IngredientEntry) -> list[str]:
    """Return what differs; facts and traits that a CSV cannot hold and the file leaves out are no difference."""
    one, other = entry_data(before), entry_data(after)
    if "traits" not in other["composition"]:
        one["composition"].pop("traits", None)
    fields = [key for key in other if key != "facts" and one.get(key) != other[key]]
    return fields + [fact for fact, value in other["facts"].items() if one["facts"].get(fact) != value]


def _apply(person: Person, entries: list[tuple[IngredientEntry, RowChange]], kept: Mapping[str, Ingredient]) -> None:
    new = [_filled(Ingredient(kitchen=person.kitchen), entry) for entry, change in entries if change.what == "new"]
    altered = [(kept[entry.slug], entry) for entry, change in entries if change.what == "changed"]
    IngredientVersion.objects.bulk_create(version_now(person, row, "imported") for row, _ in altered)
    for row, entry in altered:
        _filled(row, entry)
        row.version += 1
    Ingredient.objects.bulk_create(new)
    Ingredient.objects.of(person.kitchen).bulk_update([row for row, _ in altered], _WRITTEN, batch_size=500)
    remake_after(person.kitchen, [row.slug for row, _ in altered], person)


def _filled(row: Ingredient, entry: IngredientEntry) -> Ingredient:
    data = entry_data(entry)
    row.name = entry.composition.name
    row.facts = {**(row.facts or {}), **data.pop("facts")}
    for field, value in data.items():
        setattr(row, field, value)
    row.put_away = False
    return row
