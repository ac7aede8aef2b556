"""Steps that an instrument watches: what it logs, how the step goes on by that, and what is to be done now."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from threading import Lock
from typing import Final

from django.utils import timezone

from batches.models import Batch
from batches.replay import BatchState
from ingredients.shelf_cache import machines_of
from instruments.models import Instrument, Point, Watch
from jalebi_core.heat.churn import Conditions
from jalebi_core.heat.churn_watch import Expected, began_at, expect, say_apart, say_watched, watch
from jalebi_core.heat.enthalpy import Thermal, thermal
from jalebi_core.heat.pot import HOLDS, POTS, credit
from jalebi_core.heat.probe_log import Log, cooling_clock, goes_on_to, warm_since
from jalebi_core.heat.sentences import say_cooling_now, say_pot, say_quiet, say_warm_freezer
from jalebi_core.model.errors import DeviceError, MixError
from jalebi_core.production.making.process import offset_k
from jalebi_core.production.making.steps import MakingStep
from jalebi_core.production.runs import churner_of
from jalebi_core.wording.message import Message, words
from jalebi_core.wording.notation import Notation
from kitchens.models import Kitchen, notation_of
from making.bench import Making, forecast_of
from making.schemas import WatchOut

POT: Final = ("warm", "cook", "scald", "syrup", "boil")
COLD: Final = ("harden", "prefreeze")
CHURN: Final = ("churn",)
COOL: Final = ("cool",)
WATCHED: Final = (*POT, *COLD, *CHURN, *COOL)
_EVERY_S: Final = {"pot": 2.0, "churn": 3.0, "cool": 15.0, "cold": 60.0}
_QUIET_INTERVALS: Final = 3
_QUIET_LEAST_S: Final = 10.0
"""Less than this is how a reading travels, and no silence."""
_MOST_POINTS: Final = 400
_MOST_KEPT: Final = 16
_BAND_K: Final = 0.4

_expected: OrderedDict[tuple[object, ...], tuple[Thermal, Expected, Log]] = OrderedDict()
_lock = Lock()


@dataclass(frozen=True, slots=True)
class _Going:
    """How a step goes: what to do, what stands beside that, what is wrong, and curves of (minute, °C)."""

    said: Message | None = None
    beside: Message | None = None
    alarm: Message | None = None
    planned: Log = ()
    ahead: Log = ()
    band: tuple[float | None, float | None] = (None, None)
    frozen_pct: float | None = None
    left_min: float | None = None
    credit: float | None = None


def step_of(making: Making, step_id: str) -> MakingStep:
    """Return a step of a batch; raises MixError where there is none of that name."""
    found = next((one for one in making.steps if one.id == step_id), None)
    if found is None:
        raise MixError("step-unknown", step=step_id)
    return found


def begin_watch(kitchen: Kitchen, batch: Batch, state: BatchState, making: Making, step_id: str) -> Watch | None:
    """Let the instrument that can watch a step do so; None where it is watched by none that is connected."""
    step = step_of(making, step_id)
    if step.kind not in WATCHED:
        raise DeviceError("step-not-watched", step=words(step.title, notation_of(kitchen)))
    there = Watch.objects.of(kitchen).filter(batch=batch, step=step_id).order_by("-pk").first()
    instrument = _watching(kitchen, making, step)
    if there is not None and there.ended_at is not None and not _is_done(state, step_id):
        there.ended_at = None  # what was done is taken back: it is watched again
        there.save(update_fields=["ended_at"])
    if there is not None or instrument is None:
        return there
    watching, _ = Watch.objects.of(kitchen).get_or_create(
        batch=batch,
        step=step_id,
        ended_at=None,
        defaults={"kitchen": kitchen, "instrument": instrument, "every_s": _EVERY_S[_group(step)]},
    )
    return watching


def _is_done(state: BatchState, step_id: str) -> bool:
    return step_id in state.steps and state.steps[step_id].done_at is not None


def end_watches(batch: Batch, done: Collection[str]) -> None:
    """Let nothing watch steps any more that are done."""
    Watch.objects.of(batch.kitchen_id).filter(batch=batch, step__in=done, ended_at=None).update(ended_at=timezone.now())


def _watching(kitchen: Kitchen, making: Making, step: MakingStep) -> Instrument | None:
    rows = {row.kind: row for row in Instrument.objects.of(kitchen).filter(connected=True)}
    machine = machines_of(kitchen).get(making.machine) if making.machine is not None else None
    own = step.kind in CHURN and machine is not None and machine.kind.key == "batch-freezer"
    return (rows.get("batch-freezer") if own else None) or rows.get("probe")


def _group(step: MakingStep) -> str:
    if step.kind in POT:
        return "pot"
    return step.kind if step.kind in _EVERY_S else "cold"


def logs_of(batch: Batch, state: BatchState) -> dict[str, list[tuple[float, float]]]:
    """Return what was logged of each step of a batch, as a right thermometer would have shown it."""
    off = offset_k(state.notes)
    found: dict[str, list[tuple[float, float]]] = {}
    rows = Point.objects.filter(watch__batch=batch).order_by("watch_id", "id")
    for step, minute, value in rows.values_list("watch__step", "minute", "value"):
        found.setdefault(step, []).append((minute, value - off))
    return found


def logged_credit(steps: Sequence[MakingStep], logs: Mapping[str, Log], region: str) -> float | None:
    """Return what a probe in the pot was worth as pasteurisation over all its steps; None where none was there."""
    pot = [logs[step.id] for step in steps if step.kind in POT and len(logs.get(step.id, ())) > 1]
    return sum(credit(one, region if region in HOLDS else "us") for one in pot) if pot else None


def serialize_watch(kitchen: Kitchen, state: BatchState, making: Making, watching: Watch) -> WatchOut:
    """Return what was logged of a step, and how it goes on."""
    step, notation = step_of(making, watching.step), notation_of(kitchen)
    off = offset_k(state.notes)
    log = [(minute, value - off) for minute, value in watching.points.values_list("minute", "value")]
    going = _going(kitchen, making, watching, step, log) if log else _Going()
    every = max(len(log) // _MOST_POINTS, 1)
    shown = [*log[::every], *(log[-1:] if log and (len(log) - 1) % every else [])]
    return WatchOut(
        step=watching.step,
        instrument=watching.instrument.key,
        ended=watching.ended_at is not None,
        speed=watching.instrument.speed,
        quiet=_maybe(_quiet(watching), notation),
        points=[list(one) for one in shown],
        planned=[list(one) for one in going.planned],
        ahead=[list(one) for one in going.ahead],
        low=going.band[0],
        high=going.band[1],
        frozen_pct=going.frozen_pct,
        left_min=going.left_min,
        credit=going.credit,
        said=_maybe(going.said, notation),
        beside=_maybe(going.beside, notation),
        alarm=_maybe(going.alarm, notation),
    )


def _quiet(watching: Watch) -> Message | None:
    """Return that nothing was logged for so long that somebody should look; None while points come as they should."""
    if watching.ended_at is not None:
        return None
    since_s = (timezone.now() - (watching.last_at or watching.began_at)).total_seconds()
    most_s = max(_QUIET_INTERVALS * watching.every_s / watching.instrument.speed, _QUIET_LEAST_S)
    return say_quiet(since_s / 60) if since_s > most_s else None


def _maybe(message: Message | None, notation: Notation) -> str:
    return notation.text(words(message, notation)) if message else ""


def _going(kitchen: Kitchen, making: Making, watching: Watch, step: MakingStep, log: Log) -> _Going:
    if step.kind in CHURN:
        return _churning(kitchen, watching.batch_id, making, log)
    wanted = step.readings[0] if step.readings else None
    if step.kind in POT:
        low, high = (wanted.low, wanted.high) if wanted else (None, None)
        goes_on = goes_on_to(log)
        return _Going(
            said=say_pot(log[-1][1], goes_on, low, high, step.least_min, cooks=step.kind == "cook"),
            band=(low, high),
            credit=credit(log, kitchen.region if kitchen.region in HOLDS else "us"),
        )
    if step.kind in COOL:
        clock = cooling_clock(log, POTS["fridge"][1] if _in_fridge(step) else POTS["ice-bath"][1])
        said, alarm = say_cooling_now(clock, log[-1][0])
        return _Going(said=said, alarm=alarm, band=(None, wanted.high if wanted else None))
    since = warm_since(log)
    return _Going(alarm=say_warm_freezer(log[-1][0] - since) if since is not None else None, band=(None, -15.0))


def _in_fridge(step: MakingStep) -> bool:
    return any(one.code.endswith("fridge") for one in step.do)


def _churning(kitchen: Kitchen, batch: int, making: Making, log: Log) -> _Going:
    machine = machines_of(kitchen).get(making.machine) if making.machine is not None else None
    if machine is None or making.run is None:
        return _Going()
    usual = Conditions(freezer_c=kitchen.used_freezer_c)
    began_c = began_at(log)
    started_c = usual.start_c if began_c is None else began_c
    half_degrees = round(2 * started_c) / 2
    conditions = replace(usual, start_c=half_degrees)
    key = (batch, making.machine, making.run.mass_g, machine.bowl_l, machine.tuning, conditions)
    with _lock:
        known = _expected.get(key)
    if known is None:
        table = thermal(making.mix.row(), making.mix.overrun_used_pct)
        churner = churner_of(machine)
        run = forecast_of(kitchen, making)
        planned: Log = [(minute, t_c) for minute, t_c, _, _ in run.run.seen] if run else []
        known = table, expect(table, making.run.mass_g, churner, conditions, machine.tuning.sd), planned
        with _lock:
            _expected[key] = known
            while len(_expected) > _MOST_KEPT:
                _expected.popitem(last=False)
    table, expected, planned = known
    found = watch(table, expected, log)
    return _Going(
        said=say_watched(found, machine.kind.key),
        beside=say_apart(replace(found, planned=tuple(planned)), started_c, usual.start_c),
        planned=planned,
        ahead=found.ahead,
        band=(found.draw_c - _BAND_K, found.draw_c + _BAND_K),
        frozen_pct=found.frozen_pct,
        left_min=found.left_min,
    )


def watched_minutes(watches: Iterable[Watch]) -> float | None:
    """Return how long a step took by the clock of what watched it; None where nothing did."""
    minutes = [(one.last_t - one.began_t) / 60 for one in watches if one.last_t is not None and one.began_t is not None]
    return max(minutes, default=None)
