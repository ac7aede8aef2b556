"""Taking lots in, noting what happens to them, and setting right what was noted wrongly."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date

from django.db import transaction
from django.db.models import Sum
from django.utils import timezone

from api.problems import ConflictError
from ingredients.models import Ingredient, by_slug
from ingredients.shelf_cache import ingredients_of
from jalebi_core.model.errors import LotError
from jalebi_core.production.lots import LEAST_G, Split, is_blocked, suggest_lots
from jalebi_core.production.lots import Lot as CoreLot
from jalebi_core.quantities.amounts import read_amount
from jalebi_core.quantities.measures import measures_of
from kitchens.models import Kitchen, Person, spoons_of
from stock.models import Lot, Movement, lots_on_hand
from stock.schemas import LotChange, LotShare, NewLot

_TEXTS = ("supplier", "origin", "code", "state", "note")


@transaction.atomic
def receive_lot(person: Person, new: NewLot) -> Lot:
    """Take a lot in; what was made here of other lots takes from them at once.

    Raises
    ------
    Ingredient.DoesNotExist : nothing of that name on the kitchen's shelf
    AmountError : an amount that cannot be read
    LotError : dates the wrong way round, hidden characters, or more taken of a lot than there is
    """
    kitchen = person.kitchen
    ingredient = by_slug(Ingredient.objects.of(kitchen), new.ingredient)
    grams = read_grams(kitchen, ingredient, new.typed)
    _check_texts(new.supplier, new.origin, new.code, new.state, new.note)
    today = timezone.localdate()
    came_on = new.came_on or today
    if came_on > today:
        raise LotError("lot-came-tomorrow", came_on=came_on.isoformat())
    facts = new.model_dump(exclude={"ingredient", "typed", "came_on", "made_of"})
    lot = Lot.objects.create(
        kitchen=kitchen,
        ingredient=ingredient,
        name=ingredient.name,
        typed=" ".join(new.typed.split()),
        came_on=came_on,
        noted_by=person,
        **facts,
    )
    _note(person, lot, Movement.Kind.RECEIVED, grams)
    take_from_lots(person, new.made_of, into=lot)
    if lot.brix is not None or ingredient.kind == "fruit":
        kitchen.note_logged()
    return lot


@transaction.atomic
def put_base_aside(
    person: Person, batch_id: int, name: str, typed: str, *, best_before: date | None, frozen: bool, note: str
) -> Lot:
    """Note base of a batch that is kept to be churned another day, as a lot that the batch made."""
    grams = read_grams(person.kitchen, None, typed)
    _check_texts(note)
    lot = Lot.objects.create(
        kitchen=person.kitchen,
        batch_id=batch_id,
        name=name,
        typed=" ".join(typed.split()),
        came_on=timezone.localdate(),
        best_before=best_before,
        state="frozen" if frozen else "",
        note=note,
        noted_by=person,
    )
    _note(person, lot, Movement.Kind.RECEIVED, grams)
    return lot


@transaction.atomic
def change_lot(person: Person, lot_id: int, version: int, change: LotChange) -> Lot:
    """Note what is known of a lot now; raises ConflictError where somebody changed it first."""
    lot = Lot.objects.of(person.kitchen).select_for_update(of=("self",)).get(pk=lot_id)
    if lot.version != version:
        raise ConflictError("Somebody else changed this lot meanwhile. Look at it again.", version=lot.version)
    stated = change.model_dump(exclude_unset=True)
    _check_texts(*(value for value in stated.values() if isinstance(value, str)))
    if "thawed" in stated:
        lot.thawed_at = timezone.now() if stated.pop("thawed") else None
    for field, value in stated.items():
        setattr(lot, field, "" if value is None and field in _TEXTS else value)
    lot.version += 1
    lot.save()
    if "brix" in stated or "supplier" in stated:
        person.kitchen.note_logged()
    return lot


@transaction.atomic
def note_movement(person: Person, lot_id: int, kind: str, typed: str, why: str) -> Lot:
    """Note what was wasted, counted, sent back or thrown away of a lot.

    Raises
    ------
    AmountError : an amount that cannot be read
    LotError : more than there is, or hidden characters
    """
    lot = _locked(person.kitchen, lot_id)
    grams = read_grams(person.kitchen, lot.ingredient, typed)
    _check_texts(why)
    there = on_hand_g(lot)
    if kind == Movement.Kind.COUNTED:
        _note(person, lot, Movement.Kind.COUNTED, grams - there, counted_g=grams, why=why)
        return lot
    _check_enough(lot, there, grams)
    _note(person, lot, Movement.Kind(kind), -grams, why=why)
    return lot


@transaction.atomic
def correct_movement(person: Person, movement_id: int, typed: str, why: str) -> Lot:
    """Set right what a movement said, by another one that names it.

    What was counted after it stays what it was: the difference that the count found is set right too.

    Raises
    ------
    AmountError : an amount that cannot be read
    LotError : a correction or a count is to be corrected, or the lot would have less than nothing
    """
    wrong = Movement.objects.of(person.kitchen).select_related("lot__ingredient").get(pk=movement_id)
    lot = _locked(person.kitchen, wrong.lot_id)
    if wrong.corrects_id is not None:
        raise LotError("correction-of-correction")
    _check_texts(why)
    right = read_grams(person.kitchen, lot.ingredient, typed)
    said = wrong.grams + (wrong.corrections.aggregate(sum=Sum("grams"))["sum"] or 0.0)
    if wrong.kind == Movement.Kind.COUNTED:
        before = lot.movements.filter(pk__lt=wrong.pk).aggregate(sum=Sum("grams"))["sum"] or 0.0
        change, counted = right - before - said, right
    else:
        change, counted = (right if wrong.kind == Movement.Kind.RECEIVED else -right) - said, None
    later = lot.movements.filter(kind=Movement.Kind.COUNTED, corrects=None, pk__gt=wrong.pk).first()
    there = on_hand_g(lot)
    if later is None and there + change < -LEAST_G:
        raise LotError("correction-below-nothing", name=lot.name, there_g=there, change_g=change)
    _note(
        person, lot, Movement.Kind(wrong.kind), change, counted_g=counted, corrects=wrong, why=why,
        batch_id=wrong.batch_id, line=wrong.line, into_id=wrong.into_id,
    )  # fmt: skip
    if later is not None:
        kept = "what was counted then stays"
        _note(person, lot, Movement.Kind.COUNTED, -change, counted_g=later.counted_g, corrects=later, why=kept)
    return lot


def take_from_lots(
    person: Person,
    shares: Sequence[LotShare],
    *,
    batch_id: int | None = None,
    line: int | None = None,
    into: Lot | None = None,
) -> None:
    """Take weights from lots into a batch or into another lot; raises LotError for a lot that cannot give them."""
    now = timezone.localtime()
    wanted: dict[int, float] = {}
    for share in shares:
        wanted[share.lot] = wanted.get(share.lot, 0.0) + share.grams
    with transaction.atomic():
        for key in sorted(wanted):
            lot = _locked(person.kitchen, key)
            if into is not None and lot.pk == into.pk:
                raise LotError("lot-into-itself", name=lot.name)
            there = on_hand_g(lot)
            if is_blocked(core_lot(lot, there), now):
                raise LotError("lot-blocked", name=lot.name, which=lot.code or f"lot {lot.pk}")
            _check_enough(lot, there, wanted[key])
            _note(person, lot, Movement.Kind.USED, -wanted[key], batch_id=batch_id, line=line, into=into)


def suggest_for(kitchen: Kitchen, slug: str, grams: float) -> tuple[Split, dict[int, Lot]]:
    """Return how a weight of an ingredient is best taken from its lots, and those lots by number."""
    lots = {lot.pk: lot for lot in lots_of(kitchen, [slug])}
    return suggest_lots((core_lot(lot) for lot in lots.values()), grams, timezone.localtime()), lots


def lots_of(kitchen: Kitchen, slugs: Iterable[str]) -> list[Lot]:
    """Return what there is of some ingredients, lot by lot, with ``on_hand_g``."""
    return list(lots_on_hand(kitchen).filter(ingredient__slug__in=list(slugs)).select_related("ingredient", "batch"))


def core_lot(lot: Lot, grams: float | None = None) -> CoreLot:
    """Return a lot as the core knows it; ``grams`` where they are not those that came with the query."""
    keeps = (lot.ingredient.facts or {}).get("keeps") if lot.ingredient else None
    on_hand = float(lot.on_hand_g) if grams is None else grams  # type: ignore[attr-defined] # annotated by the query
    made_here = lot.ingredient is not None and lot.ingredient.made_from is not None
    return CoreLot(
        lot.pk,
        on_hand,
        lot.came_on,
        lot.use_by,
        lot.best_before,
        lot.opened_on or (lot.came_on if made_here else None),
        keeps["days"] if keeps else None,
        timezone.localtime(lot.thawed_at) if lot.thawed_at else None,
    )


def on_hand_g(lot: Lot) -> float:
    """Return what is left of a lot now."""
    return float(lot.movements.aggregate(sum=Sum("grams"))["sum"] or 0.0)


def read_grams(kitchen: Kitchen, ingredient: Ingredient | None, typed: str) -> float:
    """Read an amount of what a lot is of; raises AmountError where it cannot be, or is nothing at all."""
    if ingredient is None:
        return read_amount(typed, kitchen.mass_unit).grams
    known = ingredients_of(kitchen).get(ingredient.slug)
    measures = known.measures if known else measures_of(ingredient.to_composition())
    return read_amount(typed, kitchen.mass_unit, measures, spoons_of(kitchen)).grams


def replace_ingredient(gone: Ingredient, kept: Ingredient) -> None:
    """Let the lots of one ingredient be of another, which it is merged into."""
    gone.lots.update(ingredient=kept, name=kept.name)


def _locked(kitchen: Kitchen, lot_id: int) -> Lot:
    lots = Lot.objects.of(kitchen).select_for_update(of=("self",)).select_related("ingredient")
    return lots.get(pk=lot_id)


def _check_enough(lot: Lot, there_g: float, wanted_g: float) -> None:
    if wanted_g > there_g + LEAST_G:
        raise LotError("lot-too-small", name=lot.name, there_g=max(there_g, 0.0), wanted_g=wanted_g)


def _note(person: Person, lot: Lot, kind: Movement.Kind, grams: float, **facts: object) -> None:
    Movement.objects.create(kitchen=person.kitchen, lot=lot, kind=kind, grams=grams, by=person, **facts)


def _check_texts(*texts: str) -> None:
    if not all(text.isprintable() for text in texts):
        raise LotError("note-hidden-characters")


def days_until(day: date | None) -> int | None:
    """Return how many days are left until a day, negative once it has passed."""
    return None if day is None else (day - timezone.localdate()).days
