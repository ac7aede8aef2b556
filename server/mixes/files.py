"""Mix files out of a kitchen and into one; described in docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial
from typing import Any, Final

import numpy as np
from django.db import transaction

from analysis.schemas import DraftLine
from ingredients.locking import lock_shelf
from ingredients.models import Ingredient
from ingredients.shelf_cache import ingredients_of
from jalebi_core.formats.draft import read_lines
from jalebi_core.formats.ingredient_file import slug_of
from jalebi_core.formats.line_constraints import MOST_TYPED, LineConstraints
from jalebi_core.formats.mix_file import MixFile, Step, read_mix_file, write_mix
from jalebi_core.model.aims import checked_aims
from jalebi_core.model.composition import checked_name
from jalebi_core.model.ingredient import Ingredient as CoreIngredient
from jalebi_core.model.mix import Line
from jalebi_core.shelf.catalogue import catalogue, find_among
from kitchens.models import Kitchen, Machine, spoons_of
from mixes.drafts import put_lines, weighed_lines
from mixes.models import Mix, MixLine

_SAME_AMOUNT: Final = 0.005
"""Of an amount: what was typed is kept where it still weighs as much, within this."""
_SAME_COMPOSITION_G: Final = 1e-6
_STEM: Final = 150
"""How much of a name stays before what tells ingredients of one name apart."""
_BASIS: Final = "this kitchen’s own, made of the figures in the mix it came with"


def file_of(mix: Mix, *, prices: bool = False) -> dict[str, Any]:
    """Return a mix as a mix file's data; what is not on the shelf that ships goes with its composition.

    What the lines cost goes with them only where ``prices`` asks for it.
    """
    return write_mix(
        mix.name,
        mix.style,
        mix.overrun_pct,
        [{**_file_line(line), **(_price_of(line) if prices else {})} for line in weighed_lines(mix)],
        aims=checked_aims(mix.aims),
        restrictions=mix.restrictions,
        tags=mix.tags,
        method=[Step(step["text"], step.get("stage")) for step in mix.method if step["text"].strip()],
    )


def _file_line(line: MixLine) -> dict[str, Any]:
    stage = {} if line.stage is None else {"stage": line.stage}
    ships = catalogue().get(line.ingredient.slug)
    same = ships is not None and ships.ingredient.composition.as_dict() == line.ingredient.composition
    ingredient = line.ingredient.slug if same else _own(line.ingredient)
    constraints = _constraints_of(line).as_dict()
    return {"ingredient": ingredient, "amount": line.grams, "unit": "g", **stage, **constraints}


def _price_of(line: MixLine) -> dict[str, float]:
    known = line.ingredient.to_core()
    if known.price_per_kg is None:
        return {}
    trim = {"trim_pct": known.facts.trim_pct} if known.facts.trim_pct else {}
    return {"price": round(known.price_per_kg, 6), "pack_g": 1000.0, **trim}


def _own(row: Ingredient) -> dict[str, Any]:
    """Return an ingredient that is not on the shelf that ships, with what is stated of its allergens and its label."""
    stated = {"may_hold": row.may_hold, "nutrients": row.nutrients, "on_label": row.on_label}
    allergens = {} if row.allergens is None else {"allergens": row.allergens}
    return {**row.composition, **allergens, **{key: value for key, value in stated.items() if value}}


def _constraints_of(line: MixLine) -> LineConstraints:
    piece = line.whole if line.whole in (line.ingredient.composition.get("pieces") or {}) else None
    step_g = None if piece else line.step_g
    return LineConstraints(_spoken(line), line.pinned, line.least_g, line.most_g, step_g, piece, line.note, line.form)


def _spoken(line: MixLine) -> str:
    """Return what was typed with its unit, empty where that says no more than the g do."""
    named = any(sign.isalpha() or sign in "%‰" for sign in line.typed)
    if not named and line.unit == "g":
        return ""
    spoken = line.typed if named else f"{line.typed} {line.unit}"
    return spoken if len(spoken) <= MOST_TYPED else ""


@transaction.atomic
def mix_from_file(kitchen: Kitchen, data: bytes) -> Mix:
    """Make a mix of a mix file; ingredients that come with their composition stand on the shelf afterwards.

    Raises
    ------
    JalebiError : anything in the file that cannot be used, or a shelf name that this kitchen does not have
    """
    lock_shelf(kitchen)
    read = read_mix_file(data, partial(find_among, ingredients_of(kitchen)))
    mix = Mix.objects.create(
        kitchen=kitchen,
        name=read.mix.name,
        style=read.mix.style,
        overrun_pct=read.mix.overrun_pct,
        aims=checked_aims(read.mix.aims),
        restrictions=list(read.restrictions),
        tags=list(read.tags),
        method=[{"stage": step.stage, "text": step.text} for step in read.method],
        machine=Machine.objects.of(kitchen).first(),
    )
    slugs = _on_the_shelf(kitchen, read)
    kitchen.refresh_from_db(fields=["shelf_version"])
    put_lines(mix, _as_typed(kitchen, read, slugs))
    return mix


def _on_the_shelf(kitchen: Kitchen, read: MixFile) -> list[str]:
    """Return the slug of every line, with what came with its composition put on the shelf where it is not there."""
    rows = list(Ingredient.objects.of(kitchen))
    slugs = []
    for line in read.mix.lines:
        if line.ingredient.slug:
            slugs.append(line.ingredient.slug)
            continue
        row = next((row for row in rows if _is(row, line.ingredient)), None)
        if row is None:
            row = _custom(kitchen, line.ingredient, read.mix.name, rows)
            rows.append(row)
        slugs.append(row.slug)
    return slugs


def _is(row: Ingredient, stated: CoreIngredient) -> bool:
    """Tell whether an ingredient on the shelf is what a file gives: of its name, or of that with its mix."""
    if stated.allergens_stated and (row.allergens, row.may_hold) != (list(stated.allergens), list(stated.may_hold)):
        return False
    given = stated.composition
    name, wanted = row.name.casefold(), given.name.casefold()
    if row.put_away or not (name == wanted or name.startswith(f"{wanted[:_STEM]}, ")):
        return False
    kept = row.to_composition()
    same_row = np.allclose(kept.row, given.row, rtol=0, atol=_SAME_COMPOSITION_G)
    return same_row and (kept.density_kg_l, kept.pieces) == (given.density_kg_l, given.pieces)


def _custom(kitchen: Kitchen, stated: CoreIngredient, of_mix: str, rows: Iterable[Ingredient]) -> Ingredient:
    given = stated.composition
    names = {row.name.casefold() for row in rows if not row.put_away}
    taken = {row.slug for row in rows}
    stem = given.name[:_STEM]
    wanted = (given.name, f"{stem}, as in {of_mix[:40]}", *(f"{stem}, {n}" for n in range(2, len(names) + 3)))
    name = next(free for free in wanted if free.casefold() not in names)
    slug = slug_of(name)[:54]
    return Ingredient.objects.create(
        kitchen=kitchen,
        slug=next(free for n in range(len(taken) + 1) if (free := f"{slug}-{n + 1}" if n else slug) not in taken),
        name=checked_name(name, "an ingredient"),
        kind="own",
        basis=_BASIS,
        allergens=list(stated.allergens) if stated.allergens_stated else None,
        may_hold=list(stated.may_hold),
        nutrients=None if stated.nutrients is None else dict(stated.nutrients),
        on_label=stated.on_label.as_data() or None,
        composition={**given.as_dict(), "name": name},
    )


def _as_typed(kitchen: Kitchen, read: MixFile, slugs: Sequence[str]) -> list[DraftLine]:
    """Return the lines as somebody typed them, in g where that no longer weighs what the file says."""
    pairs = list(zip(read.mix.lines, read.constraints, strict=True))
    lines = [_draft_line(line, constraints, slug) for (line, constraints), slug in zip(pairs, slugs, strict=True)]
    found = read_lines(lines, ingredients_of(kitchen), spoons_of(kitchen))
    return [
        typed
        if now.error is None and abs((now.grams or 0) - line.grams) <= _SAME_AMOUNT * line.grams
        else typed.model_copy(update={"typed": f"{line.grams:.10g}"})
        for typed, now, line in zip(lines, found, read.mix.lines, strict=True)
    ]


def _draft_line(line: Line, constraints: LineConstraints, slug: str) -> DraftLine:
    return DraftLine(
        ingredient=slug,
        typed=constraints.typed or f"{line.grams:.10g}",
        stage=line.stage,
        pinned=constraints.pin,
        least_g=constraints.min_g,
        most_g=constraints.max_g,
        step_g=constraints.step_g,
        whole=constraints.piece,
        note=constraints.note,
        form=constraints.form,
    )
