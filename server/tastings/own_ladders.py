"""A kitchen's own ladders of flavour and colour, as people look at them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from ingredients.models import Ingredient
from ingredients.shelf_cache import shelf_of
from jalebi_core.model.ingredient import Facts
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.tasting.doses import DoseTasted, OwnLadder, drops_in_the_frozen, leaf_keeps, own_ladder
from jalebi_core.wording.message import words
from kitchens.models import Kitchen, notation_of
from tastings.models import DoseTasting
from tastings.schemas import DoseOut, LotDose, OwnLadderOut, OwnLadders

_MOST = 1000
_NEEDED = 2
"""Tastings of a flavour from which on its own ladder is used."""
_USUAL_OVERRUN_PCT = 30.0


def own_ladders(kitchen: Kitchen) -> OwnLadders:
    """Return the ladders of a kitchen, those tasted last first."""
    return OwnLadders(ladders=list(_ladders(kitchen, _doses(kitchen), shelf_of(kitchen).usual)))


def used_ladders(kitchen: Kitchen) -> dict[str, OwnLadder]:
    """Return by slug the ladders that are used in the place of the usual ones, of the form tasted most."""
    tasted = {slug: rows for (slug, form), rows in sorted(_doses(kitchen).items(), key=_count) if form != "colour"}
    slugs = [slug for slug, rows in tasted.items() if len(rows) >= _NEEDED]
    rows = Ingredient.objects.of(kitchen).filter(slug__in=slugs)
    usual = {row.slug: Facts.from_dict(row.facts).strength_g_kg for row in rows}
    found = {slug: own_ladder(_as_tasted(tasted[slug]), usual[slug]) for slug in slugs if usual.get(slug)}
    return {slug: ladder for slug, ladder in found.items() if ladder is not None}


def _count(entry: tuple[tuple[str, str], list[DoseTasting]]) -> int:
    return len(entry[1])


def _doses(kitchen: Kitchen) -> dict[tuple[str, str], list[DoseTasting]]:
    rows: dict[tuple[str, str], list[DoseTasting]] = {}
    for row in DoseTasting.objects.of(kitchen).order_by("-at", "-id")[:_MOST]:
        rows.setdefault((row.slug, row.form), []).append(row)
    return rows


def _as_tasted(rows: Sequence[DoseTasting]) -> list[DoseTasted]:
    return [DoseTasted(row.dose, row.mark, row.lot) for row in reversed(rows)]


def _ladders(
    kitchen: Kitchen, rows: Mapping[tuple[str, str], Sequence[DoseTasting]], shelf: Mapping[str, CoreIngredient]
) -> Iterator[OwnLadderOut]:
    notation = notation_of(kitchen)
    for (slug, form), tasted in rows.items():
        known = shelf.get(slug)
        usual = known.facts.strength_g_kg if known is not None and form != "colour" else None
        found = own_ladder(_as_tasted(tasted), usual)
        assert found is not None
        yield OwnLadderOut(
            slug=slug,
            name=tasted[0].name,
            form=form,
            right=found.right,
            weakest=found.weakest,
            strongest=found.strongest,
            usual=list(usual) if usual else None,
            said=words(found.said, notation),
            mind=_mind(form, found.right, tasted[0], kitchen),
            lots=[LotDose(lot=lot, right=right) for lot, right in found.lots if lot],
            tasted=[DoseOut.model_validate(row, from_attributes=True) for row in tasted],
        )


def _mind(form: str, right: float, last: DoseTasting, kitchen: Kitchen) -> str:
    """Return what is to be minded of a form: what air does to a colour, what leaf keeps of the liquid."""
    if form == "colour":
        overrun = _USUAL_OVERRUN_PCT if last.overrun_pct is None else last.overrun_pct
        return words(drops_in_the_frozen(right, overrun), notation_of(kitchen))
    return words(leaf_keeps(round(right, 1)), notation_of(kitchen)) if form == "steeped" else ""
