"""From lots to what screens show of them."""

from __future__ import annotations

from django.utils import timezone

from jalebi_core.production.lots import Split, asks_first, good_until, is_blocked
from stock.lots import core_lot, days_until
from stock.models import Lot, Movement
from stock.schemas import LotDetail, LotFacts, LotOut, MovementOut, SharesOut, SuggestedShare


def serialize_lot(lot: Lot) -> LotOut:
    """Return a lot that was queried with what is on hand."""
    known, now = core_lot(lot), timezone.localtime()
    until = good_until(known)
    facts = {key: getattr(lot, key) for key in LotFacts.model_fields}
    return LotOut(
        **facts,
        id=lot.pk,
        ingredient=lot.ingredient.slug if lot.ingredient else None,
        batch=lot.batch.number if lot.batch else None,
        name=lot.ingredient.name if lot.ingredient else lot.name,
        typed=lot.typed,
        grams=known.grams,
        came_on=lot.came_on,
        opened_on=lot.opened_on,
        thawed_at=lot.thawed_at,
        good_until=until,
        days_left=days_until(until),
        blocked=is_blocked(known, now),
        asks=asks_first(known, now),
        version=lot.version,
    )


def serialize_lot_detail(lot: Lot) -> LotDetail:
    """Return a lot with all that happened to it."""
    movements = lot.movements.select_related("batch", "into", "by")
    return LotDetail(**dict(serialize_lot(lot)), movements=[_movement(movement) for movement in movements])


def _movement(movement: Movement) -> MovementOut:
    return MovementOut.model_validate(
        {
            "id": movement.pk,
            "kind": movement.kind,
            "grams": movement.grams,
            "counted_g": movement.counted_g,
            "batch": movement.batch.number if movement.batch else None,
            "into": movement.into.name if movement.into else None,
            "corrects": movement.corrects_id,
            "why": movement.why,
            "at": movement.at,
            "by": movement.by.name if movement.by else None,
        }
    )


def serialize_split(split: Split, lots: dict[int, Lot], *, others: bool = False) -> SharesOut:
    """Return a weight split over lots, with what tells them apart on the shelf; ``others`` could be taken instead."""
    now, taken = timezone.localtime(), {share.key: share.grams for share in split.shares}
    rest = [key for key, lot in lots.items() if others and key not in taken and not is_blocked(core_lot(lot), now)]
    return SharesOut(
        shares=[_share(lots[key], taken.get(key, 0.0)) for key in (*taken, *rest)],
        short_g=split.short_g,
    )


def _share(lot: Lot, grams: float) -> SuggestedShare:
    known = core_lot(lot)
    return SuggestedShare(
        lot=lot.pk,
        grams=grams,
        ask=asks_first(known, timezone.localtime()),
        code=lot.code,
        good_until=good_until(known),
        opened=lot.opened_on is not None,
        on_hand_g=known.grams,
    )
