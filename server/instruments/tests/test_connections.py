"""Where instruments are, and the bridge that holds them."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from django.utils import timezone

from instruments.bridge import _flush, _known
from instruments.connections import Address, read_addresses
from instruments.models import Instrument, Shown, Told, Watch
from jalebi_core.formats.device_lines import Hello
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
