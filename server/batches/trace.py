"""Where a lot went, and what is in a tub: both ways through preparations and bases, at any depth."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

from django.db.models import QuerySet, Sum

from batches.models import Batch, Tub, TubEvent
from batches.replay import replay
from batches.tub_schemas import BalanceOut, LotTrace, Origins, TracedBatch, TracedLot, TracedTub
from jalebi_core.formats.snapshot import read_mix_snapshot
from jalebi_core.production.lots import MassBalance, mass_balance
from kitchens.models import Kitchen
from mixes.models import Revision
from stock.models import Lot, Movement


@dataclass(slots=True)
class _Way:
    """Lots and batches that were come by, with the g that went on from each lot."""

    lots: dict[int, float] = field(default_factory=dict)
    batches: set[int] = field(default_factory=set)


def trace_lot(kitchen: Kitchen, lot: Lot) -> LotTrace:
    """Return which lots, batches and tubs hold some of a lot; the queries grow with the depth, not with the rows."""
    way, fresh = _Way(), {lot.pk}
    while fresh:
        moved = _uses(kitchen).filter(lot__in=fresh)
        went = set(moved.values_list("batch", "into").distinct())
        reached = {batch for batch, _ in went if batch} - way.batches
        way.batches |= reached
        onward = {into for _, into in went if into}
        if reached:
            onward |= set(Lot.objects.of(kitchen).filter(batch__in=reached).values_list("pk", flat=True))
        fresh = onward - way.lots.keys() - {lot.pk}
        way.lots |= dict.fromkeys(fresh, 0.0)
    batches = _batches(kitchen, way.batches)
    return LotTrace(
        lots=_lots(kitchen, way.lots),
        batches=batches,
        tubs=_tubs(kitchen, batches),
        balance=_balance_out(_balance_of_lot(lot, kitchen.scale_g)),
    )


def origins_of(kitchen: Kitchen, batch: Batch) -> Origins:
    """Return every lot that is in a batch, at any depth, and the lines whose lot nobody has noted."""
    way = _Way(batches={batch.pk})
    batches, inside = {batch.pk}, set[int]()
    while batches or inside:
        moved = _uses(kitchen).filter(batch__in=batches) | _uses(kitchen).filter(into__in=inside)
        found = {lot: -float(grams) for lot, grams in moved.values_list("lot").annotate(Sum("grams"))}
        fresh = found.keys() - way.lots.keys()
        for lot, grams in found.items():
            way.lots[lot] = way.lots.get(lot, 0.0) + grams
        made_by = Lot.objects.of(kitchen).filter(pk__in=fresh, batch__isnull=False).values_list("batch", flat=True)
        batches = {one for one in made_by if one} - way.batches
        way.batches |= batches
        inside = fresh
    return Origins(
        lots=_lots(kitchen, way.lots),
        batches=_batches(kitchen, way.batches - {batch.pk}),
        unknown=_unknown(batch),
        balance=_balance_out(_balance_of_batch(kitchen, batch)),
    )


def _uses(kitchen: Kitchen) -> QuerySet[Movement]:
    return Movement.objects.of(kitchen).filter(kind=Movement.Kind.USED)


def _lots(kitchen: Kitchen, grams: Mapping[int, float]) -> list[TracedLot]:
    rows = Lot.objects.of(kitchen).filter(pk__in=grams.keys()).order_by("name", "came_on", "pk")
    return [
        TracedLot(
            id=lot.pk, name=lot.name, code=lot.code, supplier=lot.supplier, came_on=lot.came_on, grams=grams[lot.pk]
        )
        for lot in rows
    ]


def _batches(kitchen: Kitchen, numbers: Iterable[int]) -> list[TracedBatch]:
    rows = Batch.objects.of(kitchen).filter(pk__in=list(numbers)).order_by("number")
    found = list(rows.values_list("pk", "number", "revision", "begun_at"))
    names = _mix_names(kitchen, {revision for _, _, revision, _ in found})
    return [TracedBatch(id=pk, number=number, mix_name=names[of], begun_at=at) for pk, number, of, at in found]


def _mix_names(kitchen: Kitchen, revisions: Iterable[int]) -> dict[int, str]:
    """Return what the mixes of revisions are called; each is large and is read once for all its batches."""
    rows = Revision.objects.of(kitchen).filter(pk__in=list(revisions))
    return dict(rows.values_list("pk", "content__name"))


def _tubs(kitchen: Kitchen, batches: Sequence[TracedBatch]) -> list[TracedTub]:
    names = {batch.id: batch.mix_name for batch in batches}
    rows = Tub.objects.of(kitchen).filter(batch__in=list(names))
    buyers = dict(TubEvent.objects.filter(tub__in=rows, kind=TubEvent.Kind.SOLD).values_list("tub", "to"))
    found = rows.values_list("pk", "code", "batch", "state", "place__name")
    return [
        TracedTub(id=pk, code=code, mix_name=names[batch], state=state, place=place, to=buyers.get(pk, ""))
        for pk, code, batch, state, place in found
    ]


def _unknown(batch: Batch) -> list[str]:
    noted = set(batch.movements.filter(kind=Movement.Kind.USED).values_list("line", flat=True))
    lines = batch.content["lines"]
    planned = read_mix_snapshot(batch.content).lines
    return [planned[number].ingredient.name for number in range(len(lines)) if number not in noted]


def _balance_of_lot(lot: Lot, scale_g: float) -> MassBalance:
    """Return what was received beside what went and what is left: counts show as the gap."""
    sums = dict(lot.movements.values_list("kind").annotate(Sum("grams")).order_by())
    came = float(sums.pop(Movement.Kind.RECEIVED, 0.0))
    on_hand = came + sum(sums.values())
    went = [-float(grams) for kind, grams in sums.items() if kind != Movement.Kind.COUNTED]
    return mass_balance(came, [*went, on_hand], scale_g)


def _balance_of_batch(kitchen: Kitchen, batch: Batch) -> MassBalance:
    """Return what was weighed in beside what was packed and put aside; what boiled off or stuck shows as the gap."""
    lines, state = batch.content["lines"], replay(batch.events.select_related("by"))
    put_in = sum(state.weighed.get(number, line)["grams"] for number, line in enumerate(lines))
    put_in += sum(one["grams"] for one in state.added)
    packed = batch.tubs.aggregate(sum=Sum("grams"))["sum"] or 0.0
    came = Movement.objects.of(kitchen).filter(lot__batch=batch, kind=Movement.Kind.RECEIVED)
    aside = came.aggregate(sum=Sum("grams"))["sum"] or 0.0
    return mass_balance(put_in, (packed, aside), kitchen.scale_g)


def _balance_out(found: MassBalance) -> BalanceOut:
    return BalanceOut(
        in_g=found.in_g, out_g=found.out_g, gap_g=found.gap_g, allowed_g=found.allowed_g, agrees=found.agrees
    )
