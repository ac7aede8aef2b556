"""The mix file, format ``jalebi.mix``: JSON in and out. Described in docs/file-formats.md."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import isfinite
from typing import Any, Final, NoReturn

from jalebi_core.formats.json_text import load_json
from jalebi_core.formats.line_constraints import LINE_CONSTRAINT_KEYS, LineConstraints, read_line_constraints
from jalebi_core.model.aims import read_aims, write_aims
from jalebi_core.model.composition import Composition, checked_name
from jalebi_core.model.errors import AmountError, CompositionError, MixError, UnknownIngredientError
from jalebi_core.model.ingredient import Ingredient
from jalebi_core.model.measures import Measures
from jalebi_core.model.mix import Line, Mix
from jalebi_core.model.styles import MIX_IN_STAGES, Band, checked_stage, checked_style
from jalebi_core.quantities.amounts import read_amount, read_share, to_grams
from jalebi_core.quantities.shares import whole_with_shares
from jalebi_core.regulation.allergens import checked_allergens
from jalebi_core.regulation.restrictions import checked_restriction
from jalebi_core.shelf.catalogue import find
from jalebi_core.shelf.label_facts import with_label_facts
from jalebi_core.shelf.unlisted import unlisted

FORMAT: Final = "jalebi.mix"
VERSION: Final = 1
MOST_BYTES: Final = 1_000_000
MOST_LINES: Final = 200
MOST_OVERRUN_PCT: Final = 300.0
MOST_RESTRICTIONS: Final = 20
MOST_TAGS: Final = 20
MOST_TAG: Final = 40
MOST_STEPS: Final = 400
MOST_STEP: Final = 2000
_OF_LABEL_AND_COST: Final = {"label", "cost"}
_LINE_OF_LABEL_AND_COST: Final = {"as_made_g", "price", "pack_g", "trim_pct"}
"""What only `label` and `cost` read; analysing and balancing leave it alone."""
_KEYS: Final = {
    "format", "version", "name", "style", "overrun_pct", "aims", "restrictions", "tags", "method", "lines",
    *_OF_LABEL_AND_COST,
}  # fmt: skip
_LINE_KEYS: Final = {"ingredient", "amount", "unit", "stage", *LINE_CONSTRAINT_KEYS, *_LINE_OF_LABEL_AND_COST}
_STEP_KEYS: Final = {"stage", "text"}


@dataclass(frozen=True, slots=True)
class Step:
    """A sentence of the method, and the stage that it belongs to."""

    text: str
    stage: str | None = None


@dataclass(frozen=True, slots=True)
class MixFile:
    """All that a mix file holds: the mix, how each of its lines is handled, and what was noted of the whole."""

    mix: Mix
    constraints: tuple[LineConstraints, ...]
    restrictions: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    method: tuple[Step, ...] = ()


def read_mix(data: bytes, find_on_shelf: Callable[[str], Ingredient] = find) -> Mix:
    """Read the mix of a mix file; see `read_mix_file`."""
    return read_mix_file(data, find_on_shelf).mix


def read_mix_file(data: bytes, find_on_shelf: Callable[[str], Ingredient] = find) -> MixFile:
    """Read a mix file.

    Parameters
    ----------
    data : the file, UTF-8 JSON of at most 1 MB
    find_on_shelf : what a shelf name stands for; raises UnknownIngredientError

    Raises
    ------
    MixError : anything in the file that cannot be used, naming the line where one is at fault
    """
    return _file(json_object(data), find_on_shelf)


def write_mix(
    name: str,
    style: str | None,
    overrun_pct: float | None,
    lines: Sequence[Mapping[str, Any]],
    *,
    aims: Mapping[str, Band] | None = None,
    restrictions: Sequence[str] = (),
    tags: Sequence[str] = (),
    method: Iterable[Step] = (),
) -> dict[str, Any]:
    """Return a mix file's data; each line is ``{ingredient, amount, unit, …}`` as the format has it."""
    stated: dict[str, Any] = {
        "style": style,
        "overrun_pct": overrun_pct,
        "aims": write_aims(aims or {}) or None,
        "restrictions": list(restrictions) or None,
        "tags": list(tags) or None,
        "method": [_written(step) for step in method] or None,
    }
    stated = {key: value for key, value in stated.items() if value is not None}
    return {"format": FORMAT, "version": VERSION, "name": name, **stated, "lines": list(lines)}


def checked_tag(tag: object) -> str:
    """Return a tag as it is compared, in lower case; raises MixError for what is none."""
    plain = " ".join(tag.split()).casefold() if isinstance(tag, str) else ""
    if not plain or not plain.isprintable() or len(plain) > MOST_TAG:
        raise MixError("tag-malformed", most_tag=MOST_TAG)
    return plain


def _written(step: Step) -> dict[str, str]:
    return {"text": step.text} if step.stage is None else {"stage": step.stage, "text": step.text}


def checked_overrun(overrun: object) -> float | None:
    """Return an overrun in %, or None where none is given; raises MixError when it is no sensible number."""
    if overrun is None:
        return None
    if isinstance(overrun, bool) or not isinstance(overrun, int | float) or not isfinite(overrun):
        raise MixError("overrun-not-a-number", overrun=str(overrun)[:40])
    if not 0 <= overrun <= MOST_OVERRUN_PCT:
        raise MixError("overrun-impossible", overrun=overrun, most_overrun_pct=MOST_OVERRUN_PCT)
    return float(overrun)


def json_object(data: bytes) -> dict[str, Any]:
    """Return a file as a JSON object; raises MixError where it is none."""
    if len(data) > MOST_BYTES:
        raise MixError("mix-file-too-large", count=len(data) / 1000000.0)
    try:
        content = load_json(data.decode("utf-8-sig"), _refuse_constant)
    except UnicodeDecodeError:
        raise MixError("mix-file-not-text") from None
    except RecursionError:
        raise MixError("mix-file-too-deep") from None
    except json.JSONDecodeError as error:
        raise MixError("mix-file-not-json", msg=error.msg, lineno=error.lineno, colno=error.colno) from None
    except ValueError as error:
        raise MixError("mix-file-number", reason=str(error)[:80]) from None
    if not isinstance(content, dict):
        raise MixError("not-a-mix-object")
    return content


def _refuse_constant(constant: str) -> NoReturn:
    raise ValueError(f"{constant} is not a number")


def _file(content: dict[str, Any], find_on_shelf: Callable[[str], Ingredient]) -> MixFile:
    if content.get("format") != FORMAT:
        raise MixError("not-a-mix-file", format=FORMAT)
    if content.get("version") != VERSION or isinstance(content.get("version"), bool):
        raise MixError("mix-file-version", version=str(content.get("version"))[:20])
    _refuse_unknown(content, _KEYS, None)
    lines = content.get("lines")
    if not isinstance(lines, list) or not lines:
        raise MixError("no-lines")
    if len(lines) > MOST_LINES:
        raise MixError("too-many-lines", count=len(lines), most_lines=MOST_LINES)
    try:
        name = checked_name(content.get("name"), "the mix")
    except CompositionError as error:
        raise MixError.of(error.message) from None
    read = [_line(line, number, find_on_shelf) for number, line in enumerate(lines, start=1)]
    weighed = _with_shares([line for line, _, _ in read], [share for _, share, _ in read])
    if not any(line.grams for line in weighed):
        raise MixError("only-amount-zero", 1)
    mix = Mix(
        name=name,
        lines=weighed,
        style=checked_style(content.get("style")),
        overrun_pct=checked_overrun(content.get("overrun_pct")),
        aims=read_aims(content.get("aims", [])),
    )
    return MixFile(
        mix,
        constraints=tuple(constraints for _, _, constraints in read),
        restrictions=tuple(map(checked_restriction, _listed(content, "restrictions", MOST_RESTRICTIONS))),
        tags=tuple(sorted(set(map(checked_tag, _listed(content, "tags", MOST_TAGS))))),
        method=tuple(map(_step, _listed(content, "method", MOST_STEPS))),
    )


def _listed(content: dict[str, Any], key: str, most: int) -> list[object]:
    listed = content.get(key, [])
    if not isinstance(listed, list):
        raise MixError("not-a-list", key=key, listed=str(listed)[:40])
    if len(listed) > most:
        raise MixError("too-many-entries", count=len(listed), key=key, most=most)
    return listed


def _step(step: object) -> Step:
    if not isinstance(step, dict) or not isinstance(text := step.get("text"), str) or not step.keys() <= _STEP_KEYS:
        raise MixError("method-malformed")
    if not text.strip() or not text.isprintable() or len(text) > MOST_STEP:
        raise MixError("method-sentence-length", most_step=MOST_STEP)
    return Step(text.strip(), checked_stage(step.get("stage")))


def _line(
    line: object, number: int, find_on_shelf: Callable[[str], Ingredient]
) -> tuple[Line, float | None, LineConstraints]:
    """Return a line, its share of the whole mix where it is given as one, and its constraints."""
    if not isinstance(line, dict):
        raise MixError("line-malformed", number)
    _refuse_unknown(line, _LINE_KEYS, number)
    try:
        ingredient = _ingredient(line.get("ingredient"), find_on_shelf)
        constraints = read_line_constraints(line, number, ingredient.measures.pieces)
        amount, unit = line.get("amount"), line.get("unit", "g")
        share = _share(amount, unit)
        grams = 0.0 if share is not None else _grams(amount, unit, ingredient.measures.in_form(constraints.form))
    except (AmountError, CompositionError, UnknownIngredientError) as error:
        raise MixError.of(error.message, number) from None
    stage = checked_stage(line.get("stage"), number)
    return Line(ingredient, grams, stage), share, constraints


def _share(amount: object, unit: object) -> float | None:
    """Return the share of the whole mix that an amount is, None where it is none."""
    if not isinstance(unit, str) or isinstance(amount, bool) or not isinstance(amount, str | int | float):
        return None
    return read_share(amount if isinstance(amount, str) else f"{amount:.10g}", unit)


def _with_shares(lines: Sequence[Line], shares: Sequence[float | None]) -> tuple[Line, ...]:
    """Weigh the lines that are shares of the whole mix, now that the others are weighed."""
    pairs = list(zip(lines, shares, strict=True))
    in_mix = [(line, share) for line, share in pairs if line.stage not in MIX_IN_STAGES]
    try:
        whole_g = whole_with_shares(
            [line.grams for line, share in in_mix if share is None], [share for _, share in in_mix if share is not None]
        )
    except AmountError as error:
        raise MixError.of(error.message) from None
    return tuple(line if share is None else replace(line, grams=whole_g * share) for line, share in pairs)


def _ingredient(value: object, find_on_shelf: Callable[[str], Ingredient]) -> Ingredient:
    if isinstance(value, str):
        return find_on_shelf(value)
    if isinstance(value, dict):
        stated = {key: checked_allergens(value[key], key) for key in ("allergens", "may_hold") if key in value}
        rest = {key: part for key, part in value.items() if key not in (*stated, "nutrients", "on_label")}
        found = unlisted(
            Composition.from_dict({"name": "Unnamed", **rest}), stated.get("allergens"), stated.get("may_hold", ())
        )
        return with_label_facts(found, value.get("nutrients"), value.get("on_label"))
    raise CompositionError("ingredient-malformed")


def _grams(amount: object, unit: object, measures: Measures) -> float:
    if not isinstance(unit, str):
        raise AmountError("unit-not-text", unit=str(unit)[:20])
    if isinstance(amount, str):
        return read_amount(amount, unit, measures).grams
    if amount is None:
        raise AmountError("no-amount")
    if isinstance(amount, bool) or not isinstance(amount, int | float) or not isfinite(amount):
        raise AmountError("amount-not-text", amount=str(amount)[:40])
    return to_grams(float(amount), unit, measures).grams


def _refuse_unknown(content: dict[str, Any], known: set[str], line: int | None) -> None:
    unknown = sorted(content.keys() - known)
    if unknown:
        raise MixError("unknown-key", line, unknown=unknown[0][:40], known=tuple(sorted(known)))
