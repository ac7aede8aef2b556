"""The kitchen of the stand-ins: what is on the scales, in the pot and in the bowl, and what a hand does there."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from math import sin
from random import Random
from typing import Any, Final

import numpy as np

from devices.bowl import Bowl
from devices.clock import Clock
from devices.pan import Pan
from devices.pot import PLACES, Pot
from jalebi_core.formats.device_lines import Hello, Shown
from jalebi_core.heat.churn import Conditions, churner, churner_kinds
from jalebi_core.heat.enthalpy import thermal
from jalebi_core.model.composition import WIDTH
from jalebi_core.model.errors import DeviceError

DEVICES: Final = {
    "scale": ("scale", "Kitchen scale", 1.0),
    "fine-scale": ("fine-scale", "Fine scale", 0.01),
    "probe": ("probe", "Probe", 0.1),
    "batch-freezer": ("batch-freezer", "Batch freezer", 0.1),
}
_PROBE_LAG_S: Final = 4.0
_PROBE_NOISE_K: Final = 0.06
_PROBE_WRONG_K: Final = 0.1
_FREEZER_C: Final = -18.0
_ROOM_C: Final = 20.0
_THAWS_K_MIN: Final = 0.12
IN: Final = ("pot", "bowl", "freezer", "air")

Told = Mapping[str, Any]


@dataclass(slots=True)
class World:
    """All of it at once; the same seed is the same kitchen.

    factor : how fast the machine really is beside its kind
    silent : until which second of the wall's clock a device says nothing; for ever where it has died
    """

    clock: Clock
    seed: int = 1
    factor: float = 0.88
    pans: dict[str, Pan] = field(init=False)
    pot: Pot = field(init=False)
    bowl: Bowl = field(init=False)
    probe_in: str = "air"
    warm_from: float | None = None
    silent: dict[str, float] = field(default_factory=dict)
    _chance: Random = field(init=False)
    _probe_c: float = _ROOM_C
    _probe_at: float = 0.0
    _wrong_k: float = field(init=False)

    def __post_init__(self) -> None:
        self._chance = Random(self.seed)
        self._wrong_k = self._chance.uniform(-_PROBE_WRONG_K, _PROBE_WRONG_K)
        self.pans = {
            "scale": Pan(1.0, 10_000.0, Random(self.seed + 1)),
            "fine-scale": Pan(0.01, 200.0, Random(self.seed + 2)),
        }
        self.pot, self.bowl = Pot(), Bowl()

    def hello(self, key: str) -> Hello:
        kind, name, step = DEVICES[key]
        return Hello(kind, name, step, self.clock.speed, stand_in=True)

    def shows(self, key: str) -> Shown:
        """Return what a device shows now."""
        now = self.clock.now()
        if key in self.pans:
            value, steady = self.pans[key].at(now)
            return Shown(now, value, steady)
        if key == "probe":
            return self._probe(now)
        celsius, wall_c = self.bowl.at(now)
        return Shown(now, round(celsius + self._chance.gauss(0, 0.05), 1), self.bowl.began is None, wall_c)

    def is_silent(self, key: str, wall_s: float) -> bool:
        return wall_s < self.silent.get(key, 0.0)

    def _probe(self, now: float) -> Shown:
        true_c = self._where_the_probe_is(now)
        passed, self._probe_at = now - self._probe_at, now
        before = self._probe_c
        self._probe_c += (true_c - before) * (1 - float(np.exp(-passed / _PROBE_LAG_S)))
        shown = self._probe_c + self._wrong_k + self._chance.gauss(0, _PROBE_NOISE_K)
        return Shown(now, round(shown, 1), abs(true_c - self._probe_c) < 0.1)

    def _where_the_probe_is(self, now: float) -> float:
        pot_c, (bowl_c, _) = self.pot.at(now), self.bowl.at(now)
        if self.probe_in == "pot":
            return pot_c
        if self.probe_in == "bowl":
            return bowl_c
        return self._freezer_c(now) if self.probe_in == "freezer" else _ROOM_C

    def _freezer_c(self, now: float) -> float:
        """Return the °C of a freezer whose compressor comes and goes, and which may have died."""
        thawed = 0.0 if self.warm_from is None else (now - self.warm_from) / 60 * _THAWS_K_MIN
        return min(_FREEZER_C + 0.8 * sin(now / 400) + thawed, _ROOM_C)

    # ---- what a hand does

    def do(self, key: str, told: Told, wall_s: float) -> None:
        """Do what somebody does at a device; raises DeviceError for what nobody can."""
        task = str(told.get("do", ""))
        tasks = self._tasks(key, told, wall_s)
        if task not in tasks:
            raise DeviceError("device-task-unknown", task=task[:40], known=tuple(tasks))
        tasks[task]()

    def _tasks(self, key: str, told: Told, wall_s: float) -> dict[str, Callable[[], None]]:
        quiet = {
            "drop-out": lambda: self.silent.update({key: wall_s + _of(told, "seconds", 3.0, 0.1, 3600.0)}),
            "die": lambda: self.silent.update({key: float("inf")}),
            "wake": lambda: self.silent.update({key: 0.0}),
        }
        if key in self.pans:
            pan = self.pans[key]
            return quiet | {
                "tare": pan.tare,
                "take-off": pan.take_off,
                "pour": lambda: pan.pour(_of(told, "grams", 0.0, -20_000.0, 20_000.0)),
            }
        if key == "probe":
            return quiet | {
                "put": lambda: self._put(str(told.get("in"))),
                "fill": lambda: self.pot.fill(_of(told, "grams", 1000.0, 1.0, 50_000.0), _of(told, "c", 6.0, -5, 100)),
                "stove-on": lambda: self._stove(on=True),
                "stove-off": lambda: self._stove(on=False),
                "stand": lambda: self._stand(str(told.get("in"))),
                "freezer-dies": self._freezer_dies,
            }
        return quiet | {
            "load": lambda: self._load(told),
            "start": lambda: self.bowl.start(self.clock.now()),
            "stop": self.bowl.stop,
        }

    def _put(self, where: str) -> None:
        if where not in IN:
            raise DeviceError("device-task-unknown", task=where[:40], known=IN)
        self.probe_in = where

    def _stove(self, *, on: bool) -> None:
        self.pot.at(self.clock.now())
        self.pot.is_on, self.pot.place = on, "room"

    def _stand(self, where: str) -> None:
        if where not in PLACES:
            raise DeviceError("device-task-unknown", task=where[:40], known=PLACES)
        self.pot.at(self.clock.now())
        self.pot.is_on, self.pot.place = False, where

    def _freezer_dies(self) -> None:
        self.warm_from = self.clock.now()

    def _load(self, told: Told) -> None:
        kind = str(told.get("kind", "canister"))
        row = told.get("row")
        if kind not in churner_kinds():
            raise DeviceError("device-task-unknown", task=kind[:40], known=churner_kinds())
        if not isinstance(row, list) or len(row) != WIDTH or not all(isinstance(one, int | float) for one in row):
            raise DeviceError("device-number", key="row")
        gel = told.get("gel_frozen_pct")
        self.bowl.load(
            thermal(np.array(row, dtype=np.float64), 0.0),
            _of(told, "grams", 700.0, 10.0, 50_000.0),
            churner(kind, _of(told, "bowl_l", 1.5, 0.05, 200.0), factor=self.factor),
            Conditions(
                start_c=_of(told, "start_c", 5.0, -5.0, 100.0),
                freezer_c=_of(told, "freezer_c", _FREEZER_C, -60.0, 20.0),
                gel_frozen_pct=None if gel is None else _of(told, "gel_frozen_pct", 100.0, 0.0, 100.0),
            ),
        )


def _of(told: Told, key: str, usual: float, least: float, most: float) -> float:
    value = told.get(key, usual)
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise DeviceError("device-number", key=key)
    if not least <= value <= most:
        raise DeviceError("device-range", key=key, least=least, most=most)
    return float(value)
