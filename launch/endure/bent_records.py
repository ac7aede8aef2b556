"""What somebody would try who wants a record to say something else than what happened."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, Final
from uuid import uuid4

from launch.bench.figure import Figure
from launch.bench.server_speed import Client

_HOUR_MS: Final = 3_600_000
_SIGNED_FALSELY: Final = "food safety points that were signed falsely"
_BROKEN: Final = "pages that one press broke"


class _Presses:
    """Presses at a batch that is begun for it."""

    def __init__(self, client: Client, mix: int) -> None:
        self._client = client
        self.batch: int = json.loads(client.call("POST", client.in_kitchen(f"/mixes/{mix}/batches")))["id"]
        self._counter = 0

    def press(self, kind: str, device: str = "tablet", **said: Any) -> Any:
        """Press once and return what came of it."""
        self._counter += 1
        event = {"kind": kind, "key": str(uuid4()), "device": device, "counter": self._counter, **said}
        path = self._client.in_kitchen(f"/batches/{self.batch}/events")
        return json.loads(self._client.call("POST", path, {"events": [event]}))

    def read(self, path: str) -> Any:
        """Return a page of the batch, None where it does not answer."""
        try:
            return json.loads(self._client.call("GET", self._client.in_kitchen(path)))
        except RuntimeError:
            return None

    def point(self, key: str) -> str:
        """Return the state of a critical point."""
        making = self.read(f"/batches/{self.batch}/making")
        return next(str(one["state"]) for one in making["state"]["critical"] if one["key"] == key)


def bent_records(client: Client) -> Iterator[Figure]:
    """Sign falsely, send late, and press what breaks pages."""
    mixes = json.loads(client.call("GET", client.in_kitchen("/mixes")))["items"]
    custard = next(one["id"] for one in mixes if "custard" in one["name"].lower())
    yield Figure(_SIGNED_FALSELY, sum(_falsely_signed(client, custard)), 0, "")
    late = _Presses(client, custard)
    late.press("weighed", line=0, text="110")
    late.press("finished")
    late.press("weighed", "phone", line=0, text="90", ago_ms=_HOUR_MS)
    line = late.read(f"/batches/{late.batch}/making")["state"]["lines"][0]
    yield Figure("late presses that replaced a newer one", float(line["typed"] != "110"), 0, "")
    yield Figure(_BROKEN, sum(_broken_pages(client, custard)), 0, "")


def _falsely_signed(client: Client, mix: int) -> Iterator[bool]:
    """Say of each way whether a point was met that must not be."""
    again = _Presses(client, mix)
    again.press("read", step="cool", name="cooled_c", number=40)
    again.press("began", step="cool")
    again.press("read", "stranger", step="cool", name="cooled_c", number=4)
    again.press("read", "stranger", step="cool", name="cooled_c", number=4, ago_ms=5 * _HOUR_MS)
    making = again.read(f"/batches/{again.batch}/making")["state"]["critical"]
    yield any("−" in one["noted"] for one in making if one["key"] == "cooled")
    thermometer = _Presses(client, mix)
    thermometer.press("read", step="thermometer", name="ice_water_c", number=-60)
    thermometer.press("read", step="cook", name="heated_c", number=24)
    yield thermometer.point("heated") == "met"
    for kind in ("abandoned", "weighed"):
        given = _Presses(client, mix)
        given.press(kind, **({"text": "fell"} if kind == "abandoned" else {"line": 0, "text": "1", "sure": True}))
        try:
            client.call("POST", client.in_kitchen(f"/batches/{given.batch}/tubs"), {"ml": 500})
        except RuntimeError:
            yield False
        else:
            yield True


def _broken_pages(client: Client, mix: int) -> Iterator[bool]:
    """Say of each press and page whether the page is gone."""
    for said in (
        {"kind": "gap", "name": "water", "number": 1e6},
        {"kind": "gap", "name": "water", "number": 900},
        {"kind": "chose", "step": "machine", "text": "²"},
        {"kind": "chose", "step": "machine", "text": "9" * 30},
        {"kind": "note", "text": "a\x00b"},
        {"kind": "weighed", "line": 0, "text": "9" * 30, "sure": True},
    ):
        batch = _Presses(client, mix)
        batch.press(**said)
        for path in (f"/batches/{batch.batch}/making", f"/batches/{batch.batch}", "/batches", "/at-work"):
            yield batch.read(path) is None
