"""A kitchen's log as a file, format ``jalebi.log``, and what it teaches as plain data. See docs/file-formats.md."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import asdict
from json import dumps
from typing import Any, Final

import numpy as np

from jalebi_core.data import read_toml
from jalebi_core.formats.fields import Fields, read_fields
from jalebi_core.formats.mix_file import read_mix
from jalebi_core.model.errors import MixError, TastingError
from jalebi_core.model.mix import Mix
from jalebi_core.model.styles import styles
from jalebi_core.production.machines import machine_kinds
from jalebi_core.tasting.freezers import WORDS
from jalebi_core.tasting.learning import LEVEL
from jalebi_core.tasting.log import (
    Batch,
    Facts,
    Freezer,
    FruitLot,
    Log,
    LogMachine,
    Made,
    PieceWeighing,
    Reading,
    Tasting,
)
from jalebi_core.tasting.overrun import CupWeighed
from jalebi_core.tasting.parameters import Parameter, learn

FORMAT: Final = "jalebi.log"
_KEYS: Final = (
    "freezers", "thermometer", "machines", "readings", "batches", "lots", "weighings", "left_out", "since",
)  # fmt: skip
_PLACES: Final = ("tub", "air")
_BATCH_KEYS: Final = ("id", "at", "machine", "style", "mix", "facts", "made", "tastings")
_FACT_KEYS: Final = ("frozen", "sweetness_pod", "overrun_pct", "churn_min")
_MADE_KEYS: Final = ("overrun_pct", "cup", "churn_min", "in_g", "out_g", "draw_ice_g")
_TASTING_KEYS: Final = ("id", "at", "by", "freezer", "t_c", "firmness", "sweetness_jar")
_LOT_KEYS: Final = ("id", "at", "fruit", "supplier", "season", "brix", "usual_brix")
_WEIGHING_KEYS: Final = ("id", "at", "ingredient", "piece", "usual_g", "pieces", "grams")


def learn_report(data: bytes) -> dict[str, Any]:
    """Return what a log file teaches; raises TastingError naming what in it cannot be used."""
    return {"parameters": [parameter_data(one) for one in learn(read_log(data))]}


def parameter_data(one: Parameter) -> dict[str, Any]:
    """Return a parameter as the plain data that ``jalebi learn --json`` prints."""
    found = one.posterior
    more: dict[str, str | None] = {"piece": one.piece} if one.piece is not None else {}
    if one.key == "brix":
        more = {"supplier": one.supplier, "season": one.season}
    return {
        "key": one.key,
        "of": one.of,
        **more,
        "value": found.value,
        "low": found.low,
        "high": found.high,
        "level": LEVEL,
        "unit": one.unit,
        "prior": asdict(found.prior),
        "n": found.n,
        "needed": one.needed,
        "identified": found.identified,
        "in_use": one.in_use,
        "strays": list(found.strays),
        "said": str(one.said),
    }


def read_log(data: bytes) -> Log:
    """Read a log file; raises TastingError naming what in it cannot be used."""
    fields = read_fields(data, FORMAT, _KEYS)
    freezers = tuple(
        Freezer(one.text("name"), one.number_or_none("dial_c", -80, 10))
        for one in fields.objects("freezers", ("name", "dial_c"))
    )
    machines = tuple(
        LogMachine(one.text("name"), machine_kinds()[one.choice("kind", machine_kinds())].air)
        for one in fields.objects("machines", ("name", "kind"))
    )
    named = {"freezers": [one.name for one in freezers], "machines": [one.name for one in machines]}
    for names in named.values():
        _once(names)
    thermometer = fields.inner("thermometer", ("ice_water_c",))
    log = Log(
        freezers=freezers,
        ice_water_c=None if thermometer is None else thermometer.number_or_none("ice_water_c", -10, 10),
        machines=machines,
        readings=tuple(
            Reading(
                one.text("id"),
                one.day("at"),
                _named(one, "freezer", named["freezers"], "freezers"),
                one.number("t_c", -80, 40),
                one.choice("in", _PLACES) == "tub",
            )
            for one in fields.objects("readings", ("id", "at", "freezer", "t_c", "in"))
        ),
        batches=tuple(_batch(one, named) for one in fields.objects("batches", _BATCH_KEYS)),
        lots=tuple(_lot(one) for one in fields.objects("lots", _LOT_KEYS)),
        weighings=tuple(_weighing(one) for one in fields.objects("weighings", _WEIGHING_KEYS)),
        left_out=frozenset(fields.texts("left_out")),
        since=fields.days("since", tuple(read_toml("learning.toml"))),
    )
    _once(
        [
            *(one.id for one in log.readings),
            *(id for one in log.batches for id in (one.id, *(tasting.id for tasting in one.tastings))),
            *(one.id for one in log.lots),
            *(one.id for one in log.weighings),
        ]
    )
    return log


def _batch(fields: Fields, named: dict[str, list[str]]) -> Batch:
    if ("mix" in fields) == ("facts" in fields):
        raise TastingError("log-mix-or-facts", where=fields.where)
    at = fields.day("at")
    style = fields.choice("style", styles()) if "style" in fields else None
    if "mix" in fields:
        mix = _mix(fields.raw("mix"))
        facts, style = Facts.of_mix(mix), style or mix.style
    else:
        facts = _facts(fields)
    return Batch(
        id=fields.text("id"),
        at=at,
        facts=facts,
        machine=_named(fields, "machine", named["machines"], "machines") if "machine" in fields else None,
        style=style,
        made=_made(fields),
        tastings=tuple(
            Tasting(
                id=one.text("id"),
                at=one.day("at") if "at" in one else at,
                by=one.text_or_none("by") or "",
                freezer=_named(one, "freezer", named["freezers"], "freezers") if "freezer" in one else None,
                t_c=one.number_or_none("t_c", -80, 20),
                firmness=one.choice("firmness", WORDS) if "firmness" in one else None,
                sweetness_mark=one.whole("sweetness_jar", -2, 2) if "sweetness_jar" in one else None,
            )
            for one in fields.objects("tastings", _TASTING_KEYS)
        ),
    )


def _mix(data: object) -> Mix:
    try:
        return read_mix(dumps(data).encode())
    except MixError as error:
        raise TastingError.of(error.message, error.line) from None


def _facts(fields: Fields) -> Facts:
    facts = fields.inner("facts", _FACT_KEYS)
    assert facts is not None
    curve = [
        (one.number("t_c", -80, 10), one.number("frozen_pct", 0, 100))
        for one in facts.objects("frozen", ("t_c", "frozen_pct"))
    ]
    if len(curve) < 2 or len({t_c for t_c, _ in curve}) < len(curve):
        raise TastingError("log-curve", where=fields.where)
    curve.sort(reverse=True)
    return Facts(
        np.array([t_c for t_c, _ in curve]),
        np.array([frozen for _, frozen in curve]),
        facts.number_or_none("sweetness_pod", 0, 100),
        facts.number_or_none("overrun_pct", 0, 300),
        facts.number_or_none("churn_min", 0.1, 1440),
    )


def _made(fields: Fields) -> Made:
    made = fields.inner("made", _MADE_KEYS)
    if made is None:
        return Made()
    cup = made.inner("cup", ("tare_g", "mix_g", "frozen_g"))
    weighed = None if cup is None else CupWeighed(*(cup.number(key, 0, 1e5) for key in ("tare_g", "mix_g", "frozen_g")))
    return Made(
        overrun_pct=made.number_or_none("overrun_pct", -50, 1000),
        cup=weighed,
        churn_min=made.number_or_none("churn_min", 0.1, 1440),
        in_g=made.number_or_none("in_g", 1e-3, 1e7),
        out_g=made.number_or_none("out_g", 0, 1e7),
        draw_ice_g=made.number_or_none("draw_ice_g", 0, 100),
    )


def _lot(fields: Fields) -> FruitLot:
    return FruitLot(
        fields.text("id"),
        fields.day("at"),
        fields.text("fruit"),
        fields.number("brix", 0, 90),
        fields.number("usual_brix", 0.1, 90),
        fields.text_or_none("supplier"),
        fields.text_or_none("season"),
    )


def _weighing(fields: Fields) -> PieceWeighing:
    return PieceWeighing(
        fields.text("id"),
        fields.day("at"),
        fields.text("ingredient"),
        fields.text("piece"),
        fields.number("usual_g", 1e-3, 1e5),
        fields.number("pieces", 1e-3, 1e5),
        fields.number("grams", 1e-3, 1e6),
    )


def _named(fields: Fields, key: str, known: list[str], what: str) -> str:
    name = fields.text(key)
    if name not in known:
        raise TastingError("log-unknown-name", where=fields.where, name=name[:40], what=what)
    return name


def _once(ids: Iterable[str]) -> None:
    seen: set[str] = set()
    for id in ids:
        if id in seen:
            raise TastingError("log-id-twice", id=id[:40])
        seen.add(id)
