"""A question about cold and heat as a file: format ``jalebi.cold``. See docs/file-formats.md."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import isfinite
from typing import Any, Final

from jalebi_core.formats.mix_file import json_object, read_mix_file
from jalebi_core.heat.churn import churner_kinds, constants_of
from jalebi_core.heat.enthalpy import COLDEST_C, HOTTEST_C
from jalebi_core.heat.ice_bath import COLDEST_BATH_C
from jalebi_core.heat.pot import POTS
from jalebi_core.heat.reduction import HOBS
from jalebi_core.heat.tub import PLACES, WALLS
from jalebi_core.model.errors import BalanceError, HeatError
from jalebi_core.model.mix import Mix

FORMAT: Final = "jalebi.cold"
VERSION: Final = 1
_KEYS: Final = ("format", "version", "mix", "ask")
_LONGEST_LIST: Final = 1000
_LEAST_RECORD: Final = 2
NOT_STIRRED: Final = ("no-churn", "granita")
"""Kinds and styles that no machine stirs: a tub answers for them."""


@dataclass(frozen=True, slots=True)
class Number:
    """A number of a question: its range, and what it is where nobody says; None then, or it has to be said."""

    least: float
    most: float
    usual: float | None = None
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Choice:
    """One of some words, and which where nobody says; None then."""

    of: tuple[str, ...]
    usual: str | None = None


@dataclass(frozen=True, slots=True)
class Flag:
    """Yes or no, and which where nobody says."""

    usual: bool


@dataclass(frozen=True, slots=True)
class Numbers:
    """A list of numbers of one range; an empty one where it may be left out."""

    each: Number
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Record:
    """A list of pairs of a minute and a temperature, the minutes rising; an empty one where it may be left out."""

    least: int = 0


@dataclass(frozen=True, slots=True)
class Group:
    """An object with fields of its own; None where it may be left out."""

    fields: Mapping[str, Field]
    optional: bool = True


Field = Number | Choice | Flag | Numbers | Record | Group

_CELSIUS: Final = Number(COLDEST_C, HOTTEST_C)
_GRAMS: Final = Number(1.0, 1_000_000.0)
_AROUND: Final = Number(COLDEST_C, 50.0, optional=True)
_ROOM: Final = Number(-10.0, 50.0, 20.0)
_RESISTANCE: Final = Number(1e-6, 1e6, optional=True)
_MM: Final = Number(5.0, 3000.0, optional=True)
_CONSTANT: Final = Number(-60.0, 1e6, optional=True)
_POSITIVE: Final = Number(1e-6, 1e6, optional=True)
_BATH: Final[Mapping[str, Field]] = {
    "ice_g": Number(0.0, 1_000_000.0),
    "ice_c": Number(COLDEST_C, 0.0, 0.0),
    "salt_g": Number(0.0, 1_000_000.0, 0.0),
    "salt_c": Number(COLDEST_C, 50.0, 20.0),
    "water_g": Number(0.0, 1_000_000.0, 0.0),
    "water_c": Number(0.0, 100.0, 10.0),
}
_MAY_BE_COLD: Final = ("gel_melts_c", "coldest_c")


def _machine() -> Mapping[str, Field]:
    names = sorted({name for kind in churner_kinds() for name in constants_of(kind)})
    return {
        "kind": Choice((*churner_kinds(), *NOT_STIRRED[:1])),
        "bowl_l": Number(0.05, 500.0, optional=True),
        "factor": Number(0.05, 20.0, 1.0),
        **{name: _CONSTANT if name in _MAY_BE_COLD else _POSITIVE for name in names if name != "precool_min"},
    }


_CHURN: Final[Mapping[str, Field]] = {
    "machine": Group(_machine(), optional=False),
    "mass_g": _GRAMS,
    "start_c": Number(-20.0, 100.0, 4.0),
    "room_c": _ROOM,
    "freezer_c": Number(COLDEST_C, 20.0, -18.0),
    "prefreeze_h": Number(0.0, 1000.0, 24.0),
    "gel_frozen_pct": Number(0.0, 100.0, optional=True),
    "precool_min": Number(0.0, 240.0, optional=True),
    "bath": Group(_BATH),
    "draw_ice_g": Number(0.0, 80.0, optional=True),
    "draw_c": Number(-30.0, 20.0, optional=True),
    "max_min": Number(1.0, 600.0, optional=True),
}
KINDS: Final[Mapping[str, Mapping[str, Field]]] = {
    "enthalpy": {"t_c": Numbers(_CELSIUS)},
    "churn": _CHURN,
    "watch": {**_CHURN, "readings": Record(least=1)},
    "bath": {
        **_BATH,
        "heat_kj": Number(0.0, 1_000_000.0, 0.0),
        "hours": Number(0.0, 240.0, 0.0),
        "leak_w_k": Number(0.0, 1000.0, 1.5),
        "room_c": _ROOM,
    },
    "ice": {
        "mass_g": _GRAMS,
        "from_c": _CELSIUS,
        "to_c": _CELSIUS,
        "bath_c": Number(COLDEST_BATH_C, 0.0),
        "loss": Number(1.0, 10.0, 1.5),
    },
    "tub": {
        "shape": Choice(("cylinder", "box"), "cylinder"),
        "diameter_mm": _MM,
        "length_mm": _MM,
        "width_mm": _MM,
        "height_mm": Number(5.0, 3000.0),
        "wall": Choice(tuple(WALLS)),
        "lid": Flag(True),
        "start_c": Number(COLDEST_C, 60.0),
        "place": Choice(tuple(PLACES)),
        "air_c": _AROUND,
        "h_w_m2k": Number(0.1, 1e6, optional=True),
        "r_top_m2k_w": _RESISTANCE,
        "r_side_m2k_w": _RESISTANCE,
        "r_bottom_m2k_w": _RESISTANCE,
        "bath": Group(_BATH),
        "wall_kg": Number(0.0, 100.0, 0.0),
        "wall_kj_kgk": Number(0.05, 10.0, optional=True),
        "wall_start_c": _AROUND,
        "emptying_min": Number(0.0, 240.0, 0.0),
        "emptying_room_c": Number(-10.0, 50.0, 25.0),
        "hours": Number(0.01, 720.0, 24.0),
        "minutes": Numbers(Number(0.0, 43_200.0), optional=True),
        "target_core_c": Number(COLDEST_C, 40.0, -15.0),
    },
    "pot": {
        "mass_g": _GRAMS,
        "start_c": Number(COLDEST_C, 110.0),
        "place": Choice(tuple(POTS)),
        "diameter_mm": Number(20.0, 3000.0, 220.0),
        "stirred": Flag(True),
        "stir_every_min": Number(0.5, 240.0, optional=True),
        "ua_w_k": Number(0.001, 1e6, optional=True),
        "air_c": _AROUND,
        "bath": Group(_BATH),
        "cold": Group({"mass_g": _GRAMS, "c": Number(-5.0, 100.0)}),
        "before": Record(),
    },
    "reduce": {
        "mass_g": _GRAMS,
        "to_g": Number(0.0, 1_000_000.0, optional=True),
        "to_c": Number(80.0, 200.0, optional=True),
        "to_depth_mm": Number(0.1, 3000.0, optional=True),
        "diameter_mm": Number(20.0, 3000.0, optional=True),
        "start_c": Number(0.0, 110.0, 20.0),
        "watts": Number(10.0, 1e6),
        "hob": Choice(tuple(HOBS)),
        "efficiency": Number(0.01, 1.0, optional=True),
        "tare_g": Number(0.0, 1_000_000.0, 0.0),
    },
    "shock": {"from_c": _CELSIUS, "to_c": _CELSIUS},
}
"""What may be asked: the fields of each kind of question."""
WITHOUT_MIX: Final = frozenset(("bath",))


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked: its kind, what is said or taken by key, which keys were said, and the mix where that matters."""

    kind: str
    of: Mapping[str, Any]
    said: frozenset[str] = field(default_factory=frozenset)
    mix: Mix | None = None


def read_question(data: bytes) -> Question:
    """Read a file; raises JalebiError naming what in it cannot be used."""
    content = json_object(data)
    if content.get("format") != FORMAT or content.get("version") != VERSION or not isinstance(content.get("ask"), dict):
        raise HeatError("not-a-cold-file")
    _refuse_unknown(content, _KEYS)
    ask: dict[str, Any] = content["ask"]
    kind = ask.get("kind")
    if not isinstance(kind, str) or kind not in KINDS:
        raise HeatError("ask-kind-unknown", kind=str(kind)[:40], known=", ".join(KINDS))
    asked = {key: value for key, value in ask.items() if key != "kind"}
    of = read_fields(asked, KINDS[kind])
    return Question(kind, of, frozenset(asked), None if kind in WITHOUT_MIX else _mix(content))


def read_fields(asked: Mapping[str, Any], fields: Mapping[str, Field], within: str = "") -> dict[str, Any]:
    """Return the values of fields by key; raises JalebiError naming the first that cannot be used."""
    _refuse_unknown(asked, tuple(fields))
    return {key: _read(f"{within}{key}", asked.get(key), wanted) for key, wanted in fields.items()}


def _refuse_unknown(content: Mapping[str, Any], known: Sequence[str]) -> None:
    unknown = sorted(content.keys() - set(known))
    if unknown:
        raise HeatError("cold-key-unknown", key=unknown[0][:40], known=", ".join(known))


def _read(key: str, value: object, wanted: Field) -> Any:
    match wanted:
        case Number():
            return _number(key, value, wanted)
        case Choice():
            return _choice(key, value, wanted)
        case Flag():
            if value is not None and not isinstance(value, bool):
                raise HeatError("ask-choice-unknown", key=key, value=str(value)[:40], known="true, false")
            return wanted.usual if value is None else value
        case Numbers():
            return _numbers(key, value, wanted)
        case Record():
            return _record(key, value, wanted.least)
        case Group():
            return _group(key, value, wanted)


def _number(key: str, value: object, wanted: Number) -> float | None:
    value = wanted.usual if value is None else value
    if value is None:
        if wanted.optional:
            return None
        raise HeatError("ask-key-missing", key=key)
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise BalanceError("not-a-number", name=key, value=str(value)[:40])
    if not wanted.least <= value <= wanted.most:
        raise HeatError("ask-out-of-range", key=key, value=value, least=wanted.least, most=wanted.most)
    return float(value)


def _choice(key: str, value: object, wanted: Choice) -> str | None:
    if value is None:
        return wanted.usual
    if not isinstance(value, str) or value not in wanted.of:
        raise HeatError("ask-choice-unknown", key=key, value=str(value)[:40], known=", ".join(wanted.of))
    return value


def _numbers(key: str, value: object, wanted: Numbers) -> tuple[float, ...]:
    if value is None and wanted.optional:
        return ()
    if not isinstance(value, list) or not 0 < len(value) <= _LONGEST_LIST:
        raise HeatError("ask-list-malformed", key=key, longest=_LONGEST_LIST)
    found = [_number(key, one, wanted.each) for one in value]
    return tuple(one for one in found if one is not None)


def _record(key: str, value: object, least: int) -> tuple[tuple[float, float], ...]:
    if value is None and least == 0:
        return ()
    fewest = least or _LEAST_RECORD
    if not isinstance(value, list) or not fewest <= len(value) <= _LONGEST_LIST:
        raise HeatError("ask-record-malformed", key=key, least=fewest, longest=_LONGEST_LIST)
    pairs: list[tuple[float, float]] = []
    for one in value:
        if not isinstance(one, list) or len(one) != 2:
            raise HeatError("ask-record-malformed", key=key, least=fewest, longest=_LONGEST_LIST)
        minute, celsius = _number(key, one[0], Number(0.0, 100_000.0)), _number(key, one[1], _CELSIUS)
        assert minute is not None
        assert celsius is not None
        if pairs and minute <= pairs[-1][0]:
            raise HeatError("ask-record-backwards", key=key, minute=minute)
        pairs.append((minute, celsius))
    return tuple(pairs)


def _group(key: str, value: object, wanted: Group) -> dict[str, Any] | None:
    if value is None and wanted.optional:
        return None
    if not isinstance(value, dict):
        raise HeatError("ask-key-missing", key=key)
    return read_fields(value, wanted.fields, f"{key}.")


def _mix(content: Mapping[str, Any]) -> Mix:
    if not isinstance(content.get("mix"), dict):
        raise HeatError("ask-key-missing", key="mix")
    return read_mix_file(json.dumps(content["mix"]).encode()).mix
