"""The bridge: one process that holds the connections to all instruments and keeps what they show for a few seconds."""

from __future__ import annotations

import asyncio
import json
import logging
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Final, ParamSpec, TypeVar

from django.db import close_old_connections, transaction
from django.utils import timezone

from instruments.connections import Address
from instruments.models import Instrument, Point, Shown, Told, Watch
from jalebi_core.formats.device_lines import LONGEST_LINE, MOST_LINES_S, Hello, read_hello, read_shown
from jalebi_core.formats.device_lines import Shown as ShownLine
from jalebi_core.model.errors import DeviceError
from kitchens.models import Kitchen

KEPT_S: Final = 10.0
FLUSH_EVERY_S: Final = 0.15
_TIDY_EVERY_S: Final = 2.0
_TRY_AGAIN_S: Final = 1.0
_QUIET_S: Final = 30.0
"""A device that says nothing for so long is taken to be gone, and called again."""
_CUT_OFF_S: Final = 30.0
"""For how long a device is left alone that said what it may not."""
_BURST_S: Final = 3.0
"""Over how long its lines are counted: a device may send at once what it held back for a moment."""
_MOST_AHEAD_S: Final = 60.0
"""By how much a device's clock may run ahead of the one on the wall before it is taken to have begun anew."""
P = ParamSpec("P")
R = TypeVar("R")
_log = logging.getLogger("jalebi.bridge")


@dataclass(slots=True)
class _Line:
    """One connection: what it is, what it has shown since the last flush, and by what its clock is put right."""

    address: Address
    instrument: Instrument | None = None
    writer: asyncio.StreamWriter | None = None
    shown: list[tuple[ShownLine, datetime]] = field(default_factory=list)
    later_s: float = 0.0
    last_t: float = 0.0
    last_at: datetime | None = None


class Bridge:
    """Holds a connection to every address, until it is cancelled."""

    def __init__(self, addresses: Sequence[Address]) -> None:
        self._lines = [_Line(address) for address in addresses]

    async def run(self) -> None:
        """Hold the connections and keep what comes."""
        await asyncio.gather(*(self._hold(line) for line in self._lines), self._keep())

    async def _hold(self, line: _Line) -> None:
        while True:
            fault = ""
            try:
                await self._talk(line)
            except (OSError, asyncio.IncompleteReadError, TimeoutError) as error:
                _log.info("%s: %s", line.address.key, error or type(error).__name__)
            except DeviceError as error:
                fault = str(error)
                _log.warning("%s: %s", line.address.key, error)
            except Exception:
                _log.exception("%s broke off", line.address.key)
            finally:
                if line.writer is not None:
                    line.writer.close()
                    line.writer = None
                if line.instrument is not None:
                    await _with_database(_note_gone, line.instrument, fault)
            await asyncio.sleep(_CUT_OFF_S if fault else _TRY_AGAIN_S)

    async def _talk(self, line: _Line) -> None:
        reader, line.writer = await asyncio.open_connection(line.address.host, line.address.port, limit=LONGEST_LINE)
        hello = read_hello(await _next_line(reader))
        line.instrument = await _with_database(_known, line.address, hello)
        begun, loop = False, asyncio.get_running_loop()
        counted_since, lines = loop.time(), 0
        while True:
            text = await _next_line(reader)
            lines += 1
            if loop.time() - counted_since > _BURST_S:
                counted_since, lines = loop.time(), 1
            if lines > MOST_LINES_S * _BURST_S:
                raise DeviceError("device-too-fast", most=MOST_LINES_S)
            if '"error"' in text:
                _log.warning("%s: %s", line.address.key, text.strip())
                continue
            shown = read_shown(text, hello.unit)
            if not begun:
                line.later_s = _offset(line, shown.t, hello.speed)
                begun = True
            now = timezone.now()
            line.last_t, line.last_at = shown.t + line.later_s, now
            line.shown.append((shown, now))

    async def _keep(self) -> None:
        tidied = 0.0
        loop = asyncio.get_running_loop()
        while True:
            await asyncio.sleep(FLUSH_EVERY_S)
            is_due = loop.time() - tidied > _TIDY_EVERY_S
            rows = self._take()
            try:
                told = await _with_database(_flush, rows, tidy=is_due)
            except Exception:
                _log.exception("what was shown could not be kept")
                await asyncio.sleep(_TRY_AGAIN_S)
                continue
            if is_due:
                tidied = loop.time()
                await self._call_again_where_gone()
            for instrument, body in told:
                self._tell(instrument, body)

    async def _call_again_where_gone(self) -> None:
        """Drop the connection of instruments whose row is gone, as after a fresh demo: they are taken up anew."""
        there = await _with_database(_there)
        for line in self._lines:
            if line.instrument is not None and line.instrument.pk not in there:
                line.instrument = None
                if line.writer is not None:
                    line.writer.close()

    def _take(self) -> list[Shown]:
        rows = []
        for line in self._lines:
            if line.instrument is not None:
                for shown, at in line.shown:
                    rows.append(
                        Shown(
                            instrument=line.instrument, t=shown.t + line.later_s, value=shown.value,
                            steady=shown.steady, wall_c=shown.wall_c, at=at,
                        )
                    )  # fmt: skip
            line.shown = []
        return rows

    def _tell(self, instrument: int, body: object) -> None:
        for line in self._lines:
            if line.instrument is not None and line.instrument.pk == instrument and line.writer is not None:
                with suppress(OSError):
                    line.writer.write(f"{json.dumps(body)}\n".encode())


async def _with_database(work: Callable[P, R], *args: P.args, **kwargs: P.kwargs) -> R:
    """Do something in a thread whose connection to the database is a good one."""

    def done() -> R:
        close_old_connections()
        return work(*args, **kwargs)

    return await asyncio.to_thread(done)


async def _next_line(reader: asyncio.StreamReader) -> str:
    async with asyncio.timeout(_QUIET_S):
        try:
            line = await reader.readline()
        except ValueError:
            raise DeviceError("device-line-long", most=LONGEST_LINE) from None
    if not line:
        raise ConnectionError("it has ended the connection")
    return line.decode("utf-8", errors="replace")


def _offset(line: _Line, t: float, speed: float) -> float:
    """Return what is added to a device's clock so that it goes on where it was before the connection broke."""
    if line.last_at is None:
        return 0.0
    gone_s = (timezone.now() - line.last_at).total_seconds() * speed
    return line.last_t + gone_s - t


def _known(address: Address, hello: Hello) -> Instrument:
    """Return the row of an instrument as it describes itself; raises DeviceError where its kitchen is not known."""
    kitchen = Kitchen.objects.filter(slug=address.kitchen).first()
    if kitchen is None:
        raise DeviceError("devices-file", what=f"there is no kitchen “{address.kitchen}”.")
    facts = {"name": hello.name, "kind": hello.kind, "step": hello.step, "speed": hello.speed}
    row, _ = Instrument.objects.of(kitchen).update_or_create(
        key=address.key,
        kitchen=kitchen,
        defaults={**facts, "stand_in": hello.stand_in, "connected": True, "fault": ""},
    )
    return row


def _there() -> set[int]:
    return set(Instrument.objects.of_all_kitchens().values_list("pk", flat=True))


def _note_gone(instrument: Instrument, fault: str) -> None:
    Instrument.objects.of(instrument.kitchen_id).filter(pk=instrument.pk).update(connected=False, fault=fault[:200])


def _flush(rows: list[Shown], *, tidy: bool) -> list[tuple[int, object]]:
    """Keep what was shown, let watches have their points, and return what instruments are to be told."""
    with transaction.atomic():
        if rows:
            Shown.objects.bulk_create(rows)
            _keep_points(rows)
        if tidy:
            Shown.objects.filter(at__lt=timezone.now() - timedelta(seconds=KEPT_S)).delete()
        told = list(Told.objects.of_all_kitchens().values_list("pk", "instrument_id", "body"))
        if told:
            Told.objects.of_all_kitchens().filter(pk__in=[pk for pk, _, _ in told]).delete()
    return [(instrument, body) for _, instrument, body in told]


def _keep_points(rows: Sequence[Shown]) -> None:
    of = {row.instrument_id for row in rows}
    watches = Watch.objects.of_all_kitchens().filter(ended_at=None, instrument__in=of).select_related("instrument")
    for watch in watches:
        points = []
        for row in rows:
            if row.instrument_id != watch.instrument_id:
                continue
            t = _second_of(watch, row)
            if watch.began_t is None:
                watch.began_t = t
            if watch.last_t is None or t - watch.last_t >= watch.every_s:
                watch.last_t, watch.last_at = t, row.at
                points.append(Point(watch=watch, minute=(t - watch.began_t) / 60, value=row.value))
        if points:
            Point.objects.bulk_create(points)
            watch.save(update_fields=["began_t", "last_t", "last_at", "later_s"])


def _second_of(watch: Watch, row: Shown) -> float:
    """Return the second of a watch's own clock at which something was shown.

    Where the instrument or the bridge has begun anew meanwhile, that clock goes on by the one on the wall.
    """
    t = row.t + watch.later_s
    if watch.last_t is None or watch.last_at is None:
        return t
    speed = watch.instrument.speed
    expected = watch.last_t + max((row.at - watch.last_at).total_seconds(), 0.0) * speed
    if watch.last_t <= t <= expected + _MOST_AHEAD_S * speed:
        return t
    watch.later_s += expected - t
    return expected
