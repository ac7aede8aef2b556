"""A question about cold and heat as a file, and its answer: format ``jalebi.cold``. See docs/file-formats.md."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from math import isfinite
from typing import Any, Final

import numpy as np

from jalebi_core.formats.mix_file import json_object, read_mix_file
from jalebi_core.heat.enthalpy import COLDEST_C, HOTTEST_C, Thermal, melted_pct, thermal
from jalebi_core.heat.ice_bath import COLDEST_BATH_C, IceBath, ice_for
from jalebi_core.model.errors import BalanceError, HeatError
from jalebi_core.model.mix import Mix

FORMAT: Final = "jalebi.cold"
VERSION: Final = 1
_KEYS: Final = ("format", "version", "mix", "ask")
_LONGEST_LIST: Final = 1000
_GLOVES_BELOW_C: Final = -15.0
_CAUTION_SALT_ICE: Final = "Ice with salt burns skin: wear dry gloves, keep it out of the mix and away from children."


@dataclass(frozen=True, slots=True)
class _Range:
    """What a number of a question may be, and what it is where nobody says; None where it has to be said."""

    least: float
    most: float
    usual: float | None = None


_CELSIUS: Final = _Range(COLDEST_C, HOTTEST_C)
_GRAMS: Final = _Range(1.0, 1_000_000.0)
_LEAK: Final = _Range(0.0, 1000.0, 1.5)
_BATH: Final = {
    "ice_g": _Range(0.0, 1_000_000.0),
    "ice_c": _Range(COLDEST_C, 0.0, 0.0),
    "salt_g": _Range(0.0, 1_000_000.0, 0.0),
    "salt_c": _Range(COLDEST_C, 50.0, 20.0),
    "water_g": _Range(0.0, 1_000_000.0, 0.0),
    "water_c": _Range(0.0, 100.0, 10.0),
}
_NUMBERS: Final[Mapping[str, Mapping[str, _Range]]] = {
    "enthalpy": {},
    "bath": {
        **_BATH,
        "heat_kj": _Range(0.0, 1_000_000.0, 0.0),
        "hours": _Range(0.0, 240.0, 0.0),
        "leak_w_k": _LEAK,
        "room_c": _Range(-10.0, 50.0, 20.0),
    },
    "ice": {
        "mass_g": _GRAMS,
        "from_c": _CELSIUS,
        "to_c": _CELSIUS,
        "bath_c": _Range(COLDEST_BATH_C, 0.0),
        "loss": _Range(1.0, 10.0, 1.5),
    },
    "shock": {"from_c": _CELSIUS, "to_c": _CELSIUS},
}
_LISTS: Final = {"enthalpy": "t_c"}
_WITHOUT_MIX: Final = frozenset(("bath",))


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked: its kind, its numbers by name, its list of numbers, and the mix where that matters."""

    kind: str
    numbers: Mapping[str, float]
    temperatures_c: tuple[float, ...]
    mix: Mix | None


def read_question(data: bytes) -> Question:
    """Read a file; raises JalebiError naming what in it cannot be used."""
    content = json_object(data)
    if content.get("format") != FORMAT or content.get("version") != VERSION or not isinstance(content.get("ask"), dict):
        raise HeatError("not-a-cold-file")
    _refuse_unknown(content, _KEYS)
    ask: dict[str, Any] = content["ask"]
    kind = ask.get("kind")
    if not isinstance(kind, str) or kind not in _NUMBERS:
        raise HeatError("ask-kind-unknown", kind=str(kind)[:40], known=", ".join(_NUMBERS))
    ranges, list_key = _NUMBERS[kind], _LISTS.get(kind)
    _refuse_unknown(ask, ("kind", *ranges, *([list_key] if list_key else ())))
    numbers = {key: _number(key, ask.get(key, wanted.usual), wanted) for key, wanted in ranges.items()}
    temperatures = _temperatures(list_key, ask.get(list_key)) if list_key else ()
    return Question(kind, numbers, temperatures, None if kind in _WITHOUT_MIX else _mix(content))


def _refuse_unknown(content: Mapping[str, Any], known: tuple[str, ...]) -> None:
    unknown = sorted(content.keys() - set(known))
    if unknown:
        raise HeatError("cold-key-unknown", key=unknown[0][:40], known=", ".join(known))


def _mix(content: Mapping[str, Any]) -> Mix:
    if not isinstance(content.get("mix"), dict):
        raise HeatError("ask-key-missing", key="mix")
    return read_mix_file(json.dumps(content["mix"]).encode()).mix


def _number(key: str, value: object, wanted: _Range) -> float:
    if value is None:
        raise HeatError("ask-key-missing", key=key)
    if isinstance(value, bool) or not isinstance(value, int | float) or not isfinite(value):
        raise BalanceError("not-a-number", name=key, value=str(value)[:40])
    if not wanted.least <= value <= wanted.most:
        raise HeatError("ask-out-of-range", key=key, value=value, least=wanted.least, most=wanted.most)
    return float(value)


def _temperatures(key: str, values: object) -> tuple[float, ...]:
    if not isinstance(values, list) or not 0 < len(values) <= _LONGEST_LIST:
        raise HeatError("ask-list-malformed", key=key, longest=_LONGEST_LIST)
    return tuple(_number(key, value, _CELSIUS) for value in values)


def answer(question: Question) -> dict[str, Any]:
    """Return the answer as plain data: figures, one sentence that says them, and cautions."""
    found = _ANSWERS[question.kind](question)
    return {"kind": question.kind, **found, "cautions": found.get("cautions", [])}


def _table(question: Question) -> tuple[Mix, Thermal]:
    assert question.mix is not None
    return question.mix, thermal(question.mix.row(), question.mix.overrun_used_pct)


def _c(celsius: float) -> str:
    """Return a temperature as it stands in a sentence."""
    return f"{celsius:.10g} °C".replace("-", "−")


def _enthalpy(question: Question) -> dict[str, Any]:
    mix, table = _table(question)
    celsius = np.array(question.temperatures_c)
    h = table.h_at(celsius)
    warm, cold = float(celsius.max()), float(celsius.min())
    given = float(h.max() - h.min())
    frozen = float(table.frozen_at(np.array(cold)))
    rest = f"; {frozen:.0f} % of its water is ice then" if frozen > 0 else ""
    return {
        "t_c": list(question.temperatures_c),
        "h_kj_kg": h.tolist(),
        "frozen_pct": table.frozen_at(celsius).tolist(),
        "k_w_mk": table.k_at(celsius).tolist(),
        "density_kg_m3": table.density_kg_m3,
        "said": f"From {_c(warm)} to {_c(cold)} a kilo of {mix.name} gives off {given:.0f} kJ{rest}.",
    }


def _bath(question: Question) -> dict[str, Any]:
    of = question.numbers
    if of["ice_g"] + of["water_g"] <= 0:
        raise HeatError("ask-nothing-put-in")
    begun = IceBath.of(**{key: of[key] for key in _BATH}).heated(of["heat_kj"])
    bath = begun.left_standing(of["hours"], of["leak_w_k"], of["room_c"])
    state = bath.state()
    takes = bath.takes_kj
    if takes > 0:
        ends = _c(round(bath.ends_at_c, 1))
        said = f"It is at {_c(round(state.t_c, 1))} and takes {takes:.0f} kJ until its last ice melts at {ends}."
    else:
        said = f"Its ice is gone; it is at {_c(round(state.t_c, 1))}."
    cautions = [_CAUTION_SALT_ICE] if of["salt_g"] > 0 and state.t_c < _GLOVES_BELOW_C else []
    return {**asdict(state), "takes_kj": takes, "ends_at_c": bath.ends_at_c, "said": said, "cautions": cautions}


def _ice(question: Question) -> dict[str, Any]:
    mix, table = _table(question)
    of = question.numbers
    if of["to_c"] >= of["from_c"]:
        raise HeatError("ask-not-colder", from_c=of["from_c"], to_c=of["to_c"])
    if of["bath_c"] > of["to_c"]:
        raise HeatError("ask-bath-too-warm", bath_c=of["bath_c"], to_c=of["to_c"])
    warm, cold = table.h_at(np.array([of["from_c"], of["to_c"]]))
    load = ice_for(float(warm - cold) * of["mass_g"] / 1000 * of["loss"], of["bath_c"])
    salt = f" with {load.salt_g:.0f} g of salt" if load.salt_g >= 0.5 else ""
    said = (
        f"{load.ice_g / 1000:.1f} kg of ice{salt} takes {of['mass_g']:.0f} g of {mix.name} "
        f"from {_c(of['from_c'])} to {_c(of['to_c'])}."
    )
    return {**asdict(load), "said": said, "cautions": [_CAUTION_SALT_ICE] if of["bath_c"] < _GLOVES_BELOW_C else []}


_SHOCKS: Final = (
    (10.0, "hardly noticeable"),
    (20.0, "noticeable after several times"),
    (40.0, "it gets coarser"),
    (80.0, "it gets icy"),
)
"""What melted ice does once it has frozen again on what was left, by the % of it; working conventions."""
_SHOCK_BEYOND: Final = "discard it; only if it was kept cold, pasteurise it again and churn it anew"


def _shock(question: Question) -> dict[str, Any]:
    _, table = _table(question)
    of = question.numbers
    melted = melted_pct(table, of["from_c"], of["to_c"])
    what = next((words for least, words in _SHOCKS if melted <= least), _SHOCK_BEYOND)
    said = f"From {_c(of['from_c'])} to {_c(of['to_c'])} {melted:.0f} % of its ice melts: {what}."
    cautions = ["What has melted is never frozen again as it is."] if melted > _SHOCKS[-1][0] else []
    return {"melted_pct": melted, "said": said, "cautions": cautions}


_ANSWERS: Final[Mapping[str, Callable[[Question], dict[str, Any]]]] = {
    "enthalpy": _enthalpy,
    "bath": _bath,
    "ice": _ice,
    "shock": _shock,
}
