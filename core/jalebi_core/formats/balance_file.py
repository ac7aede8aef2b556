"""A mix file with a balance request: limits on lines, and aims with weights, or a job. See docs/file-formats.md."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import replace
from math import inf, isfinite
from typing import Any, Final

from jalebi_core.assessment.analysis import HOME_FREEZER_C
from jalebi_core.balance.job_context import JobContext, unasked
from jalebi_core.balance.jobs import request_of
from jalebi_core.balance.pulls import held
from jalebi_core.balance.request import Aim, BalanceRequest, Limits
from jalebi_core.formats.line_constraints import LineConstraints
from jalebi_core.formats.mix_file import MixFile, json_object, read_mix_file
from jalebi_core.model.errors import BalanceError, JalebiError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.mix import Line
from jalebi_core.shelf.catalogue import find, find_among

_WISHES: Final = ("may_add", "max_new")
_PRICE_KEYS: Final = ("price", "pack_g")
_AIM_KEYS: Final = frozenset(("of", "min", "max", "weight", "at_c"))
_USUAL_NEW: Final = 2


def read_request(data: bytes, find_on_shelf: Callable[[str], Ingredient] = find) -> BalanceRequest:
    """Read a mix file with a balance request; raises JalebiError naming the line or aim that cannot be used.

    What the aims do not speak of is held softly, what is dosed or tasted stays unless it is aimed
    at, and the usual most of ingredients gives way where the aims need it.
    """
    read, limits, rest = _read(data, find_on_shelf)
    aims = _aims(rest.get("aims"))
    request = BalanceRequest(
        read.mix,
        aims,
        {**unasked(read.mix, aims), **limits},
        may_add=_may_add(rest.get("may_add", []), find_on_shelf),
        max_new=_count(rest.get("max_new", _USUAL_NEW)),
        caps_give=True,
    )
    return held(request) if request.aims else request


def read_job(
    data: bytes,
    job: str,
    shelf: Mapping[str, Ingredient],
    line: int | None = None,
    ingredient: str | None = None,
    grams: float | None = None,
) -> BalanceRequest:
    """Read a mix file without aims and return the request of a one-press job on it, from a freezer at −18 °C.

    Parameters
    ----------
    line, ingredient, grams : what the job is about, where it needs that; lines count from 0, ingredients are slugs

    Raises
    ------
    JalebiError : a file, job, line or ingredient that cannot be used
    """
    read, limits, rest = _read(data, lambda slug: find_among(shelf, slug))
    if "aims" in rest:
        raise BalanceError("aims-beside-job")
    other = None if ingredient is None else find_among(shelf, ingredient)
    context = JobContext(read.mix, HOME_FREEZER_C, shelf, read.restrictions, line, other, grams)
    request = request_of(job, context)
    max_new = _count(rest["max_new"]) if "max_new" in rest else request.max_new
    return replace(request, limits={**request.limits, **limits}, max_new=max_new)


def _read(data: bytes, find_on_shelf: Callable[[str], Ingredient]) -> tuple[MixFile, dict[int, Limits], dict[str, Any]]:
    """Read a mix file, the limits of its lines, and what is wished beside them; prices go to their lines."""
    content = json_object(data)
    lines = content.get("lines")
    taken = [_taken(line, ("piece_g", *_PRICE_KEYS)) for line in lines] if isinstance(lines, list) else []
    rest = _taken(content, (*_WISHES, "aims"))
    read = read_mix_file(json.dumps(content).encode(), find_on_shelf)
    limits = {
        number: limits
        for number, constraints in enumerate(read.constraints)
        if (limits := _limits(number, constraints, taken[number], read.mix.lines[number])) != Limits()
    }
    priced = tuple(_priced(number, line, taken[number]) for number, line in enumerate(read.mix.lines))
    return replace(read, mix=replace(read.mix, lines=priced)), limits, rest


def _priced(number: int, line: Line, taken: Mapping[str, Any]) -> Line:
    """Return a line with its price per kg, from ``price`` of a pack of ``pack_g``."""
    if "price" not in taken:
        return line
    price = _number(f"Line {number + 1}: price", taken["price"])
    pack_g = _number(f"Line {number + 1}: pack_g", taken.get("pack_g", line.ingredient.facts.pack_g))
    if price < 0 or pack_g <= 0:
        raise BalanceError("line-price-impossible", number=number + 1, price=price, pack_g=pack_g)
    return replace(line, ingredient=replace(line.ingredient, price_per_kg=1000 * price / pack_g))


def _taken(content: object, keys: tuple[str, ...]) -> dict[str, Any]:
    """Take the keys of the balance request out of an object, so that the rest is a plain mix file."""
    return {key: content.pop(key) for key in keys if key in content} if isinstance(content, dict) else {}


def _limits(number: int, constraints: LineConstraints, taken: Mapping[str, Any], line: Line) -> Limits:
    if constraints.pin:
        return Limits.pinned(line.grams)
    step = constraints.step_g
    if constraints.piece:
        step = line.ingredient.measures.pieces[constraints.piece]
    if "piece_g" in taken:
        if step is not None:
            raise BalanceError("step-and-piece", number=number + 1)
        step = _number(f"Line {number + 1}: piece_g", taken["piece_g"])
    return Limits(constraints.min_g or 0.0, inf if constraints.max_g is None else constraints.max_g, step)


def _number(name: str, value: object) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise BalanceError("not-a-number", name=name, value=str(value)[:40])
    return float(value)


def _aims(data: object) -> tuple[Aim, ...]:
    if not isinstance(data, list) or not data:
        raise BalanceError("targets-not-a-list")
    return tuple(_aim(aim) for aim in data)


def _aim(data: object) -> Aim:
    if not isinstance(data, dict) or not isinstance(data.get("of"), str) or not data.keys() <= _AIM_KEYS:
        raise BalanceError("target-malformed")
    of = data["of"]
    read = {
        key: _number(f"{of[:40]}: {key}", data[key])
        for key in ("min", "max", "weight", "at_c")
        if data.get(key) is not None
    }
    return Aim(of, read.get("min", -inf), read.get("max", inf), read.get("weight", 1.0), read.get("at_c"))


def _may_add(data: object, find_on_shelf: Callable[[str], Ingredient]) -> tuple[Ingredient, ...]:
    if not isinstance(data, list) or not all(isinstance(slug, str) for slug in data) or len(data) > 40:
        raise BalanceError("may-add-malformed")
    try:
        return tuple(find_on_shelf(slug) for slug in dict.fromkeys(data))
    except JalebiError as error:
        raise BalanceError("may-add-refused", reason=error.message) from None


def _count(value: object) -> int:
    if isinstance(value, bool) or not isinstance(value, int):
        raise BalanceError("not-a-whole-number", value=str(value)[:40])
    return value
