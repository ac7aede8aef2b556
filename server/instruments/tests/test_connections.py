"""Where instruments are, and the bridge that holds them."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import timedelta
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from types import SimpleNamespace
from typing import Any
from unittest import mock

from django.test import SimpleTestCase
from django.utils import timezone

from instruments.bridge import Bridge, _flush, _known
from instruments.connections import Address, read_addresses
from instruments.models import Instrument, Shown, Told, Watch
from jalebi_core.formats.device_lines import Hello, write_hello, write_shown
from jalebi_core.formats.device_lines import Shown as ShownLine
from jalebi_core.model.errors import DeviceError
from testing.kitchen_case import KitchenCase

GOOD = '[[device]]\nkey = "scale"\nkitchen = "ours"\naddress = "127.0.0.1:7101"\n'


class FileTest(KitchenCase):
    """The installation's file of devices."""

    def read(self, text: str) -> list[Address]:
        with TemporaryDirectory() as folder:
            file = Path(folder) / "devices.toml"
            file.write_text(text)
            return read_addresses([file, Path(folder) / "absent.toml"])

    def test_it_says_where_they_are(self) -> None:
        self.assertEqual(self.read(GOOD), [Address("scale", "ours", "127.0.0.1", 7101)])
        self.assertEqual(self.read(""), [])

    def test_what_cannot_be_read_is_named(self) -> None:
        for text, said in (
            ("device = 3", r"\[\[device\]\]"),
            ("[[device", "cannot be read"),
            (GOOD + GOOD, "stands there twice"),
            (GOOD.replace("7101", "soon"), "no host:port"),
            (GOOD.replace("7101", "70000"), "no host:port"),
            (GOOD.replace('kitchen = "ours"\n', ""), "key, kitchen and address"),
            (GOOD + "speed = 3\n", "key, kitchen and address"),
        ):
            with self.subTest(text=text), self.assertRaisesRegex(DeviceError, said):
                self.read(text)


class FlushTest(KitchenCase):
    """What the bridge keeps."""

    def shown(self, row: Instrument, t: float, age_s: float = 0.0) -> Shown:
        at = timezone.now() - timedelta(seconds=age_s)
        return Shown(instrument=row, t=t, value=20.0 + t, steady=True, at=at)

    def test_what_is_old_goes_and_what_is_told_is_passed_on_once(self) -> None:
        row = Instrument.objects.of(self.ours.kitchen).get(kind="probe")
        Told.objects.create(kitchen=self.ours.kitchen, instrument=row, body={"do": "tare"})
        told = _flush([self.shown(row, 1.0, 60), self.shown(row, 2.0)], tidy=True)
        self.assertEqual(told, [(row.pk, {"do": "tare"})])
        self.assertEqual([one.t for one in row.shown.all()], [2.0])
        self.assertEqual(_flush([], tidy=False), [])

    def test_a_watched_step_keeps_points_apart(self) -> None:
        row = Instrument.objects.of(self.ours.kitchen).get(kind="probe")
        watching = Watch.objects.create(
            kitchen=self.ours.kitchen, batch=self.our_batch, step="cook", instrument=row, every_s=10
        )
        _flush([self.shown(row, t) for t in (100.0, 104.0, 111.0)], tidy=False)
        _flush([self.shown(row, t) for t in (115.0, 122.0)], tidy=False)
        points = list(watching.points.values_list("minute", "value"))
        self.assertEqual([round(60 * minute) for minute, _ in points], [0, 11, 22])

    def test_an_instrument_is_known_by_its_kitchen(self) -> None:
        row = _known(Address("new", "ours", "127.0.0.1", 1), Hello("scale", "Other", 0.5))
        self.assertEqual((row.kitchen, row.connected, row.step), (self.ours.kitchen, True, 0.5))
        with self.assertRaisesRegex(DeviceError, "no kitchen “nobodys”"):
            _known(Address("new", "nobodys", "127.0.0.1", 1), Hello("scale", "Other", 0.5))

    def test_a_watch_goes_on_where_the_clock_begins_anew(self) -> None:
        row = Instrument.objects.of(self.ours.kitchen).get(kind="probe")
        watching = Watch.objects.create(
            kitchen=self.ours.kitchen, batch=self.our_batch, step="cook", instrument=row, every_s=10
        )
        for t, age_s in ((5000.0, 300), (5060.0, 240), (3.0, 180), (63.0, 120), (1e9, 60), (1e9 + 60, 0)):
            _flush([self.shown(row, t, age_s)], tidy=False)
        self.assertEqual(
            [round(minute) for minute in watching.points.values_list("minute", flat=True)], [0, 1, 2, 3, 4, 5]
        )


class BadDeviceTest(SimpleTestCase):
    """A device that says what it may not is cut off; the others are heard."""

    def cut_off(self, line: bytes) -> tuple[str, int]:
        """Let a device send a line for ever beside a good one; return why it was cut off, and what the other showed."""
        hello = write_hello(Hello("probe", "Probe", 0.1)).encode() + b"\n"
        gone: list[str] = []
        over = asyncio.Event()
        bridge = Bridge([Address(key, "ours", "127.0.0.1", 0) for key in ("bad", "good")])

        async def serve(reader: asyncio.StreamReader, writer: asyncio.StreamWriter, text: bytes, pause: float) -> None:
            del reader
            writer.write(hello)
            with suppress(OSError):
                while not over.is_set():
                    writer.write(text)
                    await writer.drain()
                    await asyncio.sleep(pause)
            writer.close()

        async def both() -> int:
            good = write_shown(ShownLine(1.0, 20.0)).encode() + b"\n"
            servers = []
            for held, text, pause in zip(bridge._lines, (line, good), (0.0, 0.02), strict=True):
                answer = partial(serve, text=text, pause=pause)
                server = await asyncio.start_server(answer, "127.0.0.1", 0)
                servers.append(server)
                held.address = replace(held.address, port=server.sockets[0].getsockname()[1])
            holding = [asyncio.create_task(bridge._hold(held)) for held in bridge._lines]
            while not gone:
                await asyncio.sleep(0.02)
            before = len(bridge._lines[1].shown)
            await asyncio.sleep(0.2)
            for task in holding:
                task.cancel()
            await asyncio.gather(*holding, return_exceptions=True)
            over.set()
            await asyncio.sleep(0.1)
            for server in servers:
                server.close()
            return len(bridge._lines[1].shown) - before

        async def database(work: Callable[..., object], *args: Any) -> object:
            if work.__name__ == "_note_gone" and args[0].key == "bad":
                gone.append(args[1])
            return SimpleNamespace(key=args[0].key) if work.__name__ == "_known" else None

        with mock.patch("instruments.bridge._with_database", database), self.assertLogs("jalebi.bridge"):
            heard = asyncio.run(asyncio.wait_for(both(), 30))
        return gone[0], heard

    def test_whatever_it_sends(self) -> None:
        shown = write_shown(ShownLine(1.0, 20.0)).encode() + b"\n"
        for line, said in (
            (b'{"t":' + b"[" * 3900 + b"\n", "no JSON object"),
            (b"x" * 5000 + b"\n", "too long"),
            (shown * 50, "more than 100 lines a second"),
            (b'{"t": 1e400, "value": 1}\n', "has to be a number"),
            (b"\xff\xfe\n", "no JSON object"),
        ):
            with self.subTest(said=said):
                fault, heard = self.cut_off(line)
                self.assertIn(said, fault)
                self.assertGreater(heard, 2)
