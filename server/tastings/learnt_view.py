"""What a kitchen has learnt, as people look at it: each parameter with its reasons, and the log that it rests on."""

from __future__ import annotations

from collections.abc import Iterator

from batches.models import Batch
from jalebi_core.data import read_toml
from jalebi_core.tasting.log import Log, Made
from jalebi_core.tasting.parameters import Parameter, learn
from jalebi_core.wording.message import words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from tastings.kitchen_log import (
    batch_id,
    card_id,
    forgotten,
    freezer_name,
    left_out,
    log_of,
    lot_id,
    pinned,
    read_lots,
    reading_id,
    weighing_id,
)
from tastings.models import Card, Choice, PieceWeighing, Reading
from tastings.schemas import LearntEntry, LearntOut, ParameterOut

_MOST_ENTRIES = 60


def learnt_out(kitchen: Kitchen) -> LearntOut:
    """Return all parameters of a kitchen, those in use first, and the log they rest on, the newest first."""
    choices = list(Choice.objects.of(kitchen))
    kept, gone, notation = pinned(choices), forgotten(choices), notation_of(kitchen)
    log = log_of(kitchen)
    found = [_parameter(one, (one.key, one.of or "") in kept, one.key in gone, notation) for one in learn(log)]
    out = left_out(choices)
    noted = (*_entries(kitchen, out, notation), *_measured(kitchen, log, out, notation))
    entries = sorted(noted, key=lambda one: one.at, reverse=True)
    return LearntOut(parameters=sorted(found, key=lambda one: not one.in_use), entries=entries[:_MOST_ENTRIES])


def _parameter(one: Parameter, is_pinned: bool, is_forgotten: bool, notation: Notation) -> ParameterOut:
    found = one.posterior
    where = " ".join(word for word in (one.supplier, one.season) if word)
    return ParameterOut(
        key=one.key,
        of=one.of,
        name=f"{_NAMES[one.key]}{f', {where}' if where else ''}" if one.of is None else _name(one),
        unit=one.unit,
        value=found.value,
        low=found.low,
        high=found.high,
        was=found.prior.value,
        was_low=found.prior.low,
        was_high=found.prior.high,
        n=found.n,
        needed=one.needed,
        identified=found.identified,
        in_use=one.in_use and not is_pinned,
        pinned=is_pinned,
        forgotten=is_forgotten,
        strays=list(found.strays),
        said=words(one.said, notation),
    )


_NAMES: dict[str, str] = {key: fields["name"] for key, fields in read_toml("learning.toml").items()}


def _name(one: Parameter) -> str:
    if one.key == "freezer_c":
        return str(one.of).capitalize()
    if one.key == "freezer_firmness":
        return f"Tubs from {one.of}"
    about = one.piece or " ".join(word for word in (one.supplier, one.season) if word)
    return f"{_NAMES[one.key]}: {one.of}{f', {about}' if about else ''}"


def _place(reading: Reading) -> str:
    freezer = freezer_name(reading.place)
    return f"in a tub in {freezer}" if reading.where == Reading.Where.TUB else f"in the air of {freezer}"


def _entries(kitchen: Kitchen, out: set[str], notation: Notation) -> Iterator[LearntEntry]:
    cards = Card.objects.of(kitchen).filter(mended_by=None).select_related("batch__revision", "place")
    for card in cards.order_by("-at")[:_MOST_ENTRIES]:
        said = f"{card.taster}, batch {card.batch.number}: {card.firmness or 'no word for firmness'}"
        yield LearntEntry(id=card_id(card), at=card.at, said=said, left_out=card_id(card) in out)
    for reading in Reading.objects.of(kitchen).select_related("place").order_by("-at")[:_MOST_ENTRIES]:
        t_c = notation.temperature_at(reading.t_c, ".1f")
        where = "in ice water" if reading.where == Reading.Where.ICE_WATER else _place(reading)
        yield LearntEntry(
            id=reading_id(reading), at=reading.at, said=f"{t_c} {where}", left_out=reading_id(reading) in out
        )
    for one in PieceWeighing.objects.of(kitchen).order_by("-at")[:_MOST_ENTRIES]:
        entry = weighing_id(one)
        said = f"{one.name}, {one.pieces:g} × {one.piece}: {notation.mass_of(one.grams, '.0f')}"
        yield LearntEntry(id=entry, at=one.at, said=said, left_out=entry in out)
    for lot in read_lots(kitchen)[:_MOST_ENTRIES]:
        entry, supplier = lot_id(lot), f" from {lot.supplier}" if lot.supplier else ""
        said = f"{lot.name}{supplier}: {lot.brix:g} °Brix"
        yield LearntEntry(id=entry, at=lot.noted_at, said=said, left_out=entry in out)


def _measured(kitchen: Kitchen, log: Log, out: set[str], notation: Notation) -> Iterator[LearntEntry]:
    """Yield the batches of which something was measured: minutes, air, what stayed behind."""
    known = {one.id: one.made for one in log.batches}
    for batch in Batch.objects.of(kitchen).select_related("revision").order_by("-begun_at")[:_MOST_ENTRIES]:
        said = ", ".join(_made_said(known.get(batch_id(batch), Made()), notation))
        if said:
            said = f"Batch {batch.number}: {said}"
            yield LearntEntry(id=batch_id(batch), at=batch.begun_at, said=said, left_out=batch_id(batch) in out)


def _made_said(made: Made, notation: Notation) -> Iterator[str]:
    if made.churn_min is not None:
        yield f"{notation.number(made.churn_min, '.0f')} min churned"
    if made.air_pct is not None:
        yield f"{notation.number(made.air_pct, '.0f')} % air"
    if made.in_g is not None and made.out_g is not None:
        yield f"{notation.mass_of(made.in_g, '.0f')} in, {notation.mass_of(made.out_g, '.0f')} out"
