"""The mix file, format ``jalebi.mix``: JSON in and out. Described in docs/file-formats.md."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from math import isfinite
from types import MappingProxyType
from typing import Any, Final, NoReturn

from .aims import read_aims, write_aims
from .amounts import Measures, read_amount, to_grams
from .composition import Ingredient, checked_name
from .errors import AmountError, CompositionError, MixError, UnknownIngredientError
from .goods import Goods
from .measures import measures_of
from .mix import Line, Mix
from .shelf import find_goods
from .styles import Band, checked_stage, checked_style

FORMAT: Final = "jalebi.mix"
VERSION: Final = 1
MOST_BYTES: Final = 1_000_000
MOST_LINES: Final = 200
MOST_OVERRUN_PCT: Final = 300.0
_KEYS: Final = {"format", "version", "name", "style", "overrun_pct", "aims", "lines"}
_LINE_KEYS: Final = {"ingredient", "amount", "unit", "stage"}


def read_mix(data: bytes, find_on_shelf: Callable[[str], Goods] = find_goods) -> Mix:
    """Read a mix file.

    Parameters
    ----------
    data : the file, UTF-8 JSON of at most 1 MB
    find_on_shelf : what a shelf name stands for; raises UnknownIngredientError

    Raises
    ------
    MixError : anything in the file that cannot be used, naming the line where one is at fault
    """
    return _mix(json_object(data), find_on_shelf)


def write_mix(
    name: str,
    style: str | None,
    overrun_pct: float | None,
    lines: Sequence[Mapping[str, Any]],
    aims: Mapping[str, Band] = MappingProxyType({}),
) -> dict[str, Any]:
    """Return a mix file's data; each line is ``{ingredient, amount, unit, stage?}`` as the format has it."""
    stated: dict[str, Any] = {"style": style, "overrun_pct": overrun_pct, "aims": write_aims(aims) or None}
    stated = {key: value for key, value in stated.items() if value is not None}
    return {"format": FORMAT, "version": VERSION, "name": name, **stated, "lines": list(lines)}


def checked_overrun(overrun: object) -> float | None:
    """Return an overrun in %, or None where none is given; raises MixError when it is no sensible number."""
    if overrun is None:
        return None
    if isinstance(overrun, bool) or not isinstance(overrun, int | float) or not isfinite(overrun):
        raise MixError(f"overrun_pct is {str(overrun)[:40]}, which is not a number of per cent.")
    if not 0 <= overrun <= MOST_OVERRUN_PCT:
        raise MixError(f"overrun_pct is {overrun:g}; air takes a mix from 0 to {MOST_OVERRUN_PCT:g} % at the most.")
    return float(overrun)


def json_object(data: bytes) -> dict[str, Any]:
    """Return a file as a JSON object; raises MixError where it is none."""
    if len(data) > MOST_BYTES:
        raise MixError(f"The file has {len(data) / 1e6:.0f} MB; a mix file has at most 1 MB.")
    try:
        content = json.loads(data.decode("utf-8-sig"), parse_constant=_refuse_constant)
    except UnicodeDecodeError:
        raise MixError("The file is not UTF-8 text, so it cannot be a mix file.") from None
    except RecursionError:
        raise MixError("The file nests too deeply to be a mix file.") from None
    except json.JSONDecodeError as error:
        raise MixError(f"The file is not JSON: {error.msg} at line {error.lineno}, column {error.colno}.") from None
    except ValueError as error:
        raise MixError(f"The file holds a number that cannot be read: {str(error)[:80]}.") from None
    if not isinstance(content, dict):
        raise MixError("A mix file is a JSON object with format, name and lines.")
    return content


def _refuse_constant(constant: str) -> NoReturn:
    raise ValueError(f"{constant} is not a number")


def _mix(content: dict[str, Any], find_on_shelf: Callable[[str], Goods]) -> Mix:
    if content.get("format") != FORMAT:
        raise MixError(f"This is not a mix file: its format is not “{FORMAT}”.")
    if content.get("version") != VERSION or isinstance(content.get("version"), bool):
        raise MixError(f"This mix file is of version {str(content.get('version'))[:20]}; only version 1 can be read.")
    _refuse_unknown(content, _KEYS, None)
    lines = content.get("lines")
    if not isinstance(lines, list) or not lines:
        raise MixError("The mix has no lines. Each is {“ingredient”: …, “amount”: …, “unit”: “g”}.")
    if len(lines) > MOST_LINES:
        raise MixError(f"The mix has {len(lines)} lines; {MOST_LINES} is the most.")
    try:
        name = checked_name(content.get("name"), "the mix")
    except CompositionError as error:
        raise MixError(str(error)) from None
    read = tuple(_line(line, number, find_on_shelf) for number, line in enumerate(lines, start=1))
    if not any(line.grams for line in read):
        raise MixError("the amount is 0, and nothing else in the mix weighs anything.", 1)
    return Mix(
        name=name,
        lines=read,
        style=checked_style(content.get("style")),
        overrun_pct=checked_overrun(content.get("overrun_pct")),
        aims=read_aims(content.get("aims", [])),
    )


def _line(line: object, number: int, find_on_shelf: Callable[[str], Goods]) -> Line:
    if not isinstance(line, dict):
        raise MixError("this is not a line; write {“ingredient”: …, “amount”: …, “unit”: “g”}.", number)
    _refuse_unknown(line, _LINE_KEYS, number)
    try:
        ingredient, goods = _ingredient(line.get("ingredient"), find_on_shelf)
        grams = _grams(line.get("amount"), line.get("unit", "g"), measures_of(ingredient))
    except (AmountError, CompositionError, UnknownIngredientError) as error:
        raise MixError(str(error), number) from None
    return Line(ingredient, grams, checked_stage(line.get("stage"), number), goods)


def _ingredient(value: object, find_on_shelf: Callable[[str], Goods]) -> tuple[Ingredient, Goods | None]:
    if isinstance(value, str):
        found = find_on_shelf(value)
        return found.composition, found
    if isinstance(value, dict):
        return Ingredient.from_dict({"name": "Unnamed", **value}), None
    raise CompositionError("an ingredient is a shelf name or {“name”: …, “per_100g”: {…}}.")


def _grams(amount: object, unit: object, measures: Measures) -> float:
    if not isinstance(unit, str):
        raise AmountError(str(unit), f"“{str(unit)[:20]}” is not a unit.")
    if isinstance(amount, str):
        return read_amount(amount, unit, measures).grams
    if amount is None:
        raise AmountError("", "there is no amount.")
    if isinstance(amount, bool) or not isinstance(amount, int | float) or not isfinite(amount):
        raise AmountError(str(amount), f"“{str(amount)[:40]}” is not an amount.")
    return to_grams(float(amount), unit, measures).grams


def _refuse_unknown(content: dict[str, Any], known: set[str], line: int | None) -> None:
    unknown = sorted(content.keys() - known)
    if unknown:
        raise MixError(f"“{unknown[0][:40]}” is not a key of the format. Known are {', '.join(sorted(known))}.", line)
