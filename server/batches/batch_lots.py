"""Which lots went into a batch, line by line, and base of it that is put aside as a lot."""

from __future__ import annotations

from collections import defaultdict

from django.db import transaction
from django.utils import timezone

from batches.handing_over import check_not_abandoned
from batches.models import Batch
from batches.replay import replay
from batches.tub_schemas import LotsOfBatch, LotsOfLine, LotUsed, PutAside, Taken
from jalebi_core.model.errors import MixError
from jalebi_core.production.lots import LEAST_G, suggest_lots
from kitchens.models import Kitchen, Person
from stock.lots import core_lot, lots_of, put_base_aside, take_from_lots
from stock.models import Lot, Movement
from stock.serialize import serialize_split


def lots_of_batch(kitchen: Kitchen, batch: Batch) -> LotsOfBatch:
    """Return what each line needs, what was taken for it, and where the rest is best taken from: no lot came later.

    Two lines of one ingredient share its lots: what is suggested for the first is not suggested again.
    """
    lines, state = batch.content["lines"], replay(batch.events.select_related("by"))
    used, begun_on = _used(batch), timezone.localdate(batch.begun_at)
    there: dict[str, list[Lot]] = defaultdict(list)
    for lot in lots_of(kitchen, {line["slug"] for line in lines}):
        if lot.ingredient is not None and lot.came_on <= begun_on:
            there[lot.ingredient.slug].append(lot)
    now, promised = timezone.localtime(), defaultdict[int, float](float)
    found = []
    for number, line in enumerate(lines):
        needed = state.weighed.get(number, line)["grams"]
        gap = needed - sum(one.grams for one in used[number])
        lots = {lot.pk: lot for lot in there[line["slug"]]}
        left = (core_lot(lot, core_lot(lot).grams - promised[lot.pk]) for lot in lots.values())
        split = suggest_lots(left, max(gap, 0.0), now)
        for share in split.shares:
            promised[share.key] += share.grams
        found.append(
            LotsOfLine(
                line=number,
                name=line["ingredient"].get("composition", line["ingredient"])["name"],
                needed_g=needed,
                used=used[number],
                gap_g=gap if gap >= LEAST_G else 0.0,
                suggestion=serialize_split(split, lots, others=True),
            )
        )
    return LotsOfBatch(lines=found)


def _used(batch: Batch) -> dict[int, list[LotUsed]]:
    grams: dict[tuple[int, int], float] = defaultdict(float)
    lots: dict[int, Lot] = {}
    for movement in batch.movements.filter(kind=Movement.Kind.USED).select_related("lot"):
        grams[movement.line or 0, movement.lot_id] -= movement.grams
        lots[movement.lot_id] = movement.lot
    found: dict[int, list[LotUsed]] = defaultdict(list)
    for (line, lot), weight in grams.items():
        if weight >= LEAST_G:
            found[line].append(LotUsed(lot=lot, name=lots[lot].name, code=lots[lot].code, grams=weight))
    return found


@transaction.atomic
def take_for_batch(person: Person, batch: Batch, taken: Taken) -> None:
    """Take weights from lots for the lines of a batch.

    Raises
    ------
    MixError : a line that the batch does not have, or a lot of something else
    LotError : a lot that cannot give what is wanted
    """
    lines = batch.content["lines"]
    for one in taken.lines:
        if one.line >= len(lines):
            raise MixError("batch-line-missing", number=one.line, last=len(lines) - 1)
        lots = Lot.objects.of(person.kitchen).filter(pk__in=[share.lot for share in one.shares])
        for lot in lots.select_related("ingredient"):
            if lot.came_on > timezone.localdate(batch.begun_at):
                raise MixError("lot-came-after-batch", name=lot.name, batch=batch.number)
            if lot.ingredient is not None and lot.ingredient.slug != lines[one.line]["slug"]:
                raise MixError("lot-of-something-else", name=lot.name, number=one.line + 1)
        take_from_lots(person, one.shares, batch_id=batch.pk, line=one.line)


def put_aside(person: Person, batch: Batch, aside: PutAside) -> Lot:
    """Note base of a batch that is put aside as a lot of its own; raises LotError for a batch that was given up."""
    check_not_abandoned(batch, replay(batch.events.select_related("by")))
    name = f"{batch.content['name']}, base"
    return put_base_aside(
        person, batch.pk, name, aside.typed, best_before=aside.best_before, frozen=aside.frozen, note=aside.note
    )
